"""The Room screen: one view, a page and a fragment; trying out stores nothing, keeping does."""

import math
from collections.abc import Callable
from contextlib import suppress
from functools import wraps

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from pneumen.core.errors import PneumenError
from pneumen.core.place import Placement, bearing_deg
from pneumen.core.room import WALLS
from pneumen.web.frame import thread
from pneumen.web.lengths import read_far, read_near
from pneumen.web.part.models import Part
from pneumen.web.reading import number, refusal, unchanged, whole
from pneumen.web.room import furnish, outward, services
from pneumen.web.room.advice import advices_of
from pneumen.web.room.compare import rooms_beside, school_verdict
from pneumen.web.room.models import Room
from pneumen.web.room.show import room_screen
from pneumen.web.settle import settle
from pneumen.web.song.views import part_of

SAME_PLACE_M = 0.006
"""Fields are rounded: so much off is not moved."""
Change = Callable[[Part, QueryDict], None]


def told_where_typed(change: Change) -> Callable[[HttpRequest, int], HttpResponse]:
    """Make a view of a change to the room: refused, the page comes again with what was typed and what is wrong."""

    @require_POST
    @wraps(change)
    def view(request: HttpRequest, part_id: int) -> HttpResponse:
        part = part_of(request, part_id)
        try:
            change(part, request.POST)
        except PneumenError as error:
            return _refused(request, part, error)
        return redirect("room:page", part_id=part.pk)

    return view


@require_GET
def page(request: HttpRequest, part_id: int) -> HttpResponse:
    return render(request, "room/page.html", _context(request, part_of(request, part_id)))


@require_GET
def tried(request: HttpRequest, part_id: int) -> HttpResponse:
    """Show what another place would bring, without storing it: what a drag asks for."""
    part, problem, values = part_of(request, part_id), "", {}
    try:
        services.furniture_at(part.song.room, _furniture(part.song.room, request.GET))
        values = _place(part, request.GET)
        services.check(part, **values)
    except PneumenError as error:
        problem, values = refusal(error), {}
    screen = room_screen(part, **values)
    return render(request, "room/live.html", {"part": part, "screen": screen, "live": True, "problem": problem})


@require_GET
def advice(request: HttpRequest, part_id: int) -> HttpResponse:
    """What to do next; asked for after the page, since it is a search of its own."""
    part = part_of(request, part_id)
    context = {"part": part, "advices": advices_of(part)}
    return render(request, "room/advice.html" if request.htmx else "room/advice_page.html", context)


@require_POST
def keep(request: HttpRequest, part_id: int) -> HttpResponse:
    """Store where the performer stands, how high, and the hour."""
    part, problem = part_of(request, part_id), ""
    try:
        hour = None if unchanged(request.POST, "hour") else number(request.POST, "hour", part.song.room.hour)
        moved = _furniture(part.song.room, request.POST)
        services.stand(part, **_place(part, request.POST), hour=hour, moved=moved)
    except PneumenError as error:
        part, problem = part_of(request, part_id), refusal(error)
    if request.htmx:  # furniture that found no place goes back to where it stood, fields and all
        context = {"part": part, "screen": room_screen(part), "live": True, "problem": problem, "back": bool(problem)}
        return render(request, "room/live.html", context | thread(part, "room"))
    if problem:
        return render(request, "room/page.html", _context(request, part, problem), status=422)
    return redirect("room:page", part_id=part.pk)


@told_where_typed
def shape(part: Part, data: QueryDict) -> None:
    """Store size and walls."""
    size_m = tuple(read_far(data, f"size_{axis}") for axis in "xyz")
    surfaces = {wall: data.get(f"surface_{wall}", "") for wall in WALLS}
    services.draw(part.song.room, size_m=size_m, surfaces=surfaces, sloping="sloping" in data)


@told_where_typed
def furniture(part: Part, data: QueryDict) -> None:
    """Put a piece of furniture in, or take it out."""
    if "away" in data:
        furnish.remove_furniture(part.song.room, whole(data, "away"))
        return
    furnish.add_furniture(part.song.room, data.get("kind", ""))


