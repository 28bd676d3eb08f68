"""What is set up: source levels, distance, room noise and devices, as JSON too; no level is worked out here."""

from pneumen.core.setup.chain import Chain
from pneumen.core.setup.read import setup_from_json, setup_from_object, setup_to_json, setup_to_object
from pneumen.core.setup.setup import Setup, SourceLevels

__all__ = [
    "Chain",
    "Setup",
    "SourceLevels",
    "setup_from_json",
    "setup_from_object",
    "setup_to_json",
    "setup_to_object",
]
