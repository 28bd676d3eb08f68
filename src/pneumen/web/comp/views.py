"""The lyric sheet: its lines, the choice of takes, and the track."""

from collections.abc import Callable
from typing import Any, Final

from django.http import Http404, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST, require_safe
from django_htmx.http import retarget

from pneumen.core.comp import CLEANUPS
from pneumen.core.errors import OutOfRange, PneumenError, UnknownName
from pneumen.web.comp import choices as chosen
from pneumen.web.comp import sheet as edited
from pneumen.web.comp import track as made
from pneumen.web.comp.choices import sheet_of
from pneumen.web.comp.line_show import line_screen
from pneumen.web.comp.models import CompTrack, SheetLine
from pneumen.web.comp.show import sheet_screen
from pneumen.web.frame import thread
from pneumen.web.part.models import Part
from pneumen.web.reading import number_in
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of, with_part
from pneumen.web.take.views import ranged
from pneumen.wording.language import _

MOST_TEXT: Final = 100_000


@require_safe
@with_part
def page(request: Request, part: Part) -> HttpResponse:
    return render(request, "comp/page.html", context_of(part, request.GET.get("line", "")))


def context_of(part: Part, line: str = "", problem: str = "") -> dict[str, Any]:
    """Return what the page shows, with one line opened where one is asked for."""
    sheet = sheet_of(part)
    screen = sheet_screen(part, sheet)
    pk = number_in(line)
    made_now = screen.track.row if screen.track and screen.track.fresh else None
    detail = line_screen(part, pk, sheet, made_now) if pk is not None else None
    return {"part": part, "screen": screen, "detail": detail, "problem": problem}


def answered(request: Request, part: Part, act: Callable[[], object], *, line: str = "") -> HttpResponse:
    """Do something to the sheet, and answer with it; what cannot be is said, and nothing is changed."""
    problem = ""
    try:
        act()
    except PneumenError as error:
        problem = _("The {error}.").format(error=error)
    if request.htmx:
        return render(request, "comp/live.html", context_of(part, line, problem))
    if problem:
        return render(request, "comp/page.html", context_of(part_of(request, part.pk), line, problem), status=422)
    address = reverse("comp:page", args=[part.pk])
    return redirect(f"{address}?line={line}#line-detail" if line else address)


@require_POST
@with_part
def lines(request: Request, part: Part) -> HttpResponse:
    """Write the lines anew, or lay the takes to them once more."""
    return answered(request, part, lambda: _write(request, part))


def _write(request: Request, part: Part) -> None:
    match request.POST.get("how", ""):
        case "words":
            text = request.POST.get("words", "")
            if len(text) > MOST_TEXT:
                raise OutOfRange("words", len(text), _("at most {most_text} letters").format(most_text=MOST_TEXT))
            edited.write_lines(part, edited.wanted_from_text(text))
        case "sections":
            edited.write_lines(part, edited.wanted_from_sections(part))
        case "phrases":
            edited.lines_by_ear(part)
        case "part":
            other = get_object_or_404(
                Part.objects.filter(song=part.song_id), pk=number_in(request.POST.get("other", ""))
            )
            edited.write_lines(part, edited.wanted_from_part(other))
        case "lay":
            edited.lay(part)
        case other:
            raise UnknownName("how", other, ("words", "sections", "phrases", "part", "lay"))
    made.made_again(part)


@require_http_methods(["GET", "HEAD", "POST"])
@with_part
def line(request: Request, part: Part, line_id: int) -> HttpResponse:
    """Show one line with its takes, or change it."""
    row = get_object_or_404(SheetLine.objects.select_related("part"), part=part, pk=line_id)
    row.part = part
    if request.method != "POST":
        if not request.htmx:
            return redirect(f"{reverse('comp:page', args=[part.pk])}?line={line_id}#line-detail")
        sheet = sheet_of(part)
        detail = line_screen(part, line_id, sheet, made.track_if_fresh(part, sheet))
        return render(request, "comp/detail.html", {"part": part, "detail": detail})
    return answered(request, part, lambda: _change(request, row), line=str(line_id))


