"""The Part screen: sections as the song's shape; trying out stores nothing, keeping does."""

from contextlib import suppress

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from pneumen.core.errors import PneumenError
from pneumen.core.part import Section
from pneumen.web.frame import thread
from pneumen.web.part import services
from pneumen.web.part.models import Backing, Part
from pneumen.web.part.show import part_screen
from pneumen.web.reading import number, whole
from pneumen.web.song.views import part_of


@require_GET
def page(request: HttpRequest, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    return render(request, "part/page.html", {"part": part, "screen": part_screen(part), "problem": ""})


@require_GET
def tried(request: HttpRequest, part_id: int) -> HttpResponse:
    """Show what other sections would make of the part, without storing them: what a drag asks for."""
    part, problem, sections = part_of(request, part_id), "", {}
    try:
        sections = {key: typed.section for key, typed in _typed(part, request.GET).items()}
    except PneumenError as error:
        problem = f"{str(error).capitalize()}."
    return render(request, "part/live.html", _live(part, sections, problem))


@require_POST
def keep(request: HttpRequest, part_id: int) -> HttpResponse:
    part, problem = part_of(request, part_id), ""
    try:
        options = {
            "role": request.POST.get("role", part.role),
            "doubles": number(request.POST, "doubles", part.doubles),
            "session": number(request.POST, "session", part.session),
        }
        services.keep(part, _typed(part, request.POST), options)
    except PneumenError as error:
        problem = f"{str(error).capitalize()}."
    if request.htmx:
        return render(request, "part/live.html", _live(part, {}, problem) | thread(part, "part"))
    if problem:
        context = {"part": part, "screen": part_screen(part), "problem": problem, "typed": request.POST}
        return render(request, "part/page.html", context, status=422)
    return redirect("part:page", part_id=part.pk)


@require_POST
def add(request: HttpRequest, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    try:
        if "usual" in request.POST:
            services.add_usual(part)
        else:
            services.add(part, request.POST.get("own", "").strip() or request.POST.get("name", ""))
    except PneumenError as error:
        messages.error(request, f"{str(error).capitalize()}.")
    return redirect("part:page", part_id=part.pk)


@require_POST
def move(request: HttpRequest, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    with suppress(PneumenError):
        services.move(part, whole(request.POST, "section"), -1 if "up" in request.POST else 1)
    return redirect("part:page", part_id=part.pk)


@require_POST
def remove(request: HttpRequest, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    with suppress(PneumenError):
        services.remove(part, whole(request.POST, "section"))
    return redirect("part:page", part_id=part.pk)


@require_POST
def backing(request: HttpRequest, part_id: int) -> HttpResponse:
    """Take in a backing track, or take it away."""
    part, file = part_of(request, part_id), request.FILES.get("backing")
    if "away" in request.POST:
        services.remove_backing(part.song)
    elif file is None:
        messages.error(request, "Choose a file first: WAV, AIFF, FLAC, Ogg or MP3.")
    else:
        try:
            services.take_in_backing(part.song, file.name, file.chunks())
        except PneumenError as error:
            messages.error(request, f"{file.name}: {error}.")
    return redirect("part:page", part_id=part.pk)


@require_POST
def keep_backing(request: HttpRequest, part_id: int) -> HttpResponse:
    """Store the tempo and time zero as typed."""
    part = part_of(request, part_id)
    row = get_object_or_404(Backing.objects.mine(request.user), song=part.song)
    try:
        typed = request.POST.get("tempo", "").strip()
        tempo_bpm = number(request.POST, "tempo") if typed else None
        services.keep_backing(row, tempo_bpm=tempo_bpm, zero_s=number(request.POST, "zero", 0.0))
    except PneumenError as error:
        messages.error(request, f"{str(error).capitalize()}.")
    return redirect("part:page", part_id=part.pk)


def _typed(part: Part, data: QueryDict) -> dict[int, services.Typed]:
    """Read the sections as they were typed; what is not among the fields stays as it is."""
    typed = {}
    for row in part.sections.all():
        if f"loud-{row.pk}" in data:
            section = Section(
                name=data.get(f"name-{row.pk}", row.name),
                bars=whole(data, f"bars-{row.pk}", row.bars),
                loudness_db=number(data, f"loud-{row.pk}", 0.0),
            )
            typed[row.pk] = services.Typed(section=section, words=data.get(f"words-{row.pk}", row.words))
    return typed


def _live(part: Part, sections: dict[int, Section], problem: str) -> dict[str, object]:
    part.__dict__.pop("core_sections", None)
    return {"part": part, "screen": part_screen(part, sections), "live": True, "problem": problem}
