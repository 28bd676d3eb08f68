"""The Room screen, the forms that change the room itself, and the pages beside it."""

import math
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from pneumen.core.errors import PneumenError
from pneumen.core.place import Placement, bearing_deg
from pneumen.web.fields import StepForm
from pneumen.web.part.models import Part
from pneumen.web.reading import number_in, whole
from pneumen.web.room import services
from pneumen.web.room.advice import advices_of
from pneumen.web.room.compare import rooms_beside, school_verdict
from pneumen.web.room.forms import FurnitureForm, RoomForm, StandForm, room_forms
from pneumen.web.room.models import Room
from pneumen.web.room.sections import LABELS, sections_of
from pneumen.web.room.show import RoomScreen, room_screen
from pneumen.web.screen import Changes, Screen
from pneumen.web.settle import distance_bounds_m, settle
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of
from pneumen.wording.language import _

SAME_PLACE_M = 0.006
"""Fields are rounded: so much off is not moved."""
OF_PLACEMENT = {
    "stand_x": "x_m",
    "stand_y": "y_m",
    "mouth": "height_m",
    "facing": "facing_deg",
    "above": "above_m",
    "turned": "turned_deg",
}
"""The form's fields, by what the core calls them."""


class RoomView(Screen[RoomScreen]):
    slug = "room"
    form_class = StandForm
    opened = ""
    """The section that is open, where the address does not say."""

    def form(self, part: Part, data: QueryDict | None = None, screen: RoomScreen | None = None) -> StandForm:
        furniture = list(part.song.room.furniture.all())
        shown = self.shown(part, screen) if screen else None
        return StandForm(data, shown=shown, sings=part.source_facts.pops, furniture=furniture)

    def shown(self, part: Part, screen: RoomScreen) -> Changes:
        here, room = screen.here.placement, part.song.room
        found = {"hour": room.hour, "mic_x": here.microphone_m[0], "mic_y": here.microphone_m[1], "above": here.rise_m}
        found |= {name: getattr(here, core) for name, core in OF_PLACEMENT.items() if name != "above"}
        for row in room.furniture.all():
            found |= {f"f{row.pk}_x": row.x_m, f"f{row.pk}_y": row.y_m, f"f{row.pk}_turned": row.turned_deg}
        return found

    def present(self, part: Part, changes: Changes) -> RoomScreen:
        if moved := _moved(part.song.room, changes):
            services.furniture_at(part.song.room, moved)
        told = _told(part, changes)
        services.check(part, **told)
        return room_screen(part, **told)

    def keep(self, part: Part, changes: Changes) -> None:
        moved = _moved(part.song.room, changes)
        services.stand(part, **_told(part, changes), hour=changes.get("hour"), moved=moved)

    def kept(self, part: Part, asked: StepForm) -> dict[str, Any]:
        # Furniture that found no place goes back to where it stood, fields and all.
        return {"back": True, FurnitureForm.name: FurnitureForm()} if asked.errors else {}

    def more(self, part: Part, screen: RoomScreen) -> dict[str, Any]:
        rooms = Room.objects.mine(part.owner_id)
        sections = sections_of(screen, len(rooms), self.opened or self.request.GET.get("open", ""))
        drawn = [section.slug for section in sections if section.is_drawn]
        return {"rooms": rooms, "sections": sections} | room_forms(part.song.room, drawn)

    def section(self, part: Part, slug: str) -> HttpResponse:
        """Answer with what is in one section, when it is opened."""
        self.opened = slug
        screen = self.present(part, {})
        context = {"part": part, "screen": screen, "form": self.form(part, screen=screen)} | self.more(part, screen)
        return render(self.request, f"room/{LABELS[slug][1]}.html", context)


def _told(part: Part, changes: Changes) -> dict[str, Any]:
    """Return where performer and microphone stand, as the core has it.

    A microphone whose place came as it was goes along with the performer; one that was moved gets its own distance
    and side.
    """
    told = {core: changes[name] for name, core in OF_PLACEMENT.items() if name in changes}
    if {"mic_x", "mic_y"} & set(changes):
        here = settle(part).placement
        x, y = (changes.get(name, at) for name, at in zip(("mic_x", "mic_y"), here.microphone_m[:2], strict=True))
        if math.hypot(x - here.microphone_m[0], y - here.microphone_m[1]) > SAME_PLACE_M:
            told |= _microphone_at(part, here, told, x, y)
    return told


