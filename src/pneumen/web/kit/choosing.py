"""Pages that help to choose: which family, what an unknown microphone is, packages side by side. Nothing is stored."""

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_safe

from pneumen.core.errors import NothingFits, PneumenError
from pneumen.core.gear import LOOKS, identify
from pneumen.web.kit.family_show import HEADS, WHYS, families_told
from pneumen.web.kit.identify_show import identified_told
from pneumen.web.kit.packages import SUMS, Package, PackagesForm, packages_of, usual_sums
from pneumen.web.part.models import Part
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of, with_part
from pneumen.wording.kit import why_nothing_fits
from pneumen.wording.language import _


@require_safe
@with_part
def families(request: Request, part: Part) -> HttpResponse:
    """Show the families of microphones by what decides for this part; a plug has no use for one."""
    if part.is_plugged:
        return redirect("kit:page", part_id=part.pk)
    rows = families_told(part)
    lines = [(head, [row.cells[number] for row in rows]) for number, head in enumerate(HEADS)]
    return render(request, "kit/families.html", {"part": part, "rows": rows, "lines": lines, "whys": WHYS})


@require_safe
def identified(request: Request, part_id: int) -> HttpResponse:
    """Narrow down what an unknown microphone is; an answer that is none is left out."""
    part = part_of(request, part_id)
    looks = {look.slug: look for look in LOOKS}
    given = {slug: request.GET[slug] for slug in looks if request.GET.get(slug) in looks[slug].answers}
    return render(request, "kit/identify.html", {"part": part, "screen": identified_told(given, identify(given))})


@require_safe
def packages(request: Request, part_id: int) -> HttpResponse:
    """Hold up to three packages side by side."""
    part = part_of(request, part_id)
    form, problem = PackagesForm(request.GET or None), ""
    found: tuple[Package, ...] = ()
    try:
        usual = dict(zip(SUMS, usual_sums(part.song), strict=False))
        form = PackagesForm(request.GET) if request.GET else PackagesForm(shown=usual)
        sums = usual
        if form.is_bound:
            sums = {name: form.cleaned_data[name] for name in SUMS} if form.is_valid() else {}
        mine = form.is_bound and form.is_valid() and form.cleaned_data["mine"]
        asked = [sums[name] for name in SUMS[: 2 if mine else 3] if sums.get(name) is not None]
        found = packages_of(part.song, tuple(asked), mine=mine)
        problem = form.problem if form.is_bound else ""
    except NothingFits as error:
        problem = _("Nothing fits: {error}.").format(error=why_nothing_fits(error))
    except PneumenError as error:
        problem = str(error)
    context = {"part": part, "form": form, "packages": found, "problem": problem}
    return render(request, "kit/packages.html", context, status=422 if form.is_bound and form.errors else 200)
