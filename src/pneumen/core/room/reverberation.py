"""Statistical room sound: reverberation time and how the direct sound stands against it."""

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Final

from pneumen.core.errors import require_positive, require_within
from pneumen.core.gear import directivity_factor
from pneumen.core.room.box import Box
from pneumen.core.room.materials import Bands, six_bands

SABINE_S_PER_M: Final = 0.161
"""24 ln(10) / c at 343 m/s (Sabine; Kuttruff, Room Acoustics, from memory)."""
MOST_SCALING: Final = (0.05, 20.0)
SCALING_STEPS: Final = 24


def reverberation_time_sabine_s(volume_m3: float, absorption_m2: float) -> float:
    """Return the reverberation time T60 by Sabine, without air absorption; it over-estimates in damped rooms.

    >>> round(reverberation_time_sabine_s(30, 12.2), 2)
    0.4
    """
    require_positive("volume_m3", volume_m3)
    require_positive("absorption_m2", absorption_m2)
    return SABINE_S_PER_M * volume_m3 / absorption_m2


def reverberation_time_eyring_s(volume_m3: float, surface_m2: float, mean_absorption: float) -> float:
    """Return the reverberation time T60 by Eyring (1930), without air absorption.

    Args:
        mean_absorption: surface-weighted mean absorption coefficient, above 0 and below 1.

    Raises:
        OutOfRange: for no volume, no surface or an impossible coefficient.

    >>> round(reverberation_time_eyring_s(30, 61, 0.2), 2)
    0.35
    """
    require_positive("volume_m3", volume_m3)
    require_positive("surface_m2", surface_m2)
    require_within("mean_absorption", mean_absorption, 1e-6, 1 - 1e-6)
    return SABINE_S_PER_M * volume_m3 / (-surface_m2 * math.log(1 - mean_absorption))


@lru_cache(maxsize=256)
def reverberation_times_sabine_s(box: Box) -> tuple[float | None, ...]:
    """Return Sabine's reverberation time of a box in each band; None where nothing absorbs."""
    return tuple(
        reverberation_time_sabine_s(box.volume_m3, float(area)) if area > 0 else None for area in box.absorption_m2
    )


@lru_cache(maxsize=256)
def reverberation_times_eyring_s(box: Box) -> tuple[float | None, ...]:
    """Return Eyring's reverberation time of a box in each band; None where all or nothing is absorbed."""
    means = box.absorption_m2 / box.surface_m2
    return tuple(
        reverberation_time_eyring_s(box.volume_m3, box.surface_m2, float(mean)) if 1e-6 <= mean < 1 - 1e-6 else None
        for mean in means
    )


def critical_distance_m(volume_m3: float, rt60_s: float, pattern: str = "omni", source_factor: float = 1.0) -> float:
    """Return where direct and reverberant sound are equal.

    Args:
        pattern: the microphone's, aimed at the source.
        source_factor: the source's directivity factor towards the microphone, 1 for an omnidirectional one.

    Reference: Dc = 0.057 sqrt(Q V / T60), Kuttruff, Room Acoustics (from memory).

    >>> round(critical_distance_m(30, 0.5), 2)
    0.44
    """
    require_positive("volume_m3", volume_m3)
    require_positive("rt60_s", rt60_s)
    require_positive("source_factor", source_factor)
    return 0.057 * math.sqrt(source_factor * directivity_factor(pattern) * volume_m3 / rt60_s)


def direct_to_reverberant_db(distance_m: float, critical_m: float) -> float:
    """Return how far the direct sound leads the room's, in dB."""
    require_positive("distance_m", distance_m)
    return 20 * math.log10(critical_m / distance_m)


def schroeder_frequency_hz(volume_m3: float, rt60_s: float) -> float:
    """Return where single modes give way to statistics: 2000 sqrt(T/V) (Schroeder; Kuttruff, from memory).

    >>> round(schroeder_frequency_hz(30, 0.5))
    258
    """
    require_positive("volume_m3", volume_m3)
    require_positive("rt60_s", rt60_s)
    return 2000 * math.sqrt(rt60_s / volume_m3)


def middle_rt60_s(box: Box) -> float | None:
    """Return a box's reverberation time, the mean of 500 Hz and 1 kHz (Eyring); None where one of them has none."""
    return mid_rt60_of(reverberation_times_eyring_s(box))


def mid_rt60_of(rt60_by_band_s: Sequence[float | None]) -> float | None:
    """Return the mean reverberation time of 500 Hz and 1 kHz, None where one of them is not known."""
    low, high = rt60_by_band_s[2:4]
    return None if low is None or high is None else (low + high) / 2


def scaled_bands(values: Bands, scale: float) -> Bands:
    """Return coefficients a as 1 - (1 - a)^scale: what absorbs more still does, and none passes 1."""
    return tuple(1 - (1 - min(one, 1.0)) ** scale for one in values)


def scaled_box(box: Box, scale: float) -> Box:
    """Return a box that absorbs more or less throughout, as a measured clap tells."""
    if scale == 1.0:
        return box
    return Box(
        size_m=box.size_m,
        surfaces={wall: scaled_bands(one, scale) for wall, one in box.surfaces.items()},
        coverings=tuple(replace(one, absorption=scaled_bands(one.absorption, scale)) for one in box.coverings),
        objects_m2=tuple(six_bands(scale * area for area in one) for one in box.objects_m2),
    )


def scale_for_rt60(box: Box, rt60_s: float) -> float:
    """Return the scale at which a box has a measured reverberation time, so that images and statistics agree with it.

    >>> bare = Box(size_m=(4, 3, 2.5), surfaces=dict.fromkeys(("west", "east", "south", "north", "floor", "ceiling"), \
(0.1,) * 6))
    >>> round(middle_rt60_s(scaled_box(bare, scale_for_rt60(bare, 0.4))), 3)
    0.4
    """
    require_positive("rt60_s", rt60_s, 20)
    low, high = MOST_SCALING
    for _ in range(SCALING_STEPS):
        scale = math.sqrt(low * high)
        reached = middle_rt60_s(scaled_box(box, scale))
        low, high = (scale, high) if reached is not None and reached > rt60_s else (low, scale)
    return math.sqrt(low * high)
