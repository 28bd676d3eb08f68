"""The Part screen: sections as the song's shape, and the acts on them."""

from contextlib import suppress
from typing import Any

from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from pneumen.core.errors import PneumenError
from pneumen.web.part import services
from pneumen.web.part.forms import OF_SECTION, BackingForm, PartForm
from pneumen.web.part.models import Backing, Part
from pneumen.web.part.show import PartScreen, part_screen
from pneumen.web.reading import whole
from pneumen.web.screen import Changes, Screen
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of
from pneumen.wording.language import _
from pneumen.wording.refusals import refusal


class PartView(Screen[PartScreen]):
    slug = "part"
    form_class = PartForm

    def form(self, part: Part, data: QueryDict | None = None, screen: PartScreen | None = None) -> PartForm:
        shown = self.shown(part, screen) if screen else None
        return PartForm(data, shown=shown, sections=list(part.sections.all()))

    def shown(self, part: Part, screen: PartScreen) -> Changes:
        rows = part.sections.all()
        sections = {f"{name}-{row.pk}": getattr(row, field) for row in rows for name, field in OF_SECTION.items()}
        return sections | {"role": part.role, "doubles": part.doubles, "session": part.session}

    def present(self, part: Part, changes: Changes) -> PartScreen:
        """Show the part, with other sections in place of those stored where some are tried out."""
        services.set_sections(part.sections.all(), _of_sections(changes))
        return part_screen(part, tried=bool(changes))

    def keep(self, part: Part, changes: Changes) -> None:
        options = {name: changes[name] for name in ("role", "doubles", "session") if name in changes}
        services.keep(part, _of_sections(changes), options)

    def more(self, part: Part, screen: PartScreen) -> dict[str, Any]:
        return {"backing_form": BackingForm.of(screen.backing)}


def _of_sections(changes: Changes) -> dict[int, dict[str, object]]:
    """Return what was changed of each section, by its id."""
    found: dict[int, dict[str, object]] = {}
    for name, value in changes.items():
        field, _rest, pk = name.partition("-")
        if pk:
            found.setdefault(int(pk), {})[OF_SECTION[field]] = value
    return found


@require_POST
def add(request: Request, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    try:
        if "usual" in request.POST:
            services.add_usual(part)
        else:
            services.add(part, request.POST.get("own", "").strip() or request.POST.get("name", ""))
    except PneumenError as error:
        messages.error(request, refusal(error))
    return redirect("part:page", part_id=part.pk)


@require_POST
def move(request: Request, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    with suppress(PneumenError):
        services.move(part, whole(request.POST, "section"), -1 if "up" in request.POST else 1)
    return redirect("part:page", part_id=part.pk)


@require_POST
def remove(request: Request, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    with suppress(PneumenError):
        services.remove(part, whole(request.POST, "section"))
    return redirect("part:page", part_id=part.pk)


@require_POST
def backing(request: Request, part_id: int) -> HttpResponse:
    """Take in a backing track, or take it away."""
    part, file = part_of(request, part_id), request.FILES.get("backing")
    if "away" in request.POST:
        services.remove_backing(part.song)
    elif file is None:
        messages.error(request, _("Choose a file first: WAV, AIFF, FLAC, Ogg or MP3."))
    else:
        try:
            services.take_in_backing(part.song, file.name or "backing", file)
        except PneumenError as error:
            messages.error(request, f"{file.name}: {error}.")
    return redirect("part:page", part_id=part.pk)


@require_POST
def keep_backing(request: Request, part_id: int) -> HttpResponse:
    """Store the tempo and time zero as typed."""
    part = part_of(request, part_id)
    row = get_object_or_404(Backing.objects.mine(request.user), song=part.song)
    form = BackingForm(request.POST)
    if form.is_valid():
        try:
            tempo_bpm, zero_s = form.changes.get("tempo", row.tempo_bpm), form.changes.get("zero", row.zero_s)
            services.keep_backing(row, tempo_bpm=tempo_bpm, zero_s=zero_s)
        except PneumenError as error:
            form.refuse(error)
    if form.errors:
        return PartView.of(request).page(part_of(request, part_id), problem=form.problem, backing_form=form)
    return redirect("part:page", part_id=part_id)
