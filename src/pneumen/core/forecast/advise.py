"""What to do next: each change with the outcome it leads to, the least harm first."""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

from pneumen.core.forecast.outcome import Outcome, outcome
from pneumen.core.forecast.recommend import Recommended, cost_of, recommend, replanned, with_planned_gain
from pneumen.core.forecast.setup import PartSetup
from pneumen.core.place import OUT_OF_THE_AIR_DEG
from pneumen.core.room import Space

QUIETER_ROOM_DB: Final = -5.0
"""What switching off a fridge or moving a laptop away commonly brings (common practice, no source)."""
WANTED_CLEAN_RANGE_DB: Final = 50.0
LEAST_GAIN_DB: Final = 0.5
LEAST_KNOWN_DB: Final = 0.01
EDGE_DB: Final = 1.5
LEAST_COST: Final = 0.04
"""What a move has to mend, in recommend's measure: a fifth of a strip's strength."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Action:
    """One change and the outcome it leads to.

    kind is gain, distance, aside or quieter-room; mends is how much of what is felt it takes away.
    """

    kind: str
    after: Outcome
    mends: float


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Advice:
    """What to do with a part: what is recommended, and the actions worth taking now, in the order of harm.

    A gain that reaches the window costs nothing; then comes what brings or leaves the microphone where all is calm;
    a quieter room; and last what only trades one fault for another. Among equals the most effective is first.

    Where there is no action left, recommended.conflict names what is felt all the same, "" where nothing is.
    """

    before: Outcome
    recommended: Recommended
    actions: tuple[Action, ...]


@lru_cache(maxsize=128)
def advise(setup: PartSetup) -> Advice:
    """Return what to do next. A change that brings nothing, or that recommend would take back, is not among it."""
    before = outcome(setup)
    best = recommend(setup)
    found = [*_gain(before), *_distance(before, best), *_aside(before), *_quieter(before)]
    ranked = tuple(sorted(found, key=lambda action: (_harm(action), -action.mends)))
    return Advice(before=before, recommended=best, actions=ranked)


def _harm(action: Action) -> int:
    """Return what an action costs, 0 nothing to 3: it trades one fault for another."""
    after = action.after
    if action.kind == "gain":
        return 0 if beyond_middle_db(after) <= EDGE_DB else 2
    if action.kind in ("aside", "quieter-room"):
        return 1 if action.kind == "aside" else 2
    calm_m = after.in_air.calm_m
    distance_m = after.setup.placement.distance_m
    return 1 if calm_m and calm_m[0] - LEAST_MOVE_M <= distance_m <= calm_m[1] + LEAST_MOVE_M else 3


def _gain(before: Outcome) -> list[Action]:
    """Bring the peak into the window where the microphone stands."""
    setup = before.setup
    outside = beyond_middle_db(before)
    if setup.chain.gain_marking == "none" or (
        outside <= 0 and setup.spare_db(before.levels) >= -EDGE_DB and before.levels.headroom_db >= EDGE_DB
    ):
        return []
    changed = with_planned_gain(setup)
    after = outcome(changed)
    gain = badness(before) - badness(after)
    # Before a take a hair outside the window is well within the doubt; after it, outside is outside.
    least_db = LEAST_KNOWN_DB if setup.performance.from_take else LEAST_GAIN_DB
    if abs(changed.gain_db - setup.gain_db) < LEAST_GAIN_DB or gain < least_db:
        return []
    return [Action(kind="gain", after=after, mends=gain)]


def _distance(before: Outcome, best: Recommended) -> list[Action]:
    """Go to the recommended place, the gain along with it, where that is felt."""
    setup = before.setup
    if best.distance_m is None or abs(best.distance_m - setup.placement.distance_m) < LEAST_MOVE_M:
        return []
    changed = with_planned_gain(setup.moved(distance_m=best.distance_m))
    mends = cost_of(setup) - cost_of(changed)
    if mends < LEAST_COST:
        return []
    after = outcome(changed)
    level = badness(before) - badness(after)
    return [Action(kind="distance", after=after, mends=max(level, 0.0) + DB_OF_COST * mends)]


def _aside(before: Outcome) -> list[Action]:
    """Without a pop screen: beside the puff, not behind it."""
    setup = before.setup
    placement = setup.placement
    if before.air is None or not setup.source.pops or placement.pop_screen:
        return []
    if placement.off_mouth_deg >= OUT_OF_THE_AIR_DEG - 1:
        return []
    side = -OUT_OF_THE_AIR_DEG if placement.aside_deg < 0 else OUT_OF_THE_AIR_DEG
    changed = replanned(setup.moved(aside_deg=side))
    mends = cost_of(setup) - cost_of(changed)
    return [Action(kind="aside", after=outcome(changed), mends=DB_OF_COST * mends)] if mends >= LEAST_COST else []


def _quieter(before: Outcome) -> list[Action]:
    """Tidy the room once, where its noise is what is heard."""
    space = before.setup.space
    if before.air is None or not isinstance(space, Space) or space.quietened:
        return []
    if before.levels.clean_range_db >= WANTED_CLEAN_RANGE_DB or before.levels.noise_set_by != "room":
        return []
    tidy = replace(space, noise_change_db=space.noise_change_db + QUIETER_ROOM_DB, quietened=True)
    after = outcome(replanned(replace(before.setup, space=tidy)))
    gain = after.levels.clean_range_db - before.levels.clean_range_db
    return [Action(kind="quieter-room", after=after, mends=gain)] if gain >= LEAST_GAIN_DB else []


def badness(found: Outcome) -> float:
    """Return the decibels a peak lies outside the window's middle, beyond a ceiling (thrice) and short of 50 dB."""
    beyond_ceiling = max(-found.setup.spare_db(found.levels), 0.0)
    noisy = max(WANTED_CLEAN_RANGE_DB - found.levels.clean_range_db, 0.0)
    return beyond_middle_db(found) + 3 * beyond_ceiling + noisy


def beyond_middle_db(found: Outcome) -> float:
    """Return how far the peak lies outside the middle of the window.

    Before a take the middle is where its whole band fits, and the very edge too near; after it the window counts.
    """
    school = found.setup.school
    half = (school.high_dbfs - school.low_dbfs) / 2
    slack = half if found.setup.performance.from_take else max(half - EDGE_DB, half / 2)
    return max(abs(found.levels.peak_dbfs - found.setup.aim_dbfs) - slack, 0.0)


LEAST_MOVE_M: Final = 0.01
DB_OF_COST: Final = 6.0
"""What a strip at its harshest weighs against decibels of level (common practice, no source)."""
