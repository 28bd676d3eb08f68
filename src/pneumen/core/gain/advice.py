"""What to do next: every single change on offer, tried out on the level diagram and ranked by what it mends."""

from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.gain.schools import School
from pneumen.core.line import Levels, levels_of
from pneumen.core.setup import Chain, PluggedChain, PlugLevels, SourceLevels

QUIETER_ROOM_DB: Final = -5.0
"""What switching off a fridge or moving a laptop away commonly brings (common practice, no source)."""
WANTED_CLEAN_RANGE_DB: Final = 50.0
LEAST_GAIN_OF_ACTION: Final = 0.5
EDGE_DB: Final = 1.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Situation:
    """A chain in use: everything an action can change, and the reach of each change."""

    chain: Chain | PluggedChain
    source: SourceLevels | PlugLevels
    room_noise_dba: float
    distance_m: float
    gain_db: float
    nearest_m: float
    farthest_m: float
    off_axis_deg: float = 0.0

    def levels(self) -> Levels:
        return levels_of(
            self.chain.setup(
                source=self.source,
                room_noise_dba=self.room_noise_dba,
                distance_m=self.distance_m,
                gain_db=self.gain_db,
                off_axis_deg=self.off_axis_deg,
            )
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Action:
    """One change and what it is predicted to do.

    kind is gain, distance, closer, farther or quieter-room; distance_m, gain_db and room_noise_dba are the
    values after it.
    """

    kind: str
    distance_m: float
    gain_db: float
    room_noise_dba: float
    peak_dbfs: float
    peak_change_db: float
    clean_range_change_db: float
    mends: float


def actions_for(situation: Situation, school: School) -> tuple[Action, ...]:
    """Return the changes worth making, the most effective first.

    An action mends what it takes off the badness of a diagram: the decibels outside the school's window, those
    beyond a ceiling (thrice, they cannot be mended later) and those missing to a clean range of 50 dB.
    """
    before = situation.levels()
    tried = [_try(situation, before, kind, changed, school) for kind, changed in _candidates(situation, before, school)]
    worth = [action for action in tried if action.mends >= LEAST_GAIN_OF_ACTION]
    return tuple(sorted(worth, key=lambda action: -action.mends))


def _candidates(now: Situation, levels: Levels, school: School) -> list[tuple[str, Situation]]:
    wanted_db = school.aim_dbfs - levels.peak_dbfs
    found = []
    if isinstance(now.chain, PluggedChain):  # neither distance nor room reaches a plug
        return [("gain", _with_gain(now, now.gain_db + wanted_db))]
    if _beyond_middle_db(levels, school) > 0 or levels.headroom_db < 3:
        if now.chain.gain_marking != "none":
            found.append(("gain", _with_gain(now, now.gain_db + wanted_db)))
        moved = _at_distance(now, now.distance_m * 10 ** (-wanted_db / 20))
        found.append(("distance", moved))
    if levels.headroom_db < 3 and levels.clips_first != "converter":
        farther = _at_distance(now, now.distance_m * 1.4)
        found.append(("farther", _with_gain(farther, farther.gain_db + wanted_db + 3)))
    if levels.clean_range_db < WANTED_CLEAN_RANGE_DB:
        closer = _at_distance(now, now.distance_m / 1.4)
        if now.chain.gain_marking != "none":
            closer = _with_gain(closer, closer.gain_db + school.aim_dbfs - closer.levels().peak_dbfs)
        found.append(("closer", closer))
        found.append(("quieter-room", replace(now, room_noise_dba=now.room_noise_dba + QUIETER_ROOM_DB)))
    return found


def _with_gain(now: Situation, gain_db: float) -> Situation:
    low, high = now.chain.gain_range_db
    return replace(now, gain_db=float(round(min(max(gain_db, low), high))))


def _at_distance(now: Situation, distance_m: float) -> Situation:
    return replace(now, distance_m=round(min(max(distance_m, now.nearest_m), now.farthest_m), 2))


def _try(now: Situation, before: Levels, kind: str, changed: Situation, school: School) -> Action:
    after = changed.levels()
    return Action(
        kind=kind,
        distance_m=changed.distance_m,
        gain_db=changed.gain_db,
        room_noise_dba=changed.room_noise_dba,
        peak_dbfs=after.peak_dbfs,
        peak_change_db=after.peak_dbfs - before.peak_dbfs,
        clean_range_change_db=after.clean_range_db - before.clean_range_db,
        mends=_badness(before, school) - _badness(after, school),
    )


def _badness(levels: Levels, school: School) -> float:
    beyond_ceiling = max(-levels.headroom_db, 0.0)
    noisy = max(WANTED_CLEAN_RANGE_DB - levels.clean_range_db, 0.0)
    return _beyond_middle_db(levels, school) + 3 * beyond_ceiling + noisy


def _beyond_middle_db(levels: Levels, school: School) -> float:
    """How far the peak lies outside the middle of the window: at its very edge the next take may fall out."""
    half = (school.high_dbfs - school.low_dbfs) / 2
    return max(abs(levels.peak_dbfs - school.aim_dbfs) - max(half - EDGE_DB, half / 2), 0.0)
