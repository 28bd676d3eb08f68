"""The frontier: price across, clean range upward, and under it the direct sound over the room's, as coordinates."""

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

from pneumen.core.kit import best_within
from pneumen.web.drawing import Axis, Paper, Place, Tick
from pneumen.wording.figures import figure, money
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame(Paper):
    """The paper of one drawing: where the panels stand, in pixels."""

    height: float
    left: float
    right: float
    panels: tuple[tuple[float, float], tuple[float, float]]


BELOW: Final = 40.0
"""Room for the prices under the last panel."""
WIDE: Final = Frame(width=766, height=404, left=52, right=744, panels=((44, 208), (246, 364)), narrow=False)
NARROW: Final = Frame(width=342, height=420, left=40, right=330, panels=((44, 220), (258, 380)), narrow=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class Panel:
    """One figure against the price: the best within the money as stairs, the kits as dots, the chosen one ringed."""

    title: str
    title_y: float
    top: float
    bottom: float
    ticks: tuple[Tick, ...]
    stairs: str
    dots: str
    enough_y: float | None
    enough: str
    chosen: tuple[float, float]
    value: str
    value_x: float
    value_y: float
    anchor: str

    @property
    def height(self) -> float:
        return self.bottom - self.top


@dataclass(frozen=True, slots=True, kw_only=True)
class Budget:
    """The line one drags: its place, its slider's range, and what it says."""

    x: float
    top: float
    bottom: float
    minimum: float
    maximum: float
    now: float
    spoken: str
    px_per_notch: float
    label: str
    label_x: float
    anchor: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FrontierPicture:
    frame: Frame
    panels: tuple[Panel, ...]
    prices: tuple[Tick, ...]
    budget: Budget
    beyond_width: float
    description: str


LEAST_SPAN_DB: Final = 14.0
"""A panel shows at least so many decibels: a step of one must not look like a cliff."""
NOTCH: Final = 5.0
"""How much money an arrow key moves the line by."""


Points = tuple[tuple[float, float, float], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Scales:
    """The axes of one panel; side is 1 for clean range, 2 for the room."""

    side: int
    price: Axis
    value: Axis

    def at(self, point: tuple[float, float, float]) -> Place:
        return round(self.price.at(point[0]), 1), round(self.value.at(point[self.side]), 1)


def draw_frontier(
    points: Points, chosen: int, budget: float, horizon: float, frame: Frame, enough: tuple[float, float]
) -> FrontierPicture:
    """Place the frontier of all kits up to a horizon, the budget line and the chosen kit.

    Args:
        points: (price, clean range, direct-to-room ratio) of each kit; an infinite ratio draws no second panel.
        enough: the clean range and the ratio from which on more is not needed.
    """
    miked = all(math.isfinite(point[2]) for point in points)
    titles = ((_("Clean range, dB"), 1), (_("Over the room, dB"), 2))
    scales = [_scales(points, side, frame, horizon) for _rest, side in titles[: 2 if miked else 1]]
    panels = tuple(
        _panel(points, chosen, title, one, enough) for (title, _rest), one in zip(titles, scales, strict=False)
    )
    price = scales[0].price
    line_x = round(price.at(budget), 1)
    near_end = line_x > frame.right - 90
    return FrontierPicture(
        frame=replace(frame, height=panels[-1].bottom + BELOW),
        panels=panels,
        prices=tuple(Tick(at=price.at(one), label=money(one)) for one in price.round_ticks(5 if frame.narrow else 8)),
        budget=Budget(
            x=line_x,
            top=frame.panels[0][0] - 14,
            bottom=panels[-1].bottom,
            minimum=0,
            maximum=horizon,
            now=budget,
            spoken=f"{money(budget)}, {_reached(points, budget)}",
            px_per_notch=round(NOTCH * price.px_per_unit, 3),
            label=_("money {budget}").format(budget=money(budget)),
            label_x=line_x - 12 if near_end else line_x + 12,
            anchor="end" if near_end else "start",
        ),
        beyond_width=round(frame.right - line_x, 1),
        description=_description(points, chosen, budget),
    )


@lru_cache(maxsize=16)
def _scales(points: Points, side: int, frame: Frame, horizon: float) -> Scales:
    values = [point[side] for point in points]
    high = math.ceil(max(values) + 1)
    low = min(math.floor(min(values) - 1), high - LEAST_SPAN_DB)
    top, bottom = frame.panels[side - 1]
    return Scales(
        side=side,
        price=Axis(low=0.0, high=horizon, start=frame.left, end=frame.right),
        value=Axis(low=low, high=high, start=bottom, end=top),
    )


def _panel(points: Points, chosen: int, title: str, scales: Scales, enough: tuple[float, float]) -> Panel:
    side, value = scales.side, scales.value
    top, bottom = value.end, value.start
    x, y = scales.at(points[chosen])
    near_end = x > scales.price.end - 60
    return Panel(
        title=title,
        title_y=top - (8 if side == 2 else 28),
        top=top,
        bottom=bottom,
        ticks=tuple(Tick(at=value.at(one), label=figure(one)) for one in value.round_ticks(5)),
        stairs=_stairs(points, scales),
        enough_y=round(value.at(enough[side - 1]), 1) if value.low < enough[side - 1] < value.high else None,
        enough=_("enough, {enough} dB").format(enough=figure(enough[side - 1])),
        dots=_dots(points, scales),
        chosen=(x, y),
        value=f"{figure(points[chosen][side])} dB",
        value_x=x - 10 if near_end else x + 10,
        value_y=y + 18 if y < top + 24 else y - 10,
        anchor="end" if near_end else "start",
    )


# A dragged budget leaves dots and stairs as they are: they are kept from one answer to the next.
@lru_cache(maxsize=16)
def _dots(points: Points, scales: Scales) -> str:
    places = {scales.at(point) for point in points}
    return "".join(f"M{x} {y}h0" for x, y in sorted(places))


@lru_cache(maxsize=16)
def _stairs(points: Points, scales: Scales) -> str:
    """The best that each sum reaches: up where it gets better, level in between."""
    path, best = "", -math.inf
    for point in sorted(points):
        if point[scales.side] > best:
            x, y = scales.at(point)
            path += f"H{x}V{y}" if path else f"M{x} {y}"
            best = point[scales.side]
    return f"{path}H{scales.price.end}"


def _reached(points: Points, budget: float) -> str:
    best = best_within(points, budget)
    return _("clean range up to {best} dB").format(best=figure(best[0])) if best else _("no complete kit")


def _description(points: Points, chosen: int, budget: float) -> str:
    price, clean, lead = points[chosen]
    over = _(", voice {lead} dB over the room").format(lead=figure(lead)) if math.isfinite(lead) else ""
    return _(
        "{points} kits. With {budget} to spend: {points_2}. Chosen: {price}, clean range {clean} dB{over}."
    ).format(
        points=len(points),
        budget=money(budget),
        points_2=_reached(points, budget),
        price=money(price),
        clean=figure(clean),
        over=over,
    )
