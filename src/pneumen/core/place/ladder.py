"""What each distance costs: bass build-up, pops, hard S, room sound, sway; and where all of them are calm."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

import numpy as np

from pneumen.core.errors import require_positive, require_within
from pneumen.core.part import Source
from pneumen.core.place.proximity import proximity_db
from pneumen.core.place.start import SWAY_M
from pneumen.core.room import Room, critical_distance_m, recorded_factor

BASS_HZ: Final = 100.0
PUFF_M_S: Final = 15.0
MOUTH_M: Final = 0.015
"""Exit speed and opening of a plosive (assumptions: 10 to 20 m/s, 10 to 20 mm)."""
CORE_MOUTHS: Final = 6.0
HALF_SPEED_DEG: Final = 5.5
SCREEN_LEAVES: Final = 0.1
"""What a pop screen leaves of the speed (estimate)."""
BEAM_DB: Final = ((0.0, 0.0), (15.0, -1.0), (30.0, -3.0), (45.0, -5.5), (60.0, -8.0), (90.0, -13.0))
"""How a hard S falls off the mouth's axis, 5 to 10 kHz (estimate)."""
OUT_OF_THE_AIR_DEG: Final = 20.0
"""15 to 30 degrees where there is no screen (common practice, no source)."""
NEAREST_SCREEN_M: Final = 0.03
"""Nearer, the screen's own swirl reaches the capsule (common practice, no source)."""
MOST_RISE: Final = 0.9
"""Of the distance, that the capsule may stand above or below the mouth."""
STEPS: Final = 72


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
        "sibilance": Limit(calm=-3.0, harsh=3.0, unit="dB of S against on axis"),
        "room": Limit(calm=-10.0, harsh=-3.0, unit="dB of room against it"),
        "sway": Limit(calm=6.1, harsh=13.0, unit="dB to and fro"),
    }
)
"""Common practice, no source, except that 6 dB of sway and 10 dB of lead are the trade's own figures."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Placement:
    """How a microphone is placed, the distance left open: both angles, and whether a screen stands before it."""

    pattern: str
    off_mouth_deg: float = 0.0
    off_microphone_deg: float = 0.0
    pop_screen: bool = False

    def __post_init__(self) -> None:
        require_within("off_mouth_deg", self.off_mouth_deg, 0, 90)
        require_within("off_microphone_deg", self.off_microphone_deg, 0, 180)


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


def puff_speed_m_s(distance_m: np.ndarray, off_mouth_deg: float, *, pop_screen: bool) -> np.ndarray:
    """Return the speed of a plosive's air where the capsule stands.

    A round turbulent jet: the centre falls as 6 D/x beyond 6 D; across it (1 + 0.414 (r / r_half)^2)^-2, half at 5.5
    degrees. Reference: Pope, Turbulent Flows, ch. 5; Schlichting (both from memory).

    >>> [round(float(puff_speed_m_s(np.array([0.2]), a, pop_screen=False)[0]) / 6.75, 2) for a in (0, 5.5, 10, 15)]
    [1.0, 0.5, 0.18, 0.06]
    """
    centre = PUFF_M_S * np.minimum(1.0, CORE_MOUTHS * MOUTH_M / np.asarray(distance_m, dtype=float))
    across = math.tan(math.radians(off_mouth_deg)) / math.tan(math.radians(HALF_SPEED_DEG))
    return centre * (1 + (2**0.5 - 1) * across**2) ** -2 * (SCREEN_LEAVES if pop_screen else 1.0)


def beam_db(off_mouth_deg: float) -> float:
    """Return how much weaker a hard S is off the mouth's axis.

    >>> beam_db(30)
    -3.0
    """
    angles, levels = zip(*BEAM_DB, strict=True)
    return float(np.interp(abs(off_mouth_deg), angles, levels))


def ladder_of(source: Source, room: Room, placement: Placement) -> Ladder:
    """Return the ladder of a source in a room: pops and S only where it has them."""
    distance = np.geomspace(source.nearest_m, source.farthest_m, STEPS)
    factor = recorded_factor(max(source.directivity_factor, 1.0), backwards=source.radiates_back)
    critical_m = critical_distance_m(room.volume_m3, room.rt60_s, placement.pattern, factor)
    values = {
        "bass": _bass_db(placement, curved_m(distance, source.extent_m)),
        "room": -20 * np.log10(critical_m / distance) - _axis_loss_db(placement),
    }
    if source.moves:
        values["sway"] = 20 * np.log10((distance + SWAY_M) / np.maximum(distance - SWAY_M, 0.005))
    if source.pops:
        values["pops"] = puff_speed_m_s(distance, placement.off_mouth_deg, pop_screen=placement.pop_screen)
    if source.pops or source.harsh:
        values["sibilance"] = np.full_like(distance, beam_db(placement.off_mouth_deg))
    ordered = {name: values[name] for name in LIMITS if name in values}
    strengths = {name: _strength(name, value) for name, value in ordered.items()}
    return _judged(distance, ordered, strengths)


def _bass_db(placement: Placement, distance_m: np.ndarray) -> np.ndarray:
    """Return the rise at 100 Hz against 1 kHz at each distance."""
    rise = [
        proximity_db(placement.pattern, float(one), np.array([BASS_HZ, 1000.0]), placement.off_microphone_deg)
        for one in distance_m
    ]
    return np.array([low - middle for low, middle in rise])


def _axis_loss_db(placement: Placement) -> float:
    """Return what turning the microphone takes off the direct sound (0 or less), which lets the room come forward."""
    turned = proximity_db(placement.pattern, 10.0, np.array([1000.0]), placement.off_microphone_deg)
    return float(max(turned[0], -40.0))


def _strength(name: str, values: np.ndarray) -> np.ndarray:
    limit = LIMITS[name]
    return np.clip((values - limit.calm) / (limit.harsh - limit.calm), 0, 1)


def _judged(distance: np.ndarray, values: dict[str, np.ndarray], strengths: dict[str, np.ndarray]) -> Ladder:
    """Find where nothing is more than calm, but for what no distance mends."""
    moving = {name: one for name, one in strengths.items() if name != "sibilance"}
    worst = np.max(list(moving.values()), axis=0)
    calm = worst <= 1e-9
    best = int(worst.argmin()) if not calm.any() else int(np.flatnonzero(calm)[calm.sum() // 2])
    conflict = "" if calm.any() else max(moving, key=lambda name: float(moving[name][best]))
    runs = np.flatnonzero(calm)
    return Ladder(
        distance_m=distance,
        values=MappingProxyType(values),
        strengths=MappingProxyType(strengths),
        calm_m=(float(distance[runs[0]]), float(distance[runs[-1]])) if len(runs) else None,
        best_m=float(distance[best]),
        conflict=conflict,
    )


def at_distance(ladder: Ladder, distance_m: float) -> dict[str, float]:
    """Return each strip's value at a distance."""
    require_positive("distance_m", distance_m, 100)
    where = np.log(distance_m)
    return {name: float(np.interp(where, np.log(ladder.distance_m), one)) for name, one in ladder.values.items()}


