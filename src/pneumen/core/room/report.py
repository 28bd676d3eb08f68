"""A room told in figures, band by band: what the command line prints and the Room screen starts from."""

import math
from dataclasses import dataclass

import numpy as np

from pneumen.core.room.box import WALLS, Box, Point
from pneumen.core.room.images import echoes_of
from pneumen.core.room.materials import BANDS_HZ
from pneumen.core.room.modes import Mode, modes_of
from pneumen.core.room.reverberation import (
    critical_distance_m,
    direct_to_reverberant_db,
    mid_rt60_of,
    reverberation_times_eyring_s,
    reverberation_times_sabine_s,
    schroeder_frequency_hz,
)

Figures = tuple[float | None, ...]
ONE_KHZ = BANDS_HZ.index(1000)
SAID_ORDER = ("floor", "ceiling", "north", "south", "east", "west")


@dataclass(frozen=True, slots=True, kw_only=True)
class Reflection:
    """A first-order reflection: how late and how strong against the direct sound (1 kHz, patterns left out)."""

    surface: str
    delay_ms: float
    level_db: float | None
    first_notch_hz: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomReport:
    """Everything `room` tells; six figures a band in the order of bands_hz, None where there is none."""

    bands_hz: tuple[int, ...]
    volume_m3: float
    surface_m2: float
    absorption_m2: Figures
    rt60_sabine_s: Figures
    rt60_eyring_s: Figures
    schroeder_hz: float | None
    modes: tuple[Mode, ...]
    critical_distance_m: Figures
    direct_to_reverberant_db: Figures
    reflections: tuple[Reflection, ...]


def report_of(box: Box, source_m: Point, microphone_m: Point, pattern: str) -> RoomReport:
    """Return a room in figures, for an omnidirectional source and a microphone aimed at it.

    Raises:
        OutOfRange, Contradiction: for places in a wall or in each other.
    """
    reflections = reflections_of(box, source_m, microphone_m)
    rt60_by_band_s, distance_m = reverberation_times_eyring_s(box), math.dist(source_m, microphone_m)
    critical = tuple(one and critical_distance_m(box.volume_m3, one, pattern) for one in rt60_by_band_s)
    middle = mid_rt60_of(rt60_by_band_s)
    return RoomReport(
        bands_hz=BANDS_HZ,
        volume_m3=box.volume_m3,
        surface_m2=box.surface_m2,
        absorption_m2=tuple(map(float, box.absorption_m2)),
        rt60_sabine_s=reverberation_times_sabine_s(box),
        rt60_eyring_s=rt60_by_band_s,
        schroeder_hz=middle and schroeder_frequency_hz(box.volume_m3, middle),
        modes=modes_of(box.size_m),
        critical_distance_m=critical,
        direct_to_reverberant_db=tuple(one and direct_to_reverberant_db(distance_m, one) for one in critical),
        reflections=reflections,
    )


def reflections_of(box: Box, source_m: Point, microphone_m: Point) -> tuple[Reflection, ...]:
    """Return the six first-order reflections, from path length and absorption alone."""
    echoes = echoes_of(box, source_m, microphone_m, order=1)
    found = {}
    for number in np.flatnonzero(echoes.order == 1):
        share, delay_s = float(echoes.share[number, ONE_KHZ]), float(echoes.delay_s[number])
        wall = WALLS[int(echoes.hits[number].argmax())]
        found[wall] = Reflection(
            surface=wall,
            delay_ms=1000 * delay_s,
            level_db=10 * math.log10(share) if share > 1e-12 else None,
            first_notch_hz=1 / (2 * delay_s) if delay_s > 0 else None,
        )
    return tuple(found[wall] for wall in SAID_ORDER)
