"""What lies under the floor plan: shades and contours of room sound, in centimetres from the north-west corner."""

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

import numpy as np

from pneumen.core.room import RoomMap
from pneumen.web.wording import figure

STEP_DB: Final = 2.0
LABEL_APART_CM: Final = 24.0
MOST_CONTOURS: Final = 6
LEAST_SEGMENTS: Final = 14


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
    found: list[Contour] = []
    labels: list[Mark] = []
    for level in levels[-MOST_CONTOURS:][::-1]:
        segments = _segments(heard, float(level), depth_m)
        path = "".join(f"M{xa:.1f} {ya:.1f}L{xb:.1f} {yb:.1f}" for xa, ya, xb, yb in segments)
        label = None
        if len(segments) > LEAST_SEGMENTS:
            x, y = segments[len(segments) // 2][:2]
            if all(math.hypot(x - other.x, y - other.y) > LABEL_APART_CM for other in labels):
                label = Mark(x=x, y=y, label=figure(float(level)))
                labels.append(label)
        found.append(Contour(path=path, label=label))
    return tuple(found)


def _segments(heard: RoomMap, level: float, depth_m: float) -> list[list[float]]:
    """Return the pieces of one contour (marching squares), in centimetres; saddles are left open."""
    lead, x, y = heard.lead_db, 100 * heard.x_m, 100 * (depth_m - heard.y_m)
    above = lead > level
    with np.errstate(divide="ignore", invalid="ignore"):
        along = (level - lead[:, :-1]) / (lead[:, 1:] - lead[:, :-1])
        up = (level - lead[:-1]) / (lead[1:] - lead[:-1])
    flat_x = x[:-1] + along * (x[1:] - x[:-1]), np.broadcast_to(y[:, None], along.shape)
    tall_x = np.broadcast_to(x, up.shape), y[:-1, None] + up * (y[1:] - y[:-1])[:, None]
    flat_hit, tall_hit = above[:, 1:] != above[:, :-1], above[1:] != above[:-1]
    hit = np.stack([flat_hit[:-1], tall_hit[:, 1:], flat_hit[1:], tall_hit[:, :-1]])
    whole = np.isfinite(lead[:-1, :-1] + lead[:-1, 1:] + lead[1:, 1:] + lead[1:, :-1])
    rows, columns = np.nonzero((hit.sum(axis=0) == 2) & whole)
    ends = np.argsort(~hit[:, rows, columns], axis=0, kind="stable")[:2]
    at_x = np.stack([flat_x[0][:-1], tall_x[0][:, 1:], flat_x[0][1:], tall_x[0][:, :-1]])
    at_y = np.stack([flat_x[1][:-1], tall_x[1][:, 1:], flat_x[1][1:], tall_x[1][:, :-1]])
    first, second = ends
    ends_xy = [grid[end, rows, columns] for end in (first, second) for grid in (at_x, at_y)]
    return np.stack(ends_xy, axis=1).tolist()
