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


def money_short_told(lines: Sequence[KitLine], budget: float) -> str:
    """Say what a sum too small for a whole kit begins with, what works, and what all of it costs."""
    order = buying_order(lines)
    whole = money(order[-1].total) if order else money(0)
    if not any(purchase.brings == "sound" for purchase in order):
        return f"What you have records now; {whole} more, in the order below, makes it complete."
    within = affordable(order, budget)
    if not within:
        begins = money(order[0].total)
        return (
            f"{money(budget)} buys nothing that records yet, {begins} does, {whole} completes it; {MEANWHILE['sound']}."
        )
    things = ", ".join(
        _named(line, count)
        for purchase in order[:within]
        for line, count in Counter(purchase.lines).items()
        if line.price
    )
    return f"{money(budget)} begins with {things}, and that records; {whole} completes the kit, in the order below."


def _named(line: KitLine, count: int) -> str:
    name = line.item.name if line.item else KIND_LABELS[line.kind].lower()
    return f"{count} × {name}" if count > 1 else name
