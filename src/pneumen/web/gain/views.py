"""The Gain screen, and the presses beside it: apply an advice, go back to planned, pin."""

from contextlib import suppress
from typing import Any

from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from pneumen.core.errors import PneumenError, require_within
from pneumen.core.gain import gain_at_share, own_school, school_named
from pneumen.web.gain import services
from pneumen.web.gain.forms import ActionForm, GainForm
from pneumen.web.gain.show import GainScreen, gain_screen
from pneumen.web.part.models import Part
from pneumen.web.screen import Changes, Screen
from pneumen.web.site.requests import Request
from pneumen.web.song.views import with_part


class GainView(Screen[GainScreen]):
    slug = "gain"
    form_class = GainForm

    def template(self) -> str:
        return "gain/stand.html" if "stand" in self.request.GET else "gain/page.html"

    def shown(self, part: Part, screen: GainScreen) -> Changes:
        knob = screen.knob
        school = screen.school
        window = {"own_low": school.low_dbfs, "own_high": school.high_dbfs}
        return {
            "distance": screen.distance_m,
            "gain": knob.value,
            "turn": knob.share,
            "school": school.slug,
            **window,
        }

    def present(self, part: Part, changes: Changes) -> GainScreen:
        values = _values(part, changes)
        services.check(part, **values)
        return gain_screen(part, **values)

    def keep(self, part: Part, changes: Changes) -> None:
        services.keep(part, **_values(part, changes))


def _values(part: Part, changes: Changes) -> dict[str, Any]:
    """Return what was changed as the core has it; a bare control is told as per cent of its turn."""
    gain_db = changes.get("gain")
    if "turn" in changes:
        require_within("turn", changes["turn"], 0, 100)
        gain_db = gain_at_share(changes["turn"] / 100, part.to_chain().gain_range_db)
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
