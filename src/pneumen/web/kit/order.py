"""The buying order told: what to buy first, second, third, what each brings, and what works without it."""

from collections.abc import Sequence
from dataclasses import dataclass

from pneumen.core.kit import KitLine, affordable, buying_order
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


def order_of(lines: Sequence[KitLine], budget: float) -> tuple[OrderStep, ...]:
    """Return the order to buy a packing list in; nothing where it is one step that the money reaches."""
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
            without=meanwhile(purchase),
            within=number < reached,
        )
        for number, purchase in enumerate(order)
    )
