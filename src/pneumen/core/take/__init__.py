"""What a recorded file holds, and what it teaches about performer, room and chain."""

from pneumen.core.take.blasts import blasts_in
from pneumen.core.take.clicks import clicks_in, crackles
from pneumen.core.take.correct import Correction, correction_from
from pneumen.core.take.doubt import LEVEL, NOISE, doubts_of
from pneumen.core.take.findings import KINDS, Finding, NotChecked
from pneumen.core.take.floor import FloorMeter
from pneumen.core.take.floor_gain import FloorChange, gain_change_by_floor
from pneumen.core.take.frames import FrameMeter, Frames
from pneumen.core.take.mains import mains_hum_hz
from pneumen.core.take.measure import Format, Level, Measurement, Noise, measure
from pneumen.core.take.outline import Outline
from pneumen.core.take.phrases import (
    MOST_SPOTS,
    PhraseMeasure,
    matching_gains_db,
    measure_phrase,
    phrases_between_claps,
    whole_phrase,
)
from pneumen.core.take.played import ANYTHING, Played
from pneumen.core.take.recording import Recording, open_recording
from pneumen.core.take.riding import ALIKE, CUTS, RIDES, THINS, UNTOUCHED, Riding, riding_in
from pneumen.core.take.sibilance import hisses_in
from pneumen.core.take.steady import steady_level_dbfs, test_sound

__all__ = [
    "ALIKE",
    "ANYTHING",
    "CUTS",
    "KINDS",
    "LEVEL",
    "MOST_SPOTS",
    "NOISE",
    "RIDES",
    "THINS",
    "UNTOUCHED",
    "Correction",
    "Finding",
    "FloorChange",
    "FloorMeter",
    "Format",
    "FrameMeter",
    "Frames",
    "Level",
    "Measurement",
    "Noise",
    "NotChecked",
    "Outline",
    "PhraseMeasure",
    "Played",
    "Recording",
    "Riding",
    "blasts_in",
    "clicks_in",
    "correction_from",
    "crackles",
    "doubts_of",
    "gain_change_by_floor",
    "hisses_in",
    "mains_hum_hz",
    "matching_gains_db",
    "measure",
    "measure_phrase",
    "open_recording",
    "phrases_between_claps",
    "riding_in",
    "steady_level_dbfs",
    "test_sound",
    "whole_phrase",
]
