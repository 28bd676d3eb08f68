"""Which of the twelve pitch classes sound when: what two takes of one song have in common, whatever their tone.

Reference: chroma as in Bartsch and Wakefield, Audio thumbnailing of popular music, 2005; from memory.
"""

from typing import Final

import numpy as np
import soxr
from scipy.fft import rfft

RATE_HZ: Final = 8000
FRAME: Final = 2048
PER_S: Final = 10
HERTZ: Final = (80.0, 2000.0)
AT_ONCE: Final = 500
CLASSES: Final = 12
QUIET: Final = 1e-3


def chroma_of(samples: np.ndarray, sample_rate_hz: int) -> np.ndarray:
    """Return the share of each pitch class ten times a second, 0 to 255, uint8 of shape (frames, 12).

    Where nothing sounds all are 0. The first class is A.

    Args:
        samples: one channel, shape (N,).
    """
    coarse = soxr.resample(np.asarray(samples, np.float32), sample_rate_hz, RATE_HZ)
    hop = RATE_HZ // PER_S
    frames = len(coarse) // hop
    if not frames:
        return np.zeros((0, CLASSES), np.uint8)
    padded = np.pad(coarse, (FRAME // 2 - hop // 2, FRAME))
    rows = np.lib.stride_tricks.sliding_window_view(padded, FRAME)[::hop][:frames]
    classes, window = _classes(), np.hanning(FRAME).astype(np.float32)
    found = np.empty((frames, CLASSES))
    for first in range(0, frames, AT_ONCE):
        strength = np.sqrt(np.abs(rfft(rows[first : first + AT_ONCE] * window, axis=1)))
        found[first : first + AT_ONCE] = strength @ classes
    total = found.sum(axis=1, keepdims=True)
    peaks = found / np.maximum(found.max(axis=1, keepdims=True), 1e-12)
    peaks[total[:, 0] < QUIET * total.max()] = 0
    return np.round(255 * peaks).astype(np.uint8)


def _classes() -> np.ndarray:
    """Return how far each bin belongs to each pitch class, shape (bins, 12)."""
    hertz = np.arange(FRAME // 2 + 1) * RATE_HZ / FRAME
    inside = (hertz >= HERTZ[0]) & (hertz <= HERTZ[1])
    semitone = 12 * np.log2(np.maximum(hertz, 1.0) / 440.0)
    apart = (semitone[:, None] - np.arange(CLASSES)[None, :] + 6) % 12 - 6
    return np.asarray(np.exp(-np.square(apart / 0.5)) * inside[:, None])
