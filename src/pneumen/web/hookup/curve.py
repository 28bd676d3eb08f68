"""The line of the loop: out above and back below, or down one side of a phone's paper and up the other."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.web.drawing import Paper, Place

WIDE: Final = Paper(width=760.0, narrow=False)
NARROW: Final = Paper(width=330.0, narrow=True)
STEP_PX: Final = 46.0
"""How far apart devices and joints stand on the paper of a phone."""
SAMPLES: Final = 60
MIDDLE_Y: Final = 140.0
NARROW_TOP: Final = 34.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Curve:
    """Where the two halves of the loop run, as points from their beginning to their end."""

    out: np.ndarray
    back: np.ndarray
    height: float
    narrow: bool

    def at(self, half: np.ndarray, share: float) -> Place:
        """Return the point after a share of a half."""
        along = np.linspace(0, 1, len(half))
        return float(np.interp(share, along, half[:, 0])), float(np.interp(share, along, half[:, 1]))

    @staticmethod
    def path(half: np.ndarray) -> str:
        return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in half)


def wide_curve() -> Curve:
    """A breath across the paper: out above, back below."""
    angle = np.linspace(0, np.pi, SAMPLES)
    x = WIDE.width / 2 - 300 * np.cos(angle)
    lift = np.sin(angle) ** 0.6
    out = np.column_stack([x, MIDDLE_Y - 96 * lift])
    back = np.column_stack([x[::-1], MIDDLE_Y + 96 * lift[::-1]])
    return Curve(out=_even(out), back=_even(back), height=2 * MIDDLE_Y, narrow=False)


def narrow_curve(out_stops: int, back_stops: int) -> Curve:
    """The same down one side of the paper and up the other; its points are equally far down the paper."""
    length = STEP_PX * max(out_stops - 1, back_stops, 4)
    down = np.linspace(0, 1, SAMPLES)
    bulge = (1 - (2 * down - 1) ** 6) ** (1 / 3)
    middle, y = NARROW.width / 2, NARROW_TOP + length * down
    out = np.column_stack([middle - (middle - 22) * bulge, y])
    back = np.column_stack([middle + (middle - 22) * bulge[::-1], y[::-1]])
    return Curve(out=out, back=back, height=length + 2 * NARROW_TOP, narrow=True)


def _even(points: np.ndarray) -> np.ndarray:
    """Return points equally far apart along a curve."""
    steps = np.hypot(*np.diff(points, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    shares = np.linspace(0, along[-1], len(points))
    return np.column_stack([np.interp(shares, along, points[:, 0]), np.interp(shares, along, points[:, 1])])
