"""The floor plan to scale, with contours of room sound under it. Coordinates only."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast import PartSetup
from pneumen.core.place import Placement
from pneumen.core.room import Layout, Opening, Placed, patch_of
from pneumen.web.drawing import Paper, Place, ToScale, polyline
from pneumen.web.lobes import lobe_path, null_path
from pneumen.web.room.ground import Ground, Mark
from pneumen.web.room.models import Room
from pneumen.web.room.sideview import Hanging
from pneumen.wording.figures import figure, habits
from pneumen.wording.language import _
from pneumen.wording.lengths import FOOT_M, far, near

LOBE_M: Final = 0.5
LOBE_SHARE: Final = 0.075  # of the paper at most: in a closet the pattern must not leave the plan


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame(Paper):
    """The paper of a plan: how wide, how high at most, and the margins the walls keep."""

    most_height: float
    margin: float


WIDE: Final = Frame(width=766, most_height=470, margin=46, narrow=False)
NARROW: Final = Frame(width=342, most_height=400, margin=30, narrow=True)


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
class Piece:
    """A piece of furniture to drag: its outline, where its middle is, and its name where there is room."""

    number: int
    x: float
    y: float
    width: float
    height: float
    middle: tuple[float, float]
    label: str
    name: str
    x_now: float
    y_now: float
    spoken: str


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
    furniture: tuple[Piece, ...]
    openings: tuple[Hanging, ...]
    noises: tuple[Mark, ...]
    mouth: tuple[float, float]
    nose: str
    microphone: tuple[float, float]
    turn_handle: tuple[float, float]
    aim_handle: tuple[float, float]
    aim_base: float
    microphone_now: tuple[float, float]
    turned_now: float
    spoken_microphone: str
    spoken_aim: str
    capsules: tuple[Place, ...]
    lobe: str
    nulls: str
    scale_bar: tuple[float, float, float]
    scale_m: str
    x_now: float
    y_now: float
    x_most: float
    y_most: float
    facing_now: float
    spoken_place: str
    spoken_facing: str
    description: str


def draw_plan(room: Room, here: PartSetup, ground: Ground, frame: Frame, lead_db: float) -> Plan:
    """Place everything the floor plan shows; north is up."""
    width_m, depth_m, _rest = room.size_m
    layout = room.layout
    per_m = min((frame.width - 2 * frame.margin) / width_m, (frame.most_height - 2 * frame.margin) / depth_m)
    width, depth = width_m * per_m, depth_m * per_m
    left, top = (frame.width - width) / 2, frame.margin

    at = ToScale(left=left, bottom=top + depth, px_per_m=per_m).at
    mouth, microphone = at(here.placement.x_m, here.placement.y_m), at(*here.placement.microphone_m[:2])
    ahead, capsules = here.placement.ahead, _capsules(here, mouth, microphone, per_m)
    noises = tuple(_noise_mark(at(one.x_m, one.y_m), one.name, left, width) for one in room.noises.all())
    lobe_px = min(LOBE_M * per_m, LOBE_SHARE * frame.width)
    reach = here.placement.across_m + 26 / per_m
    rear = (-here.placement.axis[0] / here.placement.across_m, -here.placement.axis[1] / here.placement.across_m)
    behind = max(1.6 * lobe_px, 30) / per_m + 0.5 * (reach - here.placement.across_m)
    bar_m, bar_label = _scale(per_m, width)
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
        labels=_labels(ground, left, top, per_m, noises),
        walls=_walls(left, top, width, depth),
        hangings=_hangings(layout, at, per_m),
        furniture=tuple(_furniture(row.pk, row.to_core(), at, per_m) for row in room.furniture.all()),
        openings=tuple(_opening(opening, at, per_m, room.size_m) for opening in layout.openings),
        noises=noises,
        mouth=mouth,
        nose=_nose(mouth, ahead),
        microphone=microphone,
        turn_handle=at(here.placement.x_m + ahead[0] * reach, here.placement.y_m + ahead[1] * reach),
        aim_handle=at(
            here.placement.microphone_m[0] + rear[0] * behind, here.placement.microphone_m[1] + rear[1] * behind
        ),
        aim_base=(here.placement.facing_deg + here.placement.aside_deg) % 360,
        microphone_now=(round(here.placement.microphone_m[0], 2), round(here.placement.microphone_m[1], 2)),
        turned_now=round(here.placement.turned_deg, 1),
        spoken_microphone=_spoken_place(here.placement),
        spoken_aim=_spoken_aim(here.placement.turned_deg),
        lobe="".join(lobe_path(at_px, axis, here.pattern, lobe_px) for at_px, axis in capsules),
        nulls="".join(null_path(at_px, axis, here.pattern, lobe_px) for at_px, axis in capsules),
        capsules=tuple(at_px for at_px, _rest in capsules) if len(capsules) > 1 else (),
        scale_bar=(left, top + depth + frame.margin * 0.62, bar_m * per_m),
        scale_m=bar_label,
        x_now=round(here.placement.x_m, 2),
        y_now=round(here.placement.y_m, 2),
        x_most=width_m,
        y_most=depth_m,
        facing_now=round(here.placement.facing_deg, 1),
        spoken_place=_place_told(here.placement),
        spoken_facing=_("{facing_deg} degrees from north, {facing_deg_2}").format(
            facing_deg=figure(here.placement.facing_deg), facing_deg_2=compass(here.placement.facing_deg)
        ),
        description=_described(layout, here, lead_db),
    )


def _place_told(placement: Placement) -> str:
    return _("{west} from west, {south} from south").format(west=far(placement.x_m), south=far(placement.y_m))


def _capsules(here: PartSetup, mouth: Place, microphone: Place, per_m: float) -> tuple[tuple[Place, float], ...]:
    """Where each microphone is on the paper and along which angle it looks; of a pair both, turned apart."""
    axis = math.atan2(-here.placement.axis[1], here.placement.axis[0])
    if here.pair is None:
        return ((microphone, axis),)
    towards = math.atan2(mouth[1] - microphone[1], mouth[0] - microphone[0])
    side = math.copysign(here.pair.spacing_m / 2 * per_m, math.sin(axis - towards))
    across = -math.sin(towards) * side, math.cos(towards) * side
    there = (
        (microphone[0] + across[0], microphone[1] + across[1]),
        (microphone[0] - across[0], microphone[1] - across[1]),
    )
    return (there[0], axis), (there[1], 2 * towards - axis)


def _furniture(number: int, piece: Placed, at: Callable[[float, float], Place], per_m: float) -> Piece:
    """A piece on the plan, and its name where it has room for one."""
    west, east, south, north = piece.footprint
    x, y = at(west, north)
    width, height = (east - west) * per_m, (north - south) * per_m
    label = piece.kind.split("-")[0].capitalize()
    return Piece(
        number=number,
        x=x,
        y=y,
        width=width,
        height=height,
        middle=at(piece.x_m, piece.y_m),
        label=label if 7.5 * len(label) < width and height > 16 else "",
        name=piece.furniture.label,
        x_now=piece.x_m,
        y_now=piece.y_m,
        spoken=_("{x_m} from west, {y_m} from south").format(x_m=far(piece.x_m), y_m=far(piece.y_m)),
    )


def _opening(
    opening: Opening, at: Callable[[float, float], Place], per_m: float, size_m: tuple[float, float, float]
) -> Hanging:
    """A gap in its wall: a bar as thick as the wall's line."""
    low, high, *_rest = opening.patch
    long_px, thick = (high - low) * per_m, 7.0
    if opening.on in ("north", "south"):
        x, y = at(low, size_m[1] if opening.on == "north" else 0)
        return Hanging(x=x, y=y - thick / 2, width=long_px, height=thick, flat=False, label=opening.kind)
    x, y = at(size_m[0] if opening.on == "east" else 0, high)
    return Hanging(x=x - thick / 2, y=y, width=thick, height=long_px, flat=False, label=opening.kind)


