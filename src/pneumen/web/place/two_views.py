"""The page of two microphones: everything in its address, nothing stored."""

from dataclasses import replace

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from pneumen.core.errors import PneumenError
from pneumen.core.place import PAIRS
from pneumen.web.lengths import read_near
from pneumen.web.part.models import Part
from pneumen.web.place.two import HOWS, Tried, two_screen, usual_trial
from pneumen.web.reading import number, refusal
from pneumen.web.song.views import with_part


@require_GET
@with_part
def two(request: HttpRequest, part: Part) -> HttpResponse:
    """Show one way of using two microphones with the values of the address; refused ones are told."""
    if part.is_plugged:
        return redirect("place:page", part_id=part.pk)
    usual, problem, status = usual_trial(part), "", 200
    try:
        screen = two_screen(part, read_tried(usual, request.GET))
    except PneumenError as error:
        problem, status = refusal(error), 200 if request.htmx else 422
        how = request.GET.get("how", "sum")
        screen = two_screen(part, replace(usual, how=how if how in HOWS else "sum"))
    context = {"part": part, "screen": screen, "problem": problem, "typed": request.GET if problem else {}}
    page = "place/two_live.html" if request.htmx else "place/two.html"
    return render(request, page, context | {"live": bool(request.htmx)}, status=status)


def read_tried(usual: Tried, data: QueryDict) -> Tried:
    """Read the values of the address; a kind of pair sets its angle and spacing unless they were changed with it.

    Raises:
        NotALength, NotANumber: naming the field.
    """
    how = data.get("how", usual.how)
    tried = replace(
        usual,
        how=how if how in HOWS else usual.how,
        near_m=read_near(data, "near", usual.near_m),
        far_m=read_near(data, "far", usual.far_m),
        softer_db=number(data, "softer") if data.get("softer", "").strip() else None,
        ahead_m=read_near(data, "ahead", usual.ahead_m),
        below_m=read_near(data, "below", usual.below_m),
        voice_m=read_near(data, "voice", usual.voice_m),
        play_m=read_near(data, "play", usual.play_m),
        louder_db=number(data, "louder", usual.louder_db),
        pattern=data.get("pattern", usual.pattern),
        play_pattern=data.get("play_pattern", usual.play_pattern),
        away_m=read_near(data, "away", usual.away_m),
        off_deg=number(data, "off", usual.off_deg),
    )
    return _with_pair(tried, data)


def _with_pair(tried: Tried, data: QueryDict) -> Tried:
    kind = data.get("kind", tried.kind)
    kind = kind if kind in PAIRS else tried.kind
    usual = PAIRS[kind][1]
    fresh = data.get("was", kind) != kind or "between" not in data
    return replace(
        tried,
        kind=kind,
        pattern=usual.pattern if fresh and tried.how == "pair" else tried.pattern,
        between_deg=usual.between_deg if fresh else number(data, "between"),
        spacing_m=usual.spacing_m if fresh else read_near(data, "spacing"),
    )
