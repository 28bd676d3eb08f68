"""Notes cut out of a pitch track: the steady part of each, and how it stands to the tuning."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.ndimage import median_filter

from pneumen.core.performance.pitch import PitchTrack

LEAST_NOTE_S: Final = 0.09
SMOOTH_S: Final = 0.05
APART_CENTS: Final = 70.0
"""Where the pitch moves so far from a note's own and stays there, the next one has begun; vibrato comes back."""
STAYS_S: Final = 0.07
EDGE_S: Final = 0.03
"""A note's first and last moments glide."""
LEAST_SURE: Final = 0.35
SEMITONE: Final = 100.0
LEAST_AGREEMENT: Final = 0.35
"""How far the notes of a take must gather about one grid before it can be called a tuning."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Note:
    """One note: the median pitch of its steady part, and how sure that is, 0 to 1."""

    start_s: float
    end_s: float
    hertz: float
    sure: float

    @property
    def cents(self) -> float:
        """Over A 440."""
        return float(1200 * np.log2(self.hertz / 440.0))


def notes_in(track: PitchTrack) -> tuple[Note, ...]:
    """Return the notes of a track in order of time; glides and moments nobody is sure of belong to none."""
    cents = track.cents
    found = []
    for first, last in _voiced_runs(cents):
        smooth = median_filter(cents[first:last], max(1, round(SMOOTH_S / track.hop_s)) | 1, mode="nearest")
        for begin, end in _cut(smooth, round(STAYS_S / track.hop_s)):
            note = _note(track, first + begin, first + end)
            if note is not None:
                found.append(note)
    return tuple(found)


def _voiced_runs(cents: np.ndarray) -> list[tuple[int, int]]:
    voiced = np.concatenate([[0], (~np.isnan(cents)).astype(np.int8), [0]])
    edges = np.flatnonzero(np.diff(voiced))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def _cut(smooth: np.ndarray, stays: int) -> list[tuple[int, int]]:
    """Return the stretches between which the pitch moves to another note and stays there."""
    pieces, begin, place = [], 0, 0
    while place < len(smooth):
        own = np.median(smooth[begin : place + 1])
        ahead = smooth[place : place + stays]
        if place > begin and len(ahead) == stays and (np.abs(ahead - own) > APART_CENTS).all():
            pieces.append((begin, place))
            begin = place
        place += 1
    return [*pieces, (begin, len(smooth))]


def _note(track: PitchTrack, first: int, last: int) -> Note | None:
    length_s = (last - first) * track.hop_s
    if length_s < LEAST_NOTE_S:
        return None
    edge = min(round(EDGE_S / track.hop_s), (last - first) // 4)
    steady = slice(first + edge, last - edge)
    sure = float(np.mean(track.sure[steady]))
    if sure < LEAST_SURE:
        return None
    return Note(
        start_s=first * track.hop_s, end_s=last * track.hop_s, hertz=float(np.median(track.hertz[steady])), sure=sure
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Tuning:
    """Where the grid of semitones stands: a is the A near 440 Hz. agreement is how far the notes gather about it, 0 to
    1, and sure whether that is enough."""

    a_hz: float
    agreement: float

    @property
    def sure(self) -> bool:
        return self.agreement >= LEAST_AGREEMENT

    @property
    def shift_cents(self) -> float:
        return float(1200 * np.log2(self.a_hz / 440.0))


def tuning_of(notes: Sequence[Note]) -> Tuning | None:
    """Return the tuning that notes agree on, longer ones counting more; None where there are none.

    >>> sharp = [Note(start_s=n, end_s=n + 1, hertz=440 * 2 ** (n / 12 + 20 / 1200), sure=1.0) for n in (0, 3, 7)]
    >>> round(tuning_of(sharp).shift_cents)
    20
    """
    if not notes:
        return None
    weight = np.array([(note.end_s - note.start_s) * note.sure for note in notes])
    turns = np.exp(2j * np.pi * np.array([note.cents for note in notes]) / SEMITONE)
    mean = (weight * turns).sum() / weight.sum()
    shift = SEMITONE * float(np.angle(mean)) / (2 * np.pi)
    return Tuning(a_hz=440.0 * 2 ** (shift / 1200), agreement=float(abs(mean)))


def semitone_of(note: Note, tuning: Tuning) -> int:
    """Return the nearest semitone of a tuning, counted from its A."""
    return round((note.cents - tuning.shift_cents) / SEMITONE)


def off_cents(note: Note, semitone: int, tuning: Tuning) -> float:
    """Return how far a note lies over a semitone of a tuning."""
    return note.cents - tuning.shift_cents - SEMITONE * semitone


def meant(notes: Sequence[Note], others: Sequence[Sequence[Note]], tuning: Tuning) -> tuple[int | None, ...]:
    """Return the semitone each note was meant to be: what most other takes hold in its place; None where none do.

    The nearest semitone hides a wrong note; takes of the same line seldom share one. The takes are laid against each
    other note by note (Needleman and Wunsch, 1970), whatever their timing.
    """
    own = [semitone_of(note, tuning) for note in notes]
    votes: list[list[int]] = [[] for _ in own]
    for other in others:
        sung = [semitone_of(note, tuning) for note in other]
        for here, there in _aligned(own, sung):
            votes[here].append(sung[there])
    return tuple(_most(own[place], each) for place, each in enumerate(votes))


def _most(own: int, votes: list[int]) -> int | None:
    """Return what most say, the note itself having its own vote; None where nobody else says anything."""
    if not votes:
        return None
    every = [own, *votes]
    best = max(set(every), key=lambda one: (every.count(one), one == own))
    return best if every.count(best) * 2 > len(every) else None


def _aligned(one: Sequence[int], other: Sequence[int]) -> list[tuple[int, int]]:
    """Return the pairs of places that belong together: unlike notes cost by their distance, gaps as much as a third."""
    gap, rows, columns = 3.0, len(one), len(other)
    cost = np.zeros((rows + 1, columns + 1))
    cost[:, 0], cost[0, :] = gap * np.arange(rows + 1), gap * np.arange(columns + 1)
    for row in range(1, rows + 1):
        for column in range(1, columns + 1):
            unlike = min(abs(one[row - 1] - other[column - 1]), 5)
            cost[row, column] = min(
                cost[row - 1, column - 1] + unlike, cost[row - 1, column] + gap, cost[row, column - 1] + gap
            )
    pairs, row, column = [], rows, columns
    while row and column:
        unlike = min(abs(one[row - 1] - other[column - 1]), 5)
        if cost[row, column] == cost[row - 1, column - 1] + unlike:
            row, column = row - 1, column - 1
            pairs.append((row, column))
        elif cost[row, column] == cost[row - 1, column] + gap:
            row -= 1
        else:
            column -= 1
    return pairs[::-1]
