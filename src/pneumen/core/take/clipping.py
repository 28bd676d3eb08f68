"""Flat tops: where a stage ran out of room, at full scale or earlier in the chain.

A clean crest is flat for a moment too, the longer the lower its note. What tells the two apart is the shoulder: a
smooth crest whose sides still rise by s a sample has sagged by about s w / 4 over a top w samples wide (a parabola
through the shoulders). A clipped top is far flatter than its sides allow; a limiter's rounded top is not. Behind AC
coupling it leans, but stays straight; behind a resampler its corners ring, and what is left is that many crests of
unlike widths stop at one ceiling, squarer than any natural one.
"""

from collections import deque
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.take.crests import (
    BASE,
    LEAST_SAMPLES,
    LOWEST_CREST,
    STEEP_BASE,
    STEEP_LOWEST,
    Crests,
    crests_of,
    steep_crests_of,
)

CONTEXT: Final = 2048
"""Samples carried over from the last block, so that a top across the border is seen whole."""
LEAST_OFFSET: Final = 1e-3
QUIETEST: Final = 10 ** (-40 / 20)
FLATTER_THAN: Final = 0.15
"""Share of the sag of a smooth crest; the flattest natural crests (sixth order) keep a third of it."""
EXACT_STEP: Final = 2e-4
"""How far neighbours on a flat top may lie apart (share of its height) where later stages added next to no noise."""
LEAST_TOPS: Final = 3
"""Under noise a single short top may be chance: so many at one value are proof."""
LONG_TOP: Final = 12
LONG_IDENTICAL_TOP: Final = 6
FINE_STEP: Final = 1e-6
"""A single top is proof where it is too long for chance, the sooner the more equal its samples and the finer
the file's codes: neighbours do not meet in one of 16 million codes by accident."""
PLAIN_TOP: Final = 8
PLAINLY_SQUARE: Final = 0.92
"""A single top under noise is proof where it is this long and this square; natural crests stay under 0.8."""
SQUARE: Final = 0.85
SQUARE_SHARE: Final = 0.5
"""Short tops under noise are proof only where so many of the crests at their value are square: noise squares a few
natural crests by chance, a ceiling all that meet it."""
RATHER_SQUARE: Final = 0.62
LONG_RINGING_TOP: Final = 12
LONG_SQUARE: Final = 0.85
LEAST_RINGING: Final = 5
RATHER_SQUARE_SHARE: Final = 0.3
CEILING_SPREAD: Final = 0.05
NATURAL_SHARE: Final = 0.2
"""Tops that a resampler has let ring: short ones are less square than others (natural and limited crests stay under
0.55 at these depths, measured on voices and instruments), and less alike. So many must stop so near to each other
(share of the highest), that share of all that stop there, and few may be square further below."""
POOLED_BLOCKS: Final = 6
"""Short tops are counted over so many blocks: a drum meets its ceiling once a stroke."""
STEEPEST_COUPLING_HZ: Final = 45.0
"""What tilts a level top fastest: a second-order coupling at 20 Hz falls by about sqrt(2) 20 Hz (physics)."""
LEAST_STRAIGHT: Final = 5
LONG_STRAIGHT: Final = 20
SHOULDERS_OVER_LEAN: Final = 3.0
STRAIGHT_SHARE: Final = 0.4
"""A single straight top is proof from LONG_STRAIGHT samples on, shorter ones where so many crests are straight."""
NEAR_THE_CEILING: Final = 0.95
"""Crests under this share of the highest never came near a ceiling, and say nothing for or against one."""
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

    def __init__(self, rate_hz: int) -> None:
        self._most_tilt = 2 * np.pi * STEEPEST_COUPLING_HZ / rate_hz
        self._tail = np.empty(0)
        self._position = 0
        self._tops: set[tuple[int, int]] = set()
        self._pools: list[deque[Crests]] = [deque(maxlen=POOLED_BLOCKS), deque(maxlen=POOLED_BLOCKS)]
        self._ringing: tuple[dict[tuple[int, int], float], ...] = ({}, {})
        self._highest = [0.0, 0.0]
        self._steep: list[deque[Crests]] = [deque(maxlen=POOLED_BLOCKS), deque(maxlen=POOLED_BLOCKS)]

    def __call__(self, block: np.ndarray, low: float, high: float, mean: float, least_step: float) -> None:
        """Take in the next samples.

        Args:
            low: their extremes, as high; mean: their mean, taken by the caller already.
            least_step: between the values they may take (full scale is 1).
        """
        samples = np.concatenate([self._tail, block])
        fresh = len(self._tail) - LEAST_SAMPLES  # tops that end before this were seen with the last block
        start = self._position - len(self._tail)
        # Left in, an offset would make one long crest of every pause.
        offset = mean if abs(mean) > LEAST_OFFSET * max(high, -low) else 0.0
        upright = samples - offset if offset else samples
        for side, (sign, extreme) in enumerate(((1.0, high - offset), (-1.0, offset - low))):
            self._highest[side] = max(self._highest[side], extreme)
            if extreme < QUIETEST:
                continue
            centred = upright if sign > 0 else -upright
            # Of one ceiling for the whole file a block that stays far under it tells nothing.
            is_steep = extreme >= STEEP_LOWEST * self._highest[side]
            near = np.flatnonzero(centred >= (STEEP_BASE if is_steep else BASE) * extreme)
            place = near[centred[near] >= BASE * extreme] if is_steep else near
            tops = flat_tops(centred, place, extreme, least_step, sign * offset)
            self._note(tops.first + start, tops.last + start, start + fresh)
            tilted = tilted_tops(centred, place, extreme, least_step, self._most_tilt)
            self._note(tilted.first + start, tilted.last + start, start + fresh)
            crests = crests_of(centred, place, extreme, least_step)
            self._pools[side].append(crests.moved(start))
            if (crests.squareness >= SQUARE).any():
                self._note(*square_tops(tuple(self._pools[side])), 0)
            if not is_steep:
                continue
            steep = steep_crests_of(centred, near, extreme)
            self._steep[side].append(steep.moved(start))
            if (steep.squareness >= RATHER_SQUARE).any():
                for first, last, top in zip(*ringing_tops(tuple(self._steep[side])), strict=True):
                    self._ringing[side][int(first), int(last)] = float(top)
        self._tail = samples[-CONTEXT:]
        self._position += len(block)

    def _note(self, first: np.ndarray, last: np.ndarray, fresh: int) -> None:
        keep = last >= fresh
        self._tops.update(zip(first[keep].tolist(), last[keep].tolist(), strict=True))

    @property
    def found(self) -> list[tuple[int, int]]:
        """First and last sample of every flat top, in order of time.

        What rings was cut off by one ceiling for the whole file: nothing of its sign reaches far over it.
        """
        ringing = [
            place
            for side, highest in zip(self._ringing, self._highest, strict=True)
            for place, top in side.items()
            if top >= STEEP_LOWEST * highest
        ]
        return sorted(self._tops.union(ringing))