def _microphone_at(part: Part, here: Placement, told: dict[str, float], x_m: float, y_m: float) -> dict[str, float]:
    """Return distance and side of a microphone on the plan, as near to it as the source allows."""
    east, north = x_m - told.get("x_m", here.x_m), y_m - told.get("y_m", here.y_m)
    nearest_m, farthest_m = distance_bounds_m(part)
    distance_m = min(max(math.hypot(east, north, told.get("above_m", here.rise_m)), nearest_m), farthest_m)
    aside = (bearing_deg(east, north) - told.get("facing_deg", here.facing_deg) + 180) % 360 - 180
    return {"distance_m": distance_m, "aside_deg": min(max(aside, -90.0), 90.0)}


def _moved(room: Room, changes: Changes) -> services.Places:
    """Return where furniture was moved to."""
    moved = {}
    for row in room.furniture.all():
        names = (f"f{row.pk}_x", f"f{row.pk}_y", f"f{row.pk}_turned")
        if set(names) & set(changes):
            there = zip(names, (row.x_m, row.y_m, row.turned_deg), strict=True)
            x_m, y_m, turned = (changes.get(name, at) for name, at in there)
            moved[row.pk] = (x_m, y_m, int(turned) if str(turned).isdecimal() else -1)  # no such turn: refused
    return moved


def changing(form_class: type[RoomForm]) -> Callable[[Request, int], HttpResponse]:
    """Make a view of a form that changes the room: refused, the page comes again with what was typed."""

    @require_POST
    def view(request: Request, part_id: int) -> HttpResponse:
        part = part_of(request, part_id)
        if "away" in request.POST:
            with suppress(PneumenError):  # pressed on a page gone stale
                form_class.remove(part.song.room, whole(request.POST, "away"))
        else:
            form = form_class(request.POST)
            form.apply(part.song.room)
            if form.errors:
                part = part_of(request, part_id)
                screen = RoomView.of(request)
                screen.opened = form.opens
                return screen.page(part, problem=form.problem, **{form.name: form})
        return redirect(_section(part, form_class.opens))

    return view


def _section(part: Part, name: str) -> str:
    """Return the address of the page with one of its sections open."""
    return f"{reverse('room:page', args=[part.pk])}?open={name}#{name}"


@require_safe
def section(request: Request, part_id: int, slug: str) -> HttpResponse:
    """One of the sections below the plan; without script the page comes with it open."""
    part = part_of(request, part_id)
    if slug not in LABELS:
        raise Http404
    return RoomView.of(request).section(part, slug) if request.htmx else redirect(_section(part, slug))


@require_safe
def advice(request: Request, part_id: int) -> HttpResponse:
    """What to do next; asked for after the page, since it is a search of its own."""
    part = part_of(request, part_id)
    context = {"part": part, "advices": advices_of(part)}
    return render(request, "room/advice.html" if request.htmx else "room/advice_page.html", context)


@require_POST
def spot(request: Request, part_id: int) -> HttpResponse:
    """Stand where an advice says."""
    part = part_of(request, part_id)
    with suppress(PneumenError):  # pressed on a page gone stale: the page shows how things stand now
        form = RoomView.of(request).form(part, request.POST)
        if form.is_valid():
            services.stand(part, **_told(part, form.changes))
    return redirect("room:page", part_id=part.pk)


@require_POST
def hang_best(request: Request, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    services.hang_best(part)
    return redirect(_section(part, "hang"))


@require_POST
def clap(request: Request, part_id: int) -> HttpResponse:
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
            messages.error(request, _("Choose a recording of a clap first: WAV, AIFF, FLAC, Ogg or MP3."))
        else:
            services.take_in_clap(room, file)
    except PneumenError as error:
        name = f"{file.name}: " if file else ""
        messages.error(request, f"{name}{error}.")
    return redirect(_section(part, "measured"))


@require_safe
def compare(request: Request, part_id: int) -> HttpResponse:
    """All rooms of the home beside each other, each at its best spot and its quietest hour."""
    part = part_of(request, part_id)
    rooms = rooms_beside(part)
    return render(request, "room/compare.html", {"part": part, "rooms": rooms, "settled": school_verdict(rooms)})


@require_POST
def which(request: Request, part_id: int) -> HttpResponse:
    """Record the song in another room of the home, or in a new one."""
    part, data = part_of(request, part_id), request.POST
    if "name" in data:
        try:
            services.new_room(part.song, data["name"])
        except PneumenError as error:
            messages.error(request, f"{error}.")
            return redirect(_section(part, "rooms"))
    else:
        found = get_object_or_404(Room.objects.mine(request.user), pk=number_in(data.get("room", "")))
        services.use_room(part.song, found)
    return redirect("room:page", part_id=part.pk)
