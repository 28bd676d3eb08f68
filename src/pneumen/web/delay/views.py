"""The Delay screen, what was seen of lost buffers, and the way round."""

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST, require_safe

from pneumen.core.delay import test_signal
from pneumen.core.errors import PneumenError
from pneumen.web.audio.answers import wav_answer
from pneumen.web.delay import services
from pneumen.web.delay.forms import DelayForm, LoopForm, SeenForm
from pneumen.web.delay.models import THROUGH
from pneumen.web.delay.show import DelayScreen, delay_screen
from pneumen.web.part.models import Part
from pneumen.web.reading import whole
from pneumen.web.screen import Changes, Screen
from pneumen.web.site.requests import Request
from pneumen.web.song.views import with_part
from pneumen.wording.delay import CLIPS
from pneumen.wording.language import _
from pneumen.wording.refusals import refusal


class DelayView(Screen[DelayScreen]):
    slug = "delay"
    form_class = DelayForm

    def shown(self, part: Part, screen: DelayScreen) -> Changes:
        song = part.song
        buffer = screen.plan.buffer if screen.plan else 0
        return {"buffer": buffer, "load": song.load, "plugins": song.plugin_samples, "own": screen.own}

    def present(self, part: Part, changes: Changes) -> DelayScreen:
        return delay_screen(part, changes.get("buffer"))

    def keep(self, part: Part, changes: Changes) -> None:
        services.keep(part, changes)

    def more(self, part: Part, screen: DelayScreen) -> dict[str, object]:
        buffer = f"{screen.plan.buffer}" if screen.plan else ""
        seen = SeenForm(shown={"buffer": buffer, "what": "held", "minutes": 10})
        return {"seen_form": seen, "loop_form": LoopForm(shown={"through": THROUGH[0]})}


@require_POST
@with_part
def planned(request: Request, part: Part) -> HttpResponse:
    services.plan_again(part)
    return redirect("delay:page", part_id=part.pk)


@require_POST
@with_part
def seen(request: Request, part: Part) -> HttpResponse:
    """Keep what was seen at a buffer, or take it back."""
    try:
        if "remove" in request.POST:
            services.remove_seen(part, whole(request.POST, "remove"))
        else:
            form = SeenForm(request.POST)
            if form.is_valid():
                crackled = form.cleaned_data["what"] == "crackled"
                minutes = 0.0 if crackled else form.cleaned_data["minutes"] or 0.0
                services.add_seen(part, whole(request.POST, "buffer"), crackled=crackled, minutes=minutes)
            else:
                messages.error(request, form.problem)
    except PneumenError as error:
        messages.error(request, refusal(error))
    return redirect("delay:page", part_id=part.pk)


@require_POST
@with_part
def loop(request: Request, part: Part) -> HttpResponse:
    """Measure the way round from a file, let the stand-in do it, or forget what was measured."""
    file = request.FILES.get("recording")
    try:
        if "forget" in request.POST:
            services.forget_loops(part)
        elif "simulate" in request.POST:
            services.simulated_loop(part)
        elif file is None:
            messages.error(request, _("Choose the recording of the test file first: WAV, AIFF or FLAC."))
        elif services.measure_loop(part, file, request.POST.get("through", THROUGH[0])):
            messages.warning(request, CLIPS.format(file=file.name))
    except PneumenError as error:
        messages.error(request, f"{file.name}: {refusal(error)}" if file else refusal(error))
    return redirect("delay:page", part_id=part.pk)


@require_safe
@with_part
def test_file(request: Request, part: Part) -> HttpResponse:
    """The file to send round, at the song's rate."""
    rate_hz = part.song.sample_rate_hz
    return wav_answer(test_signal(rate_hz), rate_hz, f"pneumen-way-round-{rate_hz}.wav")
