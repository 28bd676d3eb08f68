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
QUIETEST: Final = 10 ** (-40 / 20)
FLATTER_THAN: Final = 0.15
"""Share of the sag of a smooth crest; the flattest natural crests (sixth order) keep a third of it."""
LEAST_SAMPLES: Final = 3
EXACT_STEP: Final = 2e-4
NOISY_STEP: Final = 1.5e-3
"""How far neighbours on a flat top may lie apart (share of its height) where later stages added next to no noise,
or some."""
SAME_VALUE: Final = 2e-3
LEAST_TOPS: Final = 3
"""Below full scale, or under noise, a single flat top may be chance: so many at one value are proof."""
LONG_TOP: Final = 12
LONG_IDENTICAL_TOP: Final = 6
FINE_STEP: Final = 1e-6
"""A single top is proof where it is too long for chance, the sooner the more equal its samples and the finer
the file's codes: neighbours do not meet in one of 16 million codes by accident."""
FULL_SCALE: Final = 0.985
ROUNDING_STEPS: Final = 12
SAG_OVER_STEP: Final = 4
"""The sag a smooth crest would have must stand clear of rounding and of the noise that is allowed for."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatTops:
    """Flat tops as arrays: first and last sample, and the value they stop at (full scale is 1)."""

    first: np.ndarray
    last: np.ndarray
    value: np.ndarray


class ClippingWatch:
    """Collects the flat tops of one channel: call it with each block in turn, then read found."""

    def __init__(self, least_step: float) -> None:
        self._least_step = least_step
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
                tops = flat_tops(sign * samples, extreme, self._least_step)
                keep = tops.last >= fresh
                for first, last, value in zip(tops.first[keep], tops.last[keep], tops.value[keep], strict=True):
                    self._tops.append((start + int(first), start + int(last), sign * float(value)))
        self._tail = samples[-CONTEXT:]
        self._position += len(block)

    @property
    def found(self) -> list[tuple[int, int]]:
        """First and last sample of every flat top, in order of time."""
        return sorted({(first, last) for first, last, _ in self._tops})


def flat_tops(samples: np.ndarray, highest: float, least_step: float) -> FlatTops:
    """Return the clipped positive crests among samples that reach up to highest.

    Args:
        samples: one channel, full scale is 1.
        highest: the level of the highest crest, which the others are judged against.
        least_step: distance of neighbouring codes of the file; a sag of a few of them is only rounding.
    """
    steps = [max(share * highest, 1.01 * least_step) for share in (0.0, EXACT_STEP, NOISY_STEP)]
    near = np.flatnonzero(samples[:-1] >= NEAR_TOP * highest)
    change = np.abs(samples[near + 1] - samples[near])
    near, change = near[change <= steps[-1]], change[change <= steps[-1]]
    if near.size < LEAST_SAMPLES - 1:
        return _NO_TOPS
    coarse = least_step > EXACT_STEP * highest  # few codes to choose from: equal neighbours prove little
    guard = ROUNDING_STEPS * least_step
    identical = _clipped_runs(samples, near[change <= steps[0]], guard)
    enough = LEAST_SAMPLES if least_step <= FINE_STEP else LONG_IDENTICAL_TOP
    identical = _chosen(identical, (identical.value >= FULL_SCALE) | (_lengths(identical) >= enough) & (not coarse))
    if identical.first.size:
        return identical
    exact = _clipped_runs(samples, near[change <= steps[1]], max(guard, SAG_OVER_STEP * EXACT_STEP * highest))
    exact = _chosen(exact, (_lengths(exact) >= LONG_TOP) & (not coarse) | _repeats(exact))
    if exact.first.size:
        return exact
    noisy = _clipped_runs(samples, near, max(guard, SAG_OVER_STEP * NOISY_STEP * highest))
    return _chosen(noisy, _repeats(noisy))


def _clipped_runs(samples: np.ndarray, flat: np.ndarray, least_sag: float) -> FlatTops:
    """Join samples whose next neighbour is level with them into tops, and keep those too flat for their shoulders."""
    breaks = np.flatnonzero(np.diff(flat) > 1)
    first = flat[np.append(0, breaks + 1)] if flat.size else flat
    last = flat[np.append(breaks, flat.size - 1)] + 1 if flat.size else flat
    whole = (last - first + 1 >= LEAST_SAMPLES) & (first >= 2) & (last < len(samples) - 2)
    first, last = first[whole], last[whole]
    if not first.size:
        return _NO_TOPS
    spans = np.column_stack([first, last + 1]).ravel()
    top = np.maximum.reduceat(samples, spans)[::2]
    sag = top - np.minimum.reduceat(samples, spans)[::2]
    rise = np.minimum(samples[first - 1] - samples[first - 2], samples[last + 1] - samples[last + 2])
    sag_of_smooth = rise * (last - first + 1) / 4
    clipped = (sag <= FLATTER_THAN * sag_of_smooth) & (sag_of_smooth > least_sag)
    return FlatTops(first=first[clipped], last=last[clipped], value=top[clipped])


def _lengths(tops: FlatTops) -> np.ndarray:
    return tops.last - tops.first + 1


def _repeats(tops: FlatTops) -> np.ndarray:
    """Tell for each top whether enough others stop at the same value."""
    order = np.sort(tops.value)
    tolerance = SAME_VALUE * np.abs(tops.value)
    alike = np.searchsorted(order, tops.value + tolerance) - np.searchsorted(order, tops.value - tolerance)
    return alike >= LEAST_TOPS


def _chosen(tops: FlatTops, mask: np.ndarray) -> FlatTops:
    return FlatTops(first=tops.first[mask], last=tops.last[mask], value=tops.value[mask])


_NO_TOPS: Final = FlatTops(first=np.empty(0, int), last=np.empty(0, int), value=np.empty(0))