def _change(request: Request, row: SheetLine) -> None:
    sent = request.POST
    if "mark" in sent:
        number, name, value = [*sent["mark"].split(":"), "", "", ""][:3]
        take = get_object_or_404(row.part.takes, number=number_in(number))
        chosen.mark(row, take, name, value)
    elif "split" in sent:
        edited.split_line(row, number_in(sent["split"]) or 0)
    elif "join" in sent:
        edited.join_lines(row)
    elif "begin" in sent:
        edited.move_line(row, _seconds("beginning", sent["begin"]))
    else:
        asked = next((name for name in sent if name != "csrfmiddlewaretoken"), "")
        raise UnknownName("change", asked, ("mark", "split", "join", "begin"))
    made.made_again(row.part)


def _seconds(field: str, text: str) -> float:
    try:
        return float(text.replace(",", ".").replace("\N{MINUS SIGN}", "-"))
    except ValueError:
        raise UnknownName(field, text, (_("a number of seconds"),)) from None


@require_POST
def choices(request: Request, part_id: int) -> HttpResponse:
    """Choose a take for a line (`LINE:TAKE`, no take to choose again), or take what is proposed."""
    # Of the part nothing is read but its song: a choice is to be answered at once.
    rows = Part.objects.mine(request.user).select_related("song").filter(song__put_away_day=None)
    part = get_object_or_404(rows, pk=part_id)
    pk, _rest, number = request.POST.get("choose", "").partition(":")
    return answered(request, part, lambda: _choose(request, part, number_in(pk), number_in(number)), line=pk)


def _choose(request: Request, part: Part, pk: int | None, number: int | None) -> None:
    if "accept" in request.POST:
        chosen.accept_all(part)
    elif "clear" in request.POST:
        chosen.clear_choices(part)
    else:
        row = get_object_or_404(SheetLine.objects.select_related("part"), part=part, pk=pk)
        row.part = part
        chosen.choose(row, number)
    made.made_again(part)


@require_POST
@with_part
def place(request: Request, part: Part, number: int) -> HttpResponse:
    """Lay a take by ear, or where it lies by itself."""
    take = get_object_or_404(part.takes, number=number)
    take.part = part

    def lay() -> None:
        offset, clock = (request.POST.get(name, "").strip() for name in ("offset", "clock"))
        edited.place_take(
            take, _seconds("offset", offset) if offset else None, _seconds("clock", clock) if clock else None
        )
        made.made_again(part)

    return answered(request, part, lay)


@require_POST
@with_part
def track(request: Request, part: Part) -> HttpResponse:
    """Have the track made."""

    def make() -> None:
        cleanup = request.POST.get("cleanup", CLEANUPS[0])
        if cleanup not in CLEANUPS:
            raise UnknownName("cleanup", cleanup, CLEANUPS)
        lengths = {
            name: _milliseconds(name, request.POST.get(name, ""))
            for name in ("crossfade_ms", "seam_search_ms")
            if name in request.POST
        }
        made.make(
            part,
            cleanup=cleanup,
            breaths="breaths" in request.POST,
            match_levels="match_levels" in request.POST,
            **lengths,
        )

    return answered(request, part, make)


def _milliseconds(field: str, text: str) -> float:
    value = _seconds(field, text)
    if not 0 <= value <= 1000:
        raise OutOfRange(field, value, _("0 to 1000 ms"))
    return value


@require_safe
@with_part
def status(request: Request, part: Part) -> HttpResponse:
    """Tell how far the track is; the whole sheet once it is done."""
    context = context_of(part, request.GET.get("line", ""))
    track = context["screen"].track
    if track is not None and track.state in (CompTrack.WAITING, CompTrack.WORKING):
        return render(request, "comp/track.html", context)
    # Its verdict stands on the thread too.
    answer = render(request, "comp/live.html", context | {"live": True, **thread(part, "comp")})
    return retarget(answer, "#comp")


@require_safe
def audio(request: Request, part_id: int) -> HttpResponseBase:
    """Serve the track to listen to, from any point."""
    row = made.track_of(part_of(request, part_id))
    if row is None:
        raise Http404
    return ranged(request, row.audio)


@require_POST
@with_part
def listened(request: Request, part: Part) -> HttpResponse:
    """Keep that the track was listened to, to its end."""
    CompTrack.objects.filter(part=part).exclude(made_of="").update(listened=True)
    if request.htmx:
        return HttpResponse(status=204)
    return redirect("comp:page", part_id=part.pk)
