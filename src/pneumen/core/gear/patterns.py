"""First-order microphone patterns, a + b cos(theta) with a + b = 1."""

import math
from types import MappingProxyType
from typing import Final

from pneumen.core.errors import UnknownName

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