def flat_tops(
    samples: np.ndarray, place: np.ndarray, highest: float, least_step: float, offset: float = 0.0
) -> FlatTops:
    """Return the clipped positive crests among samples that reach up to highest.

    Args:
        samples: one channel without its offset, full scale is 1.
        place: where they lie near the top: all that LOWEST_CREST times highest can be found among.
        highest: the level of the highest crest, which the others are judged against.
        least_step: distance of neighbouring codes of the file; a sag of a few of them is only rounding.
        offset: what was taken off the samples.
    """
    steps = [max(share * highest, 1.01 * least_step) for share in (0.0, EXACT_STEP)]
    near = place[: np.searchsorted(place, len(samples) - 1)]
    near = near[samples[near] >= LOWEST_CREST * highest]
    change = np.abs(samples[near + 1] - samples[near])
    near, change = near[change <= steps[-1]], change[change <= steps[-1]]
    if near.size < LEAST_SAMPLES - 1:
        return _NO_TOPS
    coarse = least_step > EXACT_STEP * highest  # few codes to choose from: equal neighbours prove little
    guard = ROUNDING_STEPS * least_step
    identical = _clipped_runs(samples, near[change <= steps[0]], guard)
    enough = LEAST_SAMPLES if least_step <= FINE_STEP else LONG_IDENTICAL_TOP
    long_enough = (_lengths(identical) >= enough) & (not coarse)
    identical = _chosen(identical, (identical.value + offset >= FULL_SCALE) | long_enough)
    if identical.first.size:
        return identical
    exact = _clipped_runs(samples, near[change <= steps[1]], max(guard, SAG_OVER_STEP * EXACT_STEP * highest))
    return _chosen(exact, (_lengths(exact) >= LONG_TOP) & (not coarse))


