"""Choosing a complete kit within the money, by computation."""

from pneumen.core.kit.catalogue import KIND_LABELS, Item, built_in_catalogue, chain_of, item_named
from pneumen.core.kit.planner import ROUTES, Kit, KitLine, Needs, OwnedGear, choose_kit, complete_kits

__all__ = [
    "KIND_LABELS",
    "ROUTES",
    "Item",
    "Kit",
    "KitLine",
    "Needs",
    "OwnedGear",
    "built_in_catalogue",
    "chain_of",
    "choose_kit",
    "complete_kits",
    "item_named",
]
