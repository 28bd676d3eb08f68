"""The Place screen: one view, a page and a fragment; trying out stores nothing, keeping does."""

from contextlib import suppress

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from pneumen.core.errors import PneumenError
from pneumen.web.frame import thread
from pneumen.web.lengths import read_near
from pneumen.web.part.models import Part
from pneumen.web.place import services
from pneumen.web.place.show import place_screen
from pneumen.web.place.trials import told_of
from pneumen.web.reading import number, refusal, unchanged
from pneumen.web.song.views import with_part


@require_GET
@with_part
def page(request: HttpRequest, part: Part) -> HttpResponse:
    if part.is_plugged:
        return render(request, "place/plugged.html", {"part": part})
    return render(request, "place/page.html", _page(part))


@require_GET
@with_part
def tried(request: HttpRequest, part: Part) -> HttpResponse:
    """Show what another place would do, without storing it: what a drag asks for."""
    placing, problem = None, ""
    try:
        placing = read_placing(part, request.GET)
        services.check(part, placing)
    except PneumenError as error:
        placing, problem = None, refusal(error)
    return render(request, "place/live.html", _live(part, problem, placing))


@require_POST
@with_part
def keep(request: HttpRequest, part: Part) -> HttpResponse:
    problem = ""
    try:
        services.keep(part, read_placing(part, request.POST))
    except PneumenError as error:
        problem = refusal(error)
    if request.htmx:
        return render(request, "place/live.html", _live(part, problem) | thread(part, "place"))
    if problem:
        context = _page(part) | {"problem": problem, "typed": request.POST}
        return render(request, "place/page.html", context, status=422)
    return redirect("place:page", part_id=part.pk)


@require_POST
@with_part
def start(request: HttpRequest, part: Part) -> HttpResponse:
    """Choose a taste, or a zone of the instrument to start from."""
    with suppress(PneumenError):  # no button offers another: the page shows how things stand
        if "taste" in request.POST:
            services.choose_taste(part, request.POST["taste"])
        else:
            services.start_at(part, request.POST.get("zone", ""))
    return redirect("place:page", part_id=part.pk)


def read_placing(part: Part, data: QueryDict) -> services.Placing:
    """Read what was changed of a place; a form that was sent whole tells by its absence that there is no screen."""
    from_grille = data["from_grille"] == "yes" if "from_grille" in data else None
    behind = services.GRILLE_M if (part.from_grille if from_grille is None else from_grille) else 0.0

    def changed(field: str) -> bool:
        return field in data and not unchanged(data, field)

    # One's own measure keeps its number when one says what it was measured to; a planned one keeps its place.
    remeasured = from_grille not in {None, part.from_grille} and part.place_origin == "yours" and "distance" in data
    screen = "pop_screen" in data
    whole = "whole" in data and screen != (data.get("was-pop_screen") == "on")
    return services.Placing(
        distance_m=read_near(data, "distance") + behind if remeasured or changed("distance") else None,
        aside_deg=number(data, "aside") if changed("aside") else None,
        turned_deg=number(data, "turned") if changed("turned") else None,
        above_m=read_near(data, "above") if changed("above") else None,
        pop_screen=screen if whole else None,
        screen_before_m=read_near(data, "screen_before") if changed("screen_before") else None,
        low_cut_hz=number(data, "low_cut") if changed("low_cut") else None,
        from_grille=None if from_grille == part.from_grille else from_grille,
        sheet_m=number(data, "sheet") if changed("sheet") else None,
    )


def _page(part: Part) -> dict[str, object]:
    trials = [(trial, told_of(trial)) for trial in part.trials.select_related("chosen")[:5]]
    return {"part": part, "screen": place_screen(part), "problem": "", "trials": trials}


def _live(part: Part, problem: str, placing: services.Placing | None = None) -> dict[str, object]:
    return {"part": part, "screen": place_screen(part, placing, zones=False), "live": True, "problem": problem}
