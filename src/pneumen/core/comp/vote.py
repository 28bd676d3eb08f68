"""Where the phrases of a song begin and end, as its takes agree, and which line of the words is which."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction
from pneumen.core.take import PeakTrace

HOP_S: Final = 0.02
SOUNDS_DB: Final = 28.0
"""Below the loudest moments so far, and what sounds is a tail, a breath or the room."""
LOUD_QUANTILE: Final = 0.95
OVER_FLOOR_DB: Final = 8.0
LEAST_PAUSE_S: Final = 0.16
LEAST_SOUND_S: Final = 0.12
AFTER_S: Final = 0.1
"""So soon after a sound a phrase is over: the breath that follows belongs to the next one."""
FIRST_S: Final = 0.6
"""So long before the first sound the first phrase begins: with its breath."""
NEAR_SHARE: Final = 0.25
OUTSIDE_DB: Final = -200.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """A stretch of song time."""

    start_s: float
    end_s: float

    @property
    def length_s(self) -> float:
        return self.end_s - self.start_s


def levels_in_song(trace: PeakTrace, *, offset_s: float, length_s: float) -> np.ndarray:
    """Return a take's peaks in dBFS every 20 ms of song time; OUTSIDE_DB where it holds nothing."""
    count = round(length_s / HOP_S)
    times = (np.arange(count) * HOP_S - offset_s) / trace.seconds_per_column
    codes = np.frombuffer(trace.peaks, np.uint8)
    width = max(1, round(HOP_S / trace.seconds_per_column))
    whole = len(codes) // width * width
    if not whole:
        return np.full(count, OUTSIDE_DB)
    # The highest of each stretch, on the take's own grid: a column is half a stretch off at most.
    highest = codes[:whole].reshape(-1, width).max(axis=1)
    places = np.floor(times / width + 0.5).astype(int)
    inside = (places >= 0) & (places < len(highest))
    found = np.full(count, OUTSIDE_DB)
    found[inside] = -120.0 + highest[places[inside]] / 2
    return found


def sounding(levels_db: np.ndarray) -> np.ndarray:
    """Return where a take sounds, 1 or 0, and NaN where it holds nothing."""
    held = levels_db > OUTSIDE_DB
    found = np.full(len(levels_db), np.nan)
    if not held.any():
        return found
    loud = float(np.quantile(levels_db[held], LOUD_QUANTILE))
    floor = float(np.quantile(levels_db[held], 0.05))
    limit = max(loud - SOUNDS_DB, min(floor + OVER_FLOOR_DB, loud - 6.0))
    found[held] = levels_db[held] > limit
    return found


def sounds_in(sounds: np.ndarray, spans: Sequence[Span]) -> tuple[bool, ...]:
    """Return in which stretches of the song something sounds.

    Args:
        sounds: as `sounding` tells it, every 20 ms.
    """
    found = []
    for span in spans:
        heard = sounds[round(span.start_s / HOP_S) : round(span.end_s / HOP_S)]
        found.append(bool(np.nansum(heard == 1) >= max(1.0, LEAST_SOUND_S / HOP_S)))
    return tuple(found)


def phrases_by_vote(takes: Sequence[np.ndarray]) -> tuple[Span, ...]:
    """Return the phrases that most takes have in common; each begins where the one before it was over.

    Args:
        takes: of each where it sounds, as `sounding` tells it, all of one length.
    """
    if not takes:
        return ()
    rows = np.array(takes)
    heard = ~np.isnan(rows)
    share = np.nansum(np.where(heard, rows, 0.0), axis=0) / np.maximum(heard.sum(axis=0), 1)
    sounds = _runs(share >= 0.5, LEAST_SOUND_S, LEAST_PAUSE_S)
    spans: list[Span] = []
    for number, (first, last) in enumerate(sounds):
        start = first * HOP_S - FIRST_S if number == 0 else spans[-1].end_s
        follows = sounds[number + 1][0] if number + 1 < len(sounds) else len(share)
        end = last * HOP_S + min(AFTER_S, (follows - last) * HOP_S / 2)
        spans.append(Span(start_s=max(0.0, start), end_s=end))
    return tuple(spans)


