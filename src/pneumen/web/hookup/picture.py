"""Out and back: the loop from mouth to file and back to the ears, with what passes at each joint and what is wrong."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.forecast import Outcome
from pneumen.core.hookup import DI_BOXES, Cable, Chain, Fault
from pneumen.core.hookup.kinds import socket_of_port
from pneumen.core.line import Passing, way_of
from pneumen.core.verdict import Verdict, worst_of
from pneumen.web.drawing import Paper, Place
from pneumen.wording.figures import figure
from pneumen.wording.joints import CONNECTOR_WORDS, length_told
from pneumen.wording.lengths import near

WIDE: Final = Paper(width=760.0, narrow=False)
NARROW: Final = Paper(width=330.0, narrow=True)
STEP_PX: Final = 46.0
"""How far apart devices and joints stand on the paper of a phone."""
SAMPLES: Final = 60
MIDDLE_Y: Final = 140.0
LINE_PX: Final = 16.0
NARROW_TOP: Final = 34.0
EARS: Final = "Ears"
MOST_LETTERS: Final = 24
OWN_GAIN: Final = ("mixer", "preamp")
"""What these give depends on how they are turned up."""
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
    curve = _narrow(len(out), len(back)) if paper.narrow else _wide()
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


def _suspects(out: list[_Stop], back: list[_Stop], curve: "_Curve", odds: Mapping[str, float]) -> tuple[Suspect, ...]:
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
        lines = joint_lines(chain, cable, levels["file"].level, _level_at(chain, cable, levels, found.setup.booster_db))
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


def joint_lines(chain: Chain, cable: Cable, file_dbfs: float, dbu: float | None) -> tuple[str, ...]:
    """Say what a cable is and what passes it: plug and length, level, 48 V."""
    if cable.connector == "usb":
        return CONNECTOR_WORDS["usb"], f"{figure(file_dbfs)} dBFS"
    plug = CONNECTOR_WORDS[cable.connector]
    lines = [f"{plug}, {length_told(cable.length_m)}"]
    if dbu is not None:
        lines.append(f"{figure(dbu)} dBu")
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
        later = () if late_ms is None else (f"{figure(late_ms)} ms later",)
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


@dataclass(frozen=True, slots=True, kw_only=True)
class _Curve:
    """Where the two halves of the loop run, as points from their beginning to their end."""

    out: np.ndarray
    back: np.ndarray
    height: float
    narrow: bool

    def at(self, half: np.ndarray, share: float) -> Place:
        """Return the point after a share of a half."""
        along = np.linspace(0, 1, len(half))
        return float(np.interp(share, along, half[:, 0])), float(np.interp(share, along, half[:, 1]))

    @staticmethod
    def path(half: np.ndarray) -> str:
        return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in half)


def _wide() -> _Curve:
    """A breath across the paper: out above, back below."""
    angle = np.linspace(0, np.pi, SAMPLES)
    x = WIDE.width / 2 - 300 * np.cos(angle)
    lift = np.sin(angle) ** 0.6
    out = np.column_stack([x, MIDDLE_Y - 96 * lift])
    back = np.column_stack([x[::-1], MIDDLE_Y + 96 * lift[::-1]])
    return _Curve(out=_even(out), back=_even(back), height=2 * MIDDLE_Y, narrow=False)


def _narrow(out_stops: int, back_stops: int) -> _Curve:
    """The same down one side of the paper and up the other; its points are equally far down the paper."""
    length = STEP_PX * max(out_stops - 1, back_stops, 4)
    down = np.linspace(0, 1, SAMPLES)
    bulge = (1 - (2 * down - 1) ** 6) ** (1 / 3)
    middle, y = NARROW.width / 2, NARROW_TOP + length * down
    out = np.column_stack([middle - (middle - 22) * bulge, y])
    back = np.column_stack([middle + (middle - 22) * bulge[::-1], y[::-1]])
    return _Curve(out=out, back=back, height=length + 2 * NARROW_TOP, narrow=True)


def _even(points: np.ndarray) -> np.ndarray:
    """Return points equally far apart along a curve."""
    steps = np.hypot(*np.diff(points, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    shares = np.linspace(0, along[-1], len(points))
    return np.column_stack([np.interp(shares, along, points[:, 0]), np.interp(shares, along, points[:, 1])])


def _placed(stops: list[_Stop], half: np.ndarray, curve: _Curve, *, upper: bool) -> tuple[list[Mark], list[Joint]]:
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


def _label(curve: _Curve, x: float, y: float, shape: str, *, upper: bool) -> Label:
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


def _inner(curve: _Curve, x: float, y: float, lines: int, *, upper: bool) -> Label:
    if curve.narrow:
        side = 1 if upper else -1
        return Label(x + 16 * side, y - 8 * (lines - 1) + 4, "start" if upper else "end")
    towards = "start" if x < 190 else "end" if x > WIDE.width - 190 else "middle"
    aside = {"start": 14.0, "end": -14.0, "middle": 0.0}[towards]
    top = y + 24 if upper else y - 16 - 16 * (lines - 1)
    return Label(x + aside, top, towards)
