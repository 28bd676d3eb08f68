"""The monitors of a room: kept, tried out, drawn and told."""

from dataclasses import dataclass, replace
from typing import Any, Final

from django.db import transaction

from pneumen.core.room import MonitorPlace, MonitorReport, monitor_report, usual_place
from pneumen.core.verdict import Verdict
from pneumen.web.drawing import Place, ToScale
from pneumen.web.gain.why import Why
from pneumen.web.room.models import Room
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far
from pneumen.wording.monitors import monitors_told

KEPT: Final = ("middle_m", "behind_m", "spacing_m", "listen_m", "height_m", "ear_m", "desk_m")
BEFORE: Final = ("north", "east", "south", "west")
PAPER: Final = (420.0, 400.0, 30.0)


def seen_size_m(room: Room, wall: str) -> tuple[float, float, float]:
    """Return a room's size with a wall ahead: across, deep, high."""
    x, y, z = room.size_m
    return (x, y, z) if wall in ("north", "south") else (y, x, z)


def place_of(room: Room) -> tuple[str, MonitorPlace]:
    """Return the wall the monitors stand before, and how; the usual place where none is kept, or it no longer fits."""
    kept = room.monitors or {}
    wall = kept.get("wall", "north")
    size_m = seen_size_m(room, wall)
    try:
        return wall, MonitorPlace(size_m=size_m, **{name: kept[name] for name in KEPT})
    except (KeyError, ValueError):
        return wall, usual_place(size_m)


@transaction.atomic
def keep_monitors(room: Room, wall: str, place: MonitorPlace) -> None:
    room.monitors = {"wall": wall} | {name: getattr(place, name) for name in KEPT}
    room.save(update_fields=["monitors"])


@dataclass(frozen=True, slots=True, kw_only=True)
class MonitorPicture:
    """The room with the monitors' wall up: boxes, ears, the triangle, and where the side walls throw sound back."""

    width: float
    height: float
    left: float
    top: float
    across: float
    deep: float
    px_per_m: float
    monitors: tuple[tuple[float, float], tuple[float, float]]
    listener: tuple[float, float]
    mirrors: tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class MonitorScreen:
    wall: str
    place: MonitorPlace
    picture: MonitorPicture
    verdict: Verdict
    sentence: str
    findings: tuple[tuple[str, str], ...]
    bounces: tuple[tuple[str, str, str], ...]
    most: dict[str, float]
    whys: tuple[Why, ...]


def monitor_screen(wall: str, place: MonitorPlace) -> MonitorScreen:
    """Return what the page of the monitors shows."""
    report = monitor_report(place)
    findings = tuple((verdict, monitors_told(verdict, kind, value, place)) for verdict, kind, value in report.findings)
    worst = next((told for verdict, told in findings if verdict != Verdict.CLEAR), "")
    return MonitorScreen(
        wall=wall,
        place=place,
        picture=_draw(place, report),
        verdict=Verdict.WATCH if worst else Verdict.CLEAR,
        sentence=worst
        or _("They stand well: {angle_deg}° between them, {reach_m} from each ear.").format(
            angle_deg=figure(report.angle_deg), reach_m=far(report.reach_m)
        ),
        findings=findings,
        bounces=tuple(
            (
                one.surface,
                f"{figure(one.notch_hz)} Hz",
                _("{level_db} dB, {delay_ms} ms later").format(
                    level_db=figure(one.level_db), delay_ms=figure(one.delay_ms, 1)
                ),
            )
            for one in report.bounces
        ),
        most={"spacing": min(5.0, place.size_m[0] - 0.2), "deep": place.size_m[1]},
        whys=(
            Why(
                title=_("Walls and notches"),
                lines=(
                    _(
                        "What a wall throws back comes half a wave late at c/(2Δ) and cancels there; for the wall behind that is c/(4d)."
                    ),
                    _(
                        "Right at the wall the notch lies high, where a monitor beams forward and leaves the wall alone; or so far off that it lies under the music."
                    ),
                    _("Side walls are best hung where they mirror: the small marks on the plan."),
                ),
                source=_("mirror images of first order; the rest is common practice, no source"),
            ),
        ),
    )


def _draw(place: MonitorPlace, report: MonitorReport) -> MonitorPicture:
    width, most_high, margin = PAPER
    across_m, deep_m, _rest = place.size_m
    per_m = min((width - 2 * margin) / across_m, (most_high - 2 * margin) / deep_m)
    left, top = (width - across_m * per_m) / 2, margin

    scale = ToScale(left=left, bottom=top, px_per_m=per_m)

    def at(across_m: float, off_wall_m: float) -> Place:  # the wall ahead is up
        return scale.at(across_m, -off_wall_m)

    return MonitorPicture(
        width=width,
        height=deep_m * per_m + 2 * margin,
        left=left,
        top=top,
        across=across_m * per_m,
        deep=deep_m * per_m,
        px_per_m=per_m,
        monitors=(at(*place.monitor(-1)[:2]), at(*place.monitor(1)[:2])),
        listener=at(*place.listener[:2]),
        mirrors=tuple(at(*one.at_m) for one in report.bounces if one.surface in ("left wall", "right wall")),
    )


def moved(place: MonitorPlace, size_m: tuple[float, float, float], **told: Any) -> MonitorPlace:
    """Return a place with some of its lengths changed."""
    return replace(place, size_m=size_m, **told)
