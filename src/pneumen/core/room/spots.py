"""Where to stand: the spots of a room that are heard least, away from walls and from the extremes of its modes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Final

import numpy as np

from pneumen.core.room.box import WALLS, Box, Point
from pneumen.core.room.modes import modes_of
from pneumen.core.room.paths import room_sound
from pneumen.core.room.sound import Standing

FROM_WALLS_M: Final = 0.6
"""Nearer a wall comes back so early that it colours (common practice, no source)."""
MODES_UP_TO_HZ: Final = 150.0
EXTREME: Final = 0.9
DB_A_MODE: Final = 0.5
"""What one lowest mode at its extreme is taken to cost (estimate)."""
FLOOR_STAND_M: Final = 0.35
"""From so far on a microphone stands on the floor, not over a table's edge (estimate)."""
NO_FLOOR_DB: Final = 6.0
"""What a place costs whose microphone would have to stand in a piece of furniture (estimate)."""
APART_M: Final = 0.8
FACINGS: Final = {"north": (0.0, 1.0), "east": (1.0, 0.0), "south": (0.0, -1.0), "west": (-1.0, 0.0)}


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class RoomMap:
    """The lead of the direct sound, dB, over a grid of places for the singer: rows along y, columns along x.

    NaN where singer or microphone would stand in a wall.
    """

    x_m: np.ndarray
    y_m: np.ndarray
    lead_db: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True)
class Spot:
    """A place worth standing at: where, facing which way, the lead there, and what speaks for it."""

    x_m: float
    y_m: float
    facing: tuple[float, float]
    lead_db: float
    gain_db: float
    reasons: tuple[str, ...]


def room_map(
    box: Box,
    *,
    mouth_m: float,
    microphone_m: float,
    distance_m: float,
    facing: tuple[float, float],
    pattern: str,
    source_factor: float,
    backwards: bool = False,
    cells: int = 32,
) -> RoomMap:
    """Return how the room is heard for a singer at each place of a grid, facing one way, microphone before the mouth.

    Args:
        mouth_m, microphone_m: heights.
        distance_m: from mouth to capsule, across.
        facing: direction on the plan.
        backwards: whether the sound leaves away from the microphone, as out of a horn's bell.
    """
    width, depth, _ = box.size_m
    x_m, y_m = ((np.arange(cells) + 0.5) * side / cells for side in (width, depth))
    xs, ys = (axis.ravel() for axis in np.meshgrid(x_m, y_m))
    ahead = np.array(facing) / math.hypot(*facing) * distance_m
    source = np.stack([xs, ys, np.full_like(xs, mouth_m)], axis=1)
    microphone = np.stack([xs + ahead[0], ys + ahead[1], np.full_like(xs, microphone_m)], axis=1)
    inside = (
        (microphone[:, 0] > 0.05)
        & (microphone[:, 0] < width - 0.05)
        & (microphone[:, 1] > 0.05)
        & (microphone[:, 1] < depth - 0.05)
    )
    lead = np.full(len(xs), np.nan)
    if inside.any():
        between = source[inside] - microphone[inside]
        places = Standing(
            source_m=source[inside],
            microphone_m=microphone[inside],
            microphone_axis=between,
            source_axis=between if backwards else -between,
            pattern=pattern,
            source_factor=source_factor,
        )
        lead[inside] = room_sound(box, places).lead_db
    return RoomMap(x_m=x_m, y_m=y_m, lead_db=lead.reshape(cells, cells))


def _within(footprints: Sequence[tuple[float, float, float, float]], x_m: np.ndarray, y_m: np.ndarray) -> np.ndarray:
    """Tell which places lie in one of some footprints (west, east, south, north)."""
    inside = np.zeros(x_m.shape, dtype=bool)
    for west, east, south, north in footprints:
        inside |= (x_m > west) & (x_m < east) & (y_m > south) & (y_m < north)
    return inside


