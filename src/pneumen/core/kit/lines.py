"""The lines of a packing list, and what is commonly forgotten on it."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from pneumen.core.kit.item import Item

FORGOTTEN: Final = ("shock-mount", "covering")
"""What people commonly forget (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class KitLine:
    """One line of the packing list; found_in says where a thing comes from: shop, owned, or the box of another."""

    kind: str
    item: Item | None
    price: float
    found_in: str


def line_of(item: Item, price: float) -> KitLine:
    """Return a device as a line of the packing list."""
    return KitLine(kind=item.kind, item=item, price=price, found_in=place_of(item))


def place_of(item: Item) -> str:
    return "owned" if item.owned else "shop"


def forgotten_kinds(lines: tuple[KitLine, ...], *, miked: bool) -> Iterator[str]:
    """Kinds people commonly forget and this kit leaves out, each worth its price; a spare cable is one of them."""
    present = [line.kind for line in lines]
    boxes = {kind for line in lines if line.item for kind in line.item.in_box}
    for kind in ("xlr-cable", "instrument-cable"):
        if present.count(kind) == 1:
            yield kind
    for kind in FORGOTTEN if miked else ():
        if kind not in present and kind not in boxes:
            yield kind
