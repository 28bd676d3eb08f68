"""Predicted beside measured over takes: each take's band as a bar, what was measured as a dot on it."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.take import Reading
from pneumen.web.drawing import Axis, Paper, Tick
from pneumen.wording.figures import figure
from pneumen.wording.language import _

LEFT, TOP, BASE, HEIGHT = 44.0, 12.0, 128.0, 150.0
MARGIN_DB: Final = 3.0
WIDEST_BAR: Final = 22.0
MOST_LABELS: Final = 12
NARROW_BELOW: Final = 500


@dataclass(frozen=True, slots=True, kw_only=True)
class FitBar:
    """One take: its band from y to y + height, the measured dot at dot_y."""

    x: float
    left: float
    width: float
    y: float
    height: float
    middle_y: float
    dot_y: float
    within: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FitPicture(Paper):
    """One figure of all takes."""

    height: float
    left: float
    right: float
    unit: str
    bars: tuple[FitBar, ...]
    levels: tuple[Tick, ...]
    numbers: tuple[Tick, ...]
    description: str


def draw_fit(readings: Sequence[Reading], unit: str, *, width: float) -> FitPicture:
    """Place the bands and dots of a figure, one take beside the other."""
    lows = [min(one.predicted_db - one.band_db, one.measured_db) for one in readings]
    highs = [max(one.predicted_db + one.band_db, one.measured_db) for one in readings]
    level = Axis(low=min(lows) - MARGIN_DB, high=max(highs) + MARGIN_DB, start=BASE, end=TOP)
    step = (width - 10 - LEFT) / len(readings)
    bar = min(WIDEST_BAR, 0.7 * step)
    bars = []
    for number, one in enumerate(readings):
        x = LEFT + (number + 0.5) * step
        top = level.at(one.predicted_db + one.band_db)
        bars.append(
            FitBar(
                x=x,
                left=x - bar / 2,
                width=bar,
                y=top,
                height=level.at(one.predicted_db - one.band_db) - top,
                middle_y=level.at(one.predicted_db),
                dot_y=level.at(one.measured_db),
                within=one.within,
            )
        )
    each = max(1, -(-len(readings) // MOST_LABELS))
    return FitPicture(
        width=width,
        narrow=width < NARROW_BELOW,
        height=HEIGHT,
        left=LEFT,
        right=width - 10,
        unit=unit,
        bars=tuple(bars),
        levels=tuple(Tick(at=level.at(one), label=figure(one)) for one in level.round_ticks(4)),
        numbers=tuple(
            Tick(at=bars[number].x, label=str(readings[number].number)) for number in range(0, len(readings), each)
        ),
        description="; ".join(
            _("take {number}: predicted {predicted_db}, measured {measured_db} {unit}").format(
                number=one.number,
                predicted_db=figure(one.predicted_db),
                measured_db=figure(one.measured_db, 1),
                unit=unit,
            )
            for one in readings[-MOST_LABELS:]
        ),
    )
