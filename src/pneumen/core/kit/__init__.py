"""Choosing complete kits within the money, by computation, from a catalogue in open formats."""

from pneumen.core.kit.accessories import CABLE_M, monitor_lacks, software_lacks
from pneumen.core.kit.better import BetterKit, better_kit
from pneumen.core.kit.catalogue import (
    ASSUMED,
    USB_DIAL_DB,
    assumed_interface,
    assumed_microphone,
    built_in_catalogue,
    chain_of,
    item_named,
    plugged_chain_of,
)
from pneumen.core.kit.coverings import Hanging, rt60_with
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.findings import KitFinding, findings_of_kit
from pneumen.core.kit.formats import (
    Changes,
    Fault,
    catalogue_from_csv,
    catalogue_from_file,
    catalogue_from_json,
    catalogue_to_csv,
    catalogue_to_json,
    cells_of,
    changes_between,
    item_from_cells,
)
from pneumen.core.kit.in_use import Chosen, KitInUse, kit_in_use
from pneumen.core.kit.item import ITEM_FIELDS, Item
from pneumen.core.kit.kinds import FACTS, KIND_LABELS, TABLED_BUFFERS, TONES, Fact
from pneumen.core.kit.levels import PartLevels, levels_at_aim, levels_of_part
from pneumen.core.kit.listening import headphone_level_db, loudest_in_headphones, monitor_peak_db
from pneumen.core.kit.money import Bought, MoneyStory, best_within, money_story
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
    places_of,
)
from pneumen.core.kit.planner import (
    Frontier,
    Kit,
    KitLine,
    Plan,
    frontier_of,
    plan_kits,
    recommended_of,
    round_trip_through,
)
from pneumen.core.kit.swaps import Swap, swaps_of

__all__ = [
    "ASSUMED",
    "CABLE_M",
    "COMPUTERS",
    "FACTS",
    "ITEM_FIELDS",
    "KIND_LABELS",
    "ROUTES",
    "TABLED_BUFFERS",
    "TONES",
    "USB_DIAL_DB",
    "BetterKit",
    "Bought",
    "Changes",
    "Chosen",
    "Fact",
    "Fault",
    "Frontier",
    "Hanging",
    "Item",
    "Kit",
    "KitFinding",
    "KitInUse",
    "KitLine",
    "MoneyStory",
    "Needs",
    "OwnedGear",
    "PartLevels",
    "PartNeed",
    "Plan",
    "RoomNeed",
    "Swap",
    "Voice",
    "assumed_interface",
    "assumed_microphone",
    "best_within",
    "better_kit",
    "built_in_catalogue",
    "catalogue_from_csv",
    "catalogue_from_file",
    "catalogue_from_json",
    "catalogue_to_csv",
    "catalogue_to_json",
    "cells_of",
    "chain_of",
    "changes_between",
    "findings_of_kit",
    "frontier_of",
    "headphone_level_db",
    "item_from_cells",
    "item_named",
    "kit_in_use",
    "levels_at_aim",
    "levels_of_part",
    "loudest_in_headphones",
    "money_story",
    "monitor_lacks",
    "monitor_peak_db",
    "owned_gear",
    "owned_item",
    "part_need",
    "places_of",
    "plan_kits",
    "plugged_chain_of",
    "recommended_of",
    "round_trip_through",
    "rt60_with",
    "software_lacks",
    "swaps_of",
]
