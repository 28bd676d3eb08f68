"""Levels from the source to the file: noise by stage, ceilings, what clips first, what sets the noise."""

from pneumen.core.line.chain import Chain
from pneumen.core.line.findings import LineFinding, findings_of
from pneumen.core.line.levels import Levels, Setup, SourceLevels, levels_of
from pneumen.core.line.read import setup_from_json, setup_to_json

__all__ = [
    "Chain",
    "Levels",
    "LineFinding",
    "Setup",
    "SourceLevels",
    "findings_of",
    "levels_of",
    "setup_from_json",
    "setup_to_json",
]
