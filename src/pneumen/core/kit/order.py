"""In which order to buy a kit where money comes bit by bit: what lets any sound arrive first, finesse last."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from pneumen.core.kit.lines import KitLine

STEP_OF: Final[Mapping[str, str]] = MappingProxyType(
    dict.fromkeys(
        (
            "bundle",
            "microphone",
            "recorder",
            "interface",
            "booster",
            "inline-pad",
            "di-box",
            "xlr-cable",
            "instrument-cable",
            "usb-cable",
            "memory-card",
            "software",
        ),
        "sound",
    )
    | dict.fromkeys(("pop-filter", "foam-windscreen"), "air")
    | dict.fromkeys(("headphones", "phones-adapter"), "ears")
    | dict.fromkeys(("covering", "clamps", "pole"), "room")
    | dict.fromkeys(("boom-stand", "desk-stand", "stand-clip", "shock-mount"), "stand")
)
"""Which step of the order a kind belongs to; all others are the last, finesse."""
ORDER: Final = ("sound", "air", "ears", "room", "stand", "finesse")
"""What makes any sound arrive, then what cannot be mended later, then comfort, then finesse (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Purchase:
    """One step: what it brings (one of ORDER), its lines, what it costs, and what all up to it cost together."""

    brings: str
    lines: tuple[KitLine, ...]
    price: float
    total: float


def buying_order(lines: Sequence[KitLine]) -> tuple[Purchase, ...]:
    """Return a packing list's purchases in the order to make them; what costs nothing goes with its step."""
    found: list[Purchase] = []
    for step in ORDER:
        mine = tuple(line for line in lines if STEP_OF.get(line.kind, "finesse") == step)
        price = sum(line.price for line in mine)
        if price > 0:
            before = found[-1].total if found else 0.0
            found.append(Purchase(brings=step, lines=mine, price=price, total=before + price))
    return tuple(found)


def affordable(order: Sequence[Purchase], budget: float) -> int:
    """Return how many steps of an order a sum pays for."""
    return sum(purchase.total <= budget + 1e-9 for purchase in order)