def mode_penalty_db(box: Box, x_m: np.ndarray, y_m: np.ndarray, height_m: float) -> np.ndarray:
    """Return what the lowest modes cost at places, by how many stand at an extreme there."""
    width, depth, height = box.size_m
    cost = np.zeros(np.broadcast(x_m, y_m).shape)
    for mode in modes_of(box.size_m, MODES_UP_TO_HZ):
        if mode.kind != "axial" or mode.order[2]:
            continue
        nx, ny, nz = mode.order
        pressure = np.cos(nx * np.pi * x_m / width) * np.cos(ny * np.pi * y_m / depth)
        pressure = pressure * math.cos(nz * math.pi * height_m / height)
        cost += DB_A_MODE * (np.abs(pressure) > EXTREME) + DB_A_MODE * (np.abs(pressure) < 1 - EXTREME)
    return cost


def best_spots(
    box: Box,
    now: Point,
    *,
    microphone_m: float,
    distance_m: float,
    facing: tuple[float, float],
    pattern: str,
    source_factor: float,
    backwards: bool = False,
    blocked: Sequence[tuple[float, float, float, float]] = (),
    most: int = 3,
    cells: int = 24,
) -> tuple[Spot, ...]:
    """Return the best places to stand, over all four ways to face, against where one stands now.

    Args:
        blocked: footprints on the plan (west, east, south, north) nobody stands in.
    """
    how: dict[str, Any] = {
        "mouth_m": now[2],
        "microphone_m": microphone_m,
        "distance_m": distance_m,
        "pattern": pattern,
        "source_factor": source_factor,
        "backwards": backwards,
    }
    here = room_map(box, facing=facing, cells=cells, **how)
    stands = _nearest(here, now)
    candidates = []
    for word, direction in FACINGS.items():
        heard = room_map(box, facing=direction, cells=cells, **how)
        x, y = np.meshgrid(heard.x_m, heard.y_m)
        score = heard.lead_db - mode_penalty_db(box, x, y, now[2])
        walls = np.minimum.reduce([x, box.size_m[0] - x, y, box.size_m[1] - y])
        score = np.where(walls < min(FROM_WALLS_M, min(box.size_m[:2]) / 3), np.nan, score)
        score = np.where(_within(blocked, x, y), np.nan, score)
        if distance_m >= FLOOR_STAND_M:  # nearer it reaches over a table's edge, farther its stand needs the floor
            away = -distance_m if backwards else distance_m
            no_floor = _within(blocked, x + direction[0] * away, y + direction[1] * away)
            score -= NO_FLOOR_DB * no_floor
        order = np.argsort(-np.nan_to_num(score, nan=-np.inf), axis=None)[: 4 * cells]
        for flat in order:
            row, column = np.unravel_index(flat, score.shape)
            if np.isfinite(score[row, column]):
                found = (score[row, column], x[row, column], y[row, column], heard.lead_db[row, column])
                worth, x_m, y_m, lead_db = map(float, found)
                candidates.append((word, worth, x_m, y_m, lead_db))
    candidates.sort(key=lambda candidate: -candidate[1])
    chosen: list[Spot] = []
    for word, _, x_m, y_m, lead in candidates:
        if len(chosen) == most:
            break
        if all(math.hypot(x_m - one.x_m, y_m - one.y_m) >= APART_M or FACINGS[word] != one.facing for one in chosen):
            reasons = _reasons(box, x_m, y_m, word)
            chosen.append(
                Spot(x_m=x_m, y_m=y_m, facing=FACINGS[word], lead_db=lead, gain_db=lead - stands, reasons=reasons)
            )
    return tuple(chosen)


def _nearest(heard: RoomMap, place: Point) -> float:
    column, row = (int(np.abs(axis - at).argmin()) for axis, at in ((heard.x_m, place[0]), (heard.y_m, place[1])))
    value = float(heard.lead_db[row, column])
    return value if math.isfinite(value) else float(np.nanmin(heard.lead_db))


def _reasons(box: Box, x_m: float, y_m: float, facing: str) -> tuple[str, ...]:
    behind = {"north": "south", "south": "north", "east": "west", "west": "east"}[facing]
    walls = {wall: float(box.wall_absorption[WALLS.index(wall), 2:].mean()) for wall in FACINGS}
    reasons = []
    if walls[behind] >= max(walls.values()) - 0.02 and max(walls.values()) > min(walls.values()) + 0.05:
        reasons.append("softest-wall-behind")
    if not mode_penalty_db(box, np.array(x_m), np.array(y_m), 1.5).any():
        reasons.append("off-the-modes")
    return tuple(reasons)
