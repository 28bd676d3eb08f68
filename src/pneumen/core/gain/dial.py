"""A numbered dial set by ear and light: from seven of ten down to the last safety step."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gain.schools import School
from pneumen.core.gear import Knob

NUMBERS: Final = 10.0
BEGINS_AT: Final = 7.0
"""Of ten: high enough to find the edge from above (common practice, no source)."""
SAFETY: Final = (0.5, 1.0)
"""How many numbers lower it ends, once nothing clips."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DialPlan:
    """Where the procedure is expected to lead: the number at which nothing clips any more, and where it ends.

    holds_at is None where it clips even at the left stop. The peaks are those at the two ends, loudest passage.
    """

    holds_at: float | None
    ends: tuple[float, float]
    peaks_dbfs: tuple[float, float]
    in_window: bool


def dial_plan(knob: Knob, peak_dbfs: float, gain_db: float, school: School) -> DialPlan:
    """Return what the procedure finds with what is known: the loudest peak at a gain.

    Full scale is the only ceiling: what overloads before the dial, no dial cures.
    """

    def peak_at(number: float) -> float:
        return peak_dbfs + knob.gain_at(number / NUMBERS) - gain_db

    steps = [BEGINS_AT - half / 2 for half in range(round(2 * BEGINS_AT) + 1)]
    holds_at = next((number for number in steps if peak_at(number) <= 0), None)
    start = 0.0 if holds_at is None else holds_at
    low, high = max(start - SAFETY[1], 0.0), max(start - SAFETY[0], 0.0)
    peaks = peak_at(low), peak_at(high)
    return DialPlan(
        holds_at=holds_at,
        ends=(low, high),
        peaks_dbfs=peaks,
        in_window=any(school.outside_db(peak) == 0 for peak in peaks),
    )
