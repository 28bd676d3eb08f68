"""Levels from the source or the plug to the file: noise by stage, ceilings, what clips first, what sets the noise."""

from pneumen.core.line.along_gain import AlongGain, along_gain
from pneumen.core.line.closeness import closeness_db, cut_db, low_cut_db
from pneumen.core.line.findings import LineFinding, findings_of, verdict_of_quiet
from pneumen.core.line.levels import Levels, Step, levels_of
from pneumen.core.line.room_sound import room_on_peak_db, room_on_rms_db
from pneumen.core.line.stages import fall_db, microphone_dbu, whole_gain_db
from pneumen.core.line.volts import Volts, volts_of
from pneumen.core.line.way import Passing, way_of
from pneumen.core.line.worth import NOTICED_DB, gain_still_helps, worth_by_stage_db

__all__ = [
    "NOTICED_DB",
    "AlongGain",
    "Levels",
    "LineFinding",
    "Passing",
    "Step",
    "Volts",
    "along_gain",
    "closeness_db",
    "cut_db",
    "fall_db",
    "findings_of",
    "gain_still_helps",
    "levels_of",
    "low_cut_db",
    "microphone_dbu",
    "room_on_peak_db",
    "room_on_rms_db",
    "verdict_of_quiet",
    "volts_of",
    "way_of",
    "whole_gain_db",
    "worth_by_stage_db",
]
