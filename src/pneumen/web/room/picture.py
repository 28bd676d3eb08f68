"""The floor plan to scale, with contours of room sound under it; the side view; ring time by band. Coordinates only."""

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

import numpy as np

from pneumen.core.gear import PATTERNS
from pneumen.core.room import BANDS_HZ, RoomMap, covering_of
from pneumen.web.room.standpoint import Standpoint
from pneumen.web.song.models import Room
from pneumen.web.wording import figure

STEP_DB: Final = 2.0
LOBE_M: Final = 0.5
LABEL_APART_CM: Final = 24.0
MOST_CONTOURS: Final = 6
LEAST_SEGMENTS: Final = 14
NULLS: Final = 36


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame:
    """The paper of a plan: how wide, how high at most, and the margins the walls keep."""

    width: float
    most_height: float
    margin: float
    narrow: bool

    @property
    def key(self) -> str:
        return "narrow" if self.narrow else "wide"


WIDE: Final = Frame(width=766, most_height=470, margin=46, narrow=False)
NARROW: Final = Frame(width=342, most_height=400, margin=30, narrow=True)


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Hanging:
    """A piece on the plan: a bar along its wall, or a rectangle under the ceiling or on the floor."""

    x: float
    y: float
    width: float
    height: float
    flat: bool
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WallTarget:
    """A wall to click on: its bar, and what it is made of."""

    wall: str
    x: float
    y: float
    width: float
    height: float
    label: Mark


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """The floor plan with all that stands in it."""

    frame: Frame
    height: float
    left: float
    top: float
    width: float
    depth: float
    px_per_m: float
    ground: Ground
    per_cm: float
    labels: tuple[Mark, ...]
    walls: tuple[WallTarget, ...]
    hangings: tuple[Hanging, ...]
    noises: tuple[Mark, ...]
    mouth: tuple[float, float]
    nose: str
    microphone: tuple[float, float]
    turn_handle: tuple[float, float]
    lobe: str
    nulls: str
    scale_bar: tuple[float, float, float]
    x_now: float
    y_now: float
    x_most: float
    y_most: float
    facing_now: float
    spoken_place: str
    spoken_facing: str
    description: str


def draw_plan(room: Room, here: Standpoint, ground: Ground, frame: Frame, lead_db: float) -> Plan:
    """Place everything the floor plan shows; north is up."""
    width_m, depth_m, _ = room.size_m
    per_m = min((frame.width - 2 * frame.margin) / width_m, (frame.most_height - 2 * frame.margin) / depth_m)
    width, depth = width_m * per_m, depth_m * per_m
    left, top = (frame.width - width) / 2, frame.margin

    def at(x_m: float, y_m: float) -> tuple[float, float]:
        return left + x_m * per_m, top + depth - y_m * per_m

    mouth, microphone = at(here.x_m, here.y_m), at(*here.microphone_m[:2])
    ahead = here.ahead
    reach = max(here.distance_m, 0.62)
    return Plan(
        frame=frame,
        height=round(depth + 2 * frame.margin, 1),
        left=left,
        top=top,
        width=width,
        depth=depth,
        px_per_m=per_m,
        ground=ground,
        per_cm=per_m / 100,
        labels=tuple(
            Mark(x=left + one.label.x * per_m / 100, y=top + one.label.y * per_m / 100, label=one.label.label)
            for one in ground.contours
            if one.label
        ),
        walls=_walls(room, left, top, width, depth),
        hangings=_hangings(room, at, per_m),
        noises=tuple(_noise_mark(at(one["x"], one["y"]), one["name"], left, width) for one in room.noises),
        mouth=mouth,
        nose=_nose(mouth, ahead),
        microphone=microphone,
        turn_handle=at(here.x_m + ahead[0] * reach, here.y_m + ahead[1] * reach),
        lobe=_lobe(microphone, ahead, here.pattern, per_m),
        nulls=_nulls(microphone, ahead, here.pattern, per_m),
        scale_bar=(left, top + depth + frame.margin * 0.62, per_m),
        x_now=round(here.x_m, 2),
        y_now=round(here.y_m, 2),
        x_most=width_m,
        y_most=depth_m,
        facing_now=round(here.facing_deg, 1),
        spoken_place=f"{here.x_m:.2f} m from west, {here.y_m:.2f} m from south",
        spoken_facing=f"{figure(here.facing_deg)} degrees from north, {compass(here.facing_deg)}",
        description=_described(room, here, lead_db),
    )


