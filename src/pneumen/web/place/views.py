"""The Place screen: one view, a page and a fragment; trying out stores nothing, keeping does."""

from contextlib import suppress

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from pneumen.core.errors import PneumenError
from pneumen.web.frame import thread
from pneumen.web.lengths import read_near
from pneumen.web.place import services
from pneumen.web.place.show import place_screen
from pneumen.web.place.trials import told_of
from pneumen.web.reading import number, refusal
from pneumen.web.song.models import Part
from pneumen.web.song.views import with_set_up_part


@require_GET
@with_set_up_part
def page(request: HttpRequest, part: Part) -> HttpResponse:
    if part.is_plugged:
        return render(request, "place/plugged.html", {"part": part})
    return render(request, "place/page.html", _page(part))


@require_GET
@with_set_up_part
def tried(request: HttpRequest, part: Part) -> HttpResponse:
    """Show what another place would do, without storing it: what a drag asks for."""
    placed, problem = None, ""
    try:
        placed = read_placed(part, request.GET)
        services.check(part, placed)
    except PneumenError as error:
        placed, problem = None, refusal(error)
    return render(request, "place/live.html", _live(part, problem, placed))


@require_POST
@with_set_up_part
def keep(request: HttpRequest, part: Part) -> HttpResponse:
    problem = ""
    try:
        services.keep(part, read_placed(part, request.POST))
    except PneumenError as error:
        problem = refusal(error)
    if request.htmx:
        return render(request, "place/live.html", _live(part, problem) | thread(part, "place"))
    if problem:
        context = _page(part) | {"problem": problem, "typed": request.POST}
        return render(request, "place/page.html", context, status=422)
    return redirect("place:page", part_id=part.pk)


@require_POST
@with_set_up_part
def start(request: HttpRequest, part: Part) -> HttpResponse:
    """Choose a taste, or a zone of the instrument to start from."""
    with suppress(PneumenError):  # no button offers another: the page shows how things stand
        if "taste" in request.POST:
            services.choose_taste(part, request.POST["taste"])
        else:
            services.start_at(part, request.POST.get("zone", ""))
    return redirect("place:page", part_id=part.pk)


def read_placed(part: Part, data: QueryDict) -> services.Placed:
    """Read a place; a form that was sent whole tells by its absence that there is no screen."""
    from_grille = data.get("from_grille", "yes" if part.from_grille else "") == "yes"
    behind = services.GRILLE_M if from_grille else 0.0
    turned = number(data, "off_microphone", -part.off_microphone_deg if part.turned_left else part.off_microphone_deg)
    return services.Placed(
        distance_m=read_near(data, "distance", part.distance_m - behind) + behind,
        off_mouth_deg=number(data, "off_mouth", part.off_mouth_deg),
        off_microphone_deg=abs(turned),
        turned_left=turned < 0,
        off_to_left=data.get("off_side", "left" if part.off_to_left else "right") == "left",
        above_m=read_near(data, "above", part.above_m),
        pop_screen="pop_screen" in data if "whole" in data else part.pop_screen,
        pop_before_m=read_near(data, "pop_before", part.pop_before_m),
        low_cut_hz=number(data, "low_cut", part.low_cut_hz),
        from_grille=from_grille,
        sheet_m=number(data, "sheet", part.sheet_m),
    )


def _page(part: Part) -> dict[str, object]:
    trials = [(trial, told_of(trial)) for trial in part.trials.select_related("chosen")[:5]]
    return {"part": part, "screen": place_screen(part), "problem": "", "trials": trials}


def _live(part: Part, problem: str, placed: services.Placed | None = None) -> dict[str, object]:
    return {"part": part, "screen": place_screen(part, placed, zones=False), "live": True, "problem": problem}
