"""What lies under the floor plan: shades and contours of room sound, in centimetres from the north-west corner."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

import numpy as np
from contourpy import contour_generator

from pneumen.core.room import RoomMap
from pneumen.wording.figures import figure

STEP_DB: Final = 2.0
LABEL_APART_CM: Final = 24.0
MOST_CONTOURS: Final = 6
LEAST_POINTS: Final = 14


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A word at a place."""

    x: float
    y: float
    label: str
    anchor: str = "middle"


@dataclass(frozen=True, slots=True, kw_only=True)
class Shade:
    """All cells of one step of room sound; strength 0 (dry) to 1 (the room rules)."""

    path: str
    strength: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Contour:
    path: str
    label: Mark | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Ground:
    """What lies under the plan, in centimetres from the north-west corner: the same for every paper."""

    shades: tuple[Shade, ...]
    contours: tuple[Contour, ...]


def draw_ground(heard: RoomMap, depth_m: float) -> Ground:
    """Place shades and contours of room sound."""
    return Ground(shades=_shades(heard, depth_m), contours=_contours(heard, depth_m))


def _shades(heard: RoomMap, depth_m: float) -> tuple[Shade, ...]:
    """Cells of one step joined along each row, one path a step."""
    steps = np.floor(heard.lead_db / STEP_DB)
    found = np.unique(steps[np.isfinite(steps)]).tolist()
    if not found:
        return ()
    x, y = 100 * heard.x_m, 100 * (depth_m - heard.y_m)
    wide, high = x[1] - x[0], y[0] - y[1]
    paths: dict[float, list[str]] = {step: [] for step in found}
    for row in range(len(y)):
        line = np.nan_to_num(steps[row], nan=-1e6)
        ends = [0, *(np.flatnonzero(np.diff(line)) + 1).tolist(), len(line)]
        for start, stop in pairwise(ends):
            if line[start] in paths:
                width = (stop - start) * wide
                corner = f"M{x[start] - wide / 2:.1f} {y[row] - high / 2:.1f}"
                paths[line[start]].append(f"{corner}h{width:.1f}v{high + 0.4:.1f}h{-width:.1f}z")
    span = max(found[-1] - found[0], 1.0)
    return tuple(Shade(path="".join(paths[step]), strength=round((found[-1] - step) / span, 2)) for step in found)


def _contours(heard: RoomMap, depth_m: float) -> tuple[Contour, ...]:
    """Lines of equal room sound, every two decibels, like isobars; the driest keep their labels where lines crowd."""
    lead = heard.lead_db
    if not np.isfinite(lead).any():
        return ()
    levels = np.arange(math.ceil(np.nanmin(lead) / STEP_DB) * STEP_DB, np.nanmax(lead), STEP_DB)
    lines_at = contour_generator(100 * heard.x_m, 100 * (depth_m - heard.y_m), np.ma.masked_invalid(lead)).lines
    found: list[Contour] = []
    labels: list[Mark] = []
    for level in levels[-MOST_CONTOURS:][::-1].tolist():
        lines: list[np.ndarray] = [np.asarray(line) for line in lines_at(level)]
        label = _label(lines, figure(level), labels)
        labels += [label] if label else []
        found.append(Contour(path="".join(map(_path, lines)), label=label))
    return tuple(found)


def _path(line: np.ndarray) -> str:
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in line.tolist())


def _label(lines: Sequence[np.ndarray], text: str, others: Sequence[Mark]) -> Mark | None:
    """Write a level in the middle of its longest line, where that is long enough and no other figure is near."""
    longest = max(lines, key=len, default=None)
    if longest is None or len(longest) <= LEAST_POINTS:
        return None
    x, y = longest[len(longest) // 2].tolist()
    crowded = any(math.hypot(x - one.x, y - one.y) <= LABEL_APART_CM for one in others)
    return None if crowded else Mark(x=x, y=y, label=text)
