"""Two microphones drawn: the singer who plays from the side, the sum's comb, a pair from above. Coordinates only."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.place import PlacedMicrophone, SingerWhoPlays, StereoPair, sum_response_db
from pneumen.web.drawing import Axis, LogAxis, Tick, ToScale, polyline, ticks_at
from pneumen.web.lobes import lobe_path, null_path
from pneumen.wording.figures import figure
from pneumen.wording.language import _

WIDTH: Final = 420.0
SIDE_HEIGHT: Final = 320.0
SIDE_SPAN_M: Final = 0.95
MOUTH_AT: Final = (120.0, 84.0)
LOBE_PX: Final = 34.0
CURVE: Final = (34.0, 12.0, 408.0, 150.0)
CURVE_DB: Final = (-24.0, 8.0)
TICKS_HZ: Final = ((100, "100"), (300, "300"), (1000, "1 k"), (3000, "3 k"), (10_000, "10 k"))


@dataclass(frozen=True, slots=True, kw_only=True)
class Capsule:
    """A microphone on the paper: where, its pattern's outline, and the line of its null."""

    x: float
    y: float
    lobe: str
    nulls: str
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SidePicture:
    """Head and instrument from the side, with their microphones."""

    width: float
    height: float
    px_per_cm: float
    mouth: tuple[float, float]
    instrument: tuple[float, float]
    capsules: tuple[Capsule, ...]
    description: str


def draw_singer(found: SingerWhoPlays, instrument_m: tuple[float, float], patterns: tuple[str, str]) -> SidePicture:
    """Place the side view."""
    per_m = (WIDTH - MOUTH_AT[0] - 20) / SIDE_SPAN_M

    scale = ToScale(left=MOUTH_AT[0], bottom=MOUTH_AT[1], px_per_m=per_m)
    capsules = tuple(
        _capsule(one, scale.at(*one.at_m), pattern, label)
        for one, pattern, label in zip((found.voice, found.instrument), patterns, ("1", "2"), strict=True)
    )
    return SidePicture(
        width=WIDTH,
        height=SIDE_HEIGHT,
        px_per_cm=per_m / 100,
        mouth=MOUTH_AT,
        instrument=scale.at(*instrument_m),
        capsules=capsules,
        description=_(
            "From the side: the voice’s microphone and the instrument’s, each with its null towards the other."
        ),
    )


def _capsule(one: PlacedMicrophone, at: tuple[float, float], pattern: str, label: str) -> Capsule:
    axis = math.atan2(-one.looks[1], one.looks[0])
    return Capsule(
        x=at[0],
        y=at[1],
        lobe=lobe_path(at, axis, pattern, LOBE_PX),
        nulls=null_path(at, axis, pattern, LOBE_PX),
        label=label,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class CombPicture:
    """The sum's response: a curve with its ticks."""

    width: float
    height: float
    path: str
    ticks: tuple[Tick, ...]
    levels: tuple[Tick, ...]


def draw_comb(delay_ms: float, gain: float) -> CombPicture:
    """Place the response of a sum, 80 Hz to 16 kHz."""
    left, top, right, bottom = CURVE
    hertz = np.geomspace(80, 16_000, 420)
    level = np.clip(sum_response_db(hertz, delay_ms / 1000, gain), *CURVE_DB)

    across = LogAxis(low=80.0, high=16_000.0, start=left, end=right)
    up = Axis(low=CURVE_DB[0], high=CURVE_DB[1], start=bottom, end=top)
    return CombPicture(
        width=WIDTH,
        height=174.0,
        path=polyline((across.at(float(h)), up.at(float(one))) for h, one in zip(hertz, level, strict=True)),
        ticks=ticks_at(across, dict(TICKS_HZ)),
        levels=tuple(Tick(at=up.at(one), label=figure(one, sign=one > 0)) for one in (6, 0, -6, -12, -18)),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class PairPicture:
    """A pair from above, the source ahead of it: capsules, and the sector that fills the picture."""

    width: float
    height: float
    middle: tuple[float, float]
    source: tuple[float, float]
    capsules: tuple[Capsule, ...]
    sector: str
    arc: str


def draw_pair(pair: StereoPair, side_deg: float | None, off_deg: float) -> PairPicture:
    """Place a pair; spacing is drawn wider than it is to scale."""
    middle, reach = (WIDTH / 2, 232.0), 190.0
    apart = min(26 + 220 * pair.spacing_m, 150.0) if pair.spacing_m else 10.0
    capsules = []
    for side, label in ((-1, "L"), (1, "R")):
        axis = -math.pi / 2 + side * math.radians(pair.between_deg) / 2
        at = (middle[0] + side * apart / 2, middle[1])
        capsules.append(Capsule(x=at[0], y=at[1], lobe=lobe_path(at, axis, pair.pattern, 40), nulls="", label=label))
    source = _round(middle, reach, off_deg)
    edge = min(side_deg or 90.0, 90.0)
    (x1, y1), (x2, y2) = _round(middle, reach, -edge), _round(middle, reach, edge)
    arc = f"M{x1:.1f} {y1:.1f}A{reach} {reach} 0 0 1 {x2:.1f} {y2:.1f}"
    return PairPicture(
        width=WIDTH,
        height=300.0,
        middle=middle,
        source=source,
        capsules=tuple(capsules),
        sector=f"{arc}L{middle[0]} {middle[1]}Z",
        arc=arc if side_deg else "",
    )


def _round(middle: tuple[float, float], reach: float, degrees: float) -> tuple[float, float]:
    return middle[0] + reach * math.sin(math.radians(degrees)), middle[1] - reach * math.cos(math.radians(degrees))
