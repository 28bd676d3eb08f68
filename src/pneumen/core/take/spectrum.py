"""What a moment of a take is made of: its spectrum, its lines, and how both change over time."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.fourier import rfft
from pneumen.core.peaks import parabola_shift

LOWEST_HZ: Final = 20.0
HIGHEST_HZ: Final = 20_000.0
BANDS_AN_OCTAVE: Final = 12
FRAME_S: Final = 0.17
"""Frames so long tell lines 12 Hz apart."""
LINE_OVER_DB: Final = 8.0
"""A line stands so far over what is about it."""
MOST_LINES: Final = 5
LEAST_DB: Final = -140.0
SLICE_S: Final = 0.045


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Spectrum:
    """Levels in bands of a twelfth of an octave, shape (bands,): their centres in Hz and dBFS (a full-scale sine: -3).

    lines_hz are the strongest steady lines, the strongest first.
    """

    frequency_hz: np.ndarray
    level_dbfs: np.ndarray
    lines_hz: tuple[float, ...]


def spectrum_of(samples: np.ndarray, sample_rate_hz: int) -> Spectrum:
    """Return the mean spectrum of a stretch of one channel, shape (N,); zeros fill up what is too short.

    Reference: Welch (1967), averaged periodograms with a Hann window, half overlapping.
    """
    length = 2 ** round(np.log2(FRAME_S * sample_rate_hz))
    power = _frames(samples, length, length // 2).mean(axis=0)
    edges_hz = LOWEST_HZ * 2 ** (np.arange(_bands(sample_rate_hz) + 1) / BANDS_AN_OCTAVE)
    level = _band_power(power, edges_hz * length / sample_rate_hz)
    return Spectrum(
        frequency_hz=np.sqrt(edges_hz[:-1] * edges_hz[1:]),
        level_dbfs=_db(level),
        lines_hz=_lines(power, sample_rate_hz / length),
    )


def spectrogram_of(samples: np.ndarray, sample_rate_hz: int, columns: int) -> tuple[np.ndarray, np.ndarray]:
    """Return (band centres in Hz, levels in dBFS of shape (bands, columns)) of a stretch of one channel."""
    length = 2 ** round(np.log2(SLICE_S * sample_rate_hz))
    hop = max(1, (len(samples) - length) // max(1, columns - 1))
    power = _frames(samples, length, hop)[:columns]
    edges_hz = LOWEST_HZ * 2 ** (np.arange(_bands(sample_rate_hz) + 1) / BANDS_AN_OCTAVE)
    places = edges_hz * length / sample_rate_hz
    level = np.array([_band_power(one, places) for one in power])
    return np.sqrt(edges_hz[:-1] * edges_hz[1:]), _db(level).T


def _bands(sample_rate_hz: int) -> int:
    top_hz = min(HIGHEST_HZ, 0.48 * sample_rate_hz)
    return int(BANDS_AN_OCTAVE * np.log2(top_hz / LOWEST_HZ))


def _frames(samples: np.ndarray, length: int, hop: int) -> np.ndarray:
    """Return the power of each bin in each frame, scaled so that a frame's bins add up to its mean square."""
    padded = np.pad(samples, (0, max(0, length - len(samples))))
    window = np.hanning(length + 1)[:-1]
    frames = np.lib.stride_tricks.sliding_window_view(padded, length)[::hop]
    spectra = rfft(frames * window, axis=1)
    return np.asarray(2 * (np.square(spectra.real) + np.square(spectra.imag)) / (length * np.square(window).sum()))


def _band_power(power: np.ndarray, places: np.ndarray) -> np.ndarray:
    """Return the power between fractional bins: where a band is narrower than a bin it gets its share of it."""
    summed = np.concatenate([[0.0], np.cumsum(power)])
    return np.diff(np.interp(places + 0.5, np.arange(len(summed)), summed))


def _lines(power: np.ndarray, bin_hz: float) -> tuple[float, ...]:
    from scipy.signal import find_peaks  # takes a second to load, and few commands need it

    level = _db(power)
    reach = max(3, round(60 / bin_hz))
    places, told = find_peaks(level, height=LEAST_DB + 40, prominence=LINE_OVER_DB, wlen=2 * reach + 1)
    loud = places[np.argsort(told["peak_heights"])[::-1]]
    strongest = loud[:MOST_LINES]
    shift = parabola_shift(level[strongest - 1], level[strongest], level[strongest + 1])
    return tuple(((strongest + shift) * bin_hz).tolist())


def _db(power: np.ndarray) -> np.ndarray:
    return np.asarray(10 * np.log10(np.maximum(power, 10 ** (LEAST_DB / 10))))
