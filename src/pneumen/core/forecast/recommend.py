"""The one arbitration of distance and gain: what place, room, control and noise ask for, weighed against each other."""

from dataclasses import dataclass, replace
from functools import cache, lru_cache
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction
from pneumen.core.forecast.hearing import (
    heard_of_room,
    leads_along,
    leads_with,
    line_of,
    louder_along,
    reach_of,
)
from pneumen.core.forecast.setup import PartSetup
from pneumen.core.gain import GOOD_CLEAN_RANGE_DB, HELD_LOW_DB
from pneumen.core.gear import Interface, Microphone
from pneumen.core.line import Levels, along_gain, levels_of, whole_gain_db
from pneumen.core.place import Ladder, ladder_of
from pneumen.core.setup import PluggedChain, XlrChain

STEPS: Final = 60
LASTING: Final = ("pops", "room", "overload")
"""What cannot be taken out of a take again weighs WEIGHT_OF_LASTING as much as what can be mended, at a price."""
WEIGHT_OF_LASTING: Final = 4.0
CALM_COST: Final = 1e-4
A_STEP: Final = 0.06
"""Two distances so near each other, as the logarithm of their ratio, are one place to a person with a tape."""
TASTE_WEIGHT: Final = 0.02
"""What a step of e away from the usual distance counts where something is felt anyway; where all is calm it decides."""
MOST_BEYOND: Final = 4.0
SPARE_DB: Final = 3.0
"""Headroom a microphone and a preamp should keep (common practice, no source)."""
LOW_SPAN_DB: Final = 12.0
HIGH_SPAN_DB: Final = 6.0
NOISY_SPAN_DB: Final = 15.0
FELT: Final = 0.02
LEAST_SPAN: Final = 1.25
"""In whatever room, the farthest distance is at least so many times the nearest."""
AIRIER: Final = {"lead": 1.0, "double": 1.25, "backing": 1.5}
"""How much farther than the usual distance a part stands that does not lead (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Recommended:
    """The distance and gain to use; distance_m is None for a plug, gain_db None where there is no control.

    conflict names what is felt even there ("pops", "bass", "room", "sway", "overload", "too-low", "too-high", "noise"),
    "" where nothing is; decided_by what drew the microphone from its usual distance, "habit" where nothing did.
    """

    distance_m: float | None
    gain_db: float | None
    decided_by: str
    conflict: str

    @property
    def miked_at_m(self) -> float:
        """The distance to use, of what stands before a microphone.

        Raises:
            Contradiction: for a plug, which has none.
        """
        if self.distance_m is None:
            raise Contradiction("distance", "is none: it is plugged in")
        return self.distance_m


def distance_range(setup: PartSetup) -> tuple[float, float]:
    """Return the nearest and farthest distance a part can use: its source's, within its room.

    Where the room ends before the source's nearest, one works nearer than is usual.
    """
    source = setup.source
    reach = reach_of(setup)
    nearest = min(source.nearest_m, reach / LEAST_SPAN)
    return max(nearest, 0.01), max(min(source.farthest_m, reach), nearest, 0.011)


def spot_range(setup: PartSetup) -> tuple[float, float]:
    """Return the nearest and farthest distance of the spot that is looked at, within what the part can use."""
    near, far = distance_range(setup)
    if setup.zone:
        near = min(max(setup.zone.near_m, near), far)
        far = max(min(setup.zone.far_m, far), near)
    return near, far


def ladder_at(setup: PartSetup, distances_m: tuple[float, ...]) -> Ladder:
    """Return the ladder at some distances, in the room as it is heard along them."""
    lead = leads_along(setup, distances_m)
    spot_m = spot_range(setup)
    return ladder_of(setup.source, setup.pattern, setup.placement, np.array(distances_m), lead, spot_m=spot_m)


def ladder_with(setup: PartSetup, distances_m: tuple[float, ...], here_m: float) -> Ladder:
    """Return the ladder at some distances and at the very one where the microphone stands."""
    if here_m in distances_m:
        return ladder_at(setup, distances_m)
    distance_m, lead = leads_with(setup, distances_m, here_m)
    spot_m = spot_range(setup)
    return ladder_of(setup.source, setup.pattern, setup.placement, distance_m, lead, spot_m=spot_m)


def gain_for(setup: PartSetup, levels: Levels) -> float | None:
    """Return the gain, in whole decibels or the steps of its control, that brings the loudest peak to the aim."""
    if setup.chain.gain_marking == "none":
        return None
    low, high = setup.chain.gain_range_db
    wanted = setup.gain_db + setup.aim_dbfs - levels.peak_dbfs
    return whole_gain_db(wanted, low, high, setup.chain.gain_step_db)


def window_missed_db(setup: PartSetup, levels: Levels) -> float:
    """Return how far the control keeps the loudest peak under its school's window (negative), or over it; else 0."""
    low_dbfs, high_dbfs = (levels.peak_dbfs + stop_db - setup.gain_db for stop_db in setup.chain.gain_range_db)
    return max(setup.school.outside_db(low_dbfs), 0.0) or min(setup.school.outside_db(high_dbfs), 0.0)


