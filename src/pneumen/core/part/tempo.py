"""The tempo of a backing track, from how regularly its sounds begin."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import require_within

SLOWEST_BPM, FASTEST_BPM = 40.0, 220.0
USUAL_BPM: Final = 110.0
SPREAD_OCTAVES: Final = 0.9
"""Of tempi an octave apart the one nearer the usual is taken (common practice, no source)."""
HOPS_PER_S: Final = 100
BEATS_SUMMED: Final = 4
LEAST_S: Final = 6.0
LEAST_RISE: Final = 5.0
"""Less than that, summed over the spectrum, is no sound beginning."""
LEAST_CONFIDENCE: Final = 0.15
LONGEST_S: Final = 180
"""Three minutes tell the tempo; more would only take longer."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Tempo:
    """Beats a minute, how regular they are (0 to 1), and when the first beat falls."""

    bpm: float
    confidence: float
    first_beat_s: float


def find_tempo(blocks: Iterable[np.ndarray], sample_rate_hz: int) -> Tempo | None:
    """Return the tempo of a recording; None where it is too short or has no beat to find.

    Spectral flux (the rise of the log spectrum from one 10 ms frame to the next), its autocorrelation summed over four
    beats, and the phase at which the flux is strongest.

    Args:
        blocks: mono samples, any lengths.

    Reference: spectral flux and autocorrelation as in Bello et al., A tutorial on onset detection, 2005 (from memory).
    """
    require_within("sample_rate_hz", sample_rate_hz, 8000, 192_000)
    flux = _flux(blocks, sample_rate_hz)
    if flux.size < LEAST_S * HOPS_PER_S or flux.max() < LEAST_RISE:
        return None
    flux = flux - np.convolve(flux, np.ones(HOPS_PER_S) / HOPS_PER_S, "same")
    spectrum = np.fft.rfft(flux, 2 * flux.size)
    regular = np.fft.irfft(np.square(np.abs(spectrum)))[: flux.size]
    regular /= regular[0] or 1.0
    lags = np.arange(int(60 * HOPS_PER_S / FASTEST_BPM), int(60 * HOPS_PER_S / SLOWEST_BPM) + 1)
    lags = lags[lags * BEATS_SUMMED < regular.size - 1]
    if not lags.size:
        return None
    strength = np.mean([_peak_near(regular, lags * n, n) for n in range(1, BEATS_SUMMED + 1)], axis=0)
    bpm = 60 * HOPS_PER_S / lags
    usual = np.exp(-0.5 * np.square(np.log2(bpm / USUAL_BPM) / SPREAD_OCTAVES))
    best = int(np.argmax(strength * usual))
    if strength[best] < LEAST_CONFIDENCE:
        return None
    period = _refined(regular, int(lags[best]))
    return Tempo(
        bpm=float(60 * HOPS_PER_S / period),
        confidence=float(min(strength[best], 1.0)),
        first_beat_s=_first_beat_s(flux, period),
    )


def _flux(blocks: Iterable[np.ndarray], rate_hz: int) -> np.ndarray:
    """Return how much the spectrum rises, once every 10 ms."""
    hop = rate_hz // HOPS_PER_S
    window, left, rises, before = np.hanning(4 * hop), np.empty(0), [], None
    for block in blocks:
        samples = np.concatenate([left, block])
        count = max(0, (len(samples) - 4 * hop) // hop + 1)
        if count:
            frames = np.lib.stride_tricks.sliding_window_view(samples, 4 * hop)[: count * hop : hop]
            levels = np.log1p(1000 * np.abs(np.fft.rfft(frames * window, axis=1)) / hop)
            chained = levels if before is None else np.vstack([before, levels])
            rises.append(np.maximum(np.diff(chained, axis=0), 0).sum(axis=1))
            before = levels[-1]
        left = samples[count * hop :]
        if sum(map(len, rises)) >= LONGEST_S * HOPS_PER_S:
            break
    return np.concatenate(rises) if rises else np.empty(0)


def _peak_near(regular: np.ndarray, lags: np.ndarray, reach: int) -> np.ndarray:
    """Return the highest autocorrelation within a few frames of each lag: a beat is no whole number of frames."""
    around = np.clip(lags[:, None] + np.arange(-reach, reach + 1), 0, regular.size - 1)
    return regular[around].max(axis=1)


def _refined(regular: np.ndarray, lag: int) -> float:
    """Return the period in frames to a fraction, from as many beats as still answer."""
    period = float(lag)
    for beats in (1, 2, 4, 8, 16):
        middle = round(period * beats)
        if middle + 3 >= regular.size:
            break
        top = middle - 2 + int(np.argmax(regular[middle - 2 : middle + 3]))
        low, high, after = regular[top - 1 : top + 2]
        bend = low - 2 * high + after
        period = (top + (0.5 * (low - after) / bend if bend < 0 else 0.0)) / beats
    return period


def _first_beat_s(flux: np.ndarray, period: float) -> float:
    phases = np.arange(0, period, 0.5)
    beats = np.arange(int(flux.size / period) - 1)
    strength = [np.interp(phase + beats * period, np.arange(flux.size), flux).sum() for phase in phases]
    # The spectrum rises as a beat enters the window of four hops, of which the first hop is still faded out.
    return float((phases[int(np.argmax(strength))] + 4) / HOPS_PER_S)
