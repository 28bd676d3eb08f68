"""The blind trial's pages: set up, wait, hear, choose, see."""

from contextlib import suppress

from django.http import HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe
from django_htmx.http import HttpResponseClientRefresh

from pneumen.core.errors import PneumenError
from pneumen.web.part.models import Part
from pneumen.web.place import trials
from pneumen.web.place.models import Trial
from pneumen.web.place.trial_forms import SpotsForm
from pneumen.web.place.trial_show import COLUMNS, heard_of_trial
from pneumen.web.reading import whole
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of, with_part
from pneumen.web.take.views import ranged
from pneumen.wording.language import _


@require_safe
@with_part
def new(request: Request, part: Part) -> HttpResponse:
    if part.is_plugged:  # there is no microphone to move
        return redirect("place:page", part_id=part.pk)
    return render(request, "place/trial_new.html", {"part": part, "form": SpotsForm(trials.proposals_for(part))})


@require_POST
@with_part
def make(request: Request, part: Part) -> HttpResponse:
    """Start a trial: the stand-in plays, or recordings come with the form."""
    if part.is_plugged:
        return redirect("place:page", part_id=part.pk)
    form = SpotsForm(trials.proposals_for(part), request.POST)
    if form.is_valid():
        try:
            trial = _made(request, part, trials.spots_from(part, form.spots))
            if trial:
                return redirect("place:trial", part_id=part.pk, number=trial.number)
            form.add_error(None, _("Choose one recording with claps between, or one for each spot."))
        except PneumenError as error:
            form.refuse(error)
    return render(request, "place/trial_new.html", {"part": part, "form": form}, status=422)


def _made(request: Request, part: Part, spots: list[trials.Proposal]) -> Trial | None:
    if "simulate" in request.POST:
        return trials.play_trial(part, spots)
    sent = sorted(request.FILES.getlist("phrases"), key=lambda file: file.name or "")
    uploads = [(file.name or "phrase", file) for file in sent]
    return trials.take_in_trial(part, spots, uploads) if uploads else None


def trial_of(part: Part, number: int) -> Trial:
    return get_object_or_404(part.trials.select_related("chosen"), number=number)


@require_safe
@with_part
def show(request: Request, part: Part, number: int) -> HttpResponse:
    trial = trial_of(part, number)
    heard = heard_of_trial(trial) if trial.status == Trial.DONE else ()
    return render(request, "place/trial.html", {"part": part, "trial": trial, "heard": heard, "columns": COLUMNS})


@require_safe
def status(request: Request, part_id: int, number: int) -> HttpResponse:
    """Tell how far it is; once it is over, have the page loaded anew."""
    part = part_of(request, part_id)
    trial = trial_of(part, number)
    if trial.status in (Trial.DONE, Trial.FAILED):
        return HttpResponseClientRefresh()
    return render(request, "place/trial_progress.html", {"part": part, "trial": trial})


@require_safe
def listen(request: Request, part_id: int, number: int, heard_at: int) -> HttpResponseBase:
    """Serve a phrase by its place in the order: neither name nor address tells the spot."""
    spot = get_object_or_404(trial_of(part_of(request, part_id), number).spots, heard_at=heard_at)
    return ranged(request, spot.audio)


@require_POST
@with_part
def choose(request: Request, part: Part, number: int) -> HttpResponse:
    trial = trial_of(part, number)
    with suppress(PneumenError):  # pressed on a page gone stale: the page shows how things stand
        trials.choose(trial, whole(request.POST, "heard"))
    return redirect("place:trial", part_id=part.pk, number=number)


@require_POST
@with_part
def delete(request: Request, part: Part, number: int) -> HttpResponse:
    trials.delete_trial(trial_of(part, number))
    return redirect("place:page", part_id=part.pk)
