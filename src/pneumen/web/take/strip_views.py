"""Looking at a take closely: a stretch of its strip, the spectrum of a moment."""

import re

from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_safe

from pneumen.core.errors import PneumenError
from pneumen.web.part.models import Part
from pneumen.web.site.requests import Request
from pneumen.web.song.views import with_part
from pneumen.web.take.models import Take
from pneumen.web.take.spectrum import spectrogram_png, spectrum_screen
from pneumen.web.take.strip import looked_at, span_of, strip_screen
from pneumen.web.take.views import take_of


@require_safe
@with_part
def strip(request: Request, part: Part, number: int) -> HttpResponse:
    """A stretch of a take's strip, closer or wider."""
    take = _measured(part, number)
    span = span_of(take, request.GET.get("from", ""), request.GET.get("to", ""))
    if not request.htmx:
        return redirect(f"{reverse('take:page', args=[part.pk])}?{request.GET.urlencode()}&take={number}")
    return render(request, "take/lines.html", {"part": part, "chosen": take, "strip": strip_screen(part, take, span)})


@require_safe
@with_part
def spectrum(request: Request, part: Part, number: int) -> HttpResponse:
    """What a moment of a take is made of."""
    take = _measured(part, number)
    context: dict[str, object] = {"part": part, "chosen": take}
    try:
        context["spectrum"] = spectrum_screen(take, _looked_at(request, take))
    except PneumenError as error:
        context["problem"] = f"{error}.".capitalize()
    return render(request, "take/spectrum.html" if request.htmx else "take/spectrum_page.html", context)


@require_safe
@with_part
def spectrogram(request: Request, part: Part, number: int) -> HttpResponse:
    take = _measured(part, number)
    try:
        return HttpResponse(spectrogram_png(take, _looked_at(request, take)), content_type="image/png")
    except PneumenError:
        raise Http404 from None


def _looked_at(request: Request, take: Take) -> tuple[float, float]:
    span = span_of(take, request.GET.get("from", ""), request.GET.get("to", ""))
    at = request.GET.get("at", "")
    return looked_at(take, span, float(at) if re.fullmatch(r"\d{1,6}(\.\d{1,6})?", at) else None)


def _measured(part: Part, number: int) -> Take:
    take = take_of(part, number)
    if not take.measurement:
        raise Http404
    return take
