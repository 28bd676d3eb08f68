"""What each distance costs: bass build-up, pops, hard S, room sound, sway; and where all of them are calm."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import Final

import numpy as np

from pneumen.core.errors import require_positive
from pneumen.core.gear import near_response_db
from pneumen.core.part import Source
from pneumen.core.place.placement import Placement, off_axis_deg
from pneumen.core.room import DRY_ENOUGH_DB

SWAY_M: Final = 0.05
"""How far a performer moves to and fro without noticing (common practice, no source)."""
BASS_HZ: Final = 100.0
BASS_UP_TO_HZ: Final = 1000.0
"""What sounds only above this, as a shaker does, has no bass that closeness could lift."""
PUFF_M_S: Final = 15.0
MOUTH_M: Final = 0.015
"""Exit speed and opening of a plosive (assumptions: 10 to 20 m/s, 10 to 20 mm)."""
CORE_MOUTHS: Final = 6.0
MOUTH_HALF_M, CAPSULE_HALF_M = 0.015, 0.01
"""Half the width of a mouth that says P, and of a capsule (2 to 4 and 1 to 3 cm; estimates)."""
SHORT_PUFF_M: Final = 0.30
HALF_SPEED_DEG: Final = 5.5
SCREEN_LEAVES: Final = 0.1
"""What a pop screen leaves of the speed (estimate)."""
BEAM_DB: Final = ((0.0, 0.0), (15.0, -1.0), (30.0, -3.0), (45.0, -5.5), (60.0, -8.0), (90.0, -13.0))
"""How a hard S falls off the mouth's axis, 5 to 10 kHz (estimate)."""
OUT_OF_THE_AIR_DEG: Final = 20.0
"""15 to 30 degrees where there is no screen (common practice, no source)."""
NEAREST_SCREEN_M: Final = 0.03
"""Nearer, the screen's own swirl reaches the capsule (common practice, no source)."""
MOST_OFF_MOUTH_DEG: Final = 89.0
SAME_M: Final = 1e-9


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """From where on something is felt, and where it is too much, in its unit."""

    calm: float
    harsh: float
    unit: str


LIMITS: Final[Mapping[str, Limit]] = MappingProxyType(
    {
        "bass": Limit(calm=6.0, harsh=12.0, unit="dB at 100 Hz"),
        "pops": Limit(calm=1.5, harsh=5.0, unit="m/s of air"),
        "sibilance": Limit(calm=0.0, harsh=6.0, unit="dB of S against on axis"),
        "room": Limit(calm=-10.0, harsh=-3.0, unit="dB of room against it"),
        "sway": Limit(calm=6.1, harsh=13.0, unit="dB to and fro"),
    }
)
"""Common practice, no source, except that 6 dB of sway and 10 dB of lead are the trade's own figures."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Ladder:
    """The strips over distance: values and strengths (0 calm to 1 harsh) by name, and the calm range (None for none).

    conflict names the strip that is worst where the others are calm, "" where there is a calm range.
    """

    distance_m: np.ndarray
    values: Mapping[str, np.ndarray]
    strengths: Mapping[str, np.ndarray]
    calm_m: tuple[float, float] | None
    best_m: float
    conflict: str


def puff_speed_m_s(distance_m: np.ndarray, off_mouth_deg: np.ndarray | float, *, pop_screen: bool) -> np.ndarray:
    """Return the speed of a plosive's air where the capsule stands.

    A round turbulent jet: the centre falls as 6 D/x beyond 6 D; across it (1 + 0.414 (r / r_half)^2)^-2, half at 5.5
    degrees. Nearer, its core is as wide as the mouth and narrows to nothing, and the capsule is no point. A puff is
    short: beyond 30 cm it slows down as a cloud does, with the cube of the distance. Reference: Pope, Turbulent Flows,
    ch. 5; Schlichting; Scorer on puffs (all from memory).

    >>> [round(float(puff_speed_m_s(np.array([0.2]), a, pop_screen=False)[0]) / 6.75, 2) for a in (0, 5.5, 10, 15)]
    [1.0, 0.5, 0.18, 0.06]
    """
    distance = np.asarray(distance_m, dtype=float)
    steady, short = CORE_MOUTHS * MOUTH_M / distance, SHORT_PUFF_M / distance
    centre = PUFF_M_S * np.minimum(1.0, steady) * np.minimum(1.0, short) ** 2
    off_deg = np.minimum(np.asarray(off_mouth_deg, dtype=float), MOST_OFF_MOUTH_DEG)
    core = np.maximum(1 - distance / (CORE_MOUTHS * MOUTH_M), 0.0) * (MOUTH_HALF_M + CAPSULE_HALF_M)
    beside = np.maximum(distance * np.tan(np.radians(off_deg)) - core, 0.0)
    across = beside / (distance * math.tan(math.radians(HALF_SPEED_DEG)))
    return centre * (1 + (2**0.5 - 1) * across**2) ** -2 * (SCREEN_LEAVES if pop_screen else 1.0)


def beam_db(off_mouth_deg: np.ndarray | float) -> np.ndarray:
    """Return how much weaker a hard S is off the mouth's axis.

    >>> float(beam_db(30))
    -3.0
    """
    angles, levels = zip(*BEAM_DB, strict=True)
    return np.interp(np.abs(off_mouth_deg), angles, levels)


def ladder_of(
    source: Source,
    pattern: str,
    placement: Placement,
    distance_m: np.ndarray,
    lead_db: np.ndarray,
    *,
    spot_m: tuple[float, float] = (0.0, math.inf),
) -> Ladder:
    """Return the ladder of a source: pops and S only where it has them, sway only where it moves.

    Args:
        distance_m: the distances, rising.
        lead_db: how far the direct sound stands over the room's at each of them.
        spot_m: from where to where the spot that is looked at may be worked; calm is looked for there.
    """
    values = {
        "bass": bass_rise_db(pattern, curved_m(distance_m, source.extent_m), placement.turned_deg),
        "room": -np.asarray(lead_db, dtype=float),
    }
    if source.moves:
        values["sway"] = sway_db(distance_m)
    off_mouth = off_axis_deg(placement.aside_deg, placement.above_m, distance_m)
    if source.pops:
        values["pops"] = puff_speed_m_s(distance_m, off_mouth, pop_screen=placement.pop_screen)
    if source.pops or source.harsh:
        values["sibilance"] = beam_db(off_mouth)
    ordered = {name: values[name] for name in LIMITS if name in values}
    strengths = {name: strength_of(name, value, source) for name, value in ordered.items()}
    return _judged(distance_m, ordered, strengths, spot_m)


def bass_rise_db(pattern: str, distance_m: np.ndarray, turned_deg: float = 0.0) -> np.ndarray:
    """Return the rise at 100 Hz against 1 kHz at each distance."""
    low, middle = near_response_db(pattern, np.asarray(distance_m), np.array([[BASS_HZ], [1000.0]]), abs(turned_deg))
    return low - middle


def limit_of(name: str, source: Source) -> Limit:
    """Return a strip's limits for a source: where the room belongs to the sound, more of it is still calm."""
    limit = LIMITS[name]
    if name != "room":
        return limit
    more_db = DRY_ENOUGH_DB - source.dry_enough_db
    return replace(limit, calm=limit.calm + more_db, harsh=limit.harsh + more_db)


