"""The Start screen: five answers and the plan that grows from them."""

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from pneumen.web.frame import thread
from pneumen.web.kept_rows import as_worked_out
from pneumen.web.part.models import Part
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of
from pneumen.web.start import services
from pneumen.web.start.forms import StartForm
from pneumen.web.start.pictures import PICTURES
from pneumen.web.start.show import plan_of
from pneumen.wording.figures import habits


@require_http_methods(["GET", "HEAD", "POST"])
def page(request: Request, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    form = StartForm(part, request.POST or None)
    new_gear = []
    if request.method == "POST" and form.is_valid():
        chosen = {name: form.cleaned_data[name] for name in ("microphone", "other_microphone", "interface")}
        services.save_answers(part, form.cleaned_data)
        if not request.htmx:
            return redirect("start:page", part_id=part.pk)
        part = part_of(request, part_id)
        form = StartForm(part)
        # A device described just now has become one's own: its choice says so; no other field is touched.
        new_gear = [form[name] for name, choice in chosen.items() if choice and choice != form[name].value()]
    if request.htmx:
        context = _context(part, form) | thread(part, "start") | {"live": True, "new_gear": new_gear}
        return render(request, "start/answered.html", context)
    return render(request, "start/page.html", _context(part, form), status=422 if form.errors else 200)


def _context(part: Part, form: StartForm) -> dict[str, object]:
    plan = as_worked_out(("plan", part.pk, habits.get()), lambda: plan_of(part)) if part.answered else None
    others = part.song.room.songs.exclude(pk=part.song_id)
    also_used = list(others.values_list("name", flat=True))
    return {"part": part, "form": form, "plan": plan, "pictures": PICTURES, "also_used": also_used}


@require_POST
def words(request: Request, part_id: int) -> HttpResponse:
    """Lay the room out from its words again."""
    part = part_of(request, part_id)
    services.back_to_words(part.song.room)
    return redirect("start:page", part_id=part.pk)


@require_POST
def budget(request: Request, part_id: int) -> HttpResponse:
    """Raise the money to what the cheapest working kit costs."""
    part = part_of(request, part_id)
    plan = plan_of(part)
    if plan.cheapest is not None:
        services.set_budget(part, plan.cheapest)
    return redirect("start:page", part_id=part.pk)
