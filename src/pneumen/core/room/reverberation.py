"""Statistical room sound: ring time and how the direct sound stands against it."""

import math
from typing import Final

from pneumen.core.errors import require_positive, require_within
from pneumen.core.gear import directivity_factor

SABINE_S_PER_M: Final = 0.161
"""24 ln(10) / c at 343 m/s (Sabine; Kuttruff, Room Acoustics, from memory)."""


def reverberation_time_eyring_s(volume_m3: float, surface_m2: float, mean_absorption: float) -> float:
    """Return the ring time T60 by Eyring (1930), without air absorption.

    Args:
        mean_absorption: surface-weighted mean absorption coefficient, above 0 and below 1.

    Raises:
        OutOfRange: for no volume, no surface or an impossible coefficient.

    >>> round(reverberation_time_eyring_s(30, 61, 0.2), 2)
    0.35
    """
    require_positive("volume_m3", volume_m3)
    require_positive("surface_m2", surface_m2)
    require_within("mean_absorption", mean_absorption, 0.001, 0.999)
    return SABINE_S_PER_M * volume_m3 / (-surface_m2 * math.log(1 - mean_absorption))


def critical_distance_m(volume_m3: float, rt60_s: float, pattern: str = "omni") -> float:
    """Return where direct and reverberant sound are equal, for an omnidirectional source.

    Reference: Dc = 0.057 sqrt(Q V / T60), Kuttruff, Room Acoustics (from memory).

    >>> round(critical_distance_m(30, 0.5), 2)
    0.44
    """
    require_positive("volume_m3", volume_m3)
    require_positive("rt60_s", rt60_s)
    return 0.057 * math.sqrt(directivity_factor(pattern) * volume_m3 / rt60_s)


def direct_to_reverberant_db(distance_m: float, critical_m: float) -> float:
    """Return how far the direct sound leads the room's, in dB."""
    require_positive("distance_m", distance_m)
    return 20 * math.log10(critical_m / distance_m)
