"""The buying order told: what to buy first, second, third, what each brings, and what works without it."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from pneumen.core.kit import KIND_LABELS, KitLine, affordable, buying_order
from pneumen.wording.figures import money
from pneumen.wording.kit import BRINGS, MEANWHILE


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
    """Return the order to buy a packing list in; nothing where it is bought at once, in one step."""
    order = buying_order(lines)
    if len(order) < 2:
        return ()
    reached = affordable(order, budget)
    return tuple(
        OrderStep(
            things=", ".join(_named(line, count) for line, count in Counter(purchase.lines).items() if line.price),
            price=money(purchase.price),
            total=money(purchase.total),
            brings=BRINGS[purchase.brings],
            without=MEANWHILE[purchase.brings],
            within=number < reached,
        )
        for number, purchase in enumerate(order)
    )


def _named(line: KitLine, count: int) -> str:
    name = line.item.name if line.item else KIND_LABELS[line.kind].lower()
    return f"{count} × {name}" if count > 1 else name
