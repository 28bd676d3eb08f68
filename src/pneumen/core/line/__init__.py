"""Levels from the source or the plug to the file: noise by stage, ceilings, what clips first, what sets the noise."""

from pneumen.core.line.findings import LineFinding, findings_of
from pneumen.core.line.levels import Levels, Step, levels_of
from pneumen.core.line.stages import fall_db, microphone_dbu, whole_gain_db

__all__ = ["Levels", "LineFinding", "Step", "fall_db", "findings_of", "levels_of", "microphone_dbu", "whole_gain_db"]
