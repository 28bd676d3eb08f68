"""The schools of setting gain, each by its own name, with the window its highest sample peak should fall in."""

import re
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import UnknownName, require_within
from pneumen.core.line import Levels

OWN: Final = "own"
"""A window of one's own is called own:LOW:HIGH, in dBFS."""


@dataclass(frozen=True, slots=True, kw_only=True)
class School:
    """A school: where the highest peak should land, what it says for itself, and in the words of a meter."""

    slug: str
    label: str
    low_dbfs: float
    high_dbfs: float
    reason: str
    meter: str = ""

    @property
    def is_own(self) -> bool:
        """Whether a person set its window, and no school of the trade."""
        return self.slug.startswith(OWN)

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
        meter="up to three quarters of the meter",
    ),
    School(
        slug="ten-under",
        label="Ten under",
        low_dbfs=-12,
        high_dbfs=-8,
        reason="Ten decibels stay free for the take that turns out louder.",
        meter="a finger’s width under the top",
    ),
    School(
        slug="body-and-peak",
        label="Body and peak",
        low_dbfs=-14,
        high_dbfs=-8,
        reason="Usual peaks reach -18 to -12, the highest stays under -8.",
        meter="well into the steady colour, the change of colour on the loudest only",
    ),
    School(
        slug="wide",
        label="Wide",
        low_dbfs=-18,
        high_dbfs=-6,
        reason="Anywhere between -18 and -6 is good, up to -2 is borne, zero never.",
        meter="anywhere in the upper half, never the last light",
    ),
    School(
        slug="six-strictly",
        label="Six, strictly",
        low_dbfs=-18,
        high_dbfs=-6,
        reason="Never above -6; when in doubt, lower.",
        meter="never into the last fifth",
    ),
    School(
        slug="twelve-under",
        label="Twelve under",
        low_dbfs=-14,
        high_dbfs=-10,
        reason="For plucked strings, whose peaks surprise.",
        meter="two thirds of the meter",
    ),
    School(
        slug="low-and-safe",
        label="Low and safe",
        low_dbfs=-24,
        high_dbfs=-12,
        reason="A quarter turn on a condenser, peaks below -12.",
        meter="half of the meter",
    ),
    School(
        slug="lights-only",
        label="Lights only",
        low_dbfs=-12,
        high_dbfs=-4,
        reason="The calm light steady, the next now and then on the loudest, the last never; devices differ.",
        meter="the calm light steady, the next now and then, the last never",
    ),
    School(
        slug="dial-down",
        label="Dial down",
        low_dbfs=-8,
        high_dbfs=-2,
        reason="A numbered dial: start at 7 of 10, lower until nothing clips, then half a step to a step more.",
        meter="just under the last light",
    ),
)
LOWEST_DBFS: Final = -60.0
NARROWEST_DB: Final = 1.0


def own_school(low_dbfs: float, high_dbfs: float) -> School:
    """Return a window of one's own as a school.

    Raises:
        OutOfRange: for a window over full scale, far below it, or narrower than a decibel.
    """
    require_within("high_dbfs", high_dbfs, LOWEST_DBFS + NARROWEST_DB, 0)
    require_within("low_dbfs", low_dbfs, LOWEST_DBFS, high_dbfs - NARROWEST_DB)
    return School(
        slug=f"{OWN}:{low_dbfs:g}:{high_dbfs:g}",
        label="Your own",
        low_dbfs=low_dbfs,
        high_dbfs=high_dbfs,
        reason="A window of your own.",
    )


def _is_number(text: str) -> bool:
    return re.fullmatch(r"-?\d{1,3}(\.\d{1,3})?", text) is not None


def school_named(slug: str) -> School:
    """Return a school by its slug.

    Raises:
        UnknownName: naming the schools there are.
    """
    for school in SCHOOLS:
        if school.slug == slug:
            return school
    kind, _, window = slug.partition(":")
    bounds = window.split(":")
    if kind == OWN and len(bounds) == 2 and all(_is_number(one) for one in bounds):
        return own_school(float(bounds[0]), float(bounds[1]))
    raise UnknownName("school", slug, tuple(school.slug for school in SCHOOLS))


def gain_window_db(levels: Levels, gain_db: float, school: School) -> tuple[float, float]:
    """Return the gains at which the highest peak meets the foot and the top of a school's window."""
    return gain_db + school.low_dbfs - levels.peak_dbfs, gain_db + school.high_dbfs - levels.peak_dbfs
