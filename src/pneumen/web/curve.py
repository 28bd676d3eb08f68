"""A response drawn over frequency."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.web.drawing import Axis, LogAxis, Tick, polyline, ticks_at
from pneumen.wording.figures import figure

CURVE_TICKS: Final = ((100, "100"), (1000, "1 k"), (10_000, "10 k"))


@dataclass(frozen=True, slots=True, kw_only=True)
class CurvePicture:
    """A response in dB over frequency."""

    width: float
    height: float
    zero_y: float
    path: str
    ticks: tuple[Tick, ...]
    levels: tuple[Tick, ...]
    description: str


def draw_curve(frequency_hz: Sequence[float], response_db: Sequence[float | None]) -> CurvePicture:
    """Place a response curve, 50 Hz to 16 kHz; what is not known is left out."""
    width, height, left, top, bottom = 262.0, 150.0, 28.0, 10.0, 126.0
    known = [(hertz, level) for hertz, level in zip(frequency_hz, response_db, strict=True) if level is not None]
    most = max([level for _, level in known] + [6.0])
    least = min([level for _, level in known] + [-6.0])

    hertz = LogAxis(low=50.0, high=16_000.0, start=left, end=width)
    level = Axis(low=least, high=most, start=bottom, end=top)
    return CurvePicture(
        width=width,
        height=height,
        zero_y=level.at(0.0),
        path=polyline((hertz.at(one), level.at(db)) for one, db in known),
        ticks=ticks_at(hertz, dict(CURVE_TICKS)),
        levels=tuple(
            Tick(at=level.at(one), label=figure(one, sign=one > 0))
            for one in level.every(6 if most - least <= 30 else 12)
        ),
        description="; ".join(f"{one} Hz {figure(db, 1, sign=True)} dB" for one, db in known[::3]),
    )
