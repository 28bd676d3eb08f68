"""Choosing complete kits within the money, by computation, from a catalogue in open formats."""

from pneumen.core.kit.catalogue import built_in_catalogue, chain_of, item_named
from pneumen.core.kit.coverings import Hanging, ring_time_with
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.formats import (
    Changes,
    catalogue_from_csv,
    catalogue_from_file,
    catalogue_from_json,
    catalogue_to_csv,
    catalogue_to_json,
    changes_between,
)
from pneumen.core.kit.item import ITEM_FIELDS, Item
from pneumen.core.kit.kinds import FACTS, KIND_LABELS, Fact
from pneumen.core.kit.levels import PartLevels, levels_of_part
from pneumen.core.kit.needs import (
    COMPUTERS,
    ROUTES,
    Needs,
    OwnedGear,
    PartNeed,
    RoomNeed,
    owned_gear,
    owned_item,
    part_need,
)
from pneumen.core.kit.planner import Kit, KitLine, Plan, choose_kit, plan_kits, recommended_of

__all__ = [
    "COMPUTERS",
    "FACTS",
    "ITEM_FIELDS",
    "KIND_LABELS",
    "ROUTES",
    "Changes",
    "Fact",
    "Hanging",
    "Item",
    "Kit",
    "KitLine",
    "Needs",
    "OwnedGear",
    "PartLevels",
    "PartNeed",
    "Plan",
    "RoomNeed",
    "Voice",
    "built_in_catalogue",
    "catalogue_from_csv",
    "catalogue_from_file",
    "catalogue_from_json",
    "catalogue_to_csv",
    "catalogue_to_json",
    "chain_of",
    "changes_between",
    "choose_kit",
    "item_named",
    "levels_of_part",
    "owned_gear",
    "owned_item",
    "part_need",
    "plan_kits",
    "recommended_of",
    "ring_time_with",
]
