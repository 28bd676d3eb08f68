"""Out and back: the loop from mouth to file and back to the ears, with what passes at each joint and what is wrong."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.forecast import Outcome
from pneumen.core.hookup import DI_BOXES, Cable, Chain, Fault
from pneumen.core.hookup.kinds import socket_of_port
from pneumen.core.levels import DBU_OVER_DBV_DB
from pneumen.core.line import Passing, way_of
from pneumen.core.verdict import Verdict, worst_of
from pneumen.web.drawing import Paper
from pneumen.web.hookup.curve import WIDE, Curve, narrow_curve, wide_curve
from pneumen.wording.figures import figure
from pneumen.wording.joints import CONNECTOR_WORDS, LOAD, length_told
from pneumen.wording.language import _
from pneumen.wording.lengths import near

LINE_PX: Final = 16.0
EARS: Final = "Ears"
MOST_LETTERS: Final = 24
OWN_GAIN: Final = ("mixer", "preamp")
"""What these give depends on how they are turned up."""
LEAST_LOSS_DB: Final = 0.1
LEAST_PERCENT: Final = 5
"""What is less likely is not ringed."""


@dataclass(frozen=True, slots=True)
class Label:
    """Where words stand, and which end of them."""

    x: float
    y: float
    anchor: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A device on the loop: where, and its name; shape tells where sound begins, where it is a file, and the ears."""

    x: float
    y: float
    name: str
    label: Label
    shape: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """A joint on the loop: where, what is written there line by line (y and words), and the gravest that is wrong."""

    x: float
    y: float
    lines: tuple[tuple[float, str], ...]
    label: Label
    verdict: Verdict


@dataclass(frozen=True, slots=True)
class Suspect:
    """Where a fault may sit: where that is on the paper, how likely in percent, and where that is written."""

    x: float
    y: float
    percent: int
    label_y: float

    @property
    def radius(self) -> float:
        return _radius(self.percent)


def _radius(percent: int) -> float:
    """Return how wide the ring round a place is drawn: the likelier, the wider."""
    return 8 + 0.16 * percent


