"""The noise floor: the energy mean over the pauses of a take, plain and A-weighted."""

from functools import lru_cache
from typing import Final

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from pneumen.core.fourier import rfft
from pneumen.core.levels import a_weighting_db

LEAST_PAUSE_FRAMES: Final = 3
QUIET_STRETCH_FRAMES: Final = 5
SPREAD_DB: Final = 6.0
"""100 ms of rumble scatters by a few dB: frames this far above the quietest stretch still belong to the floor."""
LEAST_DEPTH_DB: Final = 10.0
"""A pause lies at least so far below the loudest frame."""
DECAY_DB_PER_S: Final = -6.0
"""Stretches that fall faster on average are the tails of notes, not pauses."""
HIGH_PASS_HZ: Final = 20.0
LONGEST_WINDOW_S: Final = 1.0


def find_pauses(frame_power: np.ndarray, silent: np.ndarray) -> list[tuple[int, int]]:
    """Return the pauses as (first, stop) frame numbers, none where the take never pauses.

    Args:
        frame_power: K-weighted power of whole 100 ms frames (K-weighting keeps rumble out of the search).
        silent: true where a frame is digitally empty: that is an edit or a gate, not a floor.
    """
    heard = ~silent & (frame_power > 0)
    if heard.sum() < QUIET_STRETCH_FRAMES:
        return []
    level_db = np.full(len(frame_power), np.inf)
    level_db[heard] = 10 * np.log10(frame_power[heard])
    stretches = runs_in(heard, QUIET_STRETCH_FRAMES)
    if not stretches:
        return []
    means = [np.convolve(frame_power[a:b], np.full(QUIET_STRETCH_FRAMES, 0.2), "valid").min() for a, b in stretches]
    quietest_db = 10 * np.log10(max(min(means), 1e-30))
    if quietest_db > level_db[heard].max() - LEAST_DEPTH_DB:
        return []
    pauses = runs_in(level_db <= quietest_db + SPREAD_DB, LEAST_PAUSE_FRAMES)
    return [] if _mean_slope_db_per_s(level_db, pauses) < DECAY_DB_PER_S else pauses


def runs_in(mask: np.ndarray, least: int = 1) -> list[tuple[int, int]]:
    """Return the runs of true as (first, one after the last), those of at least so many."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], mask.astype(np.int8), [0]])))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a >= least]


def _mean_slope_db_per_s(level_db: np.ndarray, runs: list[tuple[int, int]]) -> float:
    """Return the slope of the level within the runs, longer runs weighing more."""
    slopes = [10 * np.polyfit(np.arange(b - a), level_db[a:b], 1)[0] for a, b in runs]
    return float(np.average(slopes, weights=[b - a for a, b in runs])) if runs else 0.0


class FloorMeter:
    """Adds up the power of the pauses, plain above 20 Hz and A-weighted: call it with each pause."""

    def __init__(self, sample_rate_hz: int) -> None:
        self._rate_hz = sample_rate_hz
        self._plain, self._weighted, self._samples = 0.0, 0.0, 0

    def __call__(self, samples: np.ndarray) -> None:
        """Take in one pause: its power spectrum, weighted, over half-overlapping Hann windows."""
        length = min(len(samples), round(LONGEST_WINDOW_S * self._rate_hz))
        windows = sliding_window_view(samples, length)[:: max(1, length // 2)]
        hann, plain, weighted = _weights(length, self._rate_hz)
        spectra = rfft(
            ((windows - samples.mean()) * hann).astype(np.float32)
        )  # 130 dB below the pause's level is ample
        power = (np.square(spectra.real) + np.square(spectra.imag)).mean(axis=0, dtype=float)
        self._plain += float(power @ plain) * len(samples)
        self._weighted += float(power @ weighted) * len(samples)
        self._samples += len(samples)

    @property
    def floor_dbfs(self) -> float | None:
        return self._in_db(self._plain)

    @property
    def floor_dbfs_a(self) -> float | None:
        return self._in_db(self._weighted)

    def _in_db(self, energy: float) -> float | None:
        return 10 * float(np.log10(energy / self._samples)) if self._samples and energy > 0 else None


@lru_cache(maxsize=32)
def _weights(length: int, sample_rate_hz: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return a Hann window and what takes its power spectrum to mean square, plain above 20 Hz and A-weighted."""
    hann = np.hanning(length)
    frequency_hz = np.fft.rfftfreq(length, 1 / sample_rate_hz)
    scale = 2 / (length * np.square(hann).sum())
    return hann, scale * _high_pass_power(frequency_hz), scale * 10 ** (a_weighting_db(frequency_hz) / 10)


def _high_pass_power(frequency_hz: np.ndarray) -> np.ndarray:
    """Power response of a fourth-order Butterworth high-pass at 20 Hz."""
    eighth = (frequency_hz / HIGH_PASS_HZ) ** 8
    return eighth / (1 + eighth)
