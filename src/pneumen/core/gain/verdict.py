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
HELD_LOW_DB: Final = 3.0
"""A window's half width: so far under the aim is still where it was meant to be (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class GainVerdict:
    """verdict is clear, watch, mendable or baked-in; reason says which rule decided."""

    verdict: Verdict
    reason: str


def judge(
    levels: Levels, school: School, *, aim_dbfs: float | None = None, spare_db: float | None = None
) -> GainVerdict:
    """Return the gravest thing that holds of a level diagram, by the rules of a school.

    Reasons: clips, near-ceiling, unsure, above, noisy, too-quiet, below, in-window.

    Args:
        aim_dbfs: where the peak is to land, if lower than the school's middle: near it nothing is below the window.
        spare_db: the headroom left where all is as loud as it may be; the diagram's own where that is sure.
    """
    peak, clean, outside_db = levels.peak_dbfs, levels.clean_range_db, school.outside_db(levels.peak_dbfs)
    spare_db = levels.headroom_db if spare_db is None else spare_db
    held_low = aim_dbfs is not None and peak >= aim_dbfs - HELD_LOW_DB
    rules = (
        (levels.headroom_db < 0, Verdict.BAKED_IN, "clips"),
        (clean < POOR_CLEAN_RANGE_DB, Verdict.MENDABLE, "noisy"),
        (peak < TOO_QUIET_DBFS, Verdict.MENDABLE, "too-quiet"),
        (levels.headroom_db < NEAR_CEILING_DB, Verdict.WATCH, "near-ceiling"),
        (spare_db < 0, Verdict.WATCH, "unsure"),
        (outside_db > 0, Verdict.WATCH, "above"),
        (clean < GOOD_CLEAN_RANGE_DB, Verdict.WATCH, "noisy"),
        (outside_db < 0 and not held_low, Verdict.WATCH, "below"),
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
