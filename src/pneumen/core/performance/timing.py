"""How a take stands in time: to the backing's beats, and to another take of the same line."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import require_positive

DIVISIONS: Final = (1, 2, 3, 4, 6)
"""Beats, halves, triplets, quarters and sixths of a beat."""
NEARLY: Final = 0.85
"""The coarsest grid that notes gather on nearly as well as on the best is theirs."""
LEAST_ONSETS: Final = 12
LEAST_AGREEMENT: Final = 0.4
MAD_TO_SD: Final = 1.4826
"""Of a normal distribution, from the median deviation to the standard deviation."""
LONGEST_LAG_S: Final = 1.5
BIN_S: Final = 0.01
PAIR_S: Final = 0.15
"""Two takes' notes farther apart are not the same note."""
LEAST_PAIRS: Final = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Timing:
    """Against a grid of so many to the beat: spread_ms is the standard deviation about the shared lag.

    lag_ms is how late the notes are on the mean; None where the offset of the recording is not known: then a lag that
    all notes share is the recording's, and not the player's. drift_ms_per_min is how the lag grows: two clocks, or a
    tempo that runs away. agreement is how far the notes gather on the grid, 0 to 1, and sure whether that is enough.
    """

    division: int
    count: int
    spread_ms: float
    lag_ms: float | None
    drift_ms_per_min: float
    agreement: float

    @property
    def sure(self) -> bool:
        return self.count >= LEAST_ONSETS and self.agreement >= LEAST_AGREEMENT


def timing_of(onsets_s: np.ndarray, beat_s: float, *, first_beat_s: float | None = None) -> Timing | None:
    """Return how notes stand to beats that are beat_s apart; None where there are fewer than three.

    Args:
        first_beat_s: when a beat falls in the take; None where that is not known.

    Raises:
        OutOfRange: for beats without a distance.
    """
    require_positive("beat_s", beat_s)
    onsets = np.asarray(onsets_s, float)
    if onsets.size < 3:
        return None
    division = _division(onsets, beat_s)
    step = beat_s / division
    turn = np.exp(2j * np.pi * onsets / step)
    shared = float(np.angle(turn.mean())) * step / (2 * np.pi)
    off = _wrapped(onsets - shared, step)
    middle = float(np.median(off))
    lag = None
    if first_beat_s is not None:
        lag = 1000 * float(_wrapped(np.array([shared + middle - first_beat_s]), step)[0])
    return Timing(
        division=division,
        count=int(onsets.size),
        spread_ms=1000 * MAD_TO_SD * float(np.median(np.abs(off - middle))),
        lag_ms=lag,
        drift_ms_per_min=60_000 * _slope(onsets, off),
        agreement=float(abs(turn.mean())),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class SpanTiming:
    """One stretch of a take: how far its notes lie behind those of the whole take on the mean, and their spread."""

    start_s: float
    end_s: float
    behind_ms: float
    spread_ms: float
    count: int


def timing_by_span(
    onsets_s: np.ndarray, beat_s: float, spans: Sequence[tuple[float, float]]
) -> tuple[SpanTiming | None, ...]:
    """Return where a take rushes or drags: each stretch beside the whole take; None where it holds too few notes.

    What all notes share is taken out: it may be the recording's offset.

    Args:
        spans: from and to, in the take's own time.
    """
    onsets = np.asarray(onsets_s, float)
    if onsets.size < LEAST_ONSETS:
        return (None,) * len(spans)
    step = beat_s / _division(onsets, beat_s)
    shared = float(np.angle(np.exp(2j * np.pi * onsets / step).mean())) * step / (2 * np.pi)
    off = _wrapped(onsets - shared, step)
    off -= np.median(off)
    found: list[SpanTiming | None] = []
    for start_s, end_s in spans:
        inside = off[(onsets >= start_s) & (onsets < end_s)]
        if inside.size < LEAST_PAIRS:
            found.append(None)
            continue
        middle = float(np.median(inside))
        spread = MAD_TO_SD * float(np.median(np.abs(inside - middle)))
        found.append(
            SpanTiming(
                start_s=start_s, end_s=end_s, behind_ms=1000 * middle, spread_ms=1000 * spread, count=int(inside.size)
            )
        )
    return tuple(found)


def _division(onsets: np.ndarray, beat_s: float) -> int:
    gathered = [abs(np.exp(2j * np.pi * onsets * division / beat_s).mean()) for division in DIVISIONS]
    best = max(gathered)
    return next(division for division, one in zip(DIVISIONS, gathered, strict=True) if one >= NEARLY * best)


def _wrapped(off: np.ndarray, step: float) -> np.ndarray:
    return np.asarray((off + step / 2) % step - step / 2)


def _slope(onsets: np.ndarray, off: np.ndarray) -> float:
    """Return the median slope between notes of the first and of the second half (Theil, 1950, in its short form)."""
    half = onsets.size // 2
    first, second = slice(0, half), slice(onsets.size - half, onsets.size)
    apart = onsets[second] - onsets[first]
    return float(np.median((off[second] - off[first]) / np.maximum(apart, 1e-6)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Tightness:
    """How a second take stands to a first: lag_ms the median, spread_ms the standard deviation, of count notes."""

    lag_ms: float
    spread_ms: float
    count: int


def tightness_of(lead_s: np.ndarray, other_s: np.ndarray, *, lag_s: float | None = None) -> Tightness | None:
    """Return how tight a take is to another; None where they share too few notes to say.

    Args:
        lead_s, other_s: when their sounds begin.
        lag_s: how much later the other's recording begins on the mean; sought where that is not known.
    """
    lead, other = np.asarray(lead_s, float), np.asarray(other_s, float)
    if min(lead.size, other.size) < LEAST_PAIRS:
        return None
    base = _best_lag(lead, other) if lag_s is None else lag_s
    off = pairs_between(lead, other - base)
    if len(off) < LEAST_PAIRS:
        return None
    apart = np.array([second - first for first, second in off])
    middle = float(np.median(apart))
    return Tightness(
        lag_ms=1000 * (base + middle),
        spread_ms=1000 * MAD_TO_SD * float(np.median(np.abs(apart - middle))),
        count=len(off),
    )


def pairs_between(lead: np.ndarray, other: np.ndarray) -> list[tuple[float, float]]:
    """Return the notes of two takes that are nearest to each other, each once."""
    if not (lead.size and other.size):
        return []
    nearest = np.abs(other[None, :] - lead[:, None])
    there, back = nearest.argmin(axis=1), nearest.argmin(axis=0)
    return [
        (float(lead[place]), float(other[match]))
        for place, match in enumerate(there)
        if back[match] == place and nearest[place, match] <= PAIR_S
    ]


def _best_lag(lead: np.ndarray, other: np.ndarray) -> float:
    """Return the lag at which most notes of both fall together."""
    apart = (other[None, :] - lead[:, None]).ravel()
    apart = apart[np.abs(apart) <= LONGEST_LAG_S]
    if not apart.size:
        return 0.0
    counts, edges = np.histogram(apart, round(2 * LONGEST_LAG_S / BIN_S), (-LONGEST_LAG_S, LONGEST_LAG_S))
    smooth = np.convolve(counts, [1, 2, 3, 2, 1], "same")
    best = int(smooth.argmax())
    near = apart[np.abs(apart - (edges[best] + edges[best + 1]) / 2) < 3 * BIN_S]
    return float(np.median(near)) if near.size else 0.0
