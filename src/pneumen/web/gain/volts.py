"""The gorge in volts: the signal rises and falls from cable to cable, with what each place bears and what it adds."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.levels import dbu_to_volt
from pneumen.core.line import Levels, Volts, volts_of
from pneumen.web.drawing import Axis, Paper, Tick, polyline, those_seen
from pneumen.wording.figures import figure
from pneumen.wording.gain import PLACES, volt_told
from pneumen.wording.language import _

WIDE: Final = Paper(width=766.0, narrow=False)
NARROW: Final = Paper(width=342.0, narrow=True)
HEIGHT: Final = 300.0
TOP_PX, FOOT_PX = 40.0, 6.0
TOP_DBU, LEAST_FOOT_DBU = 40.0, -135.0
STEP_SHARE: Final = 0.62
"""So much of its room a place is wide; on the rest the signal goes over to the next."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Spot:
    """One place: its name, its loudest level in dBu and volts, and lips of roof and ground with their figures."""

    x: float
    left: float
    right: float
    name: str
    level: str
    volt: str
    label_y: float
    roof: tuple[float, str] | None
    ground: tuple[float, str] | None
    is_first_roof: bool
    is_noisiest: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class VoltsPicture:
    """The picture on one paper; paths run from place to place."""

    frame: Paper
    height: float
    left: float
    ticks: tuple[Tick, ...]
    spots: tuple[Spot, ...]
    body: str
    loudest: str
    typical: str
    quiet: str
    description: str


def draw_volts(levels: Levels) -> tuple[VoltsPicture, ...]:
    """Draw the levels in volts; nothing where no cable carries any."""
    places = volts_of(levels)
    return tuple(_draw(places, paper) for paper in those_seen(WIDE, NARROW)) if places else ()


def _draw(places: tuple[Volts, ...], paper: Paper) -> VoltsPicture:
    left = 34.0 if paper.narrow else 48.0
    lowest = min([LEAST_FOOT_DBU, *(one.noise_dbu - 4 for one in places if one.noise_dbu is not None)])
    up = Axis(low=lowest, high=TOP_DBU, start=HEIGHT - FOOT_PX, end=TOP_PX)
    room = (paper.width - left) / len(places)
    half = room * STEP_SHARE / 2
    middles = [left + room * (number + 0.5) for number in range(len(places))]
    step = 40 if paper.narrow else 20
    signal = ("loudest_dbu", "typical_dbu", "quiet_dbu")
    loudest, typical, quiet = (_ends(places, middles, half, up, one) for one in signal)
    return VoltsPicture(
        frame=paper,
        height=HEIGHT,
        left=left,
        ticks=tuple(Tick(at=up.at(dbu), label=figure(dbu)) for dbu in range(-120, 41, step)),
        spots=tuple(_spot(one, x, half, up, narrow=paper.narrow) for one, x in zip(places, middles, strict=True)),
        body=polyline([*loudest, *reversed(quiet)]) + "Z",
        loudest=polyline(loudest),
        typical=polyline(typical),
        quiet=polyline(quiet),
        description="; ".join(_said(one) for one in places) + ".",
    )


def _ends(
    places: tuple[Volts, ...], middles: list[float], half: float, up: Axis, level: str
) -> list[tuple[float, float]]:
    """Return both ends of each place's step."""
    pairs = zip(places, middles, strict=True)
    return [(x + side * half, up.at(getattr(one, level))) for one, x in pairs for side in (-1, 1)]


def _spot(one: Volts, x: float, half: float, up: Axis, *, narrow: bool) -> Spot:
    roof = None if one.ceiling_dbu is None else (up.at(one.ceiling_dbu), figure(one.ceiling_dbu, sign=True))
    ground = None if one.noise_dbu is None else (up.at(one.noise_dbu), figure(one.noise_dbu))
    return Spot(
        x=x,
        left=x - half,
        right=x + half,
        name=PLACES[one.place],
        level=f"{figure(one.loudest_dbu)} dBu",
        volt="" if narrow else volt_told(dbu_to_volt(one.loudest_dbu)),
        label_y=_label_y(up.at(one.loudest_dbu), roof),
        roof=roof,
        ground=ground,
        is_first_roof=one.clips_first,
        is_noisiest=one.sets_noise,
    )


def _label_y(level_y: float, roof: tuple[float, str] | None) -> float:
    """Return where the level is written: above its line, below where a roof is near."""
    return level_y + 15 if roof and 0 <= level_y - roof[0] < 24 else level_y - 7


def _said(one: Volts) -> str:
    bears = (
        ""
        if one.ceiling_dbu is None
        else _(", bears {ceiling_dbu}").format(ceiling_dbu=figure(one.ceiling_dbu, sign=True))
    )
    adds = "" if one.noise_dbu is None else _(", adds noise of {noise_dbu}").format(noise_dbu=figure(one.noise_dbu))
    loudest = f"{figure(one.loudest_dbu)} dBu, {volt_told(dbu_to_volt(one.loudest_dbu))}"
    return _("{places}: loudest {loudest}{bears}{adds}").format(
        places=PLACES[one.place], loudest=loudest, bears=bears, adds=adds
    )