def _runs(sounds: np.ndarray, least_s: float, gap_s: float) -> list[tuple[int, int]]:
    """Return stretches that sound, pauses shorter than a gap closed, and blips left out."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], sounds.astype(np.int8), [0]])))
    runs: list[tuple[int, int]] = []
    for first, last in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        if runs and (first - runs[-1][1]) * HOP_S < gap_s:
            runs[-1] = (runs[-1][0], last)
        else:
            runs.append((first, last))
    return [(first, last) for first, last in runs if (last - first) * HOP_S >= least_s]


def lay_lines(weights: Sequence[float], phrases: Sequence[Span], levels_db: np.ndarray) -> tuple[Span, ...]:
    """Return where each line lies: in order, whole phrases each as far as there are enough of them.

    The lengths of lines and phrases decide (least squares over all ways to lay them, by dynamic programming). Where
    there are fewer phrases than lines, as in legato, lines share a phrase, cut where it is softest near by.

    Args:
        weights: how long each line is beside the others: its syllables, or its bars.
        levels_db: of the takes together, every 20 ms.

    Raises:
        Contradiction: where there are no lines, or no phrase is heard.
    """
    if not weights:
        raise Contradiction("lines", "must be there before they can be laid: paste the words, or count the bars")
    if not phrases:
        raise Contradiction("takes", "hold no phrase: nothing sounds in them")
    lengths = [one.length_s for one in phrases]
    if len(phrases) >= len(weights):
        groups = _grouped(lengths, weights)
        return tuple(Span(start_s=phrases[first].start_s, end_s=phrases[last - 1].end_s) for first, last in groups)
    found: list[Span] = []
    for phrase, (first, last) in zip(phrases, _grouped(weights, lengths), strict=True):
        found += _shared(phrase, weights[first:last], levels_db)
    return tuple(found)


def _grouped(many: Sequence[float], few: Sequence[float]) -> list[tuple[int, int]]:
    """Return which of many neighbours make up each of few, so that their shares of the whole agree best."""
    sums = np.concatenate([[0.0], np.cumsum(many)]) / max(sum(many), 1e-9)
    wanted = np.array(few) / max(sum(few), 1e-9)
    count, groups = len(many), len(few)
    best = np.full((groups + 1, count + 1), np.inf)
    came = np.zeros((groups + 1, count + 1), int)
    best[0, 0] = 0.0
    for group in range(1, groups + 1):
        for last in range(group, count - (groups - group) + 1):
            firsts = np.arange(group - 1, last)
            costs = best[group - 1, firsts] + np.square(sums[last] - sums[firsts] - wanted[group - 1])
            place = int(costs.argmin())
            best[group, last], came[group, last] = costs[place], firsts[place]
    found, last = [], count
    for group in range(groups, 0, -1):
        found.append((int(came[group, last]), last))
        last = int(came[group, last])
    return found[::-1]


def _shared(phrase: Span, weights: Sequence[float], levels_db: np.ndarray) -> list[Span]:
    """Return a phrase cut into as many lines as share it, each cut where it is softest near its due place."""
    total, edges = sum(weights), [phrase.start_s]
    for number in range(1, len(weights)):
        due = phrase.start_s + phrase.length_s * sum(weights[:number]) / total
        reach = NEAR_SHARE * phrase.length_s * min(weights[number - 1], weights[number]) / total
        first, last = round((due - reach) / HOP_S), round((due + reach) / HOP_S)
        around = levels_db[max(first, 0) : last + 1]
        edges.append(due if not around.size else (max(first, 0) + int(around.argmin())) * HOP_S)
    edges.append(phrase.end_s)
    return [Span(start_s=one, end_s=other) for one, other in pairwise(edges)]


def lay_bars(bars: Sequence[float], *, bar_s: float, first_s: float = 0.0) -> tuple[Span, ...]:
    """Return where lines of so many bars lie when nothing pauses.

    >>> [round(one.end_s, 1) for one in lay_bars([4, 4], bar_s=1.5)]
    [6.0, 12.0]
    """
    edges = first_s + bar_s * np.concatenate([[0.0], np.cumsum(bars)])
    return tuple(Span(start_s=float(one), end_s=float(other)) for one, other in pairwise(edges))


VOWELS: Final = "aeiouyäöüáéíóúàèìòùâêîôûåøæœ"


def weight_of(words: str) -> float:
    """Return how long a line takes to sing, by its syllables: groups of vowels, or letters in scripts without.

    >>> weight_of("The lamps go on one after one")
    10.0
    """
    text = words.lower()
    groups = sum(
        letter in VOWELS and (place == 0 or text[place - 1] not in VOWELS) for place, letter in enumerate(text)
    )
    letters = sum(letter.isalpha() for letter in text)
    return float(max(groups, 1 if groups else letters, 1))
