"""Flat tops: where a stage ran out of room, at full scale or earlier in the chain.

A clean crest is flat for a moment too, the longer the lower its note. What tells the two apart is the shoulder: a
smooth crest whose sides still rise by s a sample has sagged by about s w / 4 over a top w samples wide (a parabola
through the shoulders). A clipped top is far flatter than its sides allow; a limiter's rounded top is not.
"""

from dataclasses import dataclass
from typing import Final

import numpy as np

CONTEXT: Final = 2048
"""Samples carried over from the last block, so that a top across the border is seen whole."""
NEAR_TOP: Final = 0.85
"""Only crests this close to the block's highest can have met its ceiling."""
QUIETEST: Final = 10 ** (-50 / 20)
FLATTER_THAN: Final = 0.15
"""Share of the sag of a smooth crest; the flattest natural crests (sixth order) keep a third of it."""
LEAST_SAMPLES: Final = 3
EXACT_STEP: Final = 4e-5
NOISY_STEP: Final = 1e-3
"""How far neighbours on a flat top may lie apart, where later stages added next to no noise, or some."""
SAME_VALUE: Final = 2e-3
LEAST_TOPS: Final = 3
"""Below full scale, or under noise, a single short flat may be chance: so many at one value, or a long one, count."""
LONG_TOP: Final = 6
FULL_SCALE: Final = 0.985


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatTops:
    """Flat tops as arrays: first and last sample, and the value they stop at (full scale is 1)."""

    first: np.ndarray
    last: np.ndarray
    value: np.ndarray


class ClippingWatch:
    """Collects the flat tops of one channel: call it with each block in turn, then read found."""

    def __init__(self, least_step: float) -> None:
        self._steps = (max(EXACT_STEP, 1.01 * least_step), max(NOISY_STEP, 1.01 * least_step))
        self._guard = 6 * least_step
        self._tail = np.empty(0)
        self._position = 0
        self._tops: list[tuple[int, int, float]] = []

    def __call__(self, block: np.ndarray, low: float, high: float) -> None:
        """Take in the next samples; low and high are their extremes, taken by the caller already."""
        samples = np.concatenate([self._tail, block])
        fresh = len(self._tail) - LEAST_SAMPLES  # tops that end before this were seen with the last block
        start = self._position - len(self._tail)
        for sign, extreme in ((1.0, high), (-1.0, -low)):
            if extreme >= QUIETEST:
                tops = flat_tops(sign * samples, max(extreme, 0.0), self._steps, self._guard)
                keep = tops.last >= fresh
                for first, last, value in zip(tops.first[keep], tops.last[keep], tops.value[keep], strict=True):
                    self._tops.append((start + int(first), start + int(last), sign * float(value)))
        self._tail = samples[-CONTEXT:]
        self._position += len(block)

    @property
    def found(self) -> list[tuple[int, int]]:
        """First and last sample of every flat top, in order of time."""
        return sorted({(first, last) for first, last, _ in self._tops})


def flat_tops(
    samples: np.ndarray, highest: float, steps: tuple[float, float], guard: float
) -> FlatTops:
    """Return the clipped positive crests among samples that reach up to highest.

    Args:
        samples: one channel, full scale is 1.
        highest: the level of the highest crest to be judged against.
        steps: largest difference of neighbours on an exact and on a noisy flat top.
        guard: sag below which rounding to the file's bits explains a flat top.
    """
    exact = _clipped_runs(samples, highest, steps[0], guard)
    plausible = (exact.value >= FULL_SCALE) | _repeats(exact, LEAST_TOPS)
    exact = _chosen(exact, plausible)
    if exact.first.size:
        return exact
    noisy = _clipped_runs(samples, highest, steps[1] * highest, guard)
    return _chosen(noisy, _repeats(noisy, LEAST_TOPS))


def _clipped_runs(samples: np.ndarray, highest: float, step: float, guard: float) -> FlatTops:
    near = np.flatnonzero(samples[:-1] >= NEAR_TOP * highest)
    flat = near[np.abs(samples[near + 1] - samples[near]) <= step]
    if not flat.size:
        return _NO_TOPS
    breaks = np.flatnonzero(np.diff(flat) > 1)
    first = flat[np.append(0, breaks + 1)]
    last = flat[np.append(breaks, flat.size - 1)] + 1
    whole = (last - first + 1 >= LEAST_SAMPLES) & (first >= 2) & (last < len(samples) - 2)
    first, last = first[whole], last[whole]
    if not first.size:
        return _NO_TOPS
    spans = np.column_stack([first, last + 1]).ravel()
    top = np.maximum.reduceat(samples, spans)[::2]
    sag = top - np.minimum.reduceat(samples, spans)[::2]
    rise = np.minimum(samples[first - 1] - samples[first - 2], samples[last + 1] - samples[last + 2])
    sag_of_smooth = rise * (last - first + 1) / 4
    clipped = (sag <= FLATTER_THAN * sag_of_smooth) & (sag_of_smooth > guard)
    return FlatTops(first=first[clipped], last=last[clipped], value=top[clipped])


def _repeats(tops: FlatTops, least: int) -> np.ndarray:
    """Tell for each top whether enough others stop at the same value, or it is long enough by itself."""
    order = np.sort(tops.value)
    tolerance = SAME_VALUE * np.abs(tops.value)
    others = np.searchsorted(order, tops.value + tolerance) - np.searchsorted(order, tops.value - tolerance)
    return (others >= least) | (tops.last - tops.first + 1 >= LONG_TOP)


def _chosen(tops: FlatTops, mask: np.ndarray) -> FlatTops:
    return FlatTops(first=tops.first[mask], last=tops.last[mask], value=tops.value[mask])


_NO_TOPS: Final = FlatTops(first=np.empty(0, int), last=np.empty(0, int), value=np.empty(0))
