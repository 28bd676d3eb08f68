"""The layers of a part."""

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from pneumen.core.errors import PneumenError
from pneumen.web.part.models import Part
from pneumen.web.reading import number_in
from pneumen.web.site.requests import Request
from pneumen.web.song.views import with_part
from pneumen.web.take.layers import add_layer, fill_layer, hear_layer, layers_screen, plan_usual, remove_layer
from pneumen.web.take.models import Layer
from pneumen.wording.language import _


@require_http_methods(["GET", "HEAD", "POST"])
@with_part
def page(request: Request, part: Part) -> HttpResponse:
    """Show the layers, or plan another."""
    problem = ""
    if request.method == "POST":
        try:
            if "usual" in request.POST:
                plan_usual(part)
            else:
                add_layer(part, request.POST.get("kind", ""), request.POST.get("section", ""))
            return redirect("take:layers", part_id=part.pk)
        except PneumenError as error:
            problem = _("The {error}.").format(error=error)
    context = {"part": part, "layers": layers_screen(part), "problem": problem}
    return render(request, "take/layers.html", context, status=422 if problem else 200)


@require_POST
@with_part
def layer(request: Request, part: Part, number: int) -> HttpResponse:
    """Choose a take for a layer, have it play in the headphones, or remove it."""
    row = get_object_or_404(Layer.objects.select_related("part"), part=part, pk=number)
    if "remove" in request.POST:
        remove_layer(row)
        return redirect("take:layers", part_id=part.pk)
    take = request.POST.get("take", "")
    try:
        if "heard" in request.POST:
            hear_layer(row, heard=request.POST["heard"] == "1")
            return redirect("take:layers", part_id=part.pk)
        fill_layer(row, number_in(take))
    except PneumenError as error:
        context = {"part": part, "layers": layers_screen(part), "problem": _("The {error}.").format(error=error)}
        return render(request, "take/layers.html", context, status=422)
    return redirect("take:layers", part_id=part.pk)