def _labels(ground: Ground, left: float, top: float, per_m: float, noises: tuple[Mark, ...]) -> tuple[Mark, ...]:
    """The contours' figures on this paper, but where a noise and its name stand."""
    placed = (
        Mark(x=left + one.label.x * per_m / 100, y=top + one.label.y * per_m / 100, label=one.label.label)
        for one in ground.contours
        if one.label
    )
    return tuple(mark for mark in placed if all(abs(mark.x - one.x) > 50 or abs(mark.y - one.y) > 32 for one in noises))


def _scale(per_m: float, width: float) -> tuple[float, str]:
    """The scale bar: a round length in the reader's unit that a closet's plan can hold."""
    if habits.get().feet:
        return (3 * FOOT_M, "3 ft") if per_m < 0.4 * width else (FOOT_M, "1 ft")
    return (1.0, "1 m") if per_m < 0.4 * width else (0.5, "½ m")


def _spoken_place(placement: Placement) -> str:
    return _("{distance_m} from the mouth, {aside_deg} degrees aside").format(
        distance_m=near(placement.distance_m), aside_deg=figure(abs(placement.aside_deg))
    )


def _spoken_aim(turned_deg: float) -> str:
    side = "left" if turned_deg < 0 else "right"
    return (
        _("turned {turned_deg} degrees to the {side}").format(turned_deg=figure(abs(turned_deg)), side=side)
        if turned_deg
        else _("at the mouth")
    )


