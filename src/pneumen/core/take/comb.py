"""An early comb: one strong reflection a millisecond or three after the voice, from a table or a small box's wall.

A reflection multiplies the spectrum by 1 + g exp(-i 2 pi f t): its logarithm ripples with a period of 1/t, and the
cepstrum shows it at t, as high as g. Words move pitch and formants about and leave no other ripple that stays.

Reference: Bogert, Healy and Tukey, The quefrency alanysis of time series for echoes (1963); from memory.
"""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.fourier import rfft

RATE_HZ: Final = 16_000
LONGEST_S: Final = 120.0
FRAME: Final = 1024
HERTZ: Final = (400.0, 6500.0)
LOUD_DB: Final = 30.0
FRAMES_A_PIECE: Final = 31
LEAST_PIECES: Final = 3
DELAYS_S: Final = (0.0014, 0.0045)
"""Earlier ones cannot be told from a voice's own formants; later ones are heard as a room."""
TOLD_FROM: Final = 0.28
"""From so strong a reflection on: 11 dB under the direct sound. Speech alone stays under 0.15 (own measurements)."""
FINER: Final = 8
TREND: Final = 4
"""The order of what is smooth in the spectrum, and no comb: a cubic."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Comb:
    """A reflection: how much later than the direct sound it comes, and how strong it is beside it (1 is as strong)."""

    delay_s: float
    gain: float


def comb_in(samples: np.ndarray) -> Comb | None:
    """Return the early reflection in spoken words; None where none is strong, or too little is spoken.

    Sung notes that stay repeat at a period of their own, which cannot be told from a reflection: it is for speech.

    Args:
        samples: one channel at RATE_HZ, shape (N,).
    """
    if len(samples) < FRAME * LEAST_PIECES:
        return None
    frames = np.lib.stride_tricks.sliding_window_view(samples, FRAME)[:: FRAME // 2]
    power = np.square(np.abs(rfft(frames * np.hanning(FRAME), axis=1)))
    energy = power.sum(axis=1)
    power = power[energy > energy.max() * 10 ** (-LOUD_DB / 10)]
    pieces = len(power) // FRAMES_A_PIECE
    if pieces < LEAST_PIECES or not power.any():
        return None
    hertz = np.arange(power.shape[1]) * RATE_HZ / FRAME
    band = (hertz > HERTZ[0]) & (hertz < HERTZ[1])
    nepers = np.log(power[: pieces * FRAMES_A_PIECE, band] + 1e-12 * power.max()) / 2
    shapes = _levelled(nepers.reshape(pieces, FRAMES_A_PIECE, -1).mean(axis=1))
    window = np.hanning(shapes.shape[1])
    ripple = rfft(shapes * window, FINER * shapes.shape[1], axis=1) * 2 / window.sum()
    delay_s = np.arange(ripple.shape[1]) * FRAME / (FINER * shapes.shape[1] * RATE_HZ)
    # A reflection adds where its phase comes round, counted from 0 Hz: only its real part is of that kind.
    real = (ripple * np.exp(-2j * np.pi * delay_s * hertz[band][0])).real
    inside = (delay_s > DELAYS_S[0]) & (delay_s < DELAYS_S[1])
    steady = np.median(real[:, inside], axis=0)
    best = int(steady.argmax())
    if steady[best] < TOLD_FROM:
        return None
    return Comb(delay_s=float(delay_s[inside][best]), gain=float(steady[best]))


def _levelled(shapes: np.ndarray) -> np.ndarray:
    """Return spectra without what is smooth in them."""
    terms = np.vander(np.linspace(-1, 1, shapes.shape[1]), TREND)
    return np.asarray(shapes - (terms @ np.linalg.lstsq(terms, shapes.T, rcond=None)[0]).T)
