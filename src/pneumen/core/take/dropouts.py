"""Samples that were lost on the way: zeroed, held, or a block of them repeated.

An empty run is a fault where sound stands on both sides of it up to its edges: a gate, an edit or a fade comes to rest
first. A repeated block is told by its bits: converters' noise never gives the same samples twice.
"""

from typing import Final

import numpy as np

LEAST_EMPTY: Final = 12
CHANCE: Final = 30.0
"""Neighbours of a quiet sound in coarse codes are often equal: a run is no chance where its odds are below e^-30."""
LONGEST_EMPTY_S: Final = 0.18
SIDE_S: Final = 0.004
EDGE_S: Final = 0.0004
EDGE_SHARE: Final = 0.2
"""Near its edges the sound is at least this share of what it is further out: it did not come to rest."""
JUMP_S: Final = 0.00015
JUMP_SHARE: Final = 0.01
JUMP_OVER_STEP: Final = 2.0
"""A leap from the run to the next sample, far larger than the sound's own steps there."""
KINK_S: Final = 0.001
KINK_SHARE: Final = 0.28
STEADY_SLOPE: Final = 0.5
"""A low note cut at its zero crossing keeps its slope to the edge; one that is faded out loses it."""
LEAST_SOUND: Final = 10 ** (-80 / 20)
SOUND_STEPS: Final = 150
"""A few codes that stand still are what a soft sound looks like in coarse ones."""
LEAST_REPEATED: Final = 24
LONGEST_REPEATED: Final = 8192
"""Blocks of audio devices have 16 to 4096 samples."""
LEAST_RICH: Final = 10 ** (-80 / 20)
RICH_STEPS: Final = 50
LIKE_A_TONE: Final = 0.9
LEAP: Final = 3.0
"""A join that bends so much more than the sound does elsewhere is no period of a tone."""
ALIKE: Final = 8
"""So many samples in a row stand again before a distance is looked at."""
MOST_LAGS: Final = 40
GOLDEN: Final = np.uint32(0x9E3779B9)
HALF: Final = np.uint32(16)
A_SIXTH: Final = np.uint32(2**32 // 6)
"""So many of all places are compared, chosen by what stands there."""
CONTEXT: Final = 2 * LONGEST_REPEATED
_JOINS: Final = ((1, np.uint32(0x85EBCA6B)), (2, np.uint32(0xC2B2AE35)), (4, np.uint32(0x27D4EB2F)))
"""Twice as many samples in a row are joined each time, up to ALIKE, by an odd factor."""


class DropoutWatch:
    """Collects the dropouts of one channel: call it with each block in turn, then read found."""

    def __init__(self, rate_hz: int) -> None:
        self._rate_hz = rate_hz
        self._context = max(CONTEXT, round(LONGEST_EMPTY_S * rate_hz) + round(2 * SIDE_S * rate_hz))
        self._tail = np.empty(0)
        self._position = 0
        self._found: set[tuple[int, int]] = set()

    def __call__(self, block: np.ndarray, least_step: float) -> None:
        """Take in the next samples; least_step lies between the values they may take (full scale is 1)."""
        samples = np.concatenate([self._tail, block])
        start = self._position - len(self._tail)
        side = round(SIDE_S * self._rate_hz)
        # What ends nearer to the border is seen with the next block, what ended before this one was seen already.
        first, last = max(len(self._tail) - side, 0), len(samples) - side
        for one, two in empty_runs(samples, self._rate_hz, least_step) + repeated_runs(
            samples, len(self._tail), least_step
        ):
            if first <= two < last:
                self._found.add((start + one, start + two))
        self._tail = samples[-self._context :]
        self._position += len(block)

    @property
    def found(self) -> list[tuple[int, int]]:
        """First sample of every dropout and the one after its last, in order of time."""
        return sorted(self._found)


def empty_runs(samples: np.ndarray, rate_hz: int, least_step: float) -> list[tuple[int, int]]:
    """Return the runs of equal samples that stand inside sound, as (first, one after the last)."""
    side = round(SIDE_S * rate_hz)
    equal = samples[1:] == samples[:-1]
    level = np.flatnonzero(equal)
    if level.size < LEAST_EMPTY:
        return []
    breaks = np.flatnonzero(np.diff(level) > 1)
    first, last = level[np.append(0, breaks + 1)], level[np.append(breaks, level.size - 1)] + 2
    long_enough = (last - first >= LEAST_EMPTY) & (last - first <= LONGEST_EMPTY_S * rate_hz)
    inside = (first >= side) & (last + side <= len(samples))
    found = []
    for one, two in zip(first[long_enough & inside].tolist(), last[long_enough & inside].tolist(), strict=True):
        before, after = samples[one - side : one] - samples[one], samples[two : two + side] - samples[one]
        by_chance = (equal[one - side : one].sum() + equal[two : two + side - 1].sum() + 1) / (2 * side)
        if (two - one) * -np.log(by_chance) < CHANCE:
            continue
        # A ceiling is level too, but there the sound stays on one side of it.
        crosses = samples[one] == 0 or min(before.min(), after.min()) < 0 < max(before.max(), after.max())
        least = max(LEAST_SOUND, SOUND_STEPS * least_step)
        if crosses and all(_sounds_to_edge(outwards, rate_hz, least) for outwards in (before[::-1], after)):
            found.append((one, two))
    return found


def _sounds_to_edge(outwards: np.ndarray, rate_hz: int, least: float) -> bool:
    """Return whether what stands beside a run is sound that reaches up to it; outwards begins at the run."""
    size = np.abs(outwards)
    swing = float(size.max())
    if swing < least:
        return False
    if float(size[: max(3, round(EDGE_S * rate_hz))].max()) >= EDGE_SHARE * swing:
        return True
    near = outwards[: max(4, round(JUMP_S * rate_hz))]
    if abs(near[0]) >= max(JUMP_SHARE * swing, JUMP_OVER_STEP * float(np.abs(np.diff(near)).max())):
        return True
    kink = size[: max(6, round(KINK_S * rate_hz))]
    third = len(kink) // 3
    return bool(kink[-1] >= KINK_SHARE * swing and kink[third] >= STEADY_SLOPE * kink[-1] / 3)


def repeated_runs(samples: np.ndarray, fresh: int, least_step: float) -> list[tuple[int, int]]:
    """Return the blocks that stand there twice in a row, as (first, one after the last) of the second.

    Args:
        fresh: from here on repetitions are looked for.
        least_step: between the values the samples may take.
    """
    found = set()
    for lag in _likely_lags(samples, max(0, fresh - LONGEST_REPEATED)):
        same = samples[lag:] == samples[:-lag]
        edges = np.flatnonzero(np.diff(np.concatenate([[False], same, [False]]).astype(np.int8)))
        for one, two in zip((edges[::2] + lag).tolist(), (edges[1::2] + lag).tolist(), strict=True):
            # Twice in a row: the copy is as long as its distance. A tone of a synthesiser goes on repeating.
            as_long = two - one >= LEAST_REPEATED and lag <= two - one <= lag + max(ALIKE, lag // 4)
            if as_long and _is_rich(samples[one:two], least_step) and not _goes_on(samples, one, two, lag):
                found.add((one, two))
    return sorted(found)


def _is_rich(block: np.ndarray, least_step: float) -> bool:
    """Return whether a block is loud enough, in its codes, not to stand there twice by chance."""
    return float(block.std()) >= max(LEAST_RICH, RICH_STEPS * least_step)


def _goes_on(samples: np.ndarray, one: int, two: int, lag: int) -> bool:
    """Return whether a repetition is a tone's: the period before is alike too, and it is joined without a leap."""
    block, before = samples[one - lag : one], samples[max(0, one - 2 * lag) : one - lag]
    if len(before) < lag:
        return True
    alike = np.corrcoef(block, before)[0, 1] > LIKE_A_TONE if before.std() > 0 else False
    bend = np.abs(np.diff(samples[one - lag : min(two + 3, len(samples))], 2))
    usual = np.quantile(bend[: lag - 4], 0.95) if lag > 8 else bend.max()
    joined = bend[lag - 3 : lag + 1].max() <= LEAP * max(usual, 1e-9)
    return bool(alike and joined)


def _likely_lags(samples: np.ndarray, start: int) -> list[int]:
    """Return distances at which a few samples in a row stand again, found among a share of all places."""
    single = samples[start:].astype(np.float32)  # holds 24 bits: what is alike stays so
    single += np.float32(0.0)  # minus zero is zero
    bits = single.view(np.uint32) * GOLDEN
    bits ^= bits >> HALF  # else sums of different samples are often alike, codes being multiples of one step
    anchors = np.flatnonzero(bits[: 1 - ALIKE] < A_SIXTH)
    if anchors.size < 2:
        return []
    for reach, factor in _JOINS:
        bits = bits[:-reach] * factor + bits[reach:]
    marks = bits[anchors]
    sorted_marks = np.sort(marks)
    twice = np.unique(sorted_marks[1:][sorted_marks[1:] == sorted_marks[:-1]])
    if not twice.size:
        return []
    again = np.flatnonzero(np.isin(marks, twice))
    order = again[np.argsort(marks[again], kind="stable")]
    alike = np.flatnonzero(marks[order[1:]] == marks[order[:-1]])
    lags = anchors[order[alike + 1]] - anchors[order[alike]]
    lags, counts = np.unique(lags[(lags >= LEAST_REPEATED) & (lags <= LONGEST_REPEATED)], return_counts=True)
    most = np.argsort(counts)[::-1][:MOST_LAGS]
    return [int(lag) for lag in lags[most]]
