"""How far a performer's loudest moment may lie from what is expected, and the chance that it passes a ceiling."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.special import stdtr, stdtrit

from pneumen.core.errors import require_within

TAKE_SPREAD_DB: Final = 1.6
PRIOR_DEGREES: Final = 8.0
"""From take to take the loudest moment varies so (standard deviation), and how sure that is before any take (estimates:
as sure as eight takes would make it)."""
UNRECORDED_DB: Final = 2.0
"""How far a section that was never recorded may stand off its place among the others (standard deviation, estimate)."""
BAND_SHARE: Final = 0.95
KEPT_SHARE: Final = 0.95
LEEWAY_STEP_DB: Final = 0.1


@dataclass(frozen=True, slots=True, kw_only=True)
class Predictive:
    """Where the next take's loudest moment will lie: a Student-t about a level, dB."""

    location_db: float
    scale_db: float
    degrees: float

    def chance_over(self, limit_db: float) -> float:
        """Return the chance that it lies above a limit."""
        return float(stdtr(self.degrees, (self.location_db - limit_db) / self.scale_db))

    def within(self, share: float = BAND_SHARE) -> tuple[float, float]:
        """Return the bounds it keeps with a probability."""
        half = float(stdtrit(self.degrees, (1 + share) / 2)) * self.scale_db
        return self.location_db - half, self.location_db + half


def predictive(
    expected_db: float, band_db: float, seen_db: Sequence[float] = (), *, unrecorded: bool = False
) -> Predictive:
    """Return the predictive distribution of a loudest moment.

    Args:
        expected_db: what is expected of it.
        band_db: how far it may be off before any take: 95 % of a guess.
        seen_db: the same moment in takes so far, in any one scale; their spread counts, not their mean.
        unrecorded: whether this section was never recorded by itself.

    Reference: normal data with unknown spread under a scaled inverse chi-square prior: the next one is Student-t with
    prior and data degrees together (Gelman et al., Bayesian Data Analysis, section 3.3; from memory).

    >>> round(predictive(-9.0, 6.0).chance_over(0.0), 3)
    0.004
    """
    require_within("band_db", band_db, 0, 60)
    count = len(seen_db)
    if count < 2:
        degrees = PRIOR_DEGREES
        scale_db = max(band_db / float(stdtrit(degrees, (1 + BAND_SHARE) / 2)), TAKE_SPREAD_DB)
    else:
        degrees = PRIOR_DEGREES + count - 1
        squares = float(np.square(np.asarray(seen_db) - np.mean(seen_db)).sum())
        variance = (PRIOR_DEGREES * TAKE_SPREAD_DB**2 + squares) / degrees
        scale_db = math.sqrt(variance * (1 + 1 / count))
    if unrecorded:
        scale_db = math.hypot(scale_db, UNRECORDED_DB)
    return Predictive(location_db=expected_db, scale_db=scale_db, degrees=degrees)


def leeway_db(half_width_db: float, ahead: Predictive) -> float:
    """Return how far off a window's middle a level may be aimed and still keep most of its chance to land inside.

    >>> steady = predictive(-9.0, 3.0)
    >>> leeway_db(3.0, steady) < leeway_db(6.0, steady) < 6.0
    True
    """
    offsets = np.arange(0.0, half_width_db, LEEWAY_STEP_DB)
    below_top = stdtr(ahead.degrees, (half_width_db - offsets) / ahead.scale_db)
    inside = below_top - stdtr(ahead.degrees, (-half_width_db - offsets) / ahead.scale_db)
    kept = inside >= KEPT_SHARE * inside[0]
    return float(offsets[kept].max()) if len(offsets) else 0.0
