"""Loudness after ITU-R BS.1770-5: K-weighting, gating, and the loudest three seconds."""

import math
from functools import lru_cache
from typing import Final

import numpy as np

from pneumen.core.filters import RunningFilter

ABSOLUTE_GATE_LUFS: Final = -70.0
RELATIVE_GATE_LU: Final = -10.0
CHANNEL_WEIGHTS: Final = {5: (1, 1, 1, 1.41, 1.41), 6: (1, 1, 1, 0, 1.41, 1.41)}
"""Weights by channel for 5.0 and 5.1 (BS.1770-5, Table 3); every other count weighs its channels alike."""


@lru_cache(maxsize=16)
def k_weighting_sos(sample_rate_hz: int) -> np.ndarray:
    """Return the K-weighting filter for a rate as second-order sections, shape (2, 6).

    Reference: ITU-R BS.1770-5, Annex 1, gives 48 kHz coefficients; here they follow, for any rate, from the
    analogue prototypes those coefficients stand for (a 4 dB shelf at 1682 Hz, a high-pass at 38 Hz).
    """
    shelf = _shelf(sample_rate_hz, centre_hz=1681.974450955533, gain_db=3.999843853973347, quality=0.7071752369554196)
    high_pass = _high_pass(sample_rate_hz, corner_hz=38.13547087602444, quality=0.5003270373238773)
    return np.array([shelf, high_pass])


def _shelf(sample_rate_hz: int, *, centre_hz: float, gain_db: float, quality: float) -> list[float]:
    k = math.tan(math.pi * centre_hz / sample_rate_hz)
    high = 10 ** (gain_db / 20)
    band = high**0.4996667741545416
    a0 = 1 + k / quality + k * k
    b = [high + band * k / quality + k * k, 2 * (k * k - high), high - band * k / quality + k * k]
    return [value / a0 for value in b] + [1, 2 * (k * k - 1) / a0, (1 - k / quality + k * k) / a0]


def _high_pass(sample_rate_hz: int, *, corner_hz: float, quality: float) -> list[float]:
    k = math.tan(math.pi * corner_hz / sample_rate_hz)
    a0 = 1 + k / quality + k * k
    return [1, -2, 1, 1, 2 * (k * k - 1) / a0, (1 - k / quality + k * k) / a0]


def k_weighting(sample_rate_hz: int) -> RunningFilter:
    """Return the running K-weighting filter of one channel."""
    return RunningFilter(k_weighting_sos(sample_rate_hz), np.float32)


def loudness_of_power(power: np.ndarray | float) -> np.ndarray:
    """Turn weighted mean square into LUFS."""
    with np.errstate(divide="ignore"):
        return -0.691 + 10 * np.log10(power)


def integrated_loudness_lufs(frame_power: np.ndarray) -> float | None:
    """Return the gated loudness from the weighted power of whole 100 ms frames (one value a frame).

    None where nothing passes the gates or there are fewer than the four frames of one block.
    """
    blocks = _windows_mean(frame_power, 4)
    blocks = blocks[loudness_of_power(blocks) > ABSOLUTE_GATE_LUFS]
    if not blocks.size:
        return None
    relative_gate = loudness_of_power(blocks.mean()) + RELATIVE_GATE_LU
    return float(loudness_of_power(blocks[loudness_of_power(blocks) > relative_gate].mean()))


def loudest_3s_lufs(frame_power: np.ndarray) -> float | None:
    """Return the highest short-term loudness (3 s, EBU Tech 3341), None under 3 s or below the absolute gate."""
    windows = _windows_mean(frame_power, 30)
    if not windows.size or loudness_of_power(windows.max()) <= ABSOLUTE_GATE_LUFS:
        return None
    return float(loudness_of_power(windows.max()))


def sum_channels(frame_power: np.ndarray) -> np.ndarray:
    """Add up (channels, frames) of power with the standard's weights."""
    channels = frame_power.shape[0]
    return np.asarray(CHANNEL_WEIGHTS.get(channels, (1,) * channels)) @ frame_power


def _windows_mean(values: np.ndarray, length: int) -> np.ndarray:
    if len(values) < length:
        return np.empty(0)
    return np.lib.stride_tricks.sliding_window_view(values, length).mean(axis=1)