def curved_m(distance_m: np.ndarray | float, extent_m: float) -> np.ndarray | float:
    """Return the distance a point would have whose wave is as curved as that of something large, so near (estimate).

    >>> float(curved_m(0.08, 0.0)), round(float(curved_m(0.08, 0.15)), 2)
    (0.08, 0.17)
    """
    return np.hypot(distance_m, extent_m)


def off_axis_deg(sideways_deg: float, above_m: float, distance_m: float) -> float:
    """Return the angle off the mouth's axis of a capsule that stands off to the side, and above or below.

    >>> round(off_axis_deg(0, 0.1, 0.2), 1), round(off_axis_deg(30, 0, 0.2), 1)
    (30.0, 30.0)
    """
    require_positive("distance_m", distance_m, 100)
    rise = min(abs(above_m) / distance_m, 1.0)
    return math.degrees(math.acos(math.cos(math.radians(sideways_deg)) * math.sqrt(1 - rise**2)))


def suited_m(ladder: Ladder, role: str) -> tuple[float, float] | None:
    """Return the part of the calm range that suits a role: a lead its near half, an airy double or backing its far one.

    Common practice, no source. None where there is no calm range.
    """
    if ladder.calm_m is None:
        return None
    low, high = ladder.calm_m
    middle = math.sqrt(low * high)
    return (low, middle) if role == "lead" else (middle, high)


def level_along(ladder: Ladder, distance_m: float) -> np.ndarray:
    """Return the level at each of the ladder's distances against one place, dB: the law of distance."""
    return 20 * np.log10(distance_m / ladder.distance_m)


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
