"""Setting the gain: the schools' target windows, the verdict, and what a knob can tell."""

from pneumen.core.gain.compress import Compressed, Compressor, compressed, gentle_for
from pneumen.core.gain.dial import BEGINS_AT, NUMBERS, SAFETY, DialPlan, dial_plan
from pneumen.core.gain.knob import KNOB_BAND, UNKNOWN_START_DB
from pneumen.core.gain.schools import OWN, SCHOOLS, School, gain_window_db, own_school, school_named
from pneumen.core.gain.settings import Agreement, Setting, agreement_of, fewest_settings
from pneumen.core.gain.spread import TAKE_SPREAD_DB, Predictive, leeway_db, predictive
from pneumen.core.gain.verdict import (
    GOOD_CLEAN_RANGE_DB,
    HELD_LOW_DB,
    POOR_CLEAN_RANGE_DB,
    GainVerdict,
    judge,
    judge_take,
)

__all__ = [
    "BEGINS_AT",
    "GOOD_CLEAN_RANGE_DB",
    "HELD_LOW_DB",
    "KNOB_BAND",
    "NUMBERS",
    "OWN",
    "POOR_CLEAN_RANGE_DB",
    "SAFETY",
    "SCHOOLS",
    "TAKE_SPREAD_DB",
    "UNKNOWN_START_DB",
    "Agreement",
    "Compressed",
    "Compressor",
    "DialPlan",
    "GainVerdict",
    "Predictive",
    "School",
    "Setting",
    "agreement_of",
    "compressed",
    "dial_plan",
    "fewest_settings",
    "gain_window_db",
    "gentle_for",
    "judge",
    "judge_take",
    "leeway_db",
    "own_school",
    "predictive",
    "school_named",
]
