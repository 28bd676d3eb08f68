"""The manifest: what goes, the package, and what was sent."""

from django.http import FileResponse, Http404, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.views.decorators.http import require_POST, require_safe
from django_htmx.http import HttpResponseClientRefresh

from pneumen.core.errors import PneumenError
from pneumen.web.part.models import Part
from pneumen.web.send.items import items_of, keep_items, keep_plan, length_of_song, parts_of, plan_of_song
from pneumen.web.send.models import Delivery
from pneumen.web.send.services import TOGETHER, make_package, remove_package, zip_of
from pneumen.web.send.show import send_screen
from pneumen.web.site.requests import Request
from pneumen.web.site.space import even_when_full
from pneumen.web.song.views import part_of, with_part
from pneumen.web.take.views import ranged_file
from pneumen.wording.language import _


@require_safe
@with_part
def page(request: Request, part: Part) -> HttpResponse:
    return render(request, "send/page.html", {"part": part, "screen": send_screen(part)})


def _refused(request: Request, part: Part, error: PneumenError) -> HttpResponse:
    part = part_of(request, part.pk)
    context = {"part": part, "screen": send_screen(part), "problem": _("The {error}.").format(error=error)}
    return render(request, "send/page.html", context, status=422)


@require_POST
@with_part
def plan(request: Request, part: Part) -> HttpResponse:
    """Keep how the song is sent, and which files go; or make the package of them right away."""
    song = part.song
    try:
        kept = keep_plan(song, request.POST)
        parts = parts_of(song)
        keep_items(song, items_of(song, parts, kept), request.POST)
        if "make" in request.POST:
            _make(part)
    except PneumenError as error:
        return _refused(request, part, error)
    return redirect("send:page", part_id=part.pk)


@require_POST
@with_part
def make(request: Request, part: Part) -> HttpResponse:
    """Have the package made of what goes as it was kept."""
    try:
        _make(part)
    except PneumenError as error:
        return _refused(request, part, error)
    return redirect("send:page", part_id=part.pk)


def _make(part: Part) -> Delivery:
    song, parts, kept = part.song, parts_of(part.song), plan_of_song(part.song)
    return make_package(song, kept, items_of(song, parts, kept), length_of_song(song, parts))


def _delivery_of(request: Request, part_id: int, number: int) -> Delivery:
    return get_object_or_404(part_of(request, part_id).song.deliveries, number=number)


@require_safe
def status(request: Request, part_id: int, number: int) -> HttpResponse:
    """Tell how far the package is; once it is there, have the page loaded anew."""
    row = _delivery_of(request, part_id, number)
    if row.status in (Delivery.DONE, Delivery.FAILED):
        return HttpResponseClientRefresh()
    return render(request, "send/progress.html", {"part": request.part, "row": row})


@require_safe
def archive(request: Request, part_id: int, number: int) -> HttpResponseBase:
    """Send the package as one file."""
    row = _delivery_of(request, part_id, number)
    path = zip_of(row)
    if not path.is_file():
        raise Http404
    name = f"{slugify(row.pack['song']) or 'song'}-{row.number}.zip"
    return FileResponse(path.open("rb"), as_attachment=True, filename=name)


@require_safe
def together(request: Request, part_id: int, number: int) -> HttpResponseBase:
    """Play all files of a package at once, as they lie at the start of an empty project."""
    path = _delivery_of(request, part_id, number).folder / TOGETHER
    if not path.is_file():
        raise Http404
    return ranged_file(request, path, "audio/wav")


@require_POST
def remove(request: Request, part_id: int, number: int) -> HttpResponse:
    """Remove a package's files; the history keeps that it was made."""
    row = _delivery_of(request, part_id, number)
    even_when_full(lambda: remove_package(row))
    return redirect("song:space") if "from_space" in request.POST else redirect("send:page", part_id=part_id)


@require_safe
@with_part
def sheet(request: Request, part: Part) -> HttpResponse:
    """The sheet to print that goes with a package."""
    return render(request, "send/sheet.html", {"part": part, "screen": send_screen(part)})
