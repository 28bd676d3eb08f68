"""What to do about a level, in one word and one number."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gain import School
from pneumen.core.live.armed import RECORDING, Heard
from pneumen.core.live.meter import floor_dbfs_of, held_dbfs_of
from pneumen.core.verdict import Verdict

BY_GAIN, BY_DISTANCE = "gain", "distance"
"""What a level is set with."""
NOTHING_BELOW_DBFS: Final = -80.0
"""What never comes higher is no microphone in a room."""
SOUND_OVER_FLOOR_DB: Final = 15.0
"""The peaks of steady noise lie so far above its own RMS level."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LiveWord:
    """The word is nothing, waiting, raise, lower, clips or good; by_db how far to the nearest edge of the window.

    number_dbfs is the peak that counts: of the take, or of the last seconds.
    """

    word: str
    number_dbfs: float
    by_db: float
    verdict: Verdict


def set_by(gain_marking: str) -> str:
    """Return what the level is set with, by how a chain's gain is marked: without a control, distance is the gain."""
    return BY_DISTANCE if gain_marking == "none" else BY_GAIN


def word_of(state: Heard, school: School) -> LiveWord:
    """Return how what is heard stands in a school's window, were it the loudest passage."""
    recording = state.phase == RECORDING
    number_dbfs = state.loudest_dbfs if recording else held_dbfs_of(state.trail)
    over = state.over if recording else sum(one.over for one in state.trail)
    floor_dbfs, outside_db = floor_dbfs_of(state.trail), school.outside_db(number_dbfs)
    only_noise = floor_dbfs is None or number_dbfs < floor_dbfs + SOUND_OVER_FLOOR_DB
    rules = (
        (over > 0, "clips", Verdict.BAKED_IN),
        (number_dbfs < NOTHING_BELOW_DBFS, "nothing", Verdict.WATCH),
        (only_noise and not recording, "waiting", Verdict.OPEN),
        (outside_db > 0, "lower", Verdict.WATCH),
        (outside_db < 0, "raise", Verdict.WATCH),
    )
    found = next(((word, verdict) for holds, word, verdict in rules if holds), ("good", Verdict.CLEAR))
    return LiveWord(word=found[0], number_dbfs=number_dbfs, by_db=abs(outside_db), verdict=found[1])
