"""How a sound's energy lies over the octaves as it goes on: what tells a nearer or duller take from another."""

from collections.abc import Sequence
from typing import Final

import numpy as np
from scipy.fft import rfft

PER_S: Final = 10
FRAME_S: Final = 0.128
CENTRES_HZ: Final = (125.0, 250.0, 500.0, 1000.0, 2000.0, 4000.0, 8000.0)
"""Octave bands as in IEC 61260-1 (from memory); below them rumble, which says nothing of the tone."""
STEP_DB: Final = 0.5
LOWEST_DB: Final = -127.5
AT_ONCE: Final = 500
FAINTEST_DB: Final = -40.0
"""What lies so far under the whole is as much the room as the sound."""


def tone_of(samples: np.ndarray, sample_rate_hz: int) -> np.ndarray:
    """Return the level of each octave ten times a second, uint8 of shape (frames, 7): 255 is 0 dBFS, a step 0.5 dB.

    Args:
        samples: one channel, shape (N,); the level is that of the mean square, so that a full sine has -3.01 dBFS.
    """
    samples = np.asarray(samples, np.float32)
    hop, length = sample_rate_hz // PER_S, round(FRAME_S * sample_rate_hz)
    frames = len(samples) // hop
    if not frames:
        return np.zeros((0, len(CENTRES_HZ)), np.uint8)
    padded = np.pad(samples, (max(0, (length - hop) // 2), length))
    rows = np.lib.stride_tricks.sliding_window_view(padded, length)[::hop][:frames]
    window = np.hanning(length).astype(np.float32)
    bands = _bands(length, sample_rate_hz)
    power = np.empty((frames, len(CENTRES_HZ)))
    for first in range(0, frames, AT_ONCE):
        spectrum = rfft(rows[first : first + AT_ONCE] * window, axis=1)
        power[first : first + AT_ONCE] = (np.square(spectrum.real) + np.square(spectrum.imag)) @ bands
    power *= 2 / (length * float(np.square(window).sum()))
    level = 10 * np.log10(np.maximum(power, 1e-13))
    return np.round(np.clip((level - LOWEST_DB) / STEP_DB, 0, 255)).astype(np.uint8)


def _bands(length: int, sample_rate_hz: int) -> np.ndarray:
    """Return which bin belongs to which octave, shape (bins, 7)."""
    hertz = np.fft.rfftfreq(length, 1 / sample_rate_hz)
    edge = 2**0.5
    return np.stack([(hertz >= centre / edge) & (hertz < centre * edge) for centre in CENTRES_HZ], axis=1).astype(float)


def shape_of(tone: np.ndarray) -> np.ndarray | None:
    """Return how far each octave lies under the whole of a stretch, in dB, shape (7,); None where nothing sounds.

    Args:
        tone: rows of tone_of.
    """
    if not tone.size or not tone.any():
        return None
    power = np.mean(10 ** ((tone * STEP_DB + LOWEST_DB) / 10), axis=0)
    return np.maximum(10 * np.log10(power / power.sum()), FAINTEST_DB)


def unlike_db(one: Sequence[float], other: Sequence[float]) -> float | None:
    """Return how unlike two tones are, the root of the mean square over the octaves; None where one is not known."""
    if not one or len(one) != len(other):
        return None
    return float(np.sqrt(np.mean(np.square(np.subtract(one, other)))))
