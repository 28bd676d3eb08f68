"""Beside the plan: reverberation time by octave, and the room from the south. Coordinates only."""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast import PartSetup
from pneumen.core.place import MOST_RISE
from pneumen.core.room import BANDS_HZ, Layout, patch_of
from pneumen.web.drawing import Axis, ToScale
from pneumen.web.room.ground import Mark
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far, far_field, near

LEAST_APART_PX: Final = 17.0


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
class Bar:
    """One band of the reverberation time: how high it stands bare, now, and as a clap measured it."""

    label: str
    x: float
    bare_y: float
    now_y: float
    measured_y: float | None
    value: str
    said: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ReverberationTimes:
    width: float
    height: float
    base_y: float
    bar_width: float
    bars: tuple[Bar, ...]
    description: str


def draw_reverberation_times(
    bare_s: tuple[float | None, ...], now_s: tuple[float | None, ...], measured_s: tuple[float | None, ...] | None
) -> ReverberationTimes:
    """Place reverberation time by band: bare against now, a measured clap beside them."""
    width, height, top, base = 262.0, 150.0, 22.0, 126.0
    known = [one for one in (*bare_s, *now_s, *(measured_s or ())) if one is not None]
    most = max([*known, 0.4])
    step = width / len(BANDS_HZ)

    axis = Axis(low=0.0, high=most, start=base, end=top)
    bars = []
    for number, band in enumerate(BANDS_HZ):
        measured = measured_s[number] if measured_s else None
        label = str(band) if band < 1000 else f"{band // 1000} k"
        told = _("{label} Hz: bare {bare_s} s, now {now_s} s").format(
            label=label, bare_s=figure(bare_s[number], 2), now_s=figure(now_s[number], 2)
        )
        bars.append(
            Bar(
                label=label,
                x=number * step + 4,
                bare_y=axis.at(bare_s[number] or 0.0),
                now_y=axis.at(now_s[number] or 0.0),
                measured_y=None if measured is None else axis.at(measured),
                value=figure(now_s[number], 1 if most >= 1 else 2),
                said=told
                + (_(", measured {measured} s").format(measured=figure(measured, 2)) if measured is not None else ""),
            )
        )
    return ReverberationTimes(
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
    px_per_m: float
    mouth: tuple[float, float]
    microphone: tuple[float, float]
    mouth_now_m: float
    most_mouth_m: float
    above_now_cm: float
    most_above_cm: float
    spoken_mouth: str
    spoken_above: str
    hangings: tuple[Hanging, ...]
    labels: tuple[Mark, ...]
    description: str


def _apart(mouth: tuple[float, float], microphone: tuple[float, float]) -> tuple[float, float]:
    """Keep the microphone's handle beside the mouth's where they stand one behind the other."""
    dx, dy = microphone[0] - mouth[0], microphone[1] - mouth[1]
    if math.hypot(dx, dy) >= LEAST_APART_PX:
        return microphone
    return mouth[0] + math.copysign(math.sqrt(LEAST_APART_PX**2 - min(dy**2, LEAST_APART_PX**2)), dx), microphone[1]


def _rise_told(rise_m: float) -> str:
    told = _("{rise} under the mouth") if rise_m < 0 else _("{rise} over the mouth")
    return told.format(rise=near(abs(rise_m)))


def draw_side(layout: Layout, here: PartSetup) -> Side:
    """Place the side view, looking north."""
    width_m, _rest, height_m = layout.size_m
    width, margin = 262.0, 26.0
    per_m = min((width - 2 * margin) / width_m, 130 / height_m)
    across, up = width_m * per_m, height_m * per_m
    left, top = (width - across) / 2, 12.0

    at = ToScale(left=left, bottom=top + up, px_per_m=per_m).at
    hung = []
    for piece, slot in layout.hung:
        if slot.on not in ("north", "south", "ceiling"):
            continue
        low_u, high_u, low_v, high_v = patch_of(layout.bare_box, piece, slot)
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
        px_per_m=per_m,
        mouth=at(here.placement.x_m, here.placement.height_m),
        microphone=_apart(
            at(here.placement.x_m, here.placement.height_m),
            at(here.placement.microphone_m[0], here.placement.microphone_m[2]),
        ),
        mouth_now_m=round(here.placement.height_m, 2),
        most_mouth_m=round(min(2.5, height_m - 0.1), 2),
        above_now_cm=round(100 * here.placement.rise_m, 1),
        most_above_cm=round(100 * MOST_RISE * here.placement.distance_m, 1),
        spoken_mouth=f"{far(here.placement.height_m)} up",
        spoken_above=_rise_told(here.placement.rise_m),
        hangings=tuple(hung),
        labels=(
            Mark(
                x=left - 6,
                y=at(0, here.placement.height_m)[1] + 4,
                label=far_field(here.placement.height_m),
                anchor="end",
            ),
            Mark(x=left - 6, y=top + 8, label=far_field(height_m), anchor="end"),
        ),
        description=_("From the south: mouth {height_m} up, capsule {microphone_m}, ceiling at {height_m_2}.").format(
            height_m=far(here.placement.height_m),
            microphone_m=far(here.placement.microphone_m[2]),
            height_m_2=far(height_m),
        ),
    )
