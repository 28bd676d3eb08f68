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
from pneumen.web.reading import number
from pneumen.web.song.models import Part
from pneumen.web.song.outlook import outlook_of
from pneumen.web.song.views import with_set_up_part


@require_GET
@with_set_up_part
def page(request: HttpRequest, part: Part) -> HttpResponse:
    template = "gain/stand.html" if "stand" in request.GET else "gain/page.html"
    return render(request, template, {"part": part, "screen": gain_screen(part)})


@require_GET
@with_set_up_part
def tried(request: HttpRequest, part: Part) -> HttpResponse:
    """Show what other values would do, without storing them: what a drag asks for."""
    try:
        values = read_values(part, request.GET)
        services.check(part, **values)
    except PneumenError as error:
        return _live(request, part, gain_screen(part), error)
    return _live(request, part, gain_screen(part, **values))


@require_POST
@with_set_up_part
def keep(request: HttpRequest, part: Part) -> HttpResponse:
    error = None
    try:
        services.keep(part, **read_values(part, request.POST))
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
@with_set_up_part
def apply(request: HttpRequest, part: Part) -> HttpResponse:
    # A button pressed twice, or on a page gone stale, changes nothing: the page shows how things stand now.
    with suppress(PneumenError):
        services.apply_action(
            part,
            distance_m=read_near(request.POST, "distance"),
            gain_db=number(request.POST, "gain"),
            room_noise_dba=number(request.POST, "room_noise"),
        )
    return redirect("take:page" if request.POST.get("next") == "take" else "gain:page", part_id=part.pk)


@require_POST
@with_set_up_part
def pin(request: HttpRequest, part: Part) -> HttpResponse:
    services.pin(part)
    return redirect("gain:page", part_id=part.pk)


def read_values(part: Part, data: QueryDict) -> dict[str, float | str]:
    """Read distance, gain and school; a bare knob is told as per cent of its turn."""
    gain_db = number(data, "gain", 0.0)
    if "turn" in data:
        turn = number(data, "turn")
        require_within("turn", turn, 0, 100)
        gain_db = gain_at_share(turn / 100, outlook_of(part).chain.gain_range_db)
    distance_m = part.distance_m if part.is_plugged else read_near(data, "distance")
    return {"distance_m": distance_m, "gain_db": gain_db, "school": data.get("school", "")}


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
