"""Levels from the source to the file: noise by stage, ceilings, what clips first, what sets the noise."""

from pneumen.core.line.direct import DiBox, PlugLevels, direct_levels_of
from pneumen.core.line.findings import LineFinding, findings_of
from pneumen.core.line.levels import Levels, levels_of

__all__ = ["DiBox", "Levels", "LineFinding", "PlugLevels", "direct_levels_of", "findings_of", "levels_of"]
