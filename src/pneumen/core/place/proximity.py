"""What closeness and angle do to a first-order microphone's response."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import require_positive, require_within
from pneumen.core.gear import PATTERNS, require_pattern
from pneumen.core.room import SPEED_OF_SOUND_M_S

THIRD_OCTAVES_HZ: Final = (
    *(50, 63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630, 800),
    *(1000, 1250, 1600, 2000, 2500, 3150, 4000, 5000, 6300, 8000, 10_000, 12_500, 16_000),
)
"""Nominal third-octave frequencies (ISO 266)."""
DEAF_DB: Final = -200.0
FARTHEST_M: Final = 1000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Response:
    """A response by third octaves in dB; None where the pattern hears nothing."""

    frequency_hz: tuple[int, ...]
    response_db: tuple[float | None, ...]


def proximity_db(
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

    >>> float(proximity_db("cardioid", 0.05, np.array([100.0]))[0].round(1))
    14.9
    """
    require_pattern(pattern)
    for one in (np.min(distance_m), np.max(distance_m)):
        require_positive("distance_m", float(one), FARTHEST_M)
    require_within("angle_deg", angle_deg, -360, 360)
    a, wave_number = PATTERNS[pattern], 2 * np.pi * np.asarray(frequency_hz, dtype=float) / SPEED_OF_SOUND_M_S
    gradient = (1 - a) * math.cos(math.radians(angle_deg)) * (1 + 1 / (1j * wave_number * distance_m))
    return 20 * np.log10(np.maximum(np.abs(a + gradient), 10 ** (DEAF_DB / 20)))


def response_at(
    pattern: str, distance_m: float, *, angle_deg: float = 0.0, reference_m: float | None = None
) -> Response:
    """Return the response at a distance and angle, against a plane wave on axis, or against a distance on axis.

    Raises:
        UnknownName, OutOfRange: naming the argument.
    """
    frequency_hz = np.array(THIRD_OCTAVES_HZ, dtype=float)
    response = proximity_db(pattern, distance_m, frequency_hz, angle_deg)
    heard = response > DEAF_DB + 60  # what is left of a null is rounding
    if reference_m is not None:
        require_positive("reference_m", reference_m, FARTHEST_M)
        response = response - proximity_db(pattern, reference_m, frequency_hz)
    figures = tuple(float(value) if sounds else None for value, sounds in zip(response, heard, strict=True))
    return Response(frequency_hz=THIRD_OCTAVES_HZ, response_db=figures)
