"""The last ten seconds of an input as a breath: body and peaks, the window, what touched full scale, and the room."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gain import School
from pneumen.core.live import PIECE_S, RECORDING, TRAIL_S, Heard, floor_dbfs_of, held_dbfs_of
from pneumen.web.drawing import Axis, Paper, Tick, polyline
from pneumen.wording.figures import figure
from pneumen.wording.language import _

WIDE: Final = Paper(width=760.0, narrow=False)
NARROW: Final = Paper(width=330.0, narrow=True)
PAPERS: Final = (WIDE, NARROW)
HEIGHT: Final = 250.0
TOP_PX, FOOT_PX, LEFT_PX = 26.0, 14.0, 46.0
HIGHEST_DBFS, LOWEST_DBFS = 3.0, -75.0
TICKS: Final = (0, -12, -24, -36, -48, -60, -72)


@dataclass(frozen=True, slots=True, kw_only=True)
class Breath:
    """The picture on one paper; floor, now and held are None before there is anything to show."""

    frame: Paper
    height: float
    left: float
    right: float
    ticks: tuple[Tick, ...]
    roof_y: float
    window: tuple[float, float]
    window_label: str
    body: str
    peaks: str
    now: tuple[float, float] | None
    held: tuple[float, str] | None
    floor: tuple[float, str] | None
    planned: tuple[float, str] | None
    overs: tuple[float, ...]
    description: str


def draw_breath(state: Heard, school: School, planned_dbfs: float | None, paper: Paper) -> Breath:
    """Draw what is remembered of an input; the newest stands at the right end."""
    right = paper.width - (64.0 if paper.narrow else 118.0)
    across = Axis(low=-TRAIL_S, high=0.0, start=LEFT_PX, end=right)
    up = Axis(low=LOWEST_DBFS, high=HIGHEST_DBFS, start=HEIGHT - FOOT_PX, end=TOP_PX)
    trail, count = state.trail, len(state.trail)
    xs = [across.at(-(count - 1 - number) * PIECE_S) for number in range(count)]
    body = [(x, up.at(one.rms_dbfs)) for x, one in zip(xs, trail, strict=True)]
    peaks = [(x, up.at(one.peak_dbfs)) for x, one in zip(xs, trail, strict=True)]
    held_dbfs, quietest_dbfs = held_dbfs_of(trail), floor_dbfs_of(trail)
    recording = state.phase == RECORDING and state.floor_dbfs is not None
    floor_dbfs, floor_name = (state.floor_dbfs, "room") if recording else (quietest_dbfs, "quietest")
    return Breath(
        frame=paper,
        height=HEIGHT,
        left=LEFT_PX,
        right=right,
        ticks=tuple(Tick(at=up.at(level), label=figure(level)) for level in TICKS),
        roof_y=up.at(0.0),
        window=(up.at(school.high_dbfs), up.at(school.low_dbfs)),
        window_label=_("{low_dbfs} to {high_dbfs}").format(
            low_dbfs=figure(school.low_dbfs), high_dbfs=figure(school.high_dbfs)
        ),
        body=polyline([*peaks, *reversed(body)]) + "Z" if count > 1 else "",
        peaks=polyline(peaks) if count > 1 else "",
        now=peaks[-1] if peaks else None,
        held=(up.at(held_dbfs), figure(held_dbfs)) if held_dbfs > LOWEST_DBFS else None,
        floor=None if floor_dbfs is None else (up.at(floor_dbfs), f"{floor_name} {figure(floor_dbfs)}"),
        planned=None
        if planned_dbfs is None
        else (up.at(planned_dbfs), _("planned {planned_dbfs}").format(planned_dbfs=figure(planned_dbfs))),
        overs=tuple(x for x, one in zip(xs, trail, strict=True) if one.over),
        description=_described(held_dbfs, quietest_dbfs, school),
    )


def _described(held_dbfs: float, floor_dbfs: float | None, school: School) -> str:
    room = (
        ""
        if floor_dbfs is None
        else _(" The quietest half second stands at {floor_dbfs} dBFS.").format(floor_dbfs=figure(floor_dbfs))
    )
    window = _("the window is {low_dbfs} to {high_dbfs}").format(
        low_dbfs=figure(school.low_dbfs), high_dbfs=figure(school.high_dbfs)
    )
    return _("The highest peak of the last ten seconds stands at {held_dbfs} dBFS; {window}.{room}").format(
        held_dbfs=figure(held_dbfs), window=window, room=room
    )
