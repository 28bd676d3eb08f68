"""Compression while recording: what a gentle, slow compressor does to the level of each section, baked in for good."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import require_within
from pneumen.core.levels import FULL_SCALE_SINE_RMS_DB

GENTLE_RATIO: Final = 2.0
"""If at all (common practice, no source)."""
USUAL_THRESHOLD_DBFS: Final = -18.0
LOWEST_THRESHOLD_DBFS: Final = -60.0
GENTLE_TAKES_DB: Final = 2.0
"""So much a gentle one takes where it is loudest (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Compressor:
    """A compressor before the file: ratio and threshold (RMS of a sine, so that a sine at the threshold is at it).

    slow follows the level of the phrase, not the single peak.
    """

    ratio: float = GENTLE_RATIO
    threshold_dbfs: float = USUAL_THRESHOLD_DBFS
    slow: bool = True

    def __post_init__(self) -> None:
        require_within("ratio", self.ratio, 1, 20)
        require_within("threshold_dbfs", self.threshold_dbfs, LOWEST_THRESHOLD_DBFS, 0)

    def takes_db(self, peak_dbfs: float, typical_dbfs: float) -> float:
        """Return by how much it turns a section down where that is loud; typical is active RMS.

        A slow one acts by the active RMS level, a fast one by the peaks. Hard knee, no make-up gain.

        Reference: static curve of a feed-forward compressor (Giannoulis, Massberg and Reiss, 2012; from memory).

        >>> round(Compressor(threshold_dbfs=-18).takes_db(-6.0, -17.01), 2)
        2.0
        """
        acts_by_dbfs = typical_dbfs - FULL_SCALE_SINE_RMS_DB if self.slow else peak_dbfs
        return max(acts_by_dbfs - self.threshold_dbfs, 0.0) * (1 - 1 / self.ratio)


@dataclass(frozen=True, slots=True, kw_only=True)
class Compressed:
    """A section before and after: its highest peak and its typical level, dBFS."""

    name: str
    peak_dbfs: float
    typical_dbfs: float
    takes_db: float


def gentle_for(sections: tuple[tuple[str, float, float], ...]) -> Compressor:
    """Return the slow 2:1 that touches only what is loudest: two decibels of the loudest section."""
    loudest_dbfs = max(typical for _, _, typical in sections) - FULL_SCALE_SINE_RMS_DB
    threshold_dbfs = loudest_dbfs - GENTLE_TAKES_DB / (1 - 1 / GENTLE_RATIO)
    return Compressor(threshold_dbfs=min(max(round(threshold_dbfs), LOWEST_THRESHOLD_DBFS), 0))


def compressed(compressor: Compressor, sections: tuple[tuple[str, float, float], ...]) -> tuple[Compressed, ...]:
    """Return what becomes of sections, each told by name, peak and typical level."""
    return tuple(
        Compressed(name=name, peak_dbfs=peak - taken, typical_dbfs=typical - taken, takes_db=taken)
        for name, peak, typical in sections
        for taken in (compressor.takes_db(peak, typical),)
    )
