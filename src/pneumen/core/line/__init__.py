"""Levels from the source or the plug to the file: noise by stage, ceilings, what clips first, what sets the noise."""

from pneumen.core.line.findings import LineFinding, findings_of
from pneumen.core.line.levels import Levels, Step, levels_of

__all__ = ["Levels", "LineFinding", "Step", "findings_of", "levels_of"]
