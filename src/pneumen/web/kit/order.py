"""The buying order told: what to buy first, second, third, what each brings, and what works without it."""

from collections.abc import Sequence
from dataclasses import dataclass

from pneumen.core.gear import OWN_FAMILIES
from pneumen.core.kit import KitLine, affordable, buying_order
from pneumen.web.kit.needs import parts_of_song
from pneumen.web.song.models import Song
from pneumen.wording.figures import money
from pneumen.wording.kit import BRINGS
from pneumen.wording.order import meanwhile, things_told


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderStep:
    """One step: the things, their price, what all so far cost, and whether the money reaches so far."""

    things: str
    price: str
    total: str
    brings: str
    without: str
    within: bool


def records_by_itself(song: Song) -> str:
    """Name one's own microphone that needs nothing between it and the file; "" where there is none."""
    owned = (row for part in parts_of_song(song) for row in (part.own_microphone, part.other_microphone))
    return next((row.name for row in owned if row and OWN_FAMILIES[row.family].plug != "xlr"), "")


def order_of(lines: Sequence[KitLine], budget: float, own: str) -> tuple[OrderStep, ...]:
    """Return the order to buy a packing list in; nothing where it is one step that the money reaches.

    Args:
        own: what records by itself until then.
    """
    order = buying_order(lines)
    reached = affordable(order, budget)
    if len(order) == reached < 2:
        return ()
    return tuple(
        OrderStep(
            things=things_told((purchase,)),
            price=money(purchase.price),
            total=money(purchase.total),
            brings=BRINGS[purchase.brings],
            without=meanwhile(purchase, own),
            within=number < reached,
        )
        for number, purchase in enumerate(order)
    )
