"""The Takes screen: upload or simulate, watch the measuring, listen, correct."""

import re
from collections.abc import Mapping
from functools import partial
from pathlib import Path
from types import MappingProxyType

from django.conf import settings
from django.db import transaction
from django.http import FileResponse, Http404, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from pneumen.core.errors import PneumenError
from pneumen.core.take import preflight
from pneumen.web.audio.models import AudioFile
from pneumen.web.delay.plan import delay_of
from pneumen.web.job.services import try_again
from pneumen.web.part.models import Part
from pneumen.web.reading import number_in
from pneumen.web.site.middleware import too_large
from pneumen.web.site.requests import Request
from pneumen.web.site.space import even_when_full, free_bytes
from pneumen.web.song.views import part_of, told_with_undo, with_part
from pneumen.web.take import services
from pneumen.web.take.forms import RecordedForm
from pneumen.web.take.lessons import DOUBTS, set_aside, tell_of
from pneumen.web.take.log_show import judgement_of
from pneumen.web.take.models import Lesson, Take
from pneumen.web.take.passes import passes_of
from pneumen.web.take.show import take_screen
from pneumen.web.take.stand_in import lines_of
from pneumen.web.take.strip import span_of
from pneumen.web.take.watch import told_of
from pneumen.wording.language import _
from pneumen.wording.preflight import preflight_told

CHUNK = 1 << 16
LISTED = 12
"""So many of the newest takes stand beside the strip; the log has them all."""
BYTES_A_SAMPLE = 3
"""24 bits."""
UPLOAD_LIMIT = {"most_bytes": settings.MOST_UPLOAD_BYTES, "too_large": too_large()}


@require_safe
@with_part
def page(request: Request, part: Part) -> HttpResponse:
    return render(request, "take/page.html", takes_context(part, request.GET.get("take"), asked=request.GET))


def takes_context(
    part: Part,
    number: str | None = None,
    form: RecordedForm | None = None,
    asked: Mapping[str, str] = MappingProxyType({}),
) -> dict[str, object]:
    takes = list(part.takes.for_log().reverse().prefetch_related("jobs")[:LISTED])
    chosen = _chosen(part, number)
    # Its job may have ended since the takes were read: what was not measured then is still being measured here.
    screen = None
    if chosen and chosen.measurement:
        screen = take_screen(part, chosen, form, span_of(chosen, asked.get("from", ""), asked.get("to", "")))
    judgement = judgement_of(part, chosen) if screen and chosen else None
    return {
        "part": part,
        "takes": takes,
        "chosen": chosen,
        "screen": screen,
        "judgement": judgement,
        "passes": passes_of(chosen) if chosen is not None and screen is not None else (),
        "watched": told_of(part),
        "preflight": _preflight(part),
        "lines": lines_of(part),
    } | UPLOAD_LIMIT


def _preflight(part: Part) -> tuple[str, ...]:
    checks = preflight(part.source_facts, plugged=part.is_plugged, recorder=delay_of(part) is None)
    return preflight_told(checks, free_bytes(), part.song.sample_rate_hz * BYTES_A_SAMPLE)


def _chosen(part: Part, number: str | None) -> Take | None:
    """Return the take with a number, or else the newest; None where there is none."""
    rows = part.takes.select_related("audio", "sitting").prefetch_related("jobs")
    wanted = number_in(number or "")
    take = (None if wanted is None else rows.filter(number=wanted).first()) or rows.first()
    if take is not None:
        take.part = part
    return take


def take_of(part: Part, number: int) -> Take:
    return get_object_or_404(part.takes, number=number)


@require_safe
def audio(request: Request, part_id: int, number: int) -> HttpResponseBase:
    """Serve a take to listen to, from any point: answers range requests."""
    take = take_of(part_of(request, part_id), number)
    return ranged(request, take.preview or take.audio)


def ranged(request: Request, audio: AudioFile | None) -> HttpResponseBase:
    """Answer with a recording, from the byte that was asked for."""
    if audio is None or not audio.path.exists():
        raise Http404
    return ranged_file(request, audio.path, audio.content_type or "audio/wav")


def ranged_file(request: Request, path: Path, content_type: str) -> HttpResponseBase:
    """Answer with a file, from the byte that was asked for."""
    size = path.stat().st_size
    wanted = re.fullmatch(r"bytes=([0-9]{0,18})-([0-9]{0,18})", request.headers.get("Range", ""))
    if not wanted or not any(wanted.groups()):
        whole = FileResponse(path.open("rb"), content_type=content_type)
        whole["Accept-Ranges"] = "bytes"
        return whole
    first, last = wanted.groups()
    start = int(first) if first else max(size - int(last), 0)
    stop = min(int(last) + 1, size) if first and last else size
    if start >= size or stop <= start:
        return HttpResponse(status=416, headers={"Content-Range": _("bytes */{size}").format(size=size)})
    headers = {
        "Content-Range": _("bytes {start}-{stop}/{size}").format(start=start, stop=stop - 1, size=size),
        "Content-Length": str(stop - start),
        "Accept-Ranges": "bytes",
    }
    return StreamingHttpResponse(_slice(path, start, stop), status=206, content_type=content_type, headers=headers)


def _slice(path: Path, start: int, stop: int):  # noqa: ANN202 - an iterator of bytes
    with path.open("rb") as file:
        file.seek(start)
        while start < stop and (chunk := file.read(min(CHUNK, stop - start))):
            start += len(chunk)
            yield chunk


@require_POST
@with_part
def told(request: Request, part: Part, number: int) -> HttpResponse:
    """Take the answer to how a take was recorded, and learn from it."""
    take = take_of(part, number)
    if not take.measurement:
        raise Http404
    form = RecordedForm(take, request.POST)
    if form.is_valid():
        try:
            tell_of(take, trusted=[one for one in DOUBTS if one == request.POST.get("trust")], **form.told)
            return redirect(f"{reverse('take:page', args=[part.pk])}?take={number}")
        except PneumenError as error:
            form.refuse(error)
    context = takes_context(part, str(number), form)
    return render(request, "take/page.html", context | {"problem": form.problem}, status=422)


@require_POST
@with_part
def lesson(request: Request, part: Part, number: int) -> HttpResponse:
    """Undo what a take taught, or have it again."""
    found = get_object_or_404(Lesson, part=part, pk=number)
    set_aside(found, undone="undo" in request.POST)
    return redirect("take:learnt", part_id=part.pk)


@require_POST
def delete(request: Request, part_id: int, number: int) -> HttpResponse:
    part = part_of(request, part_id)
    even_when_full(partial(services.put_take_away, take_of(part, number)))
    told_with_undo(
        request, _("Take {number} was put away.").format(number=number), reverse("take:undo", args=[part.pk, number])
    )
    return redirect("take:page", part_id=part.pk)


@require_POST
@transaction.atomic
def again(request: Request, part_id: int, number: int) -> HttpResponse:
    """Measure a take anew that could not be measured."""
    part = part_of(request, part_id)
    try_again(take_of(part, number))
    return redirect(f"{reverse('take:page', args=[part.pk])}?take={number}")


@require_POST
def undo(request: Request, part_id: int, number: int) -> HttpResponse:
    part = part_of(request, part_id)
    services.bring_take_back(get_object_or_404(Take.everything.filter(part=part), number=number))
    return redirect("take:page", part_id=part.pk)