def with_planned_gain(setup: PartSetup) -> PartSetup:
    """Return a setup at the gain its school asks for where it stands."""
    low, _ = setup.chain.gain_range_db
    return replace(setup, gain_db=_planned_gain_db(replace(setup, gain_db=low, planned=frozenset())))


@lru_cache(maxsize=256)
def _planned_gain_db(lowest: PartSetup) -> float:
    gain_db = gain_for(lowest, levels_of(line_of(lowest)))
    return lowest.gain_db if gain_db is None else gain_db


def replanned(setup: PartSetup) -> PartSetup:
    """Return a setup after something in it was changed: what is planned follows."""
    if "distance" in setup.planned and not setup.is_plugged:
        setup = setup.moved(distance_m=recommend(setup).distance_m)
    return with_planned_gain(setup) if "gain" in setup.planned else setup


def recommend(setup: PartSetup) -> Recommended:
    """Return the distance and gain to use with a chain in a room, however far it stands now.

    Each strip of the ladder counts by the square of its strength, what lasts four times; so do an overloaded
    microphone, a peak the control cannot bring into the window, and noise. Where all is calm the usual distance wins.
    """
    anywhere = setup if setup.is_plugged else setup.moved(distance_m=1.0)
    return _recommend(replace(anywhere, gain_db=0.0, planned=frozenset()))


