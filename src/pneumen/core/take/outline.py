"""The outline of a take for drawing: the highest peak of equal stretches of time, one byte each."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

MOST_COLUMNS: Final = 2**21
"""Two megabytes; at the finest that is nearly an hour and a half."""
FINEST_PER_S: Final = 400
STEPS_PER_DB: Final = 2
LOWEST_DB: Final = -120.0
"""What the byte 0 stands for: this and all below."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PeakTrace:
    """The peaks of a take, a byte for each stretch of time: half decibels over -120 dBFS."""

    seconds_per_column: float
    peaks: bytes

    def between(self, from_s: float, to_s: float, most: int) -> np.ndarray:
        """Return the peaks of a stretch in dBFS, shape (columns,), at most so many, each the highest of its share.

        Args:
            from_s, to_s: what lies beyond the take is left out.
        """
        first = max(0, int(from_s / self.seconds_per_column))
        last = min(len(self.peaks), math.ceil(to_s / self.seconds_per_column))
        codes = np.frombuffer(self.peaks, np.uint8)[first:last]
        if not codes.size:
            return np.empty(0)
        starts = np.unique(np.linspace(0, codes.size, min(most, codes.size), endpoint=False).astype(int))
        return np.asarray(LOWEST_DB + np.maximum.reduceat(codes, starts) / STEPS_PER_DB)


class Outline:
    """Collects peaks in stretches that double in length where a file grows beyond all measure."""

    def __init__(self, sample_rate_hz: int) -> None:
        self._rate_hz = sample_rate_hz
        self._stretch = max(1, sample_rate_hz // FINEST_PER_S)
        self._rest = np.empty(0)
        self._pieces: list[np.ndarray] = []
        self._count = 0

    def __call__(self, samples: np.ndarray) -> None:
        """Take in the next samples of one channel."""
        samples = np.concatenate([self._rest, samples]) if self._rest.size else samples
        whole = len(samples) // self._stretch
        self._rest = samples[whole * self._stretch :].copy()
        if whole:
            rows = samples[: whole * self._stretch].reshape(whole, self._stretch)
            self._pieces.append(_as_bytes(np.maximum(rows.max(axis=1), -rows.min(axis=1))))
            self._count += whole
        while self._count > MOST_COLUMNS:
            self._halve()

    def _halve(self) -> None:
        peaks = np.concatenate(self._pieces)
        even = len(peaks) // 2 * 2
        left = [peaks[even:]] if even < len(peaks) else []
        self._pieces = [peaks[:even].reshape(-1, 2).max(axis=1), *left]
        self._stretch *= 2
        self._count = sum(len(piece) for piece in self._pieces)

    def trace(self) -> PeakTrace:
        """Return what was collected; the last stretch may be shorter."""
        last = [_as_bytes(np.abs(self._rest).max(keepdims=True))] if self._rest.size else []
        peaks = b"".join(piece.tobytes() for piece in (*self._pieces, *last))
        return PeakTrace(seconds_per_column=self._stretch / self._rate_hz, peaks=peaks)


def _as_bytes(peaks: np.ndarray) -> np.ndarray:
    level_db = 20 * np.log10(np.maximum(peaks, 10 ** (LOWEST_DB / 20)))
    return np.clip(np.round((level_db - LOWEST_DB) * STEPS_PER_DB), 0, 255).astype(np.uint8)
