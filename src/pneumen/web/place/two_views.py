"""The page of two microphones: everything tried is in its address; a pair can be kept for the part."""

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from pneumen.core.errors import PneumenError
from pneumen.core.gear import PATTERNS
from pneumen.core.place import PAIRS
from pneumen.web.fields import LengthField, NumberField, PickField, StepForm
from pneumen.web.part.models import Part
from pneumen.web.place import services
from pneumen.web.place.two import HOWS, Tried, two_screen, usual_trial
from pneumen.web.site.requests import Request
from pneumen.web.song.views import with_part
from pneumen.wording.language import _

FIELDS = {
    "sum": ("near_m", "far_m", "softer_db"),
    "sing": ("ahead_m", "below_m", "voice_m", "play_m", "louder_db", "pattern", "play_pattern"),
    "pair": ("kind", "pattern", "between_deg", "spacing_m", "away_m", "off_deg"),
}
"""What each way of using two microphones asks for."""


class TwoForm(StepForm):
    problem_id = "two-problem"
    remembers = False

    near_m = LengthField(_("The nearer"))
    far_m = LengthField(_("The farther"))
    softer_db = NumberField(_("Farther one softer"), unit="dB")
    ahead_m = LengthField(_("Instrument ahead"))
    below_m = LengthField(_("and below the mouth"))
    voice_m = LengthField(_("Microphone 1 to mouth"))
    play_m = LengthField(_("Microphone 2 to strings"))
    louder_db = NumberField(_("Voice louder by"), unit="dB", signed=True)
    kind = PickField("Kind", {slug: label for slug, (label, _rest) in PAIRS.items()})
    pattern = PickField("Pattern", {one: one for one in PATTERNS})
    play_pattern = PickField(_("Pattern of 2"), {one: one for one in PATTERNS})
    between_deg = NumberField(_("Between the axes"), unit="degrees")
    spacing_m = LengthField("Apart")
    away_m = LengthField(_("Source away"))
    off_deg = NumberField(_("Source off the middle"), unit="degrees", signed=True)

    def __init__(self, how: str, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields = {name: self.fields[name] for name in FIELDS[how]}
        if how == "sing":
            self.fields["pattern"].label = _("Pattern of 1")
        if how == "pair":
            self.fields["kind"].widget.attrs["data-reload"] = True

    def told(self, usual: Tried, was: str) -> Tried:
        """Return what is asked for; a kind of pair sets pattern, angle and spacing unless they came with it."""
        found = {name: value for name, value in self.cleaned_data.items() if value not in (None, "")}
        tried = replace(usual, **found)
        pair = PAIRS.get(tried.kind, PAIRS[usual.kind])[1]
        if tried.how != "pair" or (was == tried.kind and "between_deg" in found):
            return tried
        fresh: dict[str, Any] = {"between_deg": pair.between_deg, "spacing_m": pair.spacing_m, "pattern": pair.pattern}
        return replace(tried, **fresh)


@require_safe
@with_part
def two(request: Request, part: Part) -> HttpResponse:
    """Show one way of using two microphones with the values of the address; refused ones are told."""
    if part.is_plugged:
        return redirect("place:page", part_id=part.pk)
    how = request.GET.get("how", "sum")
    usual = replace(usual_trial(part), how=how if how in HOWS else "sum")
    asked = TwoForm(usual.how, request.GET)
    screen = None
    if asked.is_valid():
        try:
            screen = two_screen(part, asked.told(usual, _was(request.GET, usual)))
        except PneumenError as error:
            asked.refuse(error)
    screen = screen or two_screen(part, usual)
    shown = {name: getattr(screen.tried, name) for name in FIELDS[usual.how]}
    form = asked if asked.errors else TwoForm(usual.how, shown=shown)
    context = {"part": part, "screen": screen, "form": form, "problem": asked.problem, "live": bool(request.htmx)}
    page = "place/two_live.html" if request.htmx else "place/two.html"
    return render(request, page, context, status=422 if asked.errors and not request.htmx else 200)


@require_POST
@with_part
def pair(request: Request, part: Part) -> HttpResponse:
    """Record a part with the pair on the page, or with one microphone again."""
    if "mono" in request.POST:
        services.record_in_mono(part)
        return redirect("place:page", part_id=part.pk)
    form = TwoForm("pair", request.POST)
    try:
        if form.is_valid():
            values = form.cleaned_data
            services.keep_pair(part, between_deg=values["between_deg"], spacing_m=values["spacing_m"])
            return redirect("place:page", part_id=part.pk)
    except PneumenError as error:
        form.refuse(error)
    messages.error(request, form.problem)
    return redirect(f"{reverse('place:two', args=[part.pk])}?how=pair")


def _was(data: QueryDict, usual: Tried) -> str:
    """Return the kind of pair the page showed, of which the angle and spacing in the address are."""
    return data.get("was", data.get("kind", usual.kind))
