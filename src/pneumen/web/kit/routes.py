"""The three routes side by side: one cable, an interface, a handheld recorder."""

import math
from dataclasses import dataclass

from pneumen.core.errors import NothingFits
from pneumen.web.kit.services import fixed_cost, frontier_of_route, kit_looked_at, places_within
from pneumen.web.song.models import Song
from pneumen.wording.figures import figure, money
from pneumen.wording.kit import why_nothing_fits
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class Route:
    """One of the three routes: what its recommended kit costs and does, or why it leads nowhere."""

    label: str
    reason: str
    total: str
    told: str


ROUTE_REASONS = {
    "usb": (_("One cable"), _("cheapest whole, one source at a time; distance is the gain where there is no dial")),
    "interface": (_("An interface"), _("any microphone, instruments too; more to set up, and it grows")),
    "recorder": (_("A handheld recorder"), _("no computer while recording; its own pair of microphones")),
}


def routes_of(song: Song) -> tuple[Route, ...]:
    """Compare the three routes where they fit: for each the kit that would be recommended within the budget."""
    return tuple(_route(song, route, label, reason) for route, (label, reason) in ROUTE_REASONS.items())


def _route(song: Song, route: str, label: str, reason: str) -> Route:
    try:
        frontier = frontier_of_route(song, route)
    except NothingFits as error:
        return Route(label=label, reason=reason, total=_("does not fit"), told=why_nothing_fits(error))
    beside = fixed_cost(song, frontier)
    within = places_within(song, frontier, song.budget)
    if not within:
        return Route(
            label=label, reason=reason, total=money(frontier.points[-1][0] + beside), told=_("more than there is")
        )
    number = frontier.recommended(within)
    kit, price = kit_looked_at(song, frontier, number), frontier.points[number][0]
    told = figures_told((price, kit.clean_range_db, kit.direct_to_reverberant_db))
    return Route(label=label, reason=reason, total=money(price + beside), told=told)


def figures_told(point: tuple[float, float, float]) -> str:
    """Tell a point of the frontier: clean range and, where it is miked, the lead over the room."""
    over = _(", {point} dB over the room").format(point=figure(point[2])) if math.isfinite(point[2]) else ""
    return _("{point} dB clean{over}").format(point=figure(point[1]), over=over)
