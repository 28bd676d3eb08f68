"""The log of a part: marks and remarks, sessions, the session sheet."""

from django.contrib import messages
from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_POST, require_safe
from django_htmx.http import HttpResponseClientRefresh

from pneumen.core.errors import PneumenError
from pneumen.core.take import MARKED
from pneumen.web.part.models import Part
from pneumen.web.reading import number_in
from pneumen.web.site.requests import Request
from pneumen.web.song.views import with_part
from pneumen.web.take import log
from pneumen.web.take.export import log_as_csv, log_as_object
from pneumen.web.take.learnt_show import learnt_screen
from pneumen.web.take.log_forms import SittingForm
from pneumen.web.take.log_show import judgement_of, log_screen
from pneumen.web.take.models import Sitting
from pneumen.web.take.sheet import sheet_of
from pneumen.wording.language import _
from pneumen.wording.log import JUDGINGS, RESTS

SAID = ("kind", "section", *MARKED, "remark")


@require_safe
@with_part
def page(request: Request, part: Part) -> HttpResponse:
    return render(request, "take/log.html", _context(request, part))


def _context(request: Request, part: Part, form: SittingForm | None = None) -> dict[str, object]:
    screen = log_screen(part, number_in(request.GET.get("page", "")) or 1)
    sitting = screen.sitting
    return {
        "part": part,
        "log": screen,
        "form": form or (SittingForm.of(sitting) if sitting else None),
        "judgings": JUDGINGS.items(),
        "rests": RESTS.items(),
    }


@require_safe
@with_part
def learnt(request: Request, part: Part) -> HttpResponse:
    return render(request, "take/learnt.html", {"part": part, "learnt": learnt_screen(part)})


@require_POST
@with_part
def said(request: Request, part: Part, number: int) -> HttpResponse:
    """Take what is said of a take: a mark, its kind, what was played, a remark."""
    take = get_object_or_404(part.takes, number=number)
    told = {name: request.POST[name].strip() for name in SAID if name in request.POST}
    problem, played = "", take.section
    try:
        log.log_take(take, **told)
    except PneumenError as error:
        problem = _("The {error}. Nothing was changed.").format(error=error)
        take.refresh_from_db()
    if request.htmx and take.section != played:  # what it taught has changed: so does the rest of the page
        return HttpResponseClientRefresh()
    if request.htmx or problem:
        context = {"part": part, "chosen": take, "judgement": judgement_of(part, take), "problem": problem}
        template = "take/judgement.html" if request.htmx else "take/judgement_page.html"
        return render(request, template, context, status=422 if problem and not request.htmx else 200)
    return redirect(f"{reverse('take:page', args=[part.pk])}?take={number}")


@require_POST
@with_part
def schools(request: Request, part: Part) -> HttpResponse:
    """Take how one judges, and when one rests."""
    try:
        log.keep_school(part, **{name: request.POST[name] for name in log.SCHOOLS if name in request.POST})
    except PneumenError as error:
        messages.error(request, _("The {error}.").format(error=error))
    return redirect("take:log", part_id=part.pk)


@require_POST
@with_part
def sitting(request: Request, part: Part, number: int) -> HttpResponse:
    """End a session, store what was set up, or set everything as it was in it."""
    row = _sitting(part, number)
    if "end" in request.POST:
        log.end_sitting(row, hurt=request.POST["end"] == "hurt")
    elif "recall" in request.POST:
        _recall(request, row)
    else:
        form = SittingForm(request.POST)
        if not _kept(row, form):
            return render(request, "take/log.html", _context(request, part, form), status=422)
    return redirect("take:log", part_id=part.pk)


def _kept(row: Sitting, form: SittingForm) -> bool:
    """Store what is told of a session; False where it cannot be, which the form says then."""
    if form.is_valid():
        try:
            log.keep_sitting(row, **form.told)
        except PneumenError as error:
            form.refuse(error)
    return form.is_valid()


def _recall(request: Request, row: Sitting) -> None:
    try:
        names = log.recall(row)
    except PneumenError as error:
        messages.error(request, _("The {error}.").format(error=error))
    else:
        messages.success(
            request, _("Set as in session {number}: {names}.").format(number=row.number, names=", ".join(names))
        )


@require_safe
@with_part
def sheet(request: Request, part: Part, number: int) -> HttpResponse:
    row = _sitting(part, number)
    return render(request, "take/sheet.html", {"part": part, "sheet": sheet_of(row)})


def _sitting(part: Part, number: int) -> Sitting:
    return get_object_or_404(Sitting, song=part.song_id, number=number)


@require_safe
@with_part
def as_csv(request: Request, part: Part) -> HttpResponse:
    return HttpResponse(log_as_csv(part), content_type="text/csv; charset=utf-8", headers=_named(part, "csv"))


@require_safe
@with_part
def as_json(request: Request, part: Part) -> JsonResponse:
    return JsonResponse(log_as_object(part), json_dumps_params={"indent": 1}, headers=_named(part, "json"))


def _named(part: Part, suffix: str) -> dict[str, str]:
    name = slugify(f"{part.song.name} {part.name} log") or "log"
    return {"Content-Disposition": _('attachment; filename="{name}.{suffix}"').format(name=name, suffix=suffix)}