def tilted_tops(
    samples: np.ndarray, place: np.ndarray, highest: float, least_step: float, most_tilt: float
) -> FlatTops:
    """Return the positive crests that were cut off level and then tilted by AC coupling: straight, however they lean.

    A smooth crest bends all the way; a top that was level stays straight behind a first-order coupling, and its
    shoulders are far steeper than it leans.

    Args:
        most_tilt: how far a coupling lets a level top fall in one sample, as a share of its height.
    """
    inner = place[(place >= 1) & (place < len(samples) - 1)]
    inner = inner[samples[inner] >= LOWEST_CREST * highest]
    lean = samples[inner + 1] - samples[inner]
    bend = np.abs(lean - (samples[inner] - samples[inner - 1]))
    step = max(EXACT_STEP * highest, 2.01 * least_step)
    inner = inner[(bend <= step) & (np.abs(lean) <= most_tilt * highest)]
    if inner.size < LEAST_STRAIGHT - 2 or least_step > EXACT_STEP * highest:
        return _NO_TOPS
    breaks = np.flatnonzero(np.diff(inner) > 1)
    first, last = inner[np.append(0, breaks + 1)] - 1, inner[np.append(breaks, inner.size - 1)] + 1
    whole = (last - first + 1 >= LEAST_STRAIGHT) & (first >= 2) & (last < len(samples) - 2)
    first, last = first[whole], last[whole]
    if not first.size:
        return _NO_TOPS
    lengths = last - first + 1
    slope = (samples[last] - samples[first]) / (last - first)
    along = np.arange(lengths.sum()) - np.repeat(np.cumsum(lengths) - lengths, lengths)
    line = np.repeat(samples[first], lengths) + along * np.repeat(slope, lengths)
    off = np.abs(samples[np.repeat(first, lengths) + along] - line)
    bent = np.maximum.reduceat(off, np.cumsum(lengths) - lengths)
    rise = np.minimum(samples[first - 1] - samples[first - 2] - slope, samples[last + 1] - samples[last + 2] + slope)
    sag_of_smooth = rise * lengths / 4
    cut = (bent <= FLATTER_THAN * sag_of_smooth) & (sag_of_smooth > SAG_OVER_STEP * step)
    cut &= rise >= SHOULDERS_OVER_LEAN * np.abs(slope)
    # By chance a few crests of noise lie straight; a ceiling cuts most of those that come near it.
    high = place[samples[place] >= NEAR_THE_CEILING * highest]
    crests = 1 + np.count_nonzero(np.diff(high) > 1)
    proof = (lengths >= LONG_STRAIGHT) | (np.count_nonzero(cut) >= max(LEAST_TOPS, STRAIGHT_SHARE * crests))
    return _chosen(FlatTops(first=first, last=last, value=samples[first]), cut & proof)


def square_tops(pool: tuple[Crests, ...]) -> tuple[np.ndarray, np.ndarray]:
    """Return first and last sample of the crests under noise that a ceiling has cut off.

    Args:
        pool: the crests of one sign in consecutive blocks.
    """
    top, first, last, squareness = _pooled(pool)
    plain = (last - first + 1 >= PLAIN_TOP) & (squareness >= PLAINLY_SQUARE)
    square = squareness >= SQUARE
    if np.count_nonzero(square) >= LEAST_TOPS:
        alike = np.abs(top - np.median(top[square])) <= max(crests.depth for crests in pool)
        if np.count_nonzero(square & alike) >= max(LEAST_TOPS, SQUARE_SHARE * np.count_nonzero(alike)):
            plain |= square & alike
    return first[plain], last[plain]


def ringing_tops(pool: tuple[Crests, ...]) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return first and last sample, and the top, of crests that were cut off at one ceiling before a resampler.

    Args:
        pool: the crests of one sign in consecutive blocks, each seen at depths its steepness asks for.
    """
    top, first, last, squareness = _pooled(pool)
    near = top >= STEEP_LOWEST * top.max()
    asked = np.where(last - first < LONG_RINGING_TOP, RATHER_SQUARE, LONG_SQUARE)
    square = near & (squareness >= asked)
    levels, spread = np.sort(top[square]), CEILING_SPREAD * top.max()
    if levels.size < LEAST_RINGING:
        return NOTHING_RINGS
    reach = np.searchsorted(levels, levels + spread, "right") - np.arange(levels.size)
    at = int(reach.argmax())  # the ceiling is where most of them stop
    meet = (top >= levels[at]) & (top <= levels[at] + spread)
    cut, above = int(np.count_nonzero(square & meet)), int(np.count_nonzero(top > levels[at] + spread))
    natural = at > NATURAL_SHARE * cut  # a wave that is square by itself is so below its highest crests too
    if natural or cut < max(LEAST_RINGING, RATHER_SQUARE_SHARE * int(np.count_nonzero(meet)), above):
        return NOTHING_RINGS
    return first[square & meet], last[square & meet], top[square & meet]


def _pooled(pool: tuple[Crests, ...]) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Return top, first and last sample and squareness of the crests of several blocks."""
    top, first, last, squareness = (
        np.concatenate([getattr(crests, name) for crests in pool]) for name in ("top", "first", "last", "squareness")
    )
    return top, first, last, squareness


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


def _chosen(tops: FlatTops, mask: np.ndarray) -> FlatTops:
    return FlatTops(first=tops.first[mask], last=tops.last[mask], value=tops.value[mask])


NOTHING_RINGS: Final = (np.empty(0, int), np.empty(0, int), np.empty(0))
_NO_TOPS: Final = FlatTops(first=np.empty(0, int), last=np.empty(0, int), value=np.empty(0))