@dataclass(frozen=True, slots=True, kw_only=True)
class Loop:
    """The whole picture on one paper."""

    frame: Paper
    height: float
    out: str
    back: str
    marks: tuple[Mark, ...]
    joints: tuple[Joint, ...]
    description: str
    suspects: tuple["Suspect", ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class _Stop:
    """A device or a joint in the order in which the loop passes it."""

    name: str = ""
    shape: str = ""
    lines: tuple[str, ...] = ()
    verdict: Verdict = Verdict.CLEAR
    place: str = ""
    """Where on the way it is, as the search for a fault names places."""


def draw_loop(
    part_name: str,
    chain: Chain,
    begins: str,
    found: Outcome,
    faults: tuple[Fault, ...],
    paper: Paper,
    odds: Mapping[str, float] | None = None,
) -> Loop:
    """Place the way of one part through its session's chain, and the way back to the ears.

    Args:
        begins: the device its sound is picked up with.
        odds: how likely a fault sits at each place, where one is looked for.
    """
    out = _way_out(part_name, chain, begins, found, faults)
    back = _way_back(chain, begins, found, faults)
    curve = narrow_curve(len(out), len(back)) if paper.narrow else wide_curve()
    marks, joints = _placed(out, curve.out, curve, upper=True)
    more = _placed(back, curve.back, curve, upper=False)
    told = [stop for stop in (*out, *back) if stop.lines or stop.name]
    return Loop(
        frame=paper,
        height=curve.height,
        out=curve.path(curve.out),
        back=curve.path(curve.back),
        marks=(*marks, *more[0]),
        joints=(*joints, *more[1]),
        description="; ".join(stop.name or ", ".join(stop.lines) for stop in told) + ".",
        suspects=_suspects(out, back, curve, odds or {}),
    )


def _suspects(out: list[_Stop], back: list[_Stop], curve: Curve, odds: Mapping[str, float]) -> tuple[Suspect, ...]:
    """Ring the places that are likely to hold the fault: the first stop of each place on the way."""
    found: dict[str, Suspect] = {}
    for stops, half, upper in ((out, curve.out, True), (back, curve.back, False)):
        for number, stop in enumerate(stops):
            percent = round(100 * odds.get(stop.place, 0.0))
            if percent >= LEAST_PERCENT and stop.place not in found:
                x, y = curve.at(half, _share(stops, number, upper=upper))
                # Names stand on the outer side of the loop, what passes a joint on the inner one.
                below = stop.shape != "file" if curve.narrow else upper == bool(stop.name)
                aside = _radius(percent) + 14 if below else -_radius(percent) - 5
                found[stop.place] = Suspect(x, y, percent, y + aside)
    return tuple(found.values())


def _share(stops: list[_Stop], number: int, *, upper: bool) -> float:
    """Return how far along its half a stop stands."""
    most = max(len(stops) - (1 if upper else 0), 1)
    return (number if upper else number + 1) / most


def path_of(chain: Chain, begins: str) -> tuple[Cable, ...]:
    """Return the cables a sound passes from the device it is picked up with to where it becomes a file."""
    found: list[Cable] = []
    at = begins
    while True:
        onward = [
            one
            for one in chain.out_of(at)
            if one.connector != "mains"
            and one not in found
            and socket_of_port(chain.by_id[at].facts, one.from_port) not in ("phones", "thru")
            and not (chain.by_id[at].facts.records and one.connector != "usb")
        ]
        if not onward:
            return tuple(found)
        found.append(onward[0])
        at = onward[0].to_device


def _way_out(name: str, chain: Chain, begins: str, found: Outcome, faults: tuple[Fault, ...]) -> list[_Stop]:
    levels = {one.place: one for one in way_of(found.levels)}
    stops: list[_Stop] = []
    if found.air is not None:
        capsule = f"{figure(levels['capsule'].level)} dB SPL"
        air = (near(found.setup.placement.distance_m), capsule)
        stops += [_Stop(name=name, shape="source"), _Stop(lines=air, place="air")]
    cables = path_of(chain, begins)
    first = "source" if found.air is None else "file" if not cables else "device"
    stops.append(_Stop(name=begins, shape=first, place="source"))
    for cable in cables:
        end = "file" if cable is cables[-1] else "device"
        dbu = _level_at(chain, cable, levels, found.setup.booster_db)
        lines = joint_lines(chain, cable, levels["file"].level, dbu, _loss_at(chain, cable, found))
        verdict = _verdict_at(faults, cable.begins_at, cable.ends_at)
        place = "data" if cable.connector == "usb" else "lead"
        to_place = "program" if cable.connector == "usb" else "input"
        stops += [
            _Stop(lines=lines, verdict=verdict, place=place),
            _Stop(name=cable.to_device, shape=end, place=to_place),
        ]
    return stops


def _level_at(chain: Chain, cable: Cable, levels: Mapping[str, Passing], booster_db: float) -> float | None:
    """Return the loudest peak in dBu where a cable ends; None behind the converter, or a gain of its own."""
    source, device = chain.both_ends(cable)
    if source.kind in OWN_GAIN:
        return None
    place = "microphone" if "microphone" in levels else "plug"
    if device.facts.feeds_phantom:
        place = "input"
    elif source.kind in DI_BOXES:
        place = "box"
    passing = levels.get(place)
    if passing is None:
        return None
    before = place == "microphone" and source.kind != "inline-booster"
    return passing.level - (booster_db if before else 0.0)


def _loss_at(chain: Chain, cable: Cable, found: Outcome) -> float:
    """Return what the load where a cable ends takes of the level: the level diagram's own step, 0 where it has none."""
    source, device = chain.both_ends(cable)
    if source.kind in OWN_GAIN or not (device.facts.feeds_phantom or device.kind in DI_BOXES):
        return 0.0
    name = "box-load" if source.kind in DI_BOXES else "load"
    return sum(step.value for step in found.levels.peak_steps if step.name == name)


def joint_lines(
    chain: Chain, cable: Cable, file_dbfs: float, dbu: float | None, loss_db: float = 0.0
) -> tuple[str, ...]:
    """Say what a cable is and what passes it: plug and length, level and what its load takes of it, 48 V."""
    if cable.connector == "usb":
        return CONNECTOR_WORDS["usb"], f"{figure(file_dbfs)} dBFS"
    plug = CONNECTOR_WORDS[cable.connector]
    lines = [f"{plug}, {length_told(cable.length_m)}"]
    if dbu is not None:
        lines.append(f"{figure(dbu)} dBu, {figure(dbu - DBU_OVER_DBV_DB)} dBV")
        if loss_db <= -LEAST_LOSS_DB:
            lines.append(LOAD.format(loss=figure(loss_db, 1)))
    if chain.by_id[cable.to_device].phantom_on(cable.to_port):
        lines.append("48 V")
    return tuple(lines)


def _way_back(chain: Chain, begins: str, found: Outcome, faults: tuple[Fault, ...]) -> list[_Stop]:
    """The way from the file to the ears: back by USB, out at the headphones."""
    phones = next((one for one in chain.cables if chain.by_id[one.to_device].kind == "headphones"), None)
    if phones is None:
        return [_Stop(name=EARS, shape="ears")]
    stops: list[_Stop] = []
    hub = phones.from_device
    if chain.by_id[hub].kind != "recorder":
        late_ms = found.setup.round_trip_ms
        later = () if late_ms is None else (_("{late_ms} ms later").format(late_ms=figure(late_ms)),)
        stops += [_Stop(lines=(CONNECTOR_WORDS["usb"], *later)), _Stop(name=hub, shape="device")]
    plug = (CONNECTOR_WORDS[phones.connector],)
    stops.append(_Stop(lines=plug, verdict=_verdict_at(faults, phones.begins_at, phones.ends_at)))
    ears = _Stop(name=phones.to_device, shape="device", place="ears")
    return [*stops, ears, _Stop(), _Stop(name=EARS, shape="ears")]


def shortened(name: str) -> str:
    """Return a name that fits on the loop; the whole one stands in its description and below."""
    return name if len(name) <= MOST_LETTERS else f"{name[: MOST_LETTERS - 1].rstrip()}…"


def _verdict_at(faults: tuple[Fault, ...], *places: str) -> Verdict:
    return worst_of([fault.verdict for fault in faults if fault.at in places])


def _placed(stops: list[_Stop], half: np.ndarray, curve: Curve, *, upper: bool) -> tuple[list[Mark], list[Joint]]:
    """Place stops evenly along a half: joints stand between devices, what is written on the inner side."""
    marks: list[Mark] = []
    joints: list[Joint] = []
    for number, stop in enumerate(stops):
        x, y = curve.at(half, _share(stops, number, upper=upper))
        if stop.name:
            outside = _label(curve, x, y, stop.shape, upper=upper)
            marks.append(Mark(x=x, y=y, name=shortened(stop.name), shape=stop.shape, label=outside))
        elif stop.lines:
            inside = _inner(curve, x, y, len(stop.lines), upper=upper)
            lines = tuple((inside.y + LINE_PX * row, line) for row, line in enumerate(stop.lines))
            joints.append(Joint(x=x, y=y, lines=lines, verdict=stop.verdict, label=inside))
    return marks, joints


def _label(curve: Curve, x: float, y: float, shape: str, *, upper: bool) -> Label:
    if curve.narrow:
        if shape == "ears":
            return Label(x + 40, y - 14, "start")
        if shape in ("source", "file"):
            return Label(x, y - 14 if shape == "source" else y + 24, "middle")
        side = 1 if upper else -1
        return Label(x + 14 * side, y + 5, "start" if upper else "end")
    if shape in ("source", "ears"):
        return Label(x + 16, y - 4 if upper else y + 18, "start")
    if shape == "file":
        return Label(x - 16, y + 5, "end")
    return Label(x, y - 15 if upper else y + 26, "middle")


def _inner(curve: Curve, x: float, y: float, lines: int, *, upper: bool) -> Label:
    if curve.narrow:
        side = 1 if upper else -1
        return Label(x + 16 * side, y - 8 * (lines - 1) + 4, "start" if upper else "end")
    towards = "start" if x < 190 else "end" if x > WIDE.width - 190 else "middle"
    aside = {"start": 14.0, "end": -14.0, "middle": 0.0}[towards]
    top = y + 24 if upper else y - 16 - 16 * (lines - 1)
    return Label(x + aside, top, towards)
