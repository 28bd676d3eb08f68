"""A map of a knob without decibels: one steady sound recorded at several positions tells what a turn brings."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, Final

import numpy as np

from pneumen.core.errors import Contradiction, require_within
from pneumen.core.levels import FULL_SCALE_SINE_RMS_DB

if TYPE_CHECKING:
    from scipy.interpolate import PchipInterpolator

USUAL_POSITIONS: Final = 7
LEAST_POSITIONS: Final = 3
SAME_DB: Final = 0.5
"""A knob turned up may read so much less through noise and unsteady hands; more is another sound, or another place."""
HAND_DB: Final = 0.5
"""A pointer is set again no better than this (estimate)."""
FEW_DB: Final = 3.0
"""What a map of the two stops and one position between leaves open (estimate)."""
NEAR_SHARE: Final = 0.01


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """A position of the knob as a share of its turn, and how loud the same steady sound came out there, dB."""

    share: float
    level_db: float

    def __post_init__(self) -> None:
        require_within("share", self.share, 0, 1)
        require_within("level_db", self.level_db, -200, 20)


@dataclass(frozen=True, slots=True, kw_only=True)
class Taper:
    """What a knob does: gains over its left stop at shares of its turn, rising; error_db is how far between them."""

    shares: tuple[float, ...]
    rises_db: tuple[float, ...]
    error_db: float

    @property
    def range_db(self) -> float:
        """How far the gain rises from stop to stop."""
        return self.rises_db[-1]

    def rise_at(self, share: float) -> float:
        """Return the gain over the left stop at a share of the turn."""
        return float(_curve(self.shares, self.rises_db)(min(max(share, 0.0), 1.0)))

    def share_at(self, rise_db: float) -> float:
        """Return the share of the turn at which the gain is so far over the left stop, clamped to the turn."""
        if rise_db <= 0:
            return 0.0
        if rise_db >= self.range_db:
            return 1.0
        fine = np.linspace(0, 1, 2001)
        return float(np.interp(rise_db, _curve(self.shares, self.rises_db)(fine), fine))


def taper_of(readings: Sequence[Reading]) -> Taper:
    """Return the map of a knob from readings of one steady sound.

    A monotone cubic through the readings (Fritsch and Carlson, SIAM J. Numer. Anal. 17, 1980; from memory); its error
    is what the map without each inner reading misses it by, and grows where there are few.

    Args:
        readings: both stops among them, in any order.

    Raises:
        Contradiction: where a stop is missing, there are too few, or a position turned up is softer.

    >>> even = taper_of([Reading(share=n / 6, level_db=-60 + 8 * n) for n in range(7)])
    >>> round(even.rise_at(0.5), 2), round(even.share_at(24.0), 2), round(even.error_db, 2)
    (24.0, 0.5, 0.5)
    """
    found = sorted(readings, key=lambda one: one.share)
    if len(found) < LEAST_POSITIONS:
        raise Contradiction("readings", f"must be at least {LEAST_POSITIONS}, both stops among them")
    if found[0].share > NEAR_SHARE or found[-1].share < 1 - NEAR_SHARE:
        raise Contradiction("readings", "must hold both stops: the knob all the way down, and all the way up")
    for lower, upper in pairwise(found):
        if upper.share - lower.share < NEAR_SHARE:
            raise Contradiction("readings", f"must not hold one position twice: {upper.share:.0%} of the turn")
        if upper.level_db < lower.level_db - SAME_DB:
            told = f"{upper.share:.0%} of the turn is softer than {lower.share:.0%}: another sound, or another place?"
            raise Contradiction("readings", f"must rise: {told}")
    shares = tuple(one.share for one in found)
    levels = np.maximum.accumulate([one.level_db for one in found])
    rises = tuple(float(level - levels[0]) for level in levels)
    return Taper(shares=(0.0, *shares[1:-1], 1.0), rises_db=rises, error_db=_error_db(shares, rises))


def full_scale_dbu(taper: Taper, reading: Reading, known_dbu: float) -> float:
    """Return what an input takes at the left stop of its knob (RMS of a sine), from one reading whose level is known.

    Args:
        known_dbu: the RMS level at the input while the reading was taken.

    >>> even = taper_of([Reading(share=n / 6, level_db=-60 + 8 * n) for n in range(7)])
    >>> round(full_scale_dbu(even, Reading(share=0.5, level_db=-36.0), -20.0), 2)
    36.99
    """
    require_within("known_dbu", known_dbu, -80, 30)
    at_left_stop_dbfs = reading.level_db - taper.rise_at(reading.share)
    return known_dbu - (at_left_stop_dbfs - FULL_SCALE_SINE_RMS_DB)


def _curve(shares: Sequence[float], rises_db: Sequence[float]) -> "PchipInterpolator":
    from scipy.interpolate import PchipInterpolator  # takes a second to load, and few inputs have a map

    return PchipInterpolator(shares, rises_db)


def _error_db(shares: Sequence[float], rises_db: Sequence[float]) -> float:
    """Return how far the map may be off between its readings: each inner one against the map of the others."""
    missed = []
    for left_out in range(1, len(shares) - 1):
        others = [number for number in range(len(shares)) if number != left_out]
        if len(others) >= LEAST_POSITIONS:
            curve = _curve([shares[n] for n in others], [rises_db[n] for n in others])
            missed.append(float(curve(shares[left_out])) - rises_db[left_out])
    few_db = FEW_DB * max(0, USUAL_POSITIONS - len(shares)) / 4
    if not missed:
        return FEW_DB + few_db
    # Leaving one out doubles the gap, and what a curve misses falls with it.
    between_db = float(np.sqrt(np.square(missed).mean())) / 2
    return float(np.hypot(between_db, HAND_DB)) + few_db


@dataclass(frozen=True, slots=True, kw_only=True)
class Knob:
    """What a control reaches, and how its turn goes with the gain: by its map, else in even steps."""

    low_db: float
    high_db: float
    taper: Taper | None = None

    def gain_at(self, share: float) -> float:
        """Return the gain at a share of the turn, 0 to 1.

        >>> Knob(low_db=0, high_db=52).gain_at(0.5)
        26.0
        """
        share = min(max(share, 0.0), 1.0)
        rise = share * (self.high_db - self.low_db) if self.taper is None else self.taper.rise_at(share)
        return self.low_db + rise

    def share_at(self, gain_db: float) -> float:
        """Return the share of the turn at which it gives a gain, clamped to the turn.

        >>> Knob(low_db=0, high_db=52).share_at(26)
        0.5
        """
        if self.taper is not None:
            return self.taper.share_at(gain_db - self.low_db)
        span_db = self.high_db - self.low_db
        return min(max((gain_db - self.low_db) / span_db, 0.0), 1.0) if span_db > 0 else 0.0
