"""A take in short frames: the power of each band some 94 times a second, gathered block by block."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from pneumen.core.filters import RunningFilter, band_pass
from pneumen.core.fourier import rfft

BANDS_HZ: Final = (
    (120.0, 250.0),
    (250.0, 500.0),
    (500.0, 1000.0),
    (1000.0, 2000.0),
    (2000.0, 4000.0),
    (4000.0, 5000.0),
    (5000.0, 10_000.0),
    (10_000.0, 20_000.0),
)
"""Octaves from the body of a voice to its presence, then what an S and what lies over it has."""
LOW_BANDS_HZ: Final = ((10.0, 60.0), (60.0, 120.0))
"""Where blasts of air and knocks lie: below every voice, and with its lowest notes."""
STEP_S: Final = 512 / 48_000
COARSE_HZ: Final = 6000
"""The low band is filtered at about that rate: averaged so far, nothing of the treble folds into it that counts."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Frames:
    """One channel in frames of mean squares.

    low has shape (2, frames), a row for each of LOW_BANDS_HZ, bands (frames, len(BANDS_HZ)).

    step_s is from frame to frame. A frame's bands are weighed towards its end (a Hann window over it and the one
    before). top_hz: bands that reach over it hold less than they would, or nothing.
    """

    step_s: float
    top_hz: float
    low: np.ndarray
    bands: np.ndarray

    def band(self, low_hz: float, high_hz: float) -> np.ndarray:
        """Return the power of all bands that lie between two frequencies, shape (frames,)."""
        chosen = [number for number, (low, high) in enumerate(BANDS_HZ) if low >= low_hz and high <= high_hz]
        return np.asarray(self.bands[:, chosen].sum(axis=1))

    def at_s(self, frame: int) -> float:
        """Return the time at which a frame begins."""
        return frame * self.step_s


class FrameMeter:
    """Gathers one channel's frames: call it with each block in turn, then take frames()."""

    def __init__(self, sample_rate_hz: int) -> None:
        self._rate_hz = sample_rate_hz
        self._step = frame_step(sample_rate_hz)
        self._together = max(1, self._step // max(1, round(STEP_S * COARSE_HZ)))
        while self._step % self._together:
            self._together -= 1
        coarse_hz = sample_rate_hz / self._together
        self._filters = [RunningFilter(band_pass(3, band_hz, coarse_hz), np.float32) for band_hz in LOW_BANDS_HZ]
        self._tail = np.zeros(self._step)
        self._rest = np.empty(0)
        self._low: list[np.ndarray] = []
        self._bands: list[np.ndarray] = []

    def __call__(self, block: np.ndarray) -> None:
        samples = np.concatenate([self._rest, block]) if self._rest.size else block
        whole = len(samples) // self._step
        self._rest = samples[whole * self._step :].copy()
        if not whole:
            return
        samples = samples[: whole * self._step]
        coarse = samples.reshape(-1, self._together) @ np.full(self._together, 1 / self._together)
        lows = [np.square(filtered(coarse)).reshape(whole, -1).mean(axis=1) for filtered in self._filters]
        self._low.append(np.array(lows, np.float32))
        rows = np.empty((whole, 2 * self._step), np.float32)
        rows[:, self._step :] = samples.reshape(whole, self._step)
        rows[0, : self._step], rows[1:, : self._step] = self._tail, rows[:-1, self._step :]
        self._tail = samples[-self._step :].copy()
        window, sums = _window_and_sums(self._step, self._rate_hz)
        rows *= window
        self._bands.append(np.square(rfft(rows, axis=1).view(np.float32)) @ sums)

    def frames(self) -> Frames:
        """Return what was gathered so far."""
        low = np.hstack(self._low) if self._low else np.empty((2, 0), np.float32)
        bands = np.concatenate(self._bands) if self._bands else np.empty((0, len(BANDS_HZ)), np.float32)
        return Frames(step_s=self._step / self._rate_hz, top_hz=self._rate_hz / 2, low=low, bands=bands)


def frame_step(sample_rate_hz: int) -> int:
    """Return the samples from frame to frame: about a hundredth of a second, a whole multiple of eight."""
    return 8 * max(1, round(STEP_S * sample_rate_hz / 8))


@lru_cache(maxsize=8)
def _window_and_sums(step: int, sample_rate_hz: int) -> tuple[np.ndarray, np.ndarray]:
    """Return the window that gives mean squares, and the matrix that adds up squares of a spectrum's parts by bands.

    The real and the imaginary part of each of its step + 1 bins follow each other: shape (2 * step + 2, bands).
    """
    hann = np.hanning(2 * step + 1)[:-1]
    window = hann * np.sqrt(2 / (2 * step * np.square(hann).sum()))
    bin_hz = sample_rate_hz / (2 * step)
    parts = np.arange(2 * step + 2)[:, None] // 2
    edges = np.array([[round(edge_hz / bin_hz) for edge_hz in band_hz] for band_hz in BANDS_HZ])
    sums = (parts >= edges[:, 0]) & (parts < edges[:, 1])
    return window.astype(np.float32), sums.astype(np.float32)


def joined_runs(places: np.ndarray, gap: int) -> list[tuple[int, int]]:
    """Return runs of rising places that lie within a gap of one another, as (first, one after the last)."""
    if not places.size:
        return []
    breaks = np.flatnonzero(np.diff(places) > gap)
    firsts, lasts = places[np.append(0, breaks + 1)], places[np.append(breaks, places.size - 1)] + 1
    return [(int(first), int(last)) for first, last in zip(firsts, lasts, strict=True)]
