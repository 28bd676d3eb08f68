"""What a recorded file holds, and what it teaches about performer, room and chain."""

from pneumen.core.take.activity import ACTIVE_WITHIN_DB, active_level_dbfs
from pneumen.core.take.blasts import blasts_in
from pneumen.core.take.clicks import clicks_in, crackles
from pneumen.core.take.comb import Comb, comb_in
from pneumen.core.take.correct import Correction, correction_from
from pneumen.core.take.doubt import LEVEL, NOISE, doubts_of
from pneumen.core.take.faults import BLEED_WATCH_DB
from pneumen.core.take.file_names import Match, NamedPart, match_of
from pneumen.core.take.findings import KINDS, Finding, NotChecked
from pneumen.core.take.fit import Fit, HourNoise, Reading, fit_of, noise_by_hour
from pneumen.core.take.floor import FloorMeter
from pneumen.core.take.floor_gain import FloorChange, gain_change_by_floor
from pneumen.core.take.frames import FrameMeter, Frames
from pneumen.core.take.laid import LaidTake, require_a_part, useful_sides
from pneumen.core.take.log import (
    ADVICES,
    JUDGINGS,
    MANY_TAKES,
    MARKED,
    MARKS,
    RESTS,
    TAKE_KINDS,
    TEST,
    Advice,
    Logged,
    SectionCount,
    advice_on,
    counts_in,
    kind_of_take,
    kinds_in,
)
from pneumen.core.take.mains import mains_hum_hz
from pneumen.core.take.match import matching_volumes
from pneumen.core.take.measure import measure
from pneumen.core.take.measurement import Format, Level, Measurement, Noise
from pneumen.core.take.noise_parts import NOISE_KINDS, NoisePart
from pneumen.core.take.outline import Outline, PeakTrace
from pneumen.core.take.passes import Pass, passes_in
from pneumen.core.take.pcm import BITS, FORMATS, PcmFile, codes_of, full_scale, lowering_for
from pneumen.core.take.phrases import (
    MOST_SPOTS,
    PhraseMeasure,
    matching_gains_db,
    measure_phrase,
    phrases_between_claps,
    whole_phrase,
)
from pneumen.core.take.played import ANYTHING, Played
from pneumen.core.take.preflight import CHECKS, preflight
from pneumen.core.take.recording import Recording, open_recording
from pneumen.core.take.resampled import resampled
from pneumen.core.take.riding import ALIKE, CUTS, RIDES, THINS, UNTOUCHED, Riding, riding_in
from pneumen.core.take.settings import Change, TakeSettings, changes_between
from pneumen.core.take.sibilance import hisses_in
from pneumen.core.take.spectrum import Spectrum, spectrogram_of, spectrum_of
from pneumen.core.take.stamp import Stamp, stamp_of
from pneumen.core.take.steady import steady_level_dbfs, test_sound
from pneumen.core.take.survey import Survey, clipping_in, survey
from pneumen.core.take.true_peak import TruePeak

__all__ = [
    "ACTIVE_WITHIN_DB",
    "ADVICES",
    "ALIKE",
    "ANYTHING",
    "BITS",
    "BLEED_WATCH_DB",
    "CHECKS",
    "CUTS",
    "FORMATS",
    "JUDGINGS",
    "KINDS",
    "LEVEL",
    "MANY_TAKES",
    "MARKED",
    "MARKS",
    "MOST_SPOTS",
    "NOISE",
    "NOISE_KINDS",
    "RESTS",
    "RIDES",
    "TAKE_KINDS",
    "TEST",
    "THINS",
    "UNTOUCHED",
    "Advice",
    "Change",
    "Comb",
    "Correction",
    "Finding",
    "Fit",
    "FloorChange",
    "FloorMeter",
    "Format",
    "FrameMeter",
    "Frames",
    "HourNoise",
    "LaidTake",
    "Level",
    "Logged",
    "Match",
    "Measurement",
    "NamedPart",
    "Noise",
    "NoisePart",
    "NotChecked",
    "Outline",
    "Pass",
    "PcmFile",
    "PeakTrace",
    "PhraseMeasure",
    "Played",
    "Reading",
    "Recording",
    "Riding",
    "SectionCount",
    "Spectrum",
    "Stamp",
    "Survey",
    "TakeSettings",
    "TruePeak",
    "active_level_dbfs",
    "advice_on",
    "blasts_in",
    "changes_between",
    "clicks_in",
    "clipping_in",
    "codes_of",
    "comb_in",
    "correction_from",
    "counts_in",
    "crackles",
    "doubts_of",
    "fit_of",
    "full_scale",
    "gain_change_by_floor",
    "hisses_in",
    "kind_of_take",
    "kinds_in",
    "lowering_for",
    "mains_hum_hz",
    "match_of",
    "matching_gains_db",
    "matching_volumes",
    "measure",
    "measure_phrase",
    "noise_by_hour",
    "open_recording",
    "passes_in",
    "phrases_between_claps",
    "preflight",
    "require_a_part",
    "resampled",
    "riding_in",
    "spectrogram_of",
    "spectrum_of",
    "stamp_of",
    "steady_level_dbfs",
    "survey",
    "test_sound",
    "useful_sides",
    "whole_phrase",
]
