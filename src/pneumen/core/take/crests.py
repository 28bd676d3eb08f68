"""The shape of crests under noise: how much of the way from its top a crest spends near it.

Seen at two depths under its top, one four times the other, a crest that is a parabola is half as wide at the upper
as at the lower, the flattest natural crests (sixth order) about 0.8 times, a top cut off by a ceiling nearly as wide.
The depths are chosen just clear of the noise, so that a limiter's rounded tops keep their roundness.
"""

from dataclasses import dataclass
from typing import Final

import numpy as np

LOWEST_CREST: Final = 0.85
BASE: Final = 0.80
"""Shares of the highest crest: lower ones cannot have met the same ceiling; each is seen down to the base."""
LEAST_SAMPLES: Final = 3
FINEST_DEPTH: Final = 1e-3
NOISES_DEEP: Final = 5
CODES_DEEP: Final = 4
DEEPEST: Final = 0.08
"""The upper depth: a share of the highest crest, clear of noise and of the file's codes; the lower one, four times
as deep, must not pass DEEPEST."""
DEPTHS_APART: Final = 4
STEEP_BASE: Final = 0.5
STEEP_LOWEST: Final = 0.7
STEP_DEPTH: Final = 0.1
STEEP_DEPTH: Final = 0.008
STEEP_DEPTHS_APART: Final = 6
"""The same where a resampler has let the corners of cut-off tops ring, by some hundredths of the shoulder's step from
sample to sample: the upper depth is clear of that, the lower one reaches down to half the crest at most."""
LEAST_STEP: Final = 1e-12
QUIETER_QUARTER: Final = 0.3186 * 6**0.5
"""First quartile of the size of second differences of white noise, in units of its RMS."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Crests:
    """Crests of LEAST_SAMPLES and more as arrays: top, first and last sample within the upper depth, and the upper
    width over the lower one; depth is the upper depth, full scale is 1. Of shorter crests nothing can be said."""

    top: np.ndarray
    first: np.ndarray
    last: np.ndarray
    squareness: np.ndarray
    depth: float

    def moved(self, by: int) -> "Crests":
        """Return the same crests counted from another sample."""
        return Crests(
            top=self.top,
            first=self.first + by,
            last=self.last + by,
            squareness=self.squareness,
            depth=self.depth,
        )


NO_CRESTS: Final = Crests(
    top=np.empty(0),
    first=np.empty(0, int),
    last=np.empty(0, int),
    squareness=np.empty(0),
    depth=0.0,
)


def crests_of(samples: np.ndarray, place: np.ndarray, highest: float, least_step: float) -> Crests:
    """Return the positive crests that come near the highest.

    Args:
        samples: one channel without its offset, full scale is 1.
        place: where they reach BASE times the highest.
        highest: the highest of them.
        least_step: distance of neighbouring codes of the file.
    """
    inner = place[(place > 0) & (place < len(samples) - 1)]
    if inner.size < 3:
        return NO_CRESTS
    bend = np.abs(samples[inner - 1] - 2 * samples[inner] + samples[inner + 1])
    middle = bend.size // 4
    noise = np.partition(bend, middle)[middle] / QUIETER_QUARTER
    depth = max(FINEST_DEPTH * highest, NOISES_DEEP * noise, CODES_DEEP * least_step)
    if DEPTHS_APART * depth > DEEPEST * highest:
        return NO_CRESTS
    runs = _Runs(samples, place)
    return runs.crests(runs.tops - depth, runs.tops - DEPTHS_APART * depth, LOWEST_CREST * highest, depth)


def steep_crests_of(samples: np.ndarray, place: np.ndarray, highest: float) -> Crests:
    """Return the positive crests that come near the highest, each seen at depths that its own steepness asks for.

    Args:
        samples: one channel without its offset, full scale is 1.
        place: where they reach STEEP_BASE times the highest.
        highest: the highest of them.
    """
    inner = place[(place > 0) & (place < len(samples) - 1)]
    if inner.size < 3:
        return NO_CRESTS
    runs = _Runs(samples, inner)
    steepest = np.maximum.reduceat(np.abs(samples[inner + 1] - samples[inner]), runs.starts)
    depth = np.maximum(STEEP_DEPTH * runs.tops, STEP_DEPTH * steepest)
    lower = np.minimum(STEEP_DEPTHS_APART * depth, (1 - STEEP_BASE) * runs.tops)
    return runs.crests(runs.tops - depth, runs.tops - lower, STEEP_LOWEST * highest, float(depth.max()))


class _Runs:
    """Neighbouring samples near the top as one crest each: where each begins, which one a place belongs to, its top."""

    def __init__(self, samples: np.ndarray, place: np.ndarray) -> None:
        begins = np.diff(place, prepend=place[0] - 2) > 1
        self._samples, self._place = samples, place
        self._crest = np.cumsum(begins) - 1
        self.starts = np.flatnonzero(begins)
        self.tops = np.maximum.reduceat(samples[place], self.starts)

    def crests(self, upper_level: np.ndarray, lower_level: np.ndarray, lowest: float, depth: float) -> Crests:
        """Return the crests that reach at least the lowest top and are in one piece above their upper level."""
        upper = _Cut(self._samples, self._place, self._crest, upper_level)
        told = (upper.count >= LEAST_SAMPLES) & (upper.count == upper.last - upper.first + 1)
        told &= (self.tops >= lowest) & (upper.first > 0) & (upper.last < len(self._samples) - 1)
        if not told.any():
            return NO_CRESTS
        theirs = told[self._crest]
        renumbered = np.cumsum(told) - 1
        lower = _Cut(self._samples, self._place[theirs], renumbered[self._crest[theirs]], lower_level[told])
        return Crests(
            top=self.tops[told],
            first=upper.first[told],
            last=upper.last[told],
            squareness=upper.widths(self._samples, told) / lower.widths(self._samples),
            depth=depth,
        )


class _Cut:
    """Crests cut at one level each: the first and last sample above it, and how many."""

    def __init__(self, samples: np.ndarray, place: np.ndarray, crest: np.ndarray, level: np.ndarray) -> None:
        above = samples[place] >= level[crest]
        places = place[above]
        self.level = level
        self.count = np.bincount(crest[above], minlength=len(level))
        ends = np.cumsum(self.count)  # every crest holds at least its own top
        self.first, self.last = places[ends - self.count], places[ends - 1]

    def widths(self, samples: np.ndarray, which: np.ndarray | slice = slice(None)) -> np.ndarray:
        """Return the widths in samples between the crossings of the level, which lie between samples."""
        first, last, level = self.first[which], self.last[which], self.level[which]
        before, after = np.maximum(first - 1, 0), np.minimum(last + 1, len(samples) - 1)
        left = (samples[first] - level) / np.maximum(samples[first] - samples[before], LEAST_STEP)
        right = (samples[last] - level) / np.maximum(samples[last] - samples[after], LEAST_STEP)
        return last - first + np.minimum(left, 1) + np.minimum(right, 1)
