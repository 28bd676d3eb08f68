"""What a microphone hears, drawn about it: its pattern's outline, and the lines of its nulls."""

import math
from typing import Final

from pneumen.core.gear import PATTERNS

HALF_POINTS: Final = 36
NULL_REACH: Final = 1.65


def lobe_path(at: tuple[float, float], axis: float, pattern: str, size: float) -> str:
    """Return a pattern's outline about a point of the paper, along an angle (y down)."""
    a, points = PATTERNS[pattern], []
    for number in range(2 * HALF_POINTS + 1):
        angle = math.pi * number / HALF_POINTS
        radius = abs(a + (1 - a) * math.cos(angle)) * size
        points.append(f"{at[0] + radius * math.cos(axis + angle):.1f} {at[1] + radius * math.sin(axis + angle):.1f}")
    return "M" + "L".join(points) + "Z"


def null_path(at: tuple[float, float], axis: float, pattern: str, size: float) -> str:
    """Return the lines along which a pattern hears nothing; none where it has no null."""
    a = PATTERNS[pattern]
    if a > 0.5:
        return ""
    null = math.acos(max(-a / (1 - a), -1.0))
    ends = (
        (NULL_REACH * size * math.cos(axis + one), NULL_REACH * size * math.sin(axis + one)) for one in {null, -null}
    )
    return "".join(f"M{at[0]:.1f} {at[1]:.1f}L{at[0] + x:.1f} {at[1] + y:.1f}" for x, y in ends)