@lru_cache(maxsize=256)
def _recommend(setup: PartSetup) -> Recommended:
    if isinstance(setup.chain, PluggedChain):
        found, anywhere = with_planned_gain(setup), (setup.placement.distance_m,)
        gain = None if setup.chain.gain_marking == "none" else found.gain_db
        level = {name: float(values[0]) for name, values in _level_strengths(found, np.zeros(1), anywhere).items()}
        return Recommended(distance_m=None, gain_db=gain, decided_by="habit", conflict=_worst(level))
    distances = _candidates(setup)
    reference = with_planned_gain(setup.moved(distance_m=distances[len(distances) // 2]))
    felt = _strengths(reference, distances)
    usual = _usual_m(setup, distances)
    taste = TASTE_WEIGHT * np.log(np.array(distances) / usual) ** 2
    cost = np.sum([_weight(name) * values**2 for name, values in felt.items()], axis=0)
    best = int(np.argmin(np.where(cost <= CALM_COST, taste, cost + taste + taste.max())))
    # A hair beyond the calm range is calm to the ear, but short of what is asked by that hair: step inside.
    inside = (cost == 0) & (np.abs(np.log(np.array(distances) / distances[best])) <= A_STEP)
    if cost[best] > 0 and inside.any():
        best = int(np.argmin(np.where(inside, taste, np.inf)))
    at_usual = int(np.argmin(taste))
    here = with_planned_gain(setup.moved(distance_m=distances[best]))
    return Recommended(
        distance_m=distances[best],
        gain_db=None if setup.chain.gain_marking == "none" else here.gain_db,
        decided_by="habit" if best == at_usual else _reason(felt, at_usual, best),
        conflict=_worst({name: float(values[best]) for name, values in felt.items()}),
    )


def cost_of(setup: PartSetup) -> float:
    """Return how much is felt where a part stands, as recommend weighs it, its taste left out; at any gain the same."""
    return _cost_of(replace(setup, gain_db=0.0, planned=frozenset()))


@lru_cache(maxsize=256)
def _cost_of(setup: PartSetup) -> float:
    felt = _strengths(with_planned_gain(setup), (setup.placement.distance_m,))
    return float(sum(_weight(name) * values[0] ** 2 for name, values in felt.items()))


def _weight(name: str) -> float:
    return WEIGHT_OF_LASTING if name in LASTING else 1.0


def _usual_m(setup: PartSetup, distances: tuple[float, ...]) -> float:
    usual = setup.zone.usual_m if setup.zone else setup.source.usual_m
    wanted = usual * AIRIER.get(setup.role, 1.0) if setup.source.group == "voice" else usual
    return min(max(wanted, distances[0]), distances[-1])


def _candidates(setup: PartSetup) -> tuple[float, ...]:
    """Return the distances worth trying, in whole centimetres (five of them beyond a metre)."""
    near, far = spot_range(setup)
    usual = setup.zone.usual_m if setup.zone else setup.source.usual_m
    rough = np.append(np.geomspace(near, far, STEPS), min(max(usual, near), far))
    rounded = np.where(rough > 1.0, np.round(rough / 0.05) * 0.05, np.round(rough, 2))
    kept = rounded[(rounded >= near - 1e-9) & (rounded <= far + 1e-9)]
    if not len(kept):
        return (float(near),)
    return tuple(sorted({round(float(one), 2) for one in kept}))


def _strengths(setup: PartSetup, distances: tuple[float, ...]) -> dict[str, np.ndarray]:
    """Return how strongly everything is felt at each distance, 0 to 1; the gain follows the distance."""
    ladder = ladder_at(setup, distances)
    felt = dict(ladder.strengths)
    if setup.chain is boundless_chain(setup.pattern):
        return felt
    louder = louder_along(setup, distances)
    return felt | _level_strengths(setup, louder, distances)


def _level_strengths(setup: PartSetup, louder_db: np.ndarray, distances_m: tuple[float, ...]) -> dict[str, np.ndarray]:
    """Return what level and noise ask for at distances: overload, too low, too high, noise.

    Args:
        louder_db: how much louder it is there than where the setup stands.
    """
    low, high = setup.chain.gain_range_db
    gain_db = np.full(louder_db.shape, low) if setup.chain.gain_marking == "none" else setup.gain_db - louder_db
    set_to = whole_gain_db(gain_db, np.array(low), np.array(high), setup.chain.gain_step_db)
    levels = along_gain(levels_of(line_of(setup)), set_to - setup.gain_db)
    peak = levels.peak_dbfs + louder_db
    wanted_db = np.array([max(SPARE_DB, setup.microphone_band_at(one)) for one in distances_m])
    spare = np.minimum(levels.roof_dbfs, np.where(gain_db <= low, 0.0, levels.roof_dbfs)) - peak
    lowest_dbfs = np.array([min(setup.school.low_dbfs, setup.aim_at(one) - HELD_LOW_DB) for one in distances_m])
    return {
        "overload": _share(wanted_db - spare, wanted_db, MOST_BEYOND),
        "too-low": _share(lowest_dbfs - peak, LOW_SPAN_DB),
        "too-high": _share(peak - setup.school.high_dbfs, HIGH_SPAN_DB, MOST_BEYOND),
        "noise": _share(GOOD_CLEAN_RANGE_DB - (levels.clean_range_db + louder_db), NOISY_SPAN_DB),
    }


@dataclass(frozen=True, slots=True, kw_only=True)
class PatternPlace:
    """How far a microphone of a pattern stands, and what it hears there: the planner's table of a part."""

    pattern: str
    distance_m: float
    lead_db: float
    noise_dba: float


def place_for_pattern(setup: PartSetup, pattern: str) -> PatternPlace:
    """Return where a pattern would stand for a part, whatever the chain: one that reaches any level without noise."""
    free = replace(setup, chain=boundless_chain(pattern))
    found = recommend(free)
    here = free.moved(distance_m=found.miked_at_m)
    heard = heard_of_room(here)
    return PatternPlace(pattern=pattern, distance_m=found.miked_at_m, lead_db=heard.lead_db, noise_dba=heard.noise_dba)


@cache
def boundless_chain(pattern: str) -> XlrChain:
    """Return a chain that reaches any level without a noise of its own: for what does not depend on the chain."""
    microphone = Microphone(
        sensitivity_mv_per_pa=20, self_noise_dba=0, max_spl_db=200, impedance_ohm=150, pattern=pattern
    )
    interface = Interface(
        gain_min_db=-60, gain_max_db=100, ein_dbu=-133, max_input_dbu=20, input_impedance_ohm=3000, dynamic_range_db=150
    )
    return XlrChain(microphone=microphone, microphone_band_db=0, interface=interface)


def _share(beyond: np.ndarray, span: np.ndarray | float, most: float = 1.0) -> np.ndarray:
    return np.asarray(np.clip(beyond / span, 0.0, most))


def _worst(felt: dict[str, float]) -> str:
    name = max(felt, key=lambda one: (_weight(one) * felt[one] ** 2, one in LASTING))
    return name if felt[name] > FELT else ""


def _reason(felt: dict[str, np.ndarray], usual: int, best: int) -> str:
    """Name what the move from the usual distance mends most."""
    return max(felt, key=lambda name: float(_weight(name) * (felt[name][usual] ** 2 - felt[name][best] ** 2)))
