"""Setting the gain: the schools' target windows, the verdict, and what a knob can tell."""

from pneumen.core.gain.knob import KNOB_BAND, gain_at_share, share_at_gain
from pneumen.core.gain.schools import SCHOOLS, School, gain_window_db, school_named
from pneumen.core.gain.verdict import (
    GOOD_CLEAN_RANGE_DB,
    HELD_LOW_DB,
    POOR_CLEAN_RANGE_DB,
    GainVerdict,
    judge,
    judge_take,
)

__all__ = [
    "GOOD_CLEAN_RANGE_DB",
    "HELD_LOW_DB",
    "KNOB_BAND",
    "POOR_CLEAN_RANGE_DB",
    "SCHOOLS",
    "GainVerdict",
    "School",
    "gain_at_share",
    "gain_window_db",
    "judge",
    "judge_take",
    "school_named",
    "share_at_gain",
]
