"""What closeness and angle do to a first-order microphone's response."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import require_positive
from pneumen.core.gear import DEAF_DB, near_response_db

THIRD_OCTAVES_HZ: Final = (
    *(50, 63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630, 800),
    *(1000, 1250, 1600, 2000, 2500, 3150, 4000, 5000, 6300, 8000, 10_000, 12_500, 16_000),
)
"""Nominal third-octave frequencies (ISO 266)."""
FARTHEST_M: Final = 1000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Response:
    """A response by third octaves in dB; None where the pattern hears nothing."""

    frequency_hz: tuple[int, ...]
    response_db: tuple[float | None, ...]


def response_at(
    pattern: str, distance_m: float, *, angle_deg: float = 0.0, reference_m: float | None = None
) -> Response:
    """Return the response at a distance and angle, against a plane wave on axis, or against a distance on axis.

    Raises:
        UnknownName, OutOfRange: naming the argument.
    """
    frequency_hz = np.array(THIRD_OCTAVES_HZ, dtype=float)
    response = near_response_db(pattern, distance_m, frequency_hz, angle_deg)
    heard = response > DEAF_DB + 60  # what is left of a null is rounding
    if reference_m is not None:
        require_positive("reference_m", reference_m, FARTHEST_M)
        response = response - near_response_db(pattern, reference_m, frequency_hz)
    figures = tuple(float(value) if sounds else None for value, sounds in zip(response, heard, strict=True))
    return Response(frequency_hz=THIRD_OCTAVES_HZ, response_db=figures)
