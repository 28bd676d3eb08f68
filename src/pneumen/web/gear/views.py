"""The catalogue: search and filters, an item's page, and the open formats in and out."""

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pneumen.core.errors import BadCatalogue, PneumenError, given
from pneumen.core.kit import (
    ITEM_FIELDS,
    KIND_LABELS,
    Fault,
    catalogue_from_file,
    catalogue_to_csv,
    catalogue_to_json,
    cells_of,
)
from pneumen.web.gear import services
from pneumen.web.gear.forms import PriceForm
from pneumen.web.gear.models import GearImport
from pneumen.web.gear.show import item_screen, list_screen, sheet_fields
from pneumen.web.site.requests import Request
from pneumen.wording.language import _

MOST_FAULTS_SHOWN = 20
MOST_READ = 60_000_000


@require_safe
def page(request: Request) -> HttpResponse:
    screen = list_screen(request.user, request.GET)
    template = "gear/rows.html" if request.htmx else "gear/list.html"
    return render(request, template, {"screen": screen, "faults": ()})


@require_http_methods(["GET", "HEAD", "POST"])
def item(request: Request, item_id: str) -> HttpResponse:
    form = PriceForm(request.POST) if request.method == "POST" else None
    if form is not None:
        _change(request, item_id, form)
        if not form.errors:
            return redirect("gear:item", item_id=item_id)
    screen = item_screen(request.user, item_id)
    if screen is None:
        raise Http404
    context = {"screen": screen, "form": form or PriceForm(shown={"price": screen.item.price})}
    return render(request, "gear/item.html", context, status=422 if form else 200)


def _change(request: Request, item_id: str, form: PriceForm) -> None:
    """Store what a form of the item's page says, or have its fault at the price."""
    if not form.is_valid():
        return
    try:
        if "price" in request.POST:
            services.set_price(request.user, item_id, given("price", form.cleaned_data["price"]))
        if "have" in request.POST:
            services.set_mark(request.user, item_id, have=request.POST["have"])
        if "hidden" in request.POST:
            services.set_mark(request.user, item_id, hidden=request.POST["hidden"] == "yes")
    except PneumenError as error:
        form.refuse(error)


@require_http_methods(["GET", "HEAD", "POST"])
def new(request: Request) -> HttpResponse:
    """A new item: its kind first, then its sheet."""
    kind = request.POST.get("kind") or request.GET.get("kind", "")
    if kind not in KIND_LABELS:
        return render(request, "gear/new.html", {"kinds": KIND_LABELS})
    return _sheet(request, {"kind": kind, "name": "", "price": "0"})


@require_http_methods(["GET", "HEAD", "POST"])
def sheet(request: Request, item_id: str) -> HttpResponse:
    """An item's whole sheet, to be changed."""
    found = next((item for item in services.whole_catalogue(request.user) if item.id == item_id), None)
    if found is None:
        raise Http404
    return _sheet(request, cells_of(found))


def _sheet(request: Request, cells: dict[str, str]) -> HttpResponse:
    faults = {}
    if request.method == "POST":
        fixed = {name: cells[name] for name in ("id", "kind") if name in cells}
        cells = {name: request.POST[name] for name in ITEM_FIELDS if name in request.POST} | fixed
        try:
            return redirect("gear:item", item_id=services.save_item(request.user, cells).id)
        except BadCatalogue as error:
            faults = {column: what for _rest, column, what in error.faults}
    context = {
        "fields": sheet_fields(cells, faults),
        "cells": cells,
        "kind": KIND_LABELS[cells["kind"]],
        "faults": faults,
    }
    return render(request, "gear/sheet.html", context, status=422 if faults else 200)


@require_safe
def export(request: Request, form: str) -> HttpResponse:
    """Give the whole catalogue, hidden items too, in an open format."""
    items = services.whole_catalogue(request.user)
    if form == "csv":
        response = HttpResponse(catalogue_to_csv(items), content_type="text/csv; charset=utf-8")
    elif form == "json":
        response = HttpResponse(catalogue_to_json(items), content_type="application/json")
    else:
        raise Http404
    response["Content-Disposition"] = _('attachment; filename="catalogue.{form}"').format(form=form)
    return response


@require_POST
def read(request: Request) -> HttpResponse:
    """Read a catalogue, whole or not at all, and show first what it would change."""
    upload = request.FILES.get("file")
    faults: tuple[Fault, ...] = ((_("the file"), "", _("is missing: choose a CSV or JSON file")),)
    if upload is not None:
        try:
            kept = services.keep_for_review(
                request.user, upload.name or "catalogue", catalogue_from_file(upload.read(MOST_READ))
            )
            return redirect("gear:review", import_id=kept.pk)
        except BadCatalogue as error:
            faults = error.faults
    screen = list_screen(request.user, request.GET)
    context = {"screen": screen, "faults": faults[:MOST_FAULTS_SHOWN], "more": max(0, len(faults) - MOST_FAULTS_SHOWN)}
    return render(request, "gear/list.html", context, status=422)


@require_http_methods(["GET", "HEAD", "POST"])
def review(request: Request, import_id: int) -> HttpResponse:
    kept = get_object_or_404(GearImport.objects.mine(request.user), pk=import_id)
    items = services.items_of(kept)
    if request.method == "POST":
        if "yes" in request.POST:
            services.import_catalogue(request.user, items)
            messages.success(
                request,
                _("The catalogue now holds the {items} items of {file_name}.").format(
                    items=len(items), file_name=kept.file_name
                ),
            )
        kept.delete()
        return redirect("gear:list")
    changes = services.changes_of_import(request.user, items)
    return render(request, "gear/review.html", {"kept": kept, "changes": changes, "count": len(items)})


@require_POST
def forget(request: Request) -> HttpResponse:
    services.forget_changes(request.user)
    messages.success(request, _("The catalogue is as it was built in; what you own or hid stays so."))
    return redirect("gear:list")
