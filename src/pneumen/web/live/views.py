"""Listening: the page, and what its script sends: an input opened, its sound, the one key, and the end."""

from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pneumen.core.errors import Contradiction, PneumenError, UnknownName
from pneumen.core.gain import school_named
from pneumen.core.live import BEFORE_S, MOST_QUIET_S, QUIET_S
from pneumen.web.audio.services import release
from pneumen.web.drawing import as_seen
from pneumen.web.live import services
from pneumen.web.live.desk import DESK, MINUTE, PURPOSES, TAKE, Listening
from pneumen.web.live.forms import origin_from, quiet_s_from
from pneumen.web.live.minute import USES, cut_anew, simulate_check, steps_of, take_in_minute, use
from pneumen.web.live.minute_show import minute_screen
from pneumen.web.live.models import MinuteCheck
from pneumen.web.live.show import live_screen
from pneumen.web.part.models import Part
from pneumen.web.reading import whole
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of, with_part
from pneumen.wording.language import _
from pneumen.wording.live import ANY_DEVICE, ENDED_BY, PROBLEMS, riding_told
from pneumen.wording.minute import PROMPTS, SHORT
from pneumen.wording.refusals import refusal


@require_safe
@with_part
def page(request: Request, part: Part) -> HttpResponse:
    services.keep_left_over()  # a page that was closed in the middle of a take has nobody else to put it in order
    context = {
        "part": part,
        "school": school_named(part.school),
        "problems": PROBLEMS,
        "checks": [(one.device or ANY_DEVICE, riding_told(one.to_core())) for one in services.checks_of(part)],
        "quiet_s": QUIET_S,
        "most_quiet_s": MOST_QUIET_S,
        "before_s": BEFORE_S,
        "rate_hz": part.song.sample_rate_hz,
        "channels": part.channels,
        "purpose": MINUTE if request.GET.get("for") == MINUTE else TAKE,
    }
    return render(request, "live/stand.html" if "stand" in request.GET else "live/page.html", context)


@require_POST
@with_part
def open_(request: Request, part: Part) -> HttpResponse:
    try:
        counted = request.POST.get("counted") == "1"
        purpose = request.POST.get("purpose", TAKE)
        if purpose not in PURPOSES:
            raise UnknownName("purpose", purpose, PURPOSES)
        quiet_s = quiet_s_from(request.POST)
        one = services.open_input(part, origin_from(request.POST), counted=counted, quiet_s=quiet_s, purpose=purpose)
    except PneumenError as error:
        return JsonResponse({"problem": refusal(error)}, status=422)
    return JsonResponse({"key": one.key})


@require_POST
def sound(request: Request, part_id: int, key: str) -> HttpResponse:
    one = _input(request, part_id, key)
    try:
        services.hear(one, whole(request.GET, "first"), request.body)
    except PneumenError as error:
        return JsonResponse({"problem": refusal(error)}, status=422)
    except OSError:
        return JsonResponse({"problem": ENDED_BY[services.FULL]}, status=507)
    return _moment(request, one)


@require_POST
def press(request: Request, part_id: int, key: str) -> HttpResponse:
    one = _input(request, part_id, key)
    services.press(one)
    return _moment(request, one)


@require_POST
def close(request: Request, part_id: int, key: str) -> HttpResponse:
    one = _input(request, part_id, key)
    services.close_input(one, went_away=request.POST.get("why") == "gone")
    return _moment(request, one)


@require_http_methods(["GET", "HEAD", "POST"])
@with_part
def minutes(request: Request, part: Part) -> HttpResponse:
    """The one-minute check: how it goes, those that were made, and one that was recorded elsewhere."""
    problem, file = "", request.FILES.get("recording")
    if request.method == "POST":
        try:
            if "simulate" in request.POST:
                return redirect("gain:minute", part.pk, simulate_check(part).pk)
            if file is None:
                raise Contradiction("recording", _("is missing: choose a file first, WAV, AIFF or FLAC"))
            return redirect("gain:minute", part.pk, take_in_minute(part, file).pk)
        except PneumenError as error:
            problem = refusal(error)
    prompts = [(SHORT[one], PROMPTS[one]) for one in steps_of(part)]
    context = {"part": part, "prompts": prompts, "checks": MinuteCheck.objects.filter(part=part), "problem": problem}
    return render(request, "live/minutes.html", context, status=422 if problem else 200)


@require_http_methods(["GET", "HEAD", "POST"])
def minute(request: Request, part_id: int, check_id: int) -> HttpResponse:
    """What a check told, its cuts to mend, and what it is used for."""
    part = part_of(request, part_id)
    check, problem = get_object_or_404(MinuteCheck, part=part, pk=check_id), ""
    if request.method == "POST":
        try:
            if request.POST.get("use") in USES:
                use(check, request.POST["use"])
            elif "remove" in request.POST:
                check.delete()
                release(check.audio)
                return redirect("gain:minutes", part.pk)
            else:
                cut_anew(check, request.POST)
            return redirect("gain:minute", part.pk, check.pk)
        except PneumenError as error:
            problem = refusal(error)
    context = {"part": part, "check": check, "problem": problem, "screen": minute_screen(check, request.POST)}
    return render(request, "live/minute.html", context, status=422 if problem else 200)


def _input(request: Request, part_id: int, key: str) -> Listening:
    found = DESK.get(key, owner_id=request.user.pk, part_id=part_id)
    if found is None:
        raise Http404
    return found


def _moment(request: Request, one: Listening) -> HttpResponse:
    """Answer with how it stands now."""
    with as_seen(request.GET.get("seen", "")):
        return render(request, "live/moment.html", {"live": live_screen(one), "part_id": one.part_id})
