"""The page of a room's monitors: tried out without storing, kept when let go."""

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from pneumen.core.errors import Contradiction, PneumenError
from pneumen.core.room import MonitorPlace, usual_place
from pneumen.web.lengths import read_far
from pneumen.web.part.models import Part
from pneumen.web.reading import refusal
from pneumen.web.room import monitoring
from pneumen.web.room.models import Room
from pneumen.web.song.views import part_of


@require_GET
def monitors(request: HttpRequest, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    return render(request, "room/monitors.html", _context(part, *monitoring.place_of(part.song.room)))


@require_GET
def tried(request: HttpRequest, part_id: int) -> HttpResponse:
    part, problem = part_of(request, part_id), ""
    wall, place = monitoring.place_of(part.song.room)
    try:
        wall, place = _read(part.song.room, wall, place, request.GET)
    except PneumenError as error:
        problem = refusal(error)
    return render(request, "room/monitors_live.html", _context(part, wall, place, problem) | {"live": True})


@require_POST
def keep(request: HttpRequest, part_id: int) -> HttpResponse:
    part, problem = part_of(request, part_id), ""
    wall, place = monitoring.place_of(part.song.room)
    try:
        wall, place = _read(part.song.room, wall, place, request.POST)
        monitoring.keep_monitors(part.song.room, wall, place)
    except PneumenError as error:
        problem = refusal(error)
    context = _context(part, wall, place, problem)
    if request.htmx:
        return render(request, "room/monitors_live.html", context | {"live": True})
    if problem:
        return render(request, "room/monitors.html", context | {"typed": request.POST}, status=422)
    return redirect("room:monitors", part_id=part.pk)


def _read(room: Room, wall: str, place: MonitorPlace, data: QueryDict) -> tuple[str, MonitorPlace]:
    """Read wall and lengths; before another wall they start from the usual place.

    Raises:
        NotALength, OutOfRange, Contradiction: naming what cannot be.
    """
    asked = data.get("wall", wall)
    if asked not in monitoring.BEFORE:
        raise Contradiction("wall", f"must be one of {', '.join(monitoring.BEFORE)}")
    size_m = monitoring.seen_size_m(room, asked)
    if asked != wall:
        return asked, usual_place(size_m)
    told = {
        name: read_far(data, name, getattr(place, f"{name}_m")) for name in ("middle", "behind", "spacing", "listen")
    }
    told |= {name: read_far(data, name, getattr(place, f"{name}_m")) for name in ("height", "ear")}
    desk = data.get("desk", "").strip()
    desk_m = read_far(data, "desk") if desk else (None if "desk" in data else place.desk_m)
    return wall, monitoring.moved(place, size_m, **{f"{name}_m": value for name, value in told.items()}, desk_m=desk_m)


def _context(part: Part, wall: str, place: MonitorPlace, problem: str = "") -> dict[str, object]:
    screen = monitoring.monitor_screen(wall, place)
    return {"part": part, "screen": screen, "problem": problem, "walls": monitoring.BEFORE}
