"""The file that is sent round: three exponential sweeps with silence between them."""

from typing import Final

import numpy as np

from pneumen.core.errors import require_within
from pneumen.core.levels import db_to_ratio

LOW_HZ, HIGH_SHARE = 20.0, 0.45
"""From the lowest octave that passes up to just under half the rate."""
SWEEP_S: Final = 4.0
GAP_S: Final = 2.0
LEAD_S: Final = 1.0
FADE_S: Final = 0.02
LEVEL_DBFS: Final = -20.0
"""Loud enough to stand over any noise, soft enough for an input with its gain down."""
COUNT: Final = 3


def sweep(sample_rate_hz: int, seconds: float = SWEEP_S) -> np.ndarray:
    """Return one exponential sweep of full scale, faded at both ends.

    Reference: Farina (AES 108th convention, 2000): sin(w1 T / ln(w2/w1) (e^(t ln(w2/w1)/T) - 1)).
    """
    require_within("sample_rate_hz", sample_rate_hz, 8_000, 384_000)
    at_s = np.arange(round(seconds * sample_rate_hz)) / sample_rate_hz
    rate = np.log(HIGH_SHARE * sample_rate_hz / LOW_HZ)
    phase = 2 * np.pi * LOW_HZ * seconds / rate * (np.exp(at_s * rate / seconds) - 1)
    fade = np.minimum(1.0, np.minimum(at_s, at_s[::-1]) / FADE_S)
    return np.sin(phase) * fade


def test_signal(sample_rate_hz: int) -> np.ndarray:
    """Return the whole file: a second of silence, three sweeps, each followed by silence for what comes late."""
    once = sweep(sample_rate_hz) * db_to_ratio(LEVEL_DBFS)
    gap = np.zeros(round(GAP_S * sample_rate_hz))
    lead = np.zeros(round(LEAD_S * sample_rate_hz))
    return np.concatenate([lead, *[one for _ in range(COUNT) for one in (once, gap)]])
