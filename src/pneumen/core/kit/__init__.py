"""Choosing complete kits within the money, by computation, from a catalogue in open formats."""

from pneumen.core.kit.at_once import ANY, Crowd, Entry, crowds_of
from pneumen.core.kit.better import BetterKit, better_kit
from pneumen.core.kit.catalogue import (
    ASSUMED,
    USB_DIAL_DB,
    USB_SLIDER_DB,
    assumed_interface,
    assumed_microphone,
    built_in_catalogue,
    chain_of,
    item_named,
    plugged_chain_of,
    socket_of,
)
from pneumen.core.kit.connected import Connected, Recorded, connected
from pneumen.core.kit.coverings import Hanging, rt60_with
from pneumen.core.kit.enough import ALIKE_DB, ENOUGH, ENOUGH_CLEAN_RANGE_DB, Enough, Worth, worth_as_set_up
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.family_table import FAMILY_TRAITS, FamilyHere, FamilyTraits, family_chain, family_here
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
    harmless,
    item_from_cells,
)
from pneumen.core.kit.growth import Burden, Growth, burden_of, growth_of
from pneumen.core.kit.in_use import Chosen, KitInUse, kit_in_use
from pneumen.core.kit.item import DEAREST, ITEM_FIELDS, Item
from pneumen.core.kit.kinds import FACTS, KIND_LABELS, TABLED_BUFFERS, TONES, Fact
from pneumen.core.kit.lacks import monitor_lacks, software_lacks
from pneumen.core.kit.leads import CABLE_M, shop_length_m
from pneumen.core.kit.levels import PartLevels, chain_with, levels_at_aim, levels_of_part
from pneumen.core.kit.lines import KitLine
from pneumen.core.kit.listening import headphone_level_db, loudest_in_headphones, monitor_peak_db
from pneumen.core.kit.money import Bought, MoneyStory, best_within, money_story, strongest_of
from pneumen.core.kit.needs import COMPUTERS, ROUTES, Needs, PartNeed, RoomNeed, part_need, places_of
from pneumen.core.kit.order import Purchase, affordable, buying_order
from pneumen.core.kit.owned import OwnedGear, Textile, cheapest_of, owned_gear, owned_item
from pneumen.core.kit.pads import STEPPED, VARIABLE, kind_of_pad, pad_set_to, pads_like, settings_of_pad
from pneumen.core.kit.planner import Frontier, Plan, frontier_of, plan_kits
from pneumen.core.kit.swaps import Swap, swaps_of
from pneumen.core.kit.written import Kit, device_delay, settled

__all__ = [
    "ALIKE_DB",
    "ANY",
    "ASSUMED",
    "CABLE_M",
    "COMPUTERS",
    "DEAREST",
    "ENOUGH",
    "ENOUGH_CLEAN_RANGE_DB",
    "FACTS",
    "FAMILY_TRAITS",
    "ITEM_FIELDS",
    "KIND_LABELS",
    "ROUTES",
    "STEPPED",
    "TABLED_BUFFERS",
    "TONES",
    "USB_DIAL_DB",
    "USB_SLIDER_DB",
    "VARIABLE",
    "BetterKit",
    "Bought",
    "Burden",
    "Changes",
    "Chosen",
    "Connected",
    "Crowd",
    "Enough",
    "Entry",
    "Fact",
    "FamilyHere",
    "FamilyTraits",
    "Fault",
    "Frontier",
    "Growth",
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
    "Purchase",
    "Recorded",
    "RoomNeed",
    "Swap",
    "Textile",
    "Voice",
    "Worth",
    "affordable",
    "assumed_interface",
    "assumed_microphone",
    "best_within",
    "better_kit",
    "built_in_catalogue",
    "burden_of",
    "buying_order",
    "catalogue_from_csv",
    "catalogue_from_file",
    "catalogue_from_json",
    "catalogue_to_csv",
    "catalogue_to_json",
    "cells_of",
    "chain_of",
    "chain_with",
    "changes_between",
    "cheapest_of",
    "connected",
    "crowds_of",
    "device_delay",
    "family_chain",
    "family_here",
    "findings_of_kit",
    "frontier_of",
    "growth_of",
    "harmless",
    "headphone_level_db",
    "item_from_cells",
    "item_named",
    "kind_of_pad",
    "kit_in_use",
    "levels_at_aim",
    "levels_of_part",
    "loudest_in_headphones",
    "money_story",
    "monitor_lacks",
    "monitor_peak_db",
    "owned_gear",
    "owned_item",
    "pad_set_to",
    "pads_like",
    "part_need",
    "places_of",
    "plan_kits",
    "plugged_chain_of",
    "rt60_with",
    "settings_of_pad",
    "settled",
    "shop_length_m",
    "socket_of",
    "software_lacks",
    "strongest_of",
    "swaps_of",
    "worth_as_set_up",
]
