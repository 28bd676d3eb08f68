"""The stand-in's way round: what a lead from an output to an input brings back."""

from typing import Final

import numpy as np
from scipy.fft import irfft, rfft

from pneumen.core.levels import db_to_ratio

COUPLING_HZ: Final = 4.0
LOSS_DB: Final = -3.0
NOISE_DBFS: Final = -80.0
OFF_MS: Final = 0.4
"""Drivers hold a little more, or less, than their sheets tell (estimate)."""
TAIL_S: Final = 1.0


def latency_samples(round_trip_ms: float, rate_hz: int, seed: int) -> float:
    """Return how late the stand-in's device really is: near what is worked out, with a fraction of a sample."""
    return rate_hz / 1000 * (round_trip_ms + np.random.default_rng([seed, 47]).uniform(-OFF_MS, OFF_MS))


def simulate_loop(signal: np.ndarray, rate_hz: int, round_trip_ms: float, *, seed: int = 0) -> np.ndarray:
    """Return the recording of a signal that was sent out and came in again, at the same rate.

    Args:
        signal: (samples,), full scale 1.
    """
    from scipy.signal import butter, sosfilt  # takes a second to load, and few commands need it

    late = latency_samples(round_trip_ms, rate_hz, seed)
    length = len(signal) + round(TAIL_S * rate_hz) + int(late)
    turn = np.exp(-2j * np.pi * np.fft.rfftfreq(length) * late)
    moved = irfft(rfft(signal, length) * turn, length)
    coupled = sosfilt(butter(1, COUPLING_HZ, "highpass", fs=rate_hz, output="sos"), moved * db_to_ratio(LOSS_DB))
    noise = np.random.default_rng([seed, 48]).standard_normal(length) * db_to_ratio(NOISE_DBFS)
    return coupled + noise
