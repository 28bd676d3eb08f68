"""The Kit screen: one view, a page and a fragment; trying out stores nothing, keeping does."""

from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from pneumen.core.errors import NothingFits, PneumenError
from pneumen.web.kit import services
from pneumen.web.kit.better import offer_for
from pneumen.web.kit.forms import KitForm
from pneumen.web.kit.packing import packing_as_csv
from pneumen.web.kit.routes import routes_of
from pneumen.web.kit.show import KitScreen, kit_screen
from pneumen.web.part.models import Part
from pneumen.web.part.services import keep_instrument_price
from pneumen.web.reading import number_in, whole
from pneumen.web.screen import Changes, Screen
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of
from pneumen.wording.language import _
from pneumen.wording.refusals import refusal


class KitView(Screen[KitScreen]):
    slug = "kit"
    form_class = KitForm

    def shown(self, part: Part, screen: KitScreen) -> Changes:
        asked = {name: getattr(part.song, name) for name in KitForm.base_fields if name != "instrument_price"}
        return asked | {"budget": screen.budget, "instrument_price": part.instrument_price}

    def form(self, part: Part, data: QueryDict | None = None, screen: KitScreen | None = None) -> KitForm:
        shown = self.shown(part, screen) if screen else None
        return KitForm(data, shown=shown, plugged=part.is_plugged)

    def present(self, part: Part, changes: Changes) -> KitScreen:
        """Show the song's kits; of what may be asked for only other money is tried out."""
        services.check_options(changes)
        number = _looked_at(self.request.GET) if self.act == "page" else None
        return kit_screen(part.song, budget=changes.get("budget"), number=number)

    def keep(self, part: Part, changes: Changes) -> None:
        options = dict(changes)
        price = options.pop("instrument_price", None)
        if options:
            services.keep_options(part.song, options)
        if price is not None:
            keep_instrument_price(part, price)


@require_safe
def routes(request: Request, part_id: int) -> HttpResponse:
    """The three routes side by side; asked for after the page, since each is a search of its own."""
    part = part_of(request, part_id)
    context = {"part": part, "routes": routes_of(part.song)}
    return render(request, "kit/routes.html" if request.htmx else "kit/routes_page.html", context)


@require_safe
def better(request: Request, part_id: int) -> HttpResponse:
    """Offer a kit that mends what this part's chain cannot; asked for after the page that shows the part."""
    part = part_of(request, part_id)
    if not request.htmx:
        return redirect("kit:page", part_id=part_id)
    return render(request, "kit/better.html", {"part": part, "offer": offer_for(part)})


@require_POST
def raise_budget(request: Request, part_id: int) -> HttpResponse:
    """Raise the money to what the cheapest working kit costs."""
    song = part_of(request, part_id).song
    if (cheapest := kit_screen(song).raise_to) is not None:
        services.keep_options(song, {"budget": cheapest})
    return redirect("kit:page", part_id=part_id)


@require_POST
def take(request: Request, part_id: int) -> HttpResponse:
    """Set the song up with a kit of the frontier."""
    part = part_of(request, part_id)
    try:
        services.take_kit(part.song, whole(request.POST, "kit"))
    except PneumenError as error:
        messages.error(request, _("That kit cannot be taken: {error}.").format(error=error))
        return redirect("kit:page", part_id=part.pk)
    messages.success(request, _("Every part of the song is set up with this kit: distance and gain follow from it."))
    return redirect("kit:page", part_id=part.pk)


@require_POST
def mark(request: Request, part_id: int) -> HttpResponse:
    """Say that an item must be in the kit, must never be, or neither."""
    part = part_of(request, part_id)
    try:
        services.mark(part.song, request.POST.get("item", ""), request.POST.get("mark", ""))
    except PneumenError as error:
        messages.error(request, refusal(error))
    return redirect("kit:page", part_id=part.pk)


@require_safe
def packing_list(request: Request, part_id: int) -> HttpResponse:
    """The packing list of the kit looked at, as CSV."""
    part = part_of(request, part_id)
    try:
        frontier = services.frontier_of_song(part.song)
    except NothingFits:
        return redirect("kit:page", part_id=part.pk)
    chosen = _looked_at(request.GET)
    if chosen is None:
        chosen = services.recommended_number(part.song, frontier)
    kit = frontier.kit(min(chosen, len(frontier.points) - 1))
    response = HttpResponse(packing_as_csv(kit, part.song), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = _('attachment; filename="packing-list.csv"')
    return response


def _looked_at(data: QueryDict) -> int | None:
    return number_in(data.get("kit", ""))