def _described(room: Room, here: Standpoint, lead_db: float) -> str:
    hung = sum(bool(one.get("on")) for one in room.coverings)
    return (
        f"A room of {room.size_x_m:.2f} by {room.size_y_m:.2f} m, north up. The performer stands {here.x_m:.2f} m from "
        f"the west wall and {here.y_m:.2f} m from the south wall, facing {compass(here.facing_deg)}. There the direct "
        f"sound leads the room by {figure(lead_db)} dB. {hung} piece{'' if hung == 1 else 's'} hang here."
    )


def compass(degrees: float) -> str:
    words = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")
    return words[round(degrees / 45) % 8]


def _noise_mark(place: tuple[float, float], name: str, left: float, width: float) -> Mark:
    """A noise's name stands towards the middle of the room."""
    x, y = place
    anchor = "end" if x > left + width - 50 else "start" if x < left + 50 else "middle"
    return Mark(x=x, y=y, label=name, anchor=anchor)


def _nose(mouth: tuple[float, float], ahead: tuple[float, float]) -> str:
    """A head from above: a round with a nose where it faces."""
    x, y = mouth
    dx, dy = ahead[0], -ahead[1]
    side = (-dy, dx)
    base = [(x + 7 * dx + 4 * sign * side[0], y + 7 * dy + 4 * sign * side[1]) for sign in (1, -1)]
    tip = (x + 14 * dx, y + 14 * dy)
    points = (base[0], tip, base[1])
    return "M" + "L".join(f"{px:.1f} {py:.1f}" for px, py in points)


def _lobe(microphone: tuple[float, float], ahead: tuple[float, float], pattern: str, per_m: float) -> str:
    """The pattern as it hears from above: it points back at the mouth."""
    a = PATTERNS[pattern]
    axis = math.atan2(ahead[1], -ahead[0])  # towards the mouth, y down
    points = []
    for number in range(NULLS * 2 + 1):
        angle = math.pi * number / NULLS
        radius = abs(a + (1 - a) * math.cos(angle)) * LOBE_M * per_m
        x, y = microphone[0] + radius * math.cos(axis + angle), microphone[1] + radius * math.sin(axis + angle)
        points.append(f"{x:.1f} {y:.1f}")
    return "M" + "L".join(points) + "Z"


def _nulls(microphone: tuple[float, float], ahead: tuple[float, float], pattern: str, per_m: float) -> str:
    a = PATTERNS[pattern]
    if a > 0.5:
        return ""
    null, axis = math.acos(max(-a / (1 - a), -1.0)), math.atan2(ahead[1], -ahead[0])
    length = 1.6 * LOBE_M * per_m
    path = ""
    for turn in {null, -null}:
        x, y = microphone[0] + length * math.cos(axis + turn), microphone[1] + length * math.sin(axis + turn)
        path += f"M{microphone[0]:.1f} {microphone[1]:.1f}L{x:.1f} {y:.1f}"
    return path


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
    found, labels = [], []
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


def _walls(room: Room, left: float, top: float, width: float, depth: float) -> tuple[WallTarget, ...]:
    thick = 12.0
    return (
        WallTarget(
            wall="north",
            x=left,
            y=top - thick,
            width=width,
            height=thick,
            label=Mark(x=left + width / 2, y=top - 20, label="north"),
        ),
        WallTarget(
            wall="south",
            x=left,
            y=top + depth,
            width=width,
            height=thick,
            label=Mark(x=left + width / 2, y=top + depth + 28, label="south"),
        ),
        WallTarget(
            wall="west",
            x=left - thick,
            y=top,
            width=thick,
            height=depth,
            label=Mark(x=left - 18, y=top + depth / 2, label="west", anchor="end"),
        ),
        WallTarget(
            wall="east",
            x=left + width,
            y=top,
            width=thick,
            height=depth,
            label=Mark(x=left + width + 18, y=top + depth / 2, label="east", anchor="start"),
        ),
    )


