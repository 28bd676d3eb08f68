"""Setting the gain: the schools' target windows, the verdict, what to do next, and what a knob can tell."""

from pneumen.core.gain.advice import Action, Situation, actions_for
from pneumen.core.gain.knob import KNOB_BAND, gain_at_share, share_at_gain
from pneumen.core.gain.schools import SCHOOLS, School, gain_window_db, school_named
from pneumen.core.gain.verdict import GainVerdict, judge

__all__ = [
    "KNOB_BAND",
    "SCHOOLS",
    "Action",
    "GainVerdict",
    "School",
    "Situation",
    "actions_for",
    "gain_at_share",
    "gain_window_db",
    "judge",
    "school_named",
    "share_at_gain",
]
