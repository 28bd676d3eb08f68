"""Clicks: single steps and spikes, which no voice or instrument can make."""

from typing import Final

import numpy as np
from scipy.linalg import LinAlgError, solve_toeplitz
from scipy.signal import correlate, lfilter

BLOCK_S: Final = 0.5
ORDER: Final = 32
SCALE_S: Final = 0.004
"""What is left of a sound lies about so long before and after a spike: an attack goes on, a spike does not."""
SPIKE_S: Final = 0.0003
OVER_SURROUNDINGS_DB: Final = 26.0
REACH_S: Final = 0.06
MOST_ALIKE: Final = 3
"""So many clicks may lie within that time of one another: the lowest note there is (40 Hz) has four pulses in it."""
ALIKE_DB: Final = 9.0
LEAST_RESIDUAL: Final = 2**-15
"""Surroundings count as at least so loud: what stands over digital silence by less than that is no click."""
ONE_CLICK_S: Final = 0.02
LEAST_CLICKS: Final = 2
"""One alone may be a knuckle or a key; the second makes a crackle."""


def clicks_in(samples: np.ndarray, sample_rate_hz: int) -> list[tuple[float, float]]:
    """Return the clicks of one channel as (at_s, dB over its surroundings), those within 20 ms told as one.

    What a linear predictor of each half second does not foresee stands far over what it misses just before and just
    after (Godsill and Rayner, Digital Audio Restoration, 1998, chapter 5; limits common practice, no source).
    """
    found: list[tuple[float, float]] = []
    block = round(BLOCK_S * sample_rate_hz)
    for start in range(0, len(samples) - 4 * ORDER, block):
        first = max(0, start - 4 * ORDER)
        residual = _unforeseen(samples[first : start + block])
        for at, over_db in _spikes(residual, sample_rate_hz):
            if first + at >= start:
                found.append(((first + at) / sample_rate_hz, over_db))
    return _one_each(found)


def crackles(samples: np.ndarray, sample_rate_hz: int) -> bool:
    """Return whether one channel holds clicks enough to call it a crackle."""
    return len(clicks_in(samples, sample_rate_hz)) >= LEAST_CLICKS


def _unforeseen(samples: np.ndarray) -> np.ndarray:
    """Return what a linear predictor of these samples leaves, the order's first samples emptied."""
    lags = correlate(samples, samples, "full", "fft")[len(samples) - 1 : len(samples) + ORDER]
    lags[0] = lags[0] * (1 + 1e-9) + 1e-12
    try:
        ahead = solve_toeplitz(lags[:-1], lags[1:])
    except LinAlgError:
        return np.zeros(len(samples))
    left = lfilter(np.concatenate([[1.0], -ahead]), [1.0], samples)
    left[:ORDER] = 0.0
    return left


def _spikes(residual: np.ndarray, sample_rate_hz: int) -> list[tuple[int, float]]:
    """Return the places where a residual stands out from both sides of it, with how far in dB."""
    side, gap = round(SCALE_S * sample_rate_hz), max(2, round(SPIKE_S * sample_rate_hz))
    square = np.square(residual)
    level = np.convolve(square, np.full(side, 1 / side), "valid")  # level[k]: the mean from k to k + side
    at = np.arange(gap + side, len(square) - gap - side)
    around = np.maximum(np.maximum(level[at - gap - side], level[at + gap + 1]), LEAST_RESIDUAL**2)
    over_db = 10 * np.log10(np.maximum(square[at], 1e-30) / around)
    far = [(int(at[one]), float(over_db[one])) for one in np.flatnonzero(over_db > OVER_SURROUNDINGS_DB)]
    return [(one, over) for one, over in far if _stands_alone(square, one, gap, round(REACH_S * sample_rate_hz))]


def _stands_alone(square: np.ndarray, at: int, gap: int, reach: int) -> bool:
    """Return whether hardly anything near is as large: bows, reeds and glottis give a pulse in every period."""
    near = square[max(0, at - reach) : at + reach]
    large = np.flatnonzero(near > square[at] / 10 ** (ALIKE_DB / 10))
    return 1 + int((np.diff(large) > gap).sum()) <= MOST_ALIKE


def _one_each(found: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Return the strongest of what lies within 20 ms."""
    kept: list[tuple[float, float]] = []
    for at_s, over_db in found:
        if kept and at_s - kept[-1][0] < ONE_CLICK_S:
            kept[-1] = max(kept[-1], (at_s, over_db), key=lambda one: one[1])
        else:
            kept.append((at_s, over_db))
    return kept
