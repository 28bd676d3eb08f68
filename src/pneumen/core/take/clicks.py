"""Clicks: single steps and spikes, which no voice or instrument can make."""

import math
from typing import Final

import numpy as np

BLOCK_S: Final = 0.7
"""About so much is looked at at once, what is carried over from its neighbours included."""
ORDER: Final = 32
SCALE_S: Final = 0.004
"""What is left of a sound lies about so long before and after a spike: an attack goes on, a spike does not."""
SPIKE_S: Final = 0.0003
CHUNK_S: Final = 0.002
LIKELY_DB: Final = 16.0
"""Pieces of 2 ms whose strongest sample stands out so far from both sides are looked at closely."""
OVER_SURROUNDINGS_DB: Final = 30.0
ATTACK_DB: Final = 8.0
ATTACK_S: Final = 0.01
OVER_ATTACK_DB: Final = 35.0
"""Where the sound itself is louder afterwards by so much, a stroke began: a click there stands out further still."""
REACH_S: Final = 0.06
MOST_ALIKE: Final = 3
"""So many clicks may lie within that time of one another: the lowest note there is (40 Hz) has four pulses in it."""
ALIKE_DB: Final = 9.0
LEAST_RESIDUAL: Final = 2**-15
"""Surroundings count as at least so loud: what stands over digital silence by less than that is no click."""
ONE_CLICK_S: Final = 0.02
_APART: Final = np.abs(np.subtract.outer(np.arange(ORDER), np.arange(ORDER)))
_BACK: Final = np.arange(ORDER) + ORDER - np.arange(2 * ORDER)[:, None]
_TAP: Final = np.where((_BACK >= 0) & (_BACK <= ORDER), _BACK, ORDER + 1)
"""Which tap of the filter joins each sample of the row before and of a row to each of the row: 0 to ORDER, or none."""
_DIAGONALS: Final = np.arange(ORDER)[:, None] * (2 * ORDER + 1) + np.arange(ORDER + 1)
"""Where the products of samples 0, 1, 2, ... apart stand in a matrix of (ORDER, 2 ORDER), one column for each lag."""
LEAST_CLICKS: Final = 2
"""One alone may be a knuckle or a key; the second makes a crackle."""
MOST_IN_BLOCK: Final = 50
"""So many likely places of half a second are looked at: more of them are a sound of its own."""


class ClickWatch:
    """Collects the clicks of one channel: call it with each block in turn, then end(), then read found.

    What a linear predictor of each half second does not foresee stands far over what it misses just before and just
    after (Godsill and Rayner, Digital Audio Restoration, 1998, chapter 5; limits common practice, no source).
    """

    def __init__(self, sample_rate_hz: int) -> None:
        self._rate_hz = sample_rate_hz
        self._reach = round(REACH_S * sample_rate_hz) + 4 * ORDER
        self._length = 2 ** round(math.log2(BLOCK_S * sample_rate_hz)) - 2 * (self._reach + ORDER)
        self._waiting = np.zeros(self._reach)
        self._position, self._seen = -self._reach, 0
        self._clicks: list[tuple[float, float]] = []

    def __call__(self, block: np.ndarray) -> None:
        self._seen += len(block)
        self._look_at_whole(block)

    def _look_at_whole(self, block: np.ndarray) -> None:
        self._waiting = np.concatenate([self._waiting, block])
        whole = self._length + 2 * self._reach
        while len(self._waiting) >= whole:
            self._look(self._waiting[:whole])
            self._waiting = self._waiting[self._length :]
            self._position += self._length

    def end(self) -> None:
        """Look at what is left."""
        left = len(self._waiting) - self._reach
        if left > 4 * ORDER:
            self._look_at_whole(np.zeros(-left % self._length + self._reach))
        self._waiting = np.empty(0)

    @property
    def found(self) -> list[tuple[float, float]]:
        """The clicks as (at_s, dB over its surroundings), those within 20 ms told as one."""
        return _one_each(self._clicks)

    def _look(self, piece: np.ndarray) -> None:
        """Look at a piece with what stands before and after it."""
        for at, over_db in _spikes(_unforeseen(piece), piece, self._rate_hz):
            place = self._position + at
            # Where a file begins or ends in the middle of a sound it steps out of nothing: that is no click.
            inside = 4 * ORDER <= place < self._seen - 4 * ORDER
            if inside and self._reach <= at < len(piece) - self._reach:
                self._clicks.append((place / self._rate_hz, over_db))


def clicks_in(samples: np.ndarray, sample_rate_hz: int) -> list[tuple[float, float]]:
    """Return the clicks of one channel as (at_s, dB over its surroundings), those within 20 ms told as one."""
    watch = ClickWatch(sample_rate_hz)
    watch(samples)
    watch.end()
    return watch.found


def crackles(clicks: int) -> bool:
    """Return whether so many clicks are enough to call it a crackle."""
    return clicks >= LEAST_CLICKS


