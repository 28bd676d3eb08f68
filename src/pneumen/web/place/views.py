"""The Place screen: one view, a page and a fragment; trying out stores nothing, keeping does."""

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from pneumen.core.errors import PneumenError
from pneumen.web.frame import thread
from pneumen.web.gain.views import number
from pneumen.web.lengths import read_near
from pneumen.web.place import services
from pneumen.web.place.show import place_screen
from pneumen.web.song.models import Part
from pneumen.web.song.views import with_set_up_part


@require_GET
@with_set_up_part
def page(request: HttpRequest, part: Part) -> HttpResponse:
    if part.is_plugged:
        return render(request, "place/plugged.html", {"part": part})
    return render(request, "place/page.html", {"part": part, "screen": place_screen(part), "problem": ""})


@require_GET
@with_set_up_part
def tried(request: HttpRequest, part: Part) -> HttpResponse:
    """Show what another place would do, without storing it: what a drag asks for."""
    placed, problem = None, ""
    try:
        placed = read_placed(part, request.GET)
        services.check(part, placed)
    except PneumenError as error:
        placed, problem = None, _told(error)
    return render(request, "place/live.html", _live(part, problem, placed))


@require_POST
@with_set_up_part
def keep(request: HttpRequest, part: Part) -> HttpResponse:
    problem = ""
    try:
        services.keep(part, read_placed(part, request.POST))
    except PneumenError as error:
        problem = _told(error)
    if request.htmx:
        return render(request, "place/live.html", _live(part, problem) | thread(part, "place"))
    if problem:
        context = {"part": part, "screen": place_screen(part), "problem": problem, "typed": request.POST}
        return render(request, "place/page.html", context, status=422)
    return redirect("place:page", part_id=part.pk)


def read_placed(part: Part, data: QueryDict) -> services.Placed:
    """Read a place; a form that was sent whole tells by its absence that there is no screen."""
    return services.Placed(
        distance_m=read_near(data, "distance", part.distance_m),
        off_mouth_deg=number(data, "off_mouth", part.off_mouth_deg),
        off_microphone_deg=number(data, "off_microphone", part.off_microphone_deg),
        pop_screen="pop_screen" in data if "whole" in data else part.pop_screen,
    )


def _told(error: PneumenError) -> str:
    return f"{str(error).replace('_deg', '').replace('_', ' ').capitalize()}."


def _live(part: Part, problem: str, placed: services.Placed | None = None) -> dict[str, object]:
    return {"part": part, "screen": place_screen(part, placed), "live": True, "problem": problem}