def _described(layout: Layout, here: PartSetup, lead_db: float) -> str:
    hung, place = len(layout.hung), here.placement
    return _(
        "A room of {size_x_m} by {size_y_m}, north up. The performer stands {x_m} from "
        "the west wall and {y_m} from the south wall, facing {facing_deg}. There the direct "
        "sound leads the room by {lead_db} dB. {hung} piece{plural} hang here."
    ).format(
        size_x_m=far(layout.size_m[0]),
        size_y_m=far(layout.size_m[1]),
        x_m=far(place.x_m),
        y_m=far(place.y_m),
        facing_deg=compass(place.facing_deg),
        lead_db=figure(lead_db),
        hung=hung,
        plural="" if hung == 1 else "s",
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
    return polyline(points)


def _walls(left: float, top: float, width: float, depth: float) -> tuple[WallTarget, ...]:
    thick, middle, half_way = 12.0, left + width / 2, top + depth / 2
    bars = {
        "north": (left, top - thick, width, thick, (middle, top - 20, "middle")),
        "south": (left, top + depth, width, thick, (middle, top + depth + 28, "middle")),
        "west": (left - thick, top, thick, depth, (left - 18, half_way, "end")),
        "east": (left + width, top, thick, depth, (left + width + 18, half_way, "start")),
    }
    return tuple(
        WallTarget(
            wall=wall, x=x, y=y, width=long, height=high, label=Mark(x=name[0], y=name[1], label=wall, anchor=name[2])
        )
        for wall, (x, y, long, high, name) in bars.items()
    )


def _hangings(layout: Layout, at: Callable[[float, float], Place], per_m: float) -> tuple[Hanging, ...]:
    """What hangs: a bar along its wall, or its outline where it lies on the floor or hangs from the ceiling."""
    found, thick = [], 8
    width_m, depth_m, _rest = layout.size_m
    for piece, slot in layout.hung:
        low_u, high_u, low_v, high_v = patch_of(layout.bare_box, piece, slot)
        flat = slot.on in ("floor", "ceiling")
        width, height = (high_u - low_u) * per_m, (high_v - low_v) * per_m if flat else thick
        if slot.on in ("north", "south"):
            x, y = at(low_u, depth_m if slot.on == "north" else 0)
            y -= thick if slot.on == "south" else 0
        elif flat:
            x, y = at(low_u, high_v)
        else:
            x, y = at(width_m if slot.on == "east" else 0, high_u)
            x -= thick if slot.on == "east" else 0
            width, height = thick, width
        found.append(Hanging(x=x, y=y, width=width, height=height, flat=flat, label=piece.label))
    return tuple(found)
