"""Two takes laid against each other in time, by what pitch classes sound and when sounds begin.

Dynamic time warping with a slope between a half and two, within a band (Sakoe and Chiba, 1978; from memory): no take
stands still, and none runs away.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.performance import CHROMA_PER_S

BAND_S: Final = 4.0
ONSET_WEIGHT: Final = 0.5
ANOTHER_TEMPO: Final = 0.03
"""Takes whose tempo differs by more cannot be joined without stretching, which is not done (estimate)."""
LEAST_S: Final = 1.0
ALIKE_SHARE: Final = 0.6
"""Where what was laid together is not plainly more alike than the rest, it is not the same song, or has no pitch."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Warp:
    """How much later a take is than another, at moments of the other: both shape (N,), in seconds."""

    at_s: np.ndarray
    lag_s: np.ndarray

    def lag_between(self, start_s: float, end_s: float) -> float:
        """Return the middle lag over a stretch of the other take, or the nearest known."""
        inside = (self.at_s >= start_s) & (self.at_s <= end_s)
        if inside.any():
            return float(np.median(self.lag_s[inside]))
        return float(self.lag_s[int(np.abs(self.at_s - (start_s + end_s) / 2).argmin())])

    @property
    def tempo_off(self) -> float:
        """How much slower the take is on the whole: 0.01 is one per cent."""
        half = len(self.at_s) // 2
        if not half:
            return 0.0
        apart = self.at_s[-half:] - self.at_s[:half]
        return float(np.median((self.lag_s[-half:] - self.lag_s[:half]) / np.maximum(apart, 1e-6)))

    @property
    def is_another_tempo(self) -> bool:
        return abs(self.tempo_off) > ANOTHER_TEMPO


def warp_between(
    one: np.ndarray,
    other: np.ndarray,
    *,
    one_onsets_s: Sequence[float] = (),
    other_onsets_s: Sequence[float] = (),
    lag_s: float = 0.0,
) -> Warp | None:
    """Return how the other take lies against the one; None where they share too little to say.

    Args:
        one, other: chroma of shape (frames, 12), CHROMA_PER_S frames a second.
        one_onsets_s, other_onsets_s: when sounds begin in each, in its own time.
        lag_s: how much later the other is as far as is known: the band lies about it.
    """
    if min(len(one), len(other)) < LEAST_S * CHROMA_PER_S:
        return None
    first, second = _features(one, one_onsets_s), _features(other, other_onsets_s)
    shift, reach = round(lag_s * CHROMA_PER_S), round(BAND_S * CHROMA_PER_S)
    costs, usual = _costs(first, second, shift, reach)
    pairs = _path(costs)
    if pairs is None:
        return None
    rows, offsets = pairs
    places = rows + offsets - reach + shift
    # Only moments that both hold, and in which both sound, tell anything.
    shared = (places >= 0) & (places < len(second))
    shared[shared] &= (first[rows[shared], :12].any(axis=1)) & (second[places[shared], :12].any(axis=1))
    if shared.sum() < LEAST_S * CHROMA_PER_S:
        return None
    if float(costs[rows[shared], offsets[shared]].mean()) > ALIKE_SHARE * usual:
        return None
    return Warp(at_s=rows[shared] / CHROMA_PER_S, lag_s=(offsets[shared] - reach + shift) / CHROMA_PER_S)


def _features(chroma: np.ndarray, onsets_s: Sequence[float]) -> np.ndarray:
    """Return chroma of unit length with a column that tells where sounds begin."""
    shape = chroma.astype(float)
    shape /= np.maximum(np.linalg.norm(shape, axis=1, keepdims=True), 1e-9)
    starts = np.zeros(len(chroma))
    places = np.round(np.asarray(onsets_s, float) * CHROMA_PER_S).astype(int)
    starts[places[(places >= 0) & (places < len(starts))]] = 1
    starts = np.convolve(starts, [0.5, 1.0, 0.5], "same")[: len(chroma)]
    return np.column_stack([shape, ONSET_WEIGHT * np.minimum(starts, 1)])


def _costs(first: np.ndarray, second: np.ndarray, shift: int, reach: int) -> tuple[np.ndarray, float]:
    """Return what it costs to lay each frame to those of the other within the band, shape (frames, band), and what it
    costs usually, for moments that have nothing to do with each other.

    Beyond the other's ends it costs as much: to stay within them is no merit by itself.
    """
    width = 2 * reach + 1
    costs = np.full((len(first), width), np.nan)
    for offset in range(width):
        start = offset - reach + shift
        low, high = max(0, -start), min(len(first), len(second) - start)
        if high > low:
            apart = first[low:high] - second[low + start : high + start]
            costs[low:high, offset] = np.square(apart).sum(axis=1)
    inside = ~np.isnan(costs)
    usual = float(np.median(costs[inside])) if inside.any() else 1.0
    return np.where(inside, costs, usual), usual


def _path(costs: np.ndarray) -> tuple[np.ndarray, np.ndarray] | None:
    """Return the cheapest way through a band: (frames, offsets), both shape (N,).

    Steps are one frame in both, or two in one and one in the other; a double step costs both frames.
    """
    frames, width = costs.shape
    total = np.full((frames, width), np.inf)
    came = np.zeros((frames, width), np.int8)
    total[0] = costs[0]
    for row in range(1, frames):
        even = total[row - 1]
        # The other take two frames on: from one offset less; this take two frames on: from one more.
        ahead = np.concatenate([[np.inf], total[row - 1, :-1] + costs[row, :-1]])
        behind = np.full(width, np.inf)
        if row > 1:
            behind[:-1] = total[row - 2, 1:] + costs[row - 1, 1:]
        ways = np.array([even, ahead, behind])
        came[row] = ways.argmin(axis=0)
        total[row] = ways.min(axis=0) + costs[row]
    row, offset = frames - 1, int(total[-1].argmin())
    if not np.isfinite(total[-1, offset]):
        return None
    rows, offsets = [], []
    while row >= 0:
        rows.append(row)
        offsets.append(offset)
        step = came[row, offset]
        row, offset = row - (2 if step == 2 else 1), offset + (-1 if step == 1 else 1 if step == 2 else 0)
    return np.array(rows[::-1]), np.array(offsets[::-1])
