"""What is set up: source or plug, distance, room noise and devices, as JSON too; no level is worked out here."""

from pneumen.core.setup.chain import Chain, PluggedChain
from pneumen.core.setup.read import setup_from_json, setup_from_object, setup_to_json, setup_to_object
from pneumen.core.setup.setup import DiBox, PluggedSetup, PlugLevels, Setup, SourceLevels

__all__ = [
    "Chain",
    "DiBox",
    "PlugLevels",
    "PluggedChain",
    "PluggedSetup",
    "Setup",
    "SourceLevels",
    "setup_from_json",
    "setup_from_object",
    "setup_to_json",
    "setup_to_object",
]
