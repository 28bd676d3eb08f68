"""The Gain screen: one view, a page and a fragment; trying out stores nothing, keeping does."""

from contextlib import suppress

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from pneumen.core.errors import PneumenError, require_within
from pneumen.core.gain import gain_at_share
from pneumen.web.frame import thread
from pneumen.web.gain import services
from pneumen.web.gain.show import GainScreen, gain_screen
from pneumen.web.lengths import read_near
from pneumen.web.part.models import Part
from pneumen.web.reading import number, unchanged
from pneumen.web.song.views import with_part


@require_GET
@with_part
def page(request: HttpRequest, part: Part) -> HttpResponse:
    template = "gain/stand.html" if "stand" in request.GET else "gain/page.html"
    return render(request, template, {"part": part, "screen": gain_screen(part)})


@require_GET
@with_part
def tried(request: HttpRequest, part: Part) -> HttpResponse:
    """Show what other values would do, without storing them: what a drag asks for."""
    try:
        values = changed_values(part, request.GET)
        services.check(part, **values)
    except PneumenError as error:
        return _live(request, part, gain_screen(part), error)
    return _live(request, part, gain_screen(part, **values))


@require_POST
@with_part
def keep(request: HttpRequest, part: Part) -> HttpResponse:
    error = None
    try:
        services.keep(part, **changed_values(part, request.POST))
    except PneumenError as refused:
        error = refused
    if request.htmx:
        return _live(request, part, gain_screen(part), error, **thread(part, "gain"))
    if error:
        return render(
            request,
            "gain/page.html",
            {"part": part, "screen": gain_screen(part), "error": _told(error), "typed": request.POST},
            status=422,
        )
    return redirect("gain:page", part_id=part.pk)


@require_POST
@with_part
def apply(request: HttpRequest, part: Part) -> HttpResponse:
    # A button pressed twice, or on a page gone stale, changes nothing: the page shows how things stand now.
    data = request.POST
    with suppress(PneumenError):
        services.apply_action(
            part,
            distance_m=read_near(data, "distance") if "distance" in data else None,
            gain_db=number(data, "gain") if "gain" in data else None,
            aside_deg=number(data, "aside") if "aside" in data else None,
            noise_change_db=number(data, "noise_change") if "noise_change" in data else None,
        )
    place = {"take": "take:page", "place": "place:page"}.get(data.get("next", ""), "gain:page")
    return redirect(place, part_id=part.pk)


@require_POST
@with_part
def planned(request: HttpRequest, part: Part) -> HttpResponse:
    """Let a value set by hand go back to planned."""
    what = request.POST.get("what", "")
    services.plan_again(part, what)
    place = {"gain": "gain:page", "place": "place:page", "stand": "room:page"}.get(request.POST.get("next", ""))
    return redirect(place or "gain:page", part_id=part.pk)


@require_POST
@with_part
def pin(request: HttpRequest, part: Part) -> HttpResponse:
    services.pin(part)
    return redirect("gain:page", part_id=part.pk)


def read_values(part: Part, data: QueryDict) -> dict[str, float | str | None]:
    """Read distance, gain and school as they are tried out; a bare knob is told as per cent of its turn."""
    return {
        "distance_m": None if part.is_plugged or "distance" not in data else read_near(data, "distance"),
        "gain_db": _gain(part, data),
        "school": data.get("school") or None,
    }


def _gain(part: Part, data: QueryDict) -> float | None:
    if "turn" in data:
        turn = number(data, "turn")
        require_within("turn", turn, 0, 100)
        return gain_at_share(turn / 100, part.to_chain().gain_range_db)
    return number(data, "gain") if "gain" in data else None


def changed_values(part: Part, data: QueryDict) -> dict[str, float | str | None]:
    """Read what was changed of distance, gain and school: a field left as the page showed it stays planned."""
    values = read_values(part, data)
    if unchanged(data, "distance"):
        values["distance_m"] = None
    if unchanged(data, "turn") or unchanged(data, "gain"):
        values["gain_db"] = None
    if unchanged(data, "school"):
        values["school"] = None
    return values


def _told(error: PneumenError) -> dict[str, str]:
    units = {"gain": " dB", "turn": " % of the turn"}
    field = getattr(error, "field", "distance")
    allowed = getattr(error, "allowed", "")
    text = (
        f"Give {allowed}{units.get(field, '')}."
        if allowed and isinstance(allowed, str)
        else f"{str(error).capitalize()}."
    )
    return {"field": field, "text": text}


def _live(
    request: HttpRequest, part: Part, screen: GainScreen, error: PneumenError | None = None, **more: object
) -> HttpResponse:
    context = {"part": part, "screen": screen, "live": True, "error": _told(error) if error else None} | more
    return render(request, "gain/live.html", context)