def strength_of(name: str, values: np.ndarray, source: Source) -> np.ndarray:
    """Return how strongly values of a strip are felt, 0 calm to 1 harsh; bass only where the source has any."""
    if name == "bass" and source.lowest_hz > BASS_UP_TO_HZ:
        return np.zeros_like(values)
    limit = limit_of(name, source)
    return np.clip((values - limit.calm) / (limit.harsh - limit.calm), 0, 1)


def _judged(
    distance: np.ndarray, values: dict[str, np.ndarray], strengths: dict[str, np.ndarray], spot_m: tuple[float, float]
) -> Ladder:
    """Find where nothing is more than calm."""
    worst = np.max(list(strengths.values()), axis=0)
    there = (distance >= spot_m[0] - SAME_M) & (distance <= spot_m[1] + SAME_M)
    calm = there & (worst <= 1e-9)
    if calm.any():
        best = int(np.flatnonzero(calm)[calm.sum() // 2])
    else:
        best = int(np.where(there | ~there.any(), worst, np.inf).argmin())
    conflict = "" if calm.any() else max(strengths, key=lambda name: float(strengths[name][best]))
    runs = np.flatnonzero(calm)
    return Ladder(
        distance_m=distance,
        values=MappingProxyType(values),
        strengths=MappingProxyType(strengths),
        calm_m=(float(distance[runs[0]]), float(distance[runs[-1]])) if len(runs) else None,
        best_m=float(distance[best]),
        conflict=conflict,
    )


def sway_db(distance_m: np.ndarray | float, sway_m: float = SWAY_M) -> np.ndarray:
    """Return by how much the level swings when the performer sways to and fro.

    >>> round(float(sway_db(0.15)), 1)
    6.0
    """
    distance = np.asarray(distance_m, dtype=float)
    return 20 * np.log10((distance + sway_m) / np.maximum(distance - sway_m, 0.005))


def at_distance(ladder: Ladder, distance_m: float) -> dict[str, float]:
    """Return each strip's value at a distance."""
    require_positive("distance_m", distance_m, 100)
    where = np.log(distance_m)
    return {name: float(np.interp(where, np.log(ladder.distance_m), one)) for name, one in ladder.values.items()}


def curved_m(distance_m: np.ndarray | float, extent_m: float) -> np.ndarray:
    """Return the distance a point would have whose wave is as curved as that of something large, so near (estimate).

    >>> float(curved_m(0.08, 0.0)), round(float(curved_m(0.08, 0.15)), 2)
    (0.08, 0.17)
    """
    return np.asarray(np.hypot(distance_m, extent_m))


@dataclass(frozen=True, slots=True, kw_only=True)
class DistanceSchool:
    """A school of vocal distance: mouth to capsule, its reason and its price."""

    label: str
    low_m: float
    high_m: float
    reason: str
    price: str


DISTANCE_SCHOOLS: Final = (
    DistanceSchool(
        label="Touching",
        low_m=0.02,
        high_m=0.05,
        reason="voice far above the room",
        price="bass build-up, pops, every move is heard",
    ),
    DistanceSchool(
        label="Close hand",
        low_m=0.08,
        high_m=0.15,
        reason="full, controlled, little room",
        price="bass build-up to manage",
    ),
    DistanceSchool(
        label="Six inches", low_m=0.10, high_m=0.15, reason="balanced, easy to repeat", price="needs a pop filter"
    ),
    DistanceSchool(
        label="Hand to forearm", low_m=0.15, high_m=0.30, reason="natural, forgiving", price="needs a decent room"
    ),
    DistanceSchool(
        label="Foot and more",
        low_m=0.30,
        high_m=0.45,
        reason="even tone, no pops or hard S",
        price="only in a damped room",
    ),
)
"""Common practice, no source."""
