"""The Place screen, and choosing where to start."""

from contextlib import suppress
from typing import Any

from django.http import HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from pneumen.core.errors import PneumenError
from pneumen.core.gear import GRILLE_M
from pneumen.web.part.models import Part
from pneumen.web.place import services
from pneumen.web.place.forms import GRILLE, PlaceForm
from pneumen.web.place.show import PlaceScreen, place_screen
from pneumen.web.place.trials import told_of
from pneumen.web.reading import number_of
from pneumen.web.screen import Changes, Screen
from pneumen.web.site.requests import Request
from pneumen.web.song.views import with_part


class PlaceView(Screen[PlaceScreen]):
    slug = "place"
    form_class = PlaceForm

    def form(self, part: Part, data: QueryDict | None = None, screen: PlaceScreen | None = None) -> PlaceForm:
        shown = self.shown(part, screen) if screen else None
        paired = part.pair_with(part.to_chain()) is not None
        return PlaceForm(data, shown=shown, pops=part.source_facts.pops, paired=paired)

    def is_for(self, part: Part) -> bool:
        return not part.is_plugged

    def instead(self, part: Part) -> HttpResponse:
        return render(self.request, "place/plugged.html", {"part": part})

    def shown(self, part: Part, screen: PlaceScreen) -> Changes:
        placement = screen.placed.placement
        return {
            "distance": placement.distance_m - screen.less_m,
            "from_grille": GRILLE if screen.placed.from_grille else "",
            "above": placement.above_m,
            "aside": placement.aside_deg,
            "turned": placement.turned_deg,
            "low_cut": int(placement.low_cut_hz),
            "sheet": screen.placed.sheet_m,
            "pop_screen": placement.pop_screen,
            "screen_before": placement.screen_before_m,
        }

    def present(self, part: Part, changes: Changes) -> PlaceScreen:
        placing = self._placing(part, changes) if changes else None
        if placing:
            services.check(part, placing)
        return place_screen(part, placing, zones=self.act == "page")

    def keep(self, part: Part, changes: Changes) -> None:
        services.keep(part, self._placing(part, changes))

    def more(self, part: Part, screen: PlaceScreen) -> dict[str, Any]:
        trials = part.trials.select_related("chosen").prefetch_related("jobs")[:5]
        return {"trials": [(trial, told_of(trial)) for trial in trials]}

    def _placing(self, part: Part, changes: Changes) -> services.Placing:
        """Return what was changed as the core has it."""
        data = self.request.POST or self.request.GET
        from_grille = data["from_grille"] == GRILLE if "from_grille" in data else None
        remeasured = from_grille not in {None, part.from_grille}
        behind = GRILLE_M if (part.from_grille if from_grille is None else from_grille) else 0.0
        distance_m = changes.get("distance")
        if remeasured and distance_m is None and part.place_origin == "yours" and part.distance_m is not None:
            # One's own measure keeps its number when one says what it was measured to; a planned one keeps its place.
            distance_m = part.distance_m - (GRILLE_M if part.from_grille else 0.0)
        return services.Placing(
            distance_m=None if distance_m is None else distance_m + behind,
            aside_deg=changes.get("aside"),
            turned_deg=changes.get("turned"),
            above_m=changes.get("above"),
            pop_screen=changes.get("pop_screen"),
            screen_before_m=changes.get("screen_before"),
            low_cut_hz=_number(changes.get("low_cut"), "low-cut"),
            from_grille=from_grille if remeasured else None,
            sheet_m=_number(changes.get("sheet"), "data sheet"),
        )


def _number(picked: str | None, name: str) -> float | None:
    return None if picked is None else number_of(picked, name)


@require_POST
@with_part
def start(request: Request, part: Part) -> HttpResponse:
    """Choose a taste, or a zone of the instrument to start from."""
    with suppress(PneumenError):  # no button offers another: the page shows how things stand
        if "taste" in request.POST:
            services.choose_taste(part, request.POST["taste"])
        else:
            services.start_at(part, request.POST.get("zone", ""))
    return redirect("place:page", part_id=part.pk)
