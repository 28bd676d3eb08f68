"""How a predicted (or measured) level stands: one verdict and the one reason for it."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gain.schools import School
from pneumen.core.line import Levels
from pneumen.core.take import Measurement
from pneumen.core.verdict import Verdict

GOOD_CLEAN_RANGE_DB: Final = 40.0
POOR_CLEAN_RANGE_DB: Final = 30.0
TOO_QUIET_DBFS: Final = -30.0
NEAR_CEILING_DB: Final = 3.0


@dataclass(frozen=True, slots=True, kw_only=True)
class GainVerdict:
    """verdict is clear, watch, mendable or baked-in; reason says which rule decided."""

    verdict: Verdict
    reason: str


def judge(levels: Levels, school: School) -> GainVerdict:
    """Return the gravest thing that holds of a level diagram, by the rules of a school.

    Reasons: clips, near-ceiling, above, noisy, too-quiet, below, in-window.
    """
    peak, clean, outside_db = levels.peak_dbfs, levels.clean_range_db, school.outside_db(levels.peak_dbfs)
    rules = (
        (levels.headroom_db < 0, Verdict.BAKED_IN, "clips"),
        (clean < POOR_CLEAN_RANGE_DB, Verdict.MENDABLE, "noisy"),
        (peak < TOO_QUIET_DBFS, Verdict.MENDABLE, "too-quiet"),
        (levels.headroom_db < NEAR_CEILING_DB, Verdict.WATCH, "near-ceiling"),
        (outside_db > 0, Verdict.WATCH, "above"),
        (clean < GOOD_CLEAN_RANGE_DB, Verdict.WATCH, "noisy"),
        (outside_db < 0, Verdict.WATCH, "below"),
    )
    for holds, verdict, reason in rules:
        if holds:
            return GainVerdict(verdict=verdict, reason=reason)
    return GainVerdict(verdict=Verdict.CLEAR, reason="in-window")


def judge_take(measurement: Measurement, school: School) -> Verdict:
    """Return how a take stands: by its gravest finding, or one to watch where it lies outside the window."""
    peak = measurement.level.sample_peak_dbfs
    outside = peak is not None and school.outside_db(peak) != 0
    return Verdict.WATCH if outside and measurement.verdict == Verdict.CLEAR else measurement.verdict
