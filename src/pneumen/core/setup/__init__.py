"""What is set up: source or plug, distance, room noise and devices, as JSON too; no level is worked out here."""

from pneumen.core.setup.chain import (
    BOOSTED_OUTPUT_OHM,
    Chain,
    InTheAir,
    MikedChain,
    PluggedChain,
    RecorderChain,
    UsbChain,
    XlrChain,
    with_taper,
)
from pneumen.core.setup.read import setup_from_json, setup_from_object, setup_to_json, setup_to_object
from pneumen.core.setup.setup import (
    AS_USUAL,
    OCTAVES_HZ,
    Before,
    DiBox,
    LineSetup,
    MikedSetup,
    PluggedSetup,
    PlugLevels,
    SourceLevels,
    UsbSetup,
    XlrSetup,
)

__all__ = [
    "AS_USUAL",
    "BOOSTED_OUTPUT_OHM",
    "OCTAVES_HZ",
    "Before",
    "Chain",
    "DiBox",
    "InTheAir",
    "LineSetup",
    "MikedChain",
    "MikedSetup",
    "PlugLevels",
    "PluggedChain",
    "PluggedSetup",
    "RecorderChain",
    "SourceLevels",
    "UsbChain",
    "UsbSetup",
    "XlrChain",
    "XlrSetup",
    "setup_from_json",
    "setup_from_object",
    "setup_to_json",
    "setup_to_object",
    "with_taper",
]
