"""The Hookup screen: page, choices at the joints, and the ticks of the checklist."""

from typing import Any

from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from pneumen.core.errors import PneumenError
from pneumen.web.hookup import services
from pneumen.web.hookup.cue import CueForm, cue_screen, mix_from
from pneumen.web.hookup.forms import JointForm, choice_from
from pneumen.web.hookup.heard import recorded_in
from pneumen.web.hookup.search import after_recording, search_screen
from pneumen.web.hookup.show import HookupScreen, hookup_screen
from pneumen.web.part.models import Part
from pneumen.web.screen import Changes, Screen
from pneumen.web.settle import outcome_of
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of, with_part
from pneumen.wording.language import _
from pneumen.wording.refusals import refusal

MOST_LETTERS = 300
MOST_ADDRESS = 4000


class HookupView(Screen[HookupScreen]):
    slug = "hookup"
    form_class = JointForm

    def shown(self, part: Part, screen: HookupScreen) -> Changes:
        return {}

    def present(self, part: Part, changes: Changes) -> HookupScreen:
        return hookup_screen(part, choice_from(changes))

    def more(self, part: Part, screen: HookupScreen) -> dict[str, Any]:
        return {"cue": cue_screen(part, outcome_of(part))}

    def keep(self, part: Part, changes: Changes) -> None:
        choice = choice_from(changes)
        if choice is not None:
            services.choose(part, choice)

    def stored(self, part: Part, changes: Changes) -> Part:
        """Return the part; a choice about the chain alone leaves its rows, and all worked out of them, as they were."""
        if services.is_about_chain_alone(changes.get("what", "")):
            return part
        return super().stored(part, changes)


@require_safe
@with_part
def search(request: Request, part: Part) -> HttpResponse:
    try:
        screen, problem = search_screen(part, request.GET), ""
    except PneumenError as error:
        screen, problem = search_screen(part, QueryDict()), refusal(error)
    context = {"part": part, "screen": screen, "problem": problem}
    return render(request, "hookup/search.html", context, status=422 if problem else 200)


@require_POST
@with_part
def heard(request: Request, part: Part) -> HttpResponse:
    """Let a short recording answer in the search, and go on from there."""
    file, said = request.FILES.get("recording"), QueryDict(request.POST.get("said", "")[:MOST_ADDRESS].lstrip("?"))
    here = reverse("hookup:search", args=[part.pk])
    if file is None:
        messages.error(request, _("Choose a recording of five seconds first: WAV, AIFF, FLAC, Ogg or MP3."))
        return redirect(f"{here}?{said.urlencode()}")
    try:
        return redirect(here + after_recording(part, said, recorded_in(file)))
    except PneumenError as error:
        messages.error(request, f"{file.name}: {refusal(error)}")
        return redirect(f"{here}?{said.urlencode()}")


@require_safe
@with_part
def sheet(request: Request, part: Part) -> HttpResponse:
    """The checklist and the cables on paper."""
    return render(request, "hookup/sheet.html", {"part": part, "screen": hookup_screen(part)})


@require_POST
@with_part
def cue(request: Request, part: Part) -> HttpResponse:
    form, problem = CueForm(request.POST), ""
    if form.is_valid():
        try:
            services.keep_mix(part, mix_from(services.mix_of(part), form.changes))
        except PneumenError as error:
            problem = refusal(error)
    if not request.htmx and not problem:
        return redirect("hookup:page", part_id=part.pk)
    part = part_of(request, part.pk)  # as it is stored now
    card = cue_screen(part, outcome_of(part))
    if request.htmx:
        return render(request, "hookup/cue.html", {"part": part, "cue": card, "cue_problem": problem})
    return HookupView.of(request).page(part, problem=problem, cue_problem=problem)


@require_POST
@with_part
def forget(request: Request, part: Part) -> HttpResponse:
    services.forget(part, request.POST.get("what", ""), request.POST.get("at", ""))
    return redirect("hookup:page", part_id=part.pk)


@require_POST
@with_part
def tick(request: Request, part: Part) -> HttpResponse:
    services.tick(part, request.POST.get("step", "")[:MOST_LETTERS], done=bool(request.POST.get("done")))
    if request.htmx:
        return HttpResponse(status=204)
    return redirect("hookup:page", part_id=part.pk)
