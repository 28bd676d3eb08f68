"""When sounds begin: of instruments their attack, of voices the vowel, which is what is heard as in time.

Reference: spectral flux as in Bello et al., A tutorial on onset detection, 2005; the moment a syllable is heard at lies
near its vowel's onset and not its consonant's (P-centre: Morton, Marcus and Frankish, 1976). Both from memory.
"""

from typing import Final

import numpy as np
import soxr
from scipy.fft import rfft
from scipy.ndimage import maximum_filter1d, median_filter, uniform_filter1d

from pneumen.core.peaks import parabola_shift

RATE_HZ: Final = 16_000
FRAME: Final = 512
HOP: Final = 48
"""Three milliseconds."""
BACK: Final = 5
"""The rise is taken over so many frames."""
VOWEL_HZ: Final = (250.0, 3000.0)
ANY_HZ: Final = (100.0, 8000.0)
COMPRESSION: Final = 200.0
NEAR_S: Final = 0.06
"""Of two beginnings nearer than that one is told."""
AROUND_S: Final = 0.5
OVER_USUAL: Final = 2.2
LEAST_SHARE: Final = 0.12
"""Of the strongest usual rise: less is a tremble within a note."""
AT_ONCE: Final = 2000
"""So many frames lie in memory at once: six seconds."""
LATE_S: Final = 0.0045
"""So much later than the sound begins its steepest rise is seen (measured on strokes that are known)."""


def onsets_of(samples: np.ndarray, sample_rate_hz: int, *, voice: bool) -> np.ndarray:
    """Return when sounds begin in one channel, in seconds, rising.

    Args:
        voice: whether words are sung or spoken: then consonants before the vowel are left out.
    """
    coarse = soxr.resample(np.asarray(samples, np.float32), sample_rate_hz, RATE_HZ)
    if len(coarse) < 2 * FRAME:
        return np.empty(0)
    rise = _rise(coarse, VOWEL_HZ if voice else ANY_HZ)
    places = _peaks(rise)
    if not places.size:
        return np.empty(0)
    shift = parabola_shift(rise[places - 1], rise[places], rise[places + 1])
    return np.asarray(np.maximum((places + shift) * HOP / RATE_HZ - LATE_S, 0.0))


def _rise(coarse: np.ndarray, band_hz: tuple[float, float]) -> np.ndarray:
    """Return how much the log spectrum rises at each frame, which stands for its middle; shape (frames,)."""
    padded = np.pad(coarse, FRAME // 2)
    frames = np.lib.stride_tricks.sliding_window_view(padded, FRAME)[::HOP]
    low, high = (round(hertz * FRAME / RATE_HZ) for hertz in band_hz)
    scale = COMPRESSION / (max(float(coarse.max()), -float(coarse.min()), 1e-9) * FRAME / 4)
    window, rise = np.hanning(FRAME).astype(np.float32), np.zeros(len(frames))
    for first in range(BACK, len(frames), AT_ONCE):
        some = frames[first - BACK : first + AT_ONCE]
        levels = np.log1p(scale * np.abs(rfft(some * window, axis=1)[:, low:high]))
        rise[first : first + AT_ONCE] = np.maximum(levels[BACK:] - levels[:-BACK], 0).mean(axis=1)
    return np.roll(uniform_filter1d(rise, 3), -(BACK // 2))  # between both frames it is steepest


def _peaks(rise: np.ndarray) -> np.ndarray:
    near, around = round(NEAR_S * RATE_HZ / HOP), round(AROUND_S * RATE_HZ / HOP)
    usual = np.maximum(median_filter(rise, 2 * around + 1, mode="nearest"), uniform_filter1d(rise, 2 * around + 1))
    strong = np.sort(rise)[-max(1, len(rise) // 100) :].mean()
    is_peak = (
        (rise == maximum_filter1d(rise, 2 * near + 1)) & (rise > OVER_USUAL * usual) & (rise > LEAST_SHARE * strong)
    )
    is_peak[[0, -1]] = False
    return np.flatnonzero(is_peak)
