"""The schools of setting gain, each by its own name, with the window its highest sample peak should fall in."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import UnknownName
from pneumen.core.line import Levels


@dataclass(frozen=True, slots=True, kw_only=True)
class School:
    """A school: where the highest peak should land, and what it says for itself."""

    slug: str
    label: str
    low_dbfs: float
    high_dbfs: float
    reason: str

    @property
    def aim_dbfs(self) -> float:
        """The middle of the window."""
        return (self.low_dbfs + self.high_dbfs) / 2

    def outside_db(self, peak_dbfs: float) -> float:
        """Return how far a peak lies above the window, or (negative) below; 0 inside. Hundredths do not count."""
        peak = round(peak_dbfs, 1)
        return peak - min(max(peak, self.low_dbfs), self.high_dbfs)


# Windows as the trade teaches them (common practice, no source). Where a school names one peak, the window is
# 2 dB either way; where it names only a top, the foot is where a 24-bit file still keeps every detail.
SCHOOLS: Final = (
    School(
        slug="three-quarter",
        label="Three-quarter",
        low_dbfs=-12,
        high_dbfs=-6,
        reason="The loudest passage fills about three quarters of the meter.",
    ),
    School(
        slug="ten-under",
        label="Ten under",
        low_dbfs=-12,
        high_dbfs=-8,
        reason="Ten decibels stay free for the take that turns out louder.",
    ),
    School(
        slug="body-and-peak",
        label="Body and peak",
        low_dbfs=-14,
        high_dbfs=-8,
        reason="Usual peaks reach -18 to -12, the highest stays under -8.",
    ),
    School(
        slug="wide",
        label="Wide",
        low_dbfs=-18,
        high_dbfs=-6,
        reason="Anywhere between -18 and -6 is good, up to -2 is borne, zero never.",
    ),
    School(
        slug="six-strictly",
        label="Six, strictly",
        low_dbfs=-18,
        high_dbfs=-6,
        reason="Never above -6; when in doubt, lower.",
    ),
    School(
        slug="twelve-under",
        label="Twelve under",
        low_dbfs=-14,
        high_dbfs=-10,
        reason="For plucked strings, whose peaks surprise.",
    ),
    School(
        slug="low-and-safe",
        label="Low and safe",
        low_dbfs=-24,
        high_dbfs=-12,
        reason="A quarter turn on a condenser, peaks below -12.",
    ),
)


def school_named(slug: str) -> School:
    """Return a school by its slug.

    Raises:
        UnknownName: naming the schools there are.
    """
    for school in SCHOOLS:
        if school.slug == slug:
            return school
    raise UnknownName("school", slug, tuple(school.slug for school in SCHOOLS))


def gain_window_db(levels: Levels, gain_db: float, school: School) -> tuple[float, float]:
    """Return the gains at which the highest peak meets the foot and the top of a school's window."""
    return gain_db + school.low_dbfs - levels.peak_dbfs, gain_db + school.high_dbfs - levels.peak_dbfs
