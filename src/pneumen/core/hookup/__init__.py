"""Connecting: a chain as a graph of devices, what is wrong with it, the order of plugging, and the phantom rule."""

from pneumen.core.hookup.additions import ADDITIONS, BOX, SPEAKER_ENDS, can_be_added
from pneumen.core.hookup.chain import Cable, Chain
from pneumen.core.hookup.check import faults_of
from pneumen.core.hookup.choices import CHOICES, FIXED_PADS, OF_A_PART, VALUES, Choice, with_choices
from pneumen.core.hookup.cure import cure_of, put_back
from pneumen.core.hookup.device import Device
from pneumen.core.hookup.digital import BUS_W
from pneumen.core.hookup.electric import PICKUP_LOAD_OHM, lead_resonance_hz, lead_response_db
from pneumen.core.hookup.finding import Fault
from pneumen.core.hookup.kinds import DI_BOXES, KINDS, PHONO, DeviceKind
from pneumen.core.hookup.order import SOFTWARE_STEPS, Act, plugging_acts, unplugging_acts
from pneumen.core.hookup.phantom import phantom_voltage
from pneumen.core.hookup.phantom_rule import PhantomRule, phantom_rule, plugged_phantom_rule
from pneumen.core.hookup.read import chain_from_json
from pneumen.core.hookup.troubles import (
    ANSWERS,
    CAUSES,
    COMPLAINTS,
    PLACES,
    QUESTIONS,
    SIGNS,
    Next,
    Recorded,
    Search,
    next_step,
    odds_by_place,
    recorded_signs,
    traits_of,
)

__all__ = [
    "ADDITIONS",
    "ANSWERS",
    "BOX",
    "BUS_W",
    "CAUSES",
    "CHOICES",
    "COMPLAINTS",
    "DI_BOXES",
    "FIXED_PADS",
    "KINDS",
    "OF_A_PART",
    "PHONO",
    "PICKUP_LOAD_OHM",
    "PLACES",
    "QUESTIONS",
    "SIGNS",
    "SOFTWARE_STEPS",
    "SPEAKER_ENDS",
    "VALUES",
    "Act",
    "Cable",
    "Chain",
    "Choice",
    "Device",
    "DeviceKind",
    "Fault",
    "Next",
    "PhantomRule",
    "Recorded",
    "Search",
    "can_be_added",
    "chain_from_json",
    "cure_of",
    "faults_of",
    "lead_resonance_hz",
    "lead_response_db",
    "next_step",
    "odds_by_place",
    "phantom_rule",
    "phantom_voltage",
    "plugged_phantom_rule",
    "plugging_acts",
    "put_back",
    "recorded_signs",
    "traits_of",
    "unplugging_acts",
    "with_choices",
]
