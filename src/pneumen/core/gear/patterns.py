"""First-order microphone patterns, a + b cos(theta) with a + b = 1."""

import math
from types import MappingProxyType
from typing import Final

import numpy as np

from pneumen.core.errors import UnknownName, require_positive, require_within
from pneumen.core.levels import SPEED_OF_SOUND_M_S

PATTERNS: Final = MappingProxyType(
    {
        "omni": 1.0,
        "subcardioid": 0.7,
        "cardioid": 0.5,
        "supercardioid": 0.366,
        "hypercardioid": 0.25,
        "figure-8": 0.0,
    }
)
"""The constant part a of each pattern (Olson; Beranek; from memory)."""

DEAF_DB: Final = -200.0
FARTHEST_M: Final = 1000.0
DEEPEST_NULL_DB: Final = -20.0
"""Common practice, no source."""


def directivity_factor(pattern: str) -> float:
    """Return Q, by how much less diffuse sound power a pattern takes in than an omni.

    Raises:
        UnknownName: if the pattern is not one of PATTERNS.

    Reference: Q = 1 / (a^2 + b^2 / 3), Beranek, Acoustics (from memory).

    >>> round(directivity_factor("cardioid"), 2)
    3.0
    """
    if pattern not in PATTERNS:
        raise UnknownName("pattern", pattern, tuple(PATTERNS))
    a = PATTERNS[pattern]
    return 1 / (a**2 + (1 - a) ** 2 / 3)


def directivity_index_db(pattern: str) -> float:
    """Return 10 log10 Q: what a pattern takes off diffuse room noise, in dB."""
    return 10 * math.log10(directivity_factor(pattern))


def off_axis_db(pattern: str, angle_deg: float) -> float:
    """Return what a pattern takes off a sound that comes from off its axis, in the middle of the band.

    No real null is deeper than DEEPEST_NULL_DB over the whole band.

    >>> round(off_axis_db("cardioid", 90), 2), off_axis_db("figure-8", 90), off_axis_db("omni", 120)
    (-6.02, -20.0, 0.0)
    """
    if pattern not in PATTERNS:
        raise UnknownName("pattern", pattern, tuple(PATTERNS))
    heard = abs(PATTERNS[pattern] + (1 - PATTERNS[pattern]) * math.cos(math.radians(angle_deg)))
    return max(20 * math.log10(max(heard, 1e-6)), DEEPEST_NULL_DB)


def near_response_db(
    pattern: str, distance_m: np.ndarray | float, frequency_hz: np.ndarray, angle_deg: float = 0.0
) -> np.ndarray:
    """Return the response to a point source against a plane wave on axis, the fall of level with distance left out.

    Args:
        distance_m: to the capsule.
        frequency_hz: any shape; the result has that of both, broadcast.
        angle_deg: off the microphone's axis.

    Raises:
        UnknownName, OutOfRange: naming the argument.

    Reference: a + b cos(theta) (1 + 1/(jkr)), spherical wave at a first-order microphone (Olson; Beranek; from memory).

    >>> float(near_response_db("cardioid", 0.05, np.array([100.0]))[0].round(1))
    14.9
    """
    if pattern not in PATTERNS:
        raise UnknownName("pattern", pattern, tuple(PATTERNS))
    for one in (np.min(distance_m), np.max(distance_m)):
        require_positive("distance_m", float(one), FARTHEST_M)
    require_within("angle_deg", angle_deg, -360, 360)
    a, wave_number = PATTERNS[pattern], 2 * np.pi * np.asarray(frequency_hz, dtype=float) / SPEED_OF_SOUND_M_S
    gradient = (1 - a) * math.cos(math.radians(angle_deg)) * (1 + 1 / (1j * wave_number * distance_m))
    return 20 * np.log10(np.maximum(np.abs(a + gradient), 10 ** (DEAF_DB / 20)))