@told_where_typed
def openings(part: Part, data: QueryDict) -> None:
    """Put a window or door in a wall, or wall it up."""
    if "away" in data:
        furnish.remove_opening(part.song.room, whole(data, "away"))
        return
    low_m = read_far(data, "opening_low", 0.0)
    furnish.add_opening(
        part.song.room,
        kind=data.get("opening_kind", ""),
        on=data.get("opening_on", ""),
        along_m=read_far(data, "opening_along"),
        width_m=read_far(data, "opening_width"),
        low_m=low_m,
        high_m=low_m + read_far(data, "opening_height"),
    )


@require_POST
def spot(request: HttpRequest, part_id: int) -> HttpResponse:
    """Stand where an advice says."""
    part = part_of(request, part_id)
    with suppress(PneumenError):  # pressed on a page gone stale: the page shows how things stand now
        services.stand(part, **_place(part, request.POST))
    return redirect("room:page", part_id=part.pk)


@told_where_typed
def hang(part: Part, data: QueryDict) -> None:
    """Hang one piece on a wall, or take it down."""
    place = (read_far(data, "u", 0.0), read_far(data, "v", 0.0))
    services.hang(part.song.room, whole(data, "piece"), data.get("on", ""), *place)


@require_POST
def hang_best(request: HttpRequest, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    services.hang_best(part)
    return redirect("room:page", part_id=part.pk)


@told_where_typed
def coverings(part: Part, data: QueryDict) -> None:
    """Add something soft one has, or take it off the list."""
    room = part.song.room
    if "away" in data:
        services.remove_covering(room, whole(data, "away"))
        return
    size = {"width_m": read_far(data, "width"), "height_m": read_far(data, "height")}
    count = whole(data, "count", 1)
    services.add_covering(room, label=data.get("label", ""), material=data.get("material", ""), count=count, **size)


@told_where_typed
def noises(part: Part, data: QueryDict) -> None:
    """Add a source of noise, or take it off the list."""
    if "away" in data:
        services.remove_noise(part.song.room, whole(data, "away"))
        return
    services.add_noise(
        part.song.room,
        name=data.get("noise_name", ""),
        spectrum=data.get("noise_spectrum", "even"),
        **{f"{axis}_m": read_far(data, f"noise_{axis}") for axis in "xyz"},
        level_dba=number(data, "noise_level"),
        from_hour=number(data, "noise_from"),
        to_hour=number(data, "noise_to"),
    )


@told_where_typed
def neighbours(part: Part, data: QueryDict) -> None:
    """Store who hears one, or take them off the list."""
    if "away" in data:
        outward.remove_neighbour(part.song.room, whole(data, "away"))
        return
    wide, high = read_far(data, "hears_wide"), read_far(data, "hears_high")
    told = {name: number(data, f"hears_{name}") for name in ("day", "night", "from", "to")}
    outward.add_neighbour(
        part.song.room,
        name=" ".join(data.get("hears_name", "").split())[:40],
        through=data.get("hears_through", ""),
        area_m2=wide * high,
        day_dba=told["day"],
        night_dba=told["night"],
        night_from=told["from"],
        night_to=told["to"],
    )


@require_POST
def clap(request: HttpRequest, part_id: int) -> HttpResponse:
    """Read a clap, let the stand-in clap, use what it told, or forget it."""
    part, file, room = part_of(request, part_id), request.FILES.get("clap"), None
    room = part.song.room
    try:
        if "forget" in request.POST:
            services.forget_clap(room)
        elif "use" in request.POST:
            services.use_clap(room, use=request.POST["use"] == "yes")
        elif "simulate" in request.POST:
            services.simulated_clap(part)
        elif file is None:
            messages.error(request, "Choose a recording of a clap first: WAV, AIFF, FLAC, Ogg or MP3.")
        else:
            services.take_in_clap(room, file.chunks())
    except PneumenError as error:
        name = f"{file.name}: " if file else ""
        messages.error(request, f"{name}{error}.")
    return redirect("room:page", part_id=part.pk)


@require_GET
def compare(request: HttpRequest, part_id: int) -> HttpResponse:
    """All rooms of the home beside each other, each at its best spot and its quietest hour."""
    part = part_of(request, part_id)
    rooms = rooms_beside(part)
    return render(request, "room/compare.html", {"part": part, "rooms": rooms, "settled": school_verdict(rooms)})


@require_POST
def which(request: HttpRequest, part_id: int) -> HttpResponse:
    """Record the song in another room of the home, or in a new one."""
    part, data = part_of(request, part_id), request.POST
    if data.get("name", "").strip():
        services.new_room(part.song, data["name"])
    else:
        room = data.get("room", "")
        found = get_object_or_404(Room.objects.mine(request.user), pk=room if room.isdigit() else 0)
        services.use_room(part.song, found)
    return redirect("room:page", part_id=part.pk)


def _place(part: Part, data: QueryDict) -> dict[str, float]:
    """Read where performer and microphone stand; what is left out stays as it is.

    A microphone whose place came as it was goes along with the performer; one that was moved gets its own distance
    and side.
    """
    here = settle(part).placement

    def changed(field: str) -> bool:
        return field in data and not unchanged(data, field)

    told: dict[str, float] = {}
    for name, field in (("x_m", "stand_x"), ("y_m", "stand_y"), ("height_m", "mouth")):
        if changed(field):
            told[name] = read_far(data, field)
    if changed("facing"):
        told["facing_deg"] = number(data, "facing")
    if changed("above"):
        told["above_m"] = read_near(data, "above")
    if changed("turned"):
        told["turned_deg"] = number(data, "turned")
    if changed("mic_x") or changed("mic_y"):
        x, y = (read_far(data, name, at) for name, at in zip(("mic_x", "mic_y"), here.microphone_m[:2], strict=True))
        if math.hypot(x - here.microphone_m[0], y - here.microphone_m[1]) > SAME_PLACE_M:
            told |= _microphone_at(part, here, told, x, y)
    return told


def _microphone_at(part: Part, here: Placement, told: dict[str, float], x_m: float, y_m: float) -> dict[str, float]:
    """Return distance and side of a microphone on the plan, as near to it as the source allows."""
    east, north = x_m - told.get("x_m", here.x_m), y_m - told.get("y_m", here.y_m)
    facts = part.source_facts
    distance_m = min(max(math.hypot(east, north, told.get("above_m", here.rise_m)), facts.nearest_m), facts.farthest_m)
    aside = (bearing_deg(east, north) - told.get("facing_deg", here.facing_deg) + 180) % 360 - 180
    return {"distance_m": distance_m, "aside_deg": min(max(aside, -90.0), 90.0)}


def _furniture(room: Room, data: QueryDict) -> dict[int, tuple[float, float, int]]:
    """Read where furniture was moved to; what is left out stays where it is."""
    moved = {}
    for row in room.furniture.all():
        name = f"f{row.pk}"
        if f"{name}_x" in data or f"{name}_y" in data or f"{name}_turned" in data:
            x, y = read_far(data, f"{name}_x", row.x_m), read_far(data, f"{name}_y", row.y_m)
            moved[row.pk] = (x, y, whole(data, f"{name}_turned", row.turned_deg))
    return moved


def _refused(request: HttpRequest, part: Part, error: Exception) -> HttpResponse:
    """Show the page again with what was typed and what is wrong with it."""
    part = part_of(request, part.pk)
    context = _context(request, part, refusal(error)) | {"typed": request.POST}
    return render(request, "room/page.html", context, status=422)


def _context(request: HttpRequest, part: Part, problem: str = "") -> dict[str, object]:
    rooms = Room.objects.mine(request.user)
    return {"part": part, "screen": room_screen(part), "problem": problem, "rooms": rooms}