def _unforeseen(piece: np.ndarray) -> np.ndarray:
    """Return what a linear predictor of a piece leaves of it; its first and last samples are emptied.

    What is left of a row of ORDER samples is a product of it and of the row before it.
    """
    whole = len(piece) // ORDER * ORDER
    rows = piece[:whole].astype(np.float32).reshape(-1, ORDER)  # 130 dB below the piece's level is ample
    whitener = np.append(_whitener(_correlation(piece)), 0.0).astype(np.float32)
    filters = whitener[_TAP]
    left = np.zeros(len(piece), np.float32)
    left[ORDER:whole] = (rows[:-1] @ filters[:ORDER] + rows[1:] @ filters[ORDER:]).ravel()
    return left


def _correlation(piece: np.ndarray) -> np.ndarray:
    """Return a sound's correlation with itself at lags up to the order, shape (ORDER + 1,).

    Rows of samples times the rows themselves and the next ones hold all products of two samples up to ORDER apart:
    those of one lag stand along a diagonal.
    """
    rows = piece[: len(piece) // ORDER * ORDER].reshape(-1, ORDER)
    products = np.hstack([rows.T @ rows, rows[:-1].T @ rows[1:]])
    return products.ravel()[_DIAGONALS].sum(axis=0)


def _whitener(lags: np.ndarray) -> np.ndarray:
    """Return the filter that leaves what is not foreseen, from a sound's correlation with itself."""
    lags[0] = lags[0] * (1 + 1e-9) + 1e-12
    try:
        ahead = np.linalg.solve(lags[_APART], lags[1:])
    except np.linalg.LinAlgError:
        return np.zeros(ORDER + 1)
    return np.concatenate([[1.0], -ahead])


def _spikes(residual: np.ndarray, samples: np.ndarray, sample_rate_hz: int) -> list[tuple[int, float]]:
    """Return the places where a residual stands out from both sides of it, with how far in dB."""
    side = round(SCALE_S * sample_rate_hz)
    gap = max(2, round(SPIKE_S * sample_rate_hz)) + ORDER  # the predictor answers a spike with that many samples
    square = np.square(residual)
    places = _likely(square, round(CHUNK_S * sample_rate_hz))
    places = places[(places >= gap + side) & (places < len(square) - gap - side)]
    if not places.size:
        return []
    beside, share = np.arange(side), np.full(side, 1 / side, square.dtype)
    before, after = (square[first[:, None] + beside] @ share for first in (places - gap - side, places + gap + 1))
    over = square[places] / np.maximum(np.maximum(before, after), LEAST_RESIDUAL**2)
    found = []
    for at, over_db in zip(places.tolist(), (10 * np.log10(np.maximum(over, 1e-30))).tolist(), strict=True):
        if over_db < OVER_SURROUNDINGS_DB or not _stands_alone(square, at, gap, round(REACH_S * sample_rate_hz)):
            continue
        if over_db >= OVER_ATTACK_DB or _rise_db(samples, at, gap, round(ATTACK_S * sample_rate_hz)) < ATTACK_DB:
            found.append((at, over_db))
    return found


def _likely(square: np.ndarray, chunk: int) -> np.ndarray:
    """Return the strongest samples of short pieces that stand out from the pieces on both sides."""
    pieces = square[: len(square) // chunk * chunk].reshape(-1, chunk)
    if len(pieces) < 5:
        return np.empty(0, int)
    most, mean = pieces.max(axis=1), pieces @ np.full(chunk, 1 / chunk, square.dtype) + LEAST_RESIDUAL**2
    quieter = np.minimum(mean[:-1], mean[1:])  # of two neighbours: the spike itself may lie across the border
    around = np.maximum(quieter[:-3], quieter[3:])
    over = most[2:-2] / around
    places = np.flatnonzero(over > 10 ** (LIKELY_DB / 10))
    if places.size > MOST_IN_BLOCK:
        places = np.sort(places[np.argsort(over[places])[-MOST_IN_BLOCK:]])
    return (places + 2) * chunk + pieces[places + 2].argmax(axis=1)


def _stands_alone(square: np.ndarray, at: int, gap: int, reach: int) -> bool:
    """Return whether hardly anything near is as large: bows, reeds and glottis give a pulse in every period."""
    near = square[max(0, at - reach) : at + reach]
    large = np.flatnonzero(near > square[at] / 10 ** (ALIKE_DB / 10))
    return 1 + int((np.diff(large) > gap).sum()) <= MOST_ALIKE


def _rise_db(samples: np.ndarray, at: int, gap: int, length: int) -> float:
    """Return by how much the treble is louder after a place than before it."""
    before, after = (
        np.diff(samples[max(0, at - gap - length) : at - gap]),
        np.diff(samples[at + gap : at + gap + length]),
    )
    return float(10 * np.log10((np.square(after).mean() + 1e-14) / (np.square(before).mean() + 1e-14)))


def _one_each(found: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Return the strongest of what lies within 20 ms."""
    kept: list[tuple[float, float]] = []
    for at_s, over_db in found:
        if kept and at_s - kept[-1][0] < ONE_CLICK_S:
            kept[-1] = max(kept[-1], (at_s, over_db), key=lambda one: one[1])
        else:
            kept.append((at_s, over_db))
    return kept
