"""The Gain screen, and the presses beside it: apply an advice, go back to planned, pin."""

from contextlib import suppress
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pneumen.core.errors import PneumenError
from pneumen.core.gain import own_school, school_named
from pneumen.core.part import USUAL_VOLUME
from pneumen.core.take import test_sound
from pneumen.web.audio.answers import wav_answer
from pneumen.web.gain import services
from pneumen.web.gain.forms import ActionForm, GainForm
from pneumen.web.gain.knob_map import (
    add_reading,
    forget_map,
    knob_map_screen,
    know_level,
    remove_reading,
    simulate_readings,
)
from pneumen.web.gain.setting import compressor_from, setting_screen, usual_compressor
from pneumen.web.gain.show import GainScreen, gain_screen
from pneumen.web.gain.turn import share_turned
from pneumen.web.part.models import Part
from pneumen.web.reading import number_of, whole
from pneumen.web.screen import Changes, Screen
from pneumen.web.site.requests import Request
from pneumen.web.song.views import with_part
from pneumen.wording.figures import figure
from pneumen.wording.knob import FULL_SCALE
from pneumen.wording.language import _
from pneumen.wording.refusals import refusal
from pneumen.wording.setting import BAKED, DRY, NEVER_CURES


class GainView(Screen[GainScreen]):
    slug = "gain"
    form_class = GainForm

    def template(self) -> str:
        return "gain/stand.html" if "stand" in self.request.GET else "gain/page.html"

    def shown(self, part: Part, screen: GainScreen) -> Changes:
        knob = screen.knob
        school = screen.school
        window = {"own_low": school.low_dbfs, "own_high": school.high_dbfs}
        volume = USUAL_VOLUME if part.own_volume is None else part.own_volume
        before = {"own_volume": 100 * volume, "pedal": part.pedal_db, "mixer": part.mixer_db}
        return {
            **before,
            "distance": screen.distance_m,
            knob.field: knob.value,
            "school": school.slug,
            **window,
        }

    def present(self, part: Part, changes: Changes) -> GainScreen:
        services.set_before(part, **_before(changes))
        values = _values(part, changes)
        services.check(part, **values)
        return gain_screen(part, **values)

    def keep(self, part: Part, changes: Changes) -> None:
        if before := _before(changes):
            services.keep_before(part, **before)
        services.keep(part, **_values(part, changes))


def _before(changes: Changes) -> dict[str, float]:
    """Return what was changed of what stands before the interface, as the part has it."""
    found = {f"{name}_db": changes[name] for name in ("pedal", "mixer") if name in changes}
    return found | ({"own_volume": changes["own_volume"] / 100} if "own_volume" in changes else {})


def _values(part: Part, changes: Changes) -> dict[str, Any]:
    """Return what was changed as the core has it."""
    share = share_turned(changes)
    gain_db = changes.get("gain") if share is None else part.to_chain().knob.gain_at(share)
    distance_m = None if part.is_plugged else changes.get("distance")
    return {"distance_m": distance_m, "gain_db": gain_db, "school": _school(part, changes)}


def _school(part: Part, changes: Changes) -> str | None:
    """Return the target that was chosen, or a window of one's own where its bounds were typed."""
    if "own_low" not in changes and "own_high" not in changes:
        return changes.get("school")
    now = school_named(changes.get("school", part.school))
    return own_school(changes.get("own_low", now.low_dbfs), changes.get("own_high", now.high_dbfs)).slug


@require_POST
@with_part
def apply(request: Request, part: Part) -> HttpResponse:
    # A button pressed twice, or on a page gone stale, changes nothing: the page shows how things stand now.
    form = ActionForm(request.POST)
    if form.is_valid():
        with suppress(PneumenError):
            services.apply_action(part, **form.action)
    place = {"take": "take:page", "place": "place:page"}.get(request.POST.get("next", ""), "gain:page")
    return redirect(place, part_id=part.pk)


@require_POST
@with_part
def planned(request: Request, part: Part) -> HttpResponse:
    """Let a value set by hand go back to planned."""
    what = request.POST.get("what", "")
    services.plan_again(part, what)
    place = {"gain": "gain:page", "place": "place:page", "stand": "room:page"}.get(request.POST.get("next", ""))
    return redirect(place or "gain:page", part_id=part.pk)


@require_POST
@with_part
def pin(request: Request, part: Part) -> HttpResponse:
    services.pin(part)
    return redirect("gain:page", part_id=part.pk)


@require_http_methods(["GET", "HEAD", "POST"])
@with_part
def knob(request: Request, part: Part) -> HttpResponse:
    """The map of one's own knob: its readings, added one by one, taken back, or read by the stand-in."""
    if request.method == "POST":
        return _change_map(request, part)
    try:
        screen = knob_map_screen(part)
    except PneumenError as error:
        messages.error(request, refusal(error))
        return redirect("gain:page", part_id=part.pk)
    return render(request, "gain/knob_map.html", {"part": part, "screen": screen})


def _change_map(request: Request, part: Part) -> HttpResponse:
    file = request.FILES.get("recording")
    try:
        if "remove" in request.POST:
            remove_reading(part, whole(request.POST, "remove"))
        elif "simulate" in request.POST:
            simulate_readings(part)
        elif "forget" in request.POST:
            forget_map(part)
        elif "known" in request.POST:
            known_dbu = number_of(request.POST.get("dbu", ""), "level")
            takes_dbu = know_level(part, whole(request.POST, "known"), known_dbu)
            messages.success(request, FULL_SCALE.format(dbu=figure(takes_dbu, 1, sign=True)))
        elif file is None:
            messages.error(request, _("Choose a recording of the test sound first: WAV, AIFF or FLAC."))
        else:
            add_reading(part, number_of(request.POST.get("share", ""), "share"), file)
    except PneumenError as error:
        messages.error(request, f"{file.name}: {refusal(error)}" if file else refusal(error))
    return redirect("gain:knob", part_id=part.pk)


@require_safe
@with_part
def setting(request: Request, part: Part) -> HttpResponse:
    """Setting the control step by step; a compressor may be asked about."""
    compressor, problem = usual_compressor(part), ""
    try:
        compressor = compressor_from(request.GET, compressor)
    except PneumenError as error:
        problem = refusal(error)
    typed = {
        "ratio": request.GET.get("ratio") or f"{compressor.ratio:g}",
        "threshold": request.GET.get("threshold") or figure(compressor.threshold_dbfs),
    }
    context = {"part": part, "screen": setting_screen(part, compressor), "typed": typed, "problem": problem}
    context |= {"dry": DRY, "baked": BAKED, "never": NEVER_CURES}
    return render(request, "gain/setting.html", context, status=422 if problem else 200)


@require_safe
@with_part
def knob_sound(request: Request, part: Part) -> HttpResponse:
    """The steady sound that is recorded at each position."""
    rate_hz = part.song.sample_rate_hz
    return wav_answer(test_sound(rate_hz), rate_hz, f"pneumen-steady-{rate_hz}.wav")