def _hangings(room: Room, at: object, per_m: float) -> tuple[Hanging, ...]:
    found = []
    width_m, depth_m, _ = room.size_m
    for _, piece, slot in room.pieces:
        if slot is None:
            continue
        low_u, high_u, low_v, high_v = covering_of(room.bare_box, piece, slot).patch
        if slot.on in ("north", "south"):
            x, y = at(low_u, depth_m if slot.on == "north" else 0)
            found.append(
                Hanging(
                    x=x,
                    y=y - (0 if slot.on == "north" else 8),
                    width=(high_u - low_u) * per_m,
                    height=8,
                    flat=False,
                    label=piece.label,
                )
            )
        elif slot.on in ("east", "west"):
            x, y = at(width_m if slot.on == "east" else 0, high_u)
            found.append(
                Hanging(
                    x=x - (8 if slot.on == "east" else 0),
                    y=y,
                    width=8,
                    height=(high_u - low_u) * per_m,
                    flat=False,
                    label=piece.label,
                )
            )
        else:
            x, y = at(low_u, high_v)
            found.append(
                Hanging(
                    x=x,
                    y=y,
                    width=(high_u - low_u) * per_m,
                    height=(high_v - low_v) * per_m,
                    flat=True,
                    label=piece.label,
                )
            )
    return tuple(found)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bar:
    """One band of the ring time: how high it stands bare, now, and as a clap measured it."""

    label: str
    x: float
    bare_y: float
    now_y: float
    measured_y: float | None
    value: str
    said: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RingTimes:
    width: float
    height: float
    base_y: float
    bar_width: float
    bars: tuple[Bar, ...]
    description: str


def draw_ring_times(
    bare_s: tuple[float | None, ...], now_s: tuple[float | None, ...], measured_s: tuple[float | None, ...] | None
) -> RingTimes:
    """Place ring time by band: bare against now, a measured clap beside them."""
    width, height, top, base = 262.0, 150.0, 22.0, 126.0
    known = [one for one in (*bare_s, *now_s, *(measured_s or ())) if one is not None]
    most = max([*known, 0.4])
    step = width / len(BANDS_HZ)

    def y_of(value: float | None) -> float:
        return base - (base - top) * (value or 0.0) / most

    bars = []
    for number, band in enumerate(BANDS_HZ):
        measured = measured_s[number] if measured_s else None
        label = str(band) if band < 1000 else f"{band // 1000} k"
        told = f"{label} Hz: bare {figure(bare_s[number], 2)} s, now {figure(now_s[number], 2)} s"
        bars.append(
            Bar(
                label=label,
                x=number * step + 4,
                bare_y=y_of(bare_s[number]),
                now_y=y_of(now_s[number]),
                measured_y=None if measured is None else y_of(measured),
                value=figure(now_s[number], 1 if most >= 1 else 2),
                said=told + (f", measured {figure(measured, 2)} s" if measured is not None else ""),
            )
        )
    return RingTimes(
        width=width,
        height=height,
        base_y=base,
        bar_width=step - 8,
        bars=tuple(bars),
        description="; ".join(bar.said for bar in bars),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Side:
    """The room from the south: floor, ceiling, mouth and microphone at their heights, what hangs on the far wall."""

    width: float
    height: float
    left: float
    top: float
    across: float
    up: float
    mouth: tuple[float, float]
    microphone: tuple[float, float]
    hangings: tuple[Hanging, ...]
    labels: tuple[Mark, ...]
    description: str


def draw_side(room: Room, here: Standpoint) -> Side:
    """Place the side view, looking north."""
    width_m, _, height_m = room.size_m
    width, margin = 262.0, 26.0
    per_m = min((width - 2 * margin) / width_m, 130 / height_m)
    across, up = width_m * per_m, height_m * per_m
    left, top = (width - across) / 2, 12.0

    def at(x_m: float, z_m: float) -> tuple[float, float]:
        return left + x_m * per_m, top + up - z_m * per_m

    hung = []
    for _, piece, slot in room.pieces:
        if slot is None or slot.on not in ("north", "south", "ceiling"):
            continue
        low_u, high_u, low_v, high_v = covering_of(room.bare_box, piece, slot).patch
        flat = slot.on == "ceiling"
        x, y = at(low_u, height_m if flat else high_v)
        hung.append(
            Hanging(
                x=x,
                y=y,
                width=(high_u - low_u) * per_m,
                height=5 if flat else (high_v - low_v) * per_m,
                flat=flat,
                label=piece.label,
            )
        )
    return Side(
        width=width,
        height=top + up + 22,
        left=left,
        top=top,
        across=across,
        up=up,
        mouth=at(here.x_m, here.height_m),
        microphone=at(here.microphone_m[0], here.height_m),
        hangings=tuple(hung),
        labels=(
            Mark(x=left - 6, y=at(0, here.height_m)[1] + 4, label=f"{here.height_m:.2f}", anchor="end"),
            Mark(x=left - 6, y=top + 8, label=f"{height_m:.2f}", anchor="end"),
        ),
        description=f"From the south: mouth {here.height_m:.2f} m up, ceiling at {height_m:.2f} m.",
    )
