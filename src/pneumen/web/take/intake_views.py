"""Takes coming in: files, many at once, a watched folder, the stand-in; and how far they are measured."""

from collections.abc import Sequence

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe
from django_htmx.http import HttpResponseClientRedirect, HttpResponseClientRefresh

from pneumen.core.errors import PneumenError
from pneumen.web.part.models import Part
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of, with_part
from pneumen.web.take import services
from pneumen.web.take.many import TakenIn, section_for, take_in_many
from pneumen.web.take.models import Take
from pneumen.web.take.passes import cut_into_passes
from pneumen.web.take.stand import stand_of
from pneumen.web.take.views import UPLOAD_LIMIT, take_of, takes_context
from pneumen.web.take.watch import unwatch, watch_folder
from pneumen.wording.language import _
from pneumen.wording.log import many_told


@require_POST
@with_part
def upload(request: Request, part: Part) -> HttpResponse:
    """Take in one recording of this part, or many, each with the part its name tells of."""
    sent = [(file.name or "take", file) for name in ("recording", "folder") for file in request.FILES.getlist(name)]
    if not sent:
        return _refused(request, part, _("Choose a file first: WAV, AIFF, FLAC, or what a phone records."))
    if len(sent) > 1:
        return _many_shown(request, part, take_in_many(part, sent))
    name, file = sent[0]
    try:
        take = services.take_in_upload(part, name, file, section_for(name, part))
    except PneumenError as error:
        return _refused(request, part, f"{name}: {error}.")
    return _shown(request, part, take)


def _many_shown(request: Request, part: Part, found: Sequence[TakenIn]) -> HttpResponse:
    """Say what became of each file; the log shows how far they are measured."""
    level = messages.warning if any(one.problem for one in found) else messages.success
    level(request, many_told([(one.name, one.take.part.name if one.take else None, one.problem) for one in found]))
    address = reverse("take:log", args=[part.pk])
    return HttpResponseClientRedirect(address) if request.htmx else redirect(address)


def _refused(request: Request, part: Part, reason: str) -> HttpResponse:
    if request.htmx:
        return render(request, "take/page.html#upload", {"part": part, "error": reason} | UPLOAD_LIMIT)
    return render(request, "take/page.html", takes_context(part) | {"error": reason}, status=422)


def _shown(request: Request, part: Part, take: Take) -> HttpResponse:
    address = f"{reverse('take:page', args=[part.pk])}?take={take.number}"
    if request.htmx:
        return HttpResponseClientRedirect(address)
    return redirect(address)


@require_POST
@with_part
def simulated(request: Request, part: Part) -> HttpResponse:
    return _shown(request, part, services.play_simulated(part, whole="whole" in request.POST))


@require_POST
@with_part
def passes(request: Request, part: Part, number: int) -> HttpResponse:
    """Make a take of each pass that a take's file holds."""
    take = take_of(part, number)
    take.part = part
    try:
        made = cut_into_passes(take)
    except PneumenError as error:
        context = takes_context(part, str(number)) | {"problem": _("The {error}.").format(error=error)}
        return render(request, "take/page.html", context, status=422)
    messages.success(
        request,
        _("Takes {number} to {number_2} are its passes; the whole file is still take {number_3}.").format(
            number=made[0].number, number_2=made[-1].number, number_3=number
        ),
    )
    return redirect("take:log", part_id=part.pk)


@require_safe
@with_part
def stand(request: Request, part: Part) -> HttpResponse:
    template = "take/stand.html#last" if request.htmx else "take/stand.html"
    return render(request, template, {"part": part, "stand": stand_of(part)})


@require_POST
@with_part
def watch(request: Request, part: Part) -> HttpResponse:
    """Have a folder watched for this part, or end that."""
    path = request.POST.get("path", "")
    try:
        if "stop" in request.POST:
            unwatch(part)
        else:
            watch_folder(part, path)
    except PneumenError as error:
        context = takes_context(part) | {"watch_problem": _("The {error}.").format(error=error), "watch_path": path}
        return render(request, "take/page.html", context, status=422)
    return redirect(f"{reverse('take:page', args=[part.pk])}#watch")


@require_safe
def status(request: Request, part_id: int, number: int) -> HttpResponse:
    """Tell how far the measuring is; once it is over, have the page loaded anew."""
    part = part_of(request, part_id)
    take = take_of(part, number)
    if take.status in (Take.DONE, Take.FAILED):
        return HttpResponseClientRefresh()
    return render(request, "take/page.html#progress", {"part": part, "chosen": take})
