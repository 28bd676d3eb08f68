"""The one-minute check, step by step: which comes now, and where each lies in the recording."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction
from pneumen.core.live.meter import Piece, floor_dbfs_of, piece_of, pieces_in, with_piece

WARM_UP, LOUDEST, AGAIN, SILENCE = "warm-up", "loudest", "again", "silence"
SOFT, WORDS, BACKING, CLAP = "soft", "words", "backing", "clap"
STEPS: Final = (WARM_UP, LOUDEST, AGAIN, SILENCE, SOFT, WORDS, BACKING, CLAP)
"""In an order that neither clips nor starts cold: the gain is low first, and set between the loudest line and again."""
GAP_S: Final = 1.5
"""So much quiet ends a line; shorter gaps are breaths."""
SHORTEST_LINE_S: Final = 0.5
SILENCE_S: Final = 5.0
BACKING_S, BACKING_AFTER_S = 6.0, 3.0
"""The backing plays so long, after the time it takes to start it: nothing of it may be heard, so a clock counts."""
SOUND_OVER_FLOOR_DB: Final = 9.0
LEAST_SOUND_DBFS: Final = -75.0
CLAP_OVER_FLOOR_DB: Final = 25.0
"""A clap stands out of a backing that still plays."""
MARGIN_S: Final = 0.1


@dataclass(frozen=True, slots=True, kw_only=True)
class Cut:
    """Where a step lies in a recording, in seconds."""

    step: str
    start_s: float
    end_s: float

    def __post_init__(self) -> None:
        if not 0 <= self.start_s < self.end_s:
            raise Contradiction(self.step, f"must end after it begins: {self.start_s:g} to {self.end_s:g} s")


@dataclass(frozen=True, slots=True, kw_only=True)
class Guide:
    """How far the check is: the step that is waited for or going on, and the cuts so far."""

    steps: tuple[str, ...] = STEPS
    done: tuple[Cut, ...] = ()
    now_s: float = 0.0
    began_s: float | None = None
    sounded_s: float = 0.0
    since_s: float = 0.0
    trail: tuple[Piece, ...] = ()

    @property
    def step(self) -> str | None:
        """The step that comes now; None once all are done."""
        return self.steps[len(self.done)] if len(self.done) < len(self.steps) else None


def steps_for(*, plays_along: bool, has_helper: bool, has_words: bool = True) -> tuple[str, ...]:
    """Return the steps that apply: no backing, no leak; hands that are full need somebody to clap."""
    there = {BACKING: plays_along, CLAP: has_helper, WORDS: has_words}
    return tuple(step for step in STEPS if there.get(step, True))


def heard_on(guide: Guide, piece: Piece) -> Guide:
    """Return the guide after a twentieth of a second more."""
    now_s, trail = guide.now_s + piece.seconds, with_piece(guide.trail, piece)
    guide = replace(guide, now_s=now_s, trail=trail)
    sounds = _sounds(trail, piece, CLAP_OVER_FLOOR_DB if guide.step == CLAP else SOUND_OVER_FLOOR_DB)
    match guide.step:
        case None:
            return guide
        case "silence":
            since_s = now_s if sounds else guide.since_s
            guide = replace(guide, since_s=since_s)
            return _ended(guide, since_s, now_s) if now_s - since_s >= SILENCE_S else guide
        case "backing":
            began_s = guide.since_s + BACKING_AFTER_S
            return _ended(guide, began_s, now_s) if now_s - began_s >= BACKING_S else guide
    if sounds:
        began_s = now_s - piece.seconds if guide.began_s is None else guide.began_s
        return replace(guide, began_s=began_s, sounded_s=now_s)
    if guide.began_s is None or now_s - guide.sounded_s < GAP_S:
        return guide
    if guide.step != CLAP and guide.sounded_s - guide.began_s < SHORTEST_LINE_S:
        return replace(guide, began_s=None)  # a cough, a door
    return _ended(guide, max(guide.began_s - MARGIN_S, 0.0), guide.sounded_s + MARGIN_S)


def cuts_in(samples: np.ndarray, sample_rate_hz: int, steps: Iterable[str] = STEPS) -> tuple[Cut, ...]:
    """Return where the steps lie in a recording, as the guide would have led through it; those that were not done miss.

    Args:
        samples: one channel, shape (N,).
    """
    guide = Guide(steps=tuple(steps))
    for piece in pieces_in(samples[:, None], sample_rate_hz):
        guide = heard_on(guide, piece_of(piece, sample_rate_hz))
    if guide.began_s is not None and guide.step is not None:  # the last one may end with the file
        end_s = min(guide.sounded_s + GAP_S, guide.now_s) if guide.step == CLAP else guide.sounded_s
        guide = _ended(guide, max(guide.began_s - MARGIN_S, 0.0), end_s)
    return guide.done


def _ended(guide: Guide, start_s: float, end_s: float) -> Guide:
    step = guide.step or ""
    end_s = guide.now_s if step == CLAP else end_s
    cut = Cut(step=step, start_s=round(start_s, 2), end_s=round(end_s, 2))
    return replace(guide, done=(*guide.done, cut), began_s=None, since_s=guide.now_s)


def _sounds(trail: tuple[Piece, ...], piece: Piece, over_floor_db: float) -> bool:
    floor_dbfs = floor_dbfs_of(trail)
    if floor_dbfs is None:
        return False  # two seconds of quiet come first
    return piece.rms_dbfs > max(floor_dbfs + over_floor_db, LEAST_SOUND_DBFS)
