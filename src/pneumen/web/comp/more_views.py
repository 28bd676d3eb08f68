"""Layers tightened to their lead, and the balance to listen to."""

from django.http import Http404, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pneumen.core.errors import PneumenError
from pneumen.core.send import LOW_CUTS_HZ
from pneumen.web.comp.balance import heard_items, keep_balance, rows_of
from pneumen.web.comp.layers import shown_layers, tighten
from pneumen.web.comp.models import Balance, LayerTrack
from pneumen.web.part.models import Part
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of, with_part
from pneumen.web.take.models import Layer
from pneumen.web.take.views import ranged
from pneumen.wording.language import _

ENDS = ("before", "after")


@require_safe
@with_part
def layers(request: Request, part: Part) -> HttpResponse:
    return render(request, "comp/layers.html", {"part": part, "layers": shown_layers(part)})


@require_POST
@with_part
def layer(request: Request, part: Part, layer_id: int) -> HttpResponse:
    """Have a layer tightened to its lead."""
    row = get_object_or_404(Layer.objects.select_related("part"), part=part, pk=layer_id)
    try:
        tighten(row)
    except PneumenError as error:
        context = {"part": part, "layers": shown_layers(part), "problem": _("The {error}.").format(error=error)}
        return render(request, "comp/layers.html", context, status=422)
    return redirect("comp:layers", part_id=part.pk)


@require_safe
def layer_audio(request: Request, part_id: int, layer_id: int) -> HttpResponseBase:
    """Serve a tightened layer to listen to."""
    track = get_object_or_404(LayerTrack, layer__part=part_of(request, part_id), layer=layer_id)
    return ranged(request, track.audio)


@require_http_methods(["GET", "HEAD", "POST"])
@with_part
def balance(request: Request, part: Part) -> HttpResponse:
    """Show the balance, or set it and have it made to listen to."""
    song, problem = part.song, ""
    items = heard_items(song)
    if request.method == "POST":
        try:
            keep_balance(song, items, request.POST)
            return redirect("comp:balance", part_id=part.pk)
        except PneumenError as error:
            problem = _("The {error}.").format(error=error)
    row = Balance.objects.filter(song=song).prefetch_related("jobs").first()
    job = next(iter(row.jobs.all()), None) if row else None
    context = {
        "part": part,
        "rows": rows_of(song, items),
        "balance": row,
        "job": job,
        "working": job is not None and job.state in (Balance.WAITING, Balance.WORKING),
        "ends": list(zip(ENDS, row.volumes, strict=False)) if row else [],
        "cuts": LOW_CUTS_HZ,
        "problem": problem,
    }
    return render(request, "comp/balance.html", context, status=422 if problem else 200)


@require_safe
def balance_audio(request: Request, part_id: int, end: str) -> HttpResponseBase:
    """Serve the balance before or after."""
    row = Balance.objects.filter(song=part_of(request, part_id).song_id).first()
    if row is None or end not in ENDS:
        raise Http404
    return ranged(request, getattr(row, end))
