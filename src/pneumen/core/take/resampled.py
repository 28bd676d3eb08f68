"""A recording at another rate, read piece by piece so that only what is returned lies in memory."""

import math
from collections.abc import Iterator
from typing import Final

import numpy as np
import soxr

from pneumen.core.take.recording import Recording

MORE: Final = 64
"""A resampler may round up by some samples."""


def resampled(
    recording: Recording, rate_hz: int, *, channel: int | None = None, longest_s: float = np.inf
) -> np.ndarray:
    """Return one channel, or the mean of all, at a rate: float32 of shape (N,), no more of it than longest_s."""
    stream = soxr.ResampleStream(recording.sample_rate_hz, rate_hz, 1, dtype="float32")
    most = round(min(recording.frames, longest_s * recording.sample_rate_hz))
    found, filled = np.empty(math.ceil(most * rate_hz / recording.sample_rate_hz) + MORE, np.float32), 0
    for piece in _seconds(recording, channel, most):
        filled = _filled(found, filled, stream.resample_chunk(piece))
    filled = _filled(found, filled, stream.resample_chunk(np.empty(0, np.float32), last=True))
    return found[:filled]


def _filled(found: np.ndarray, filled: int, piece: np.ndarray) -> int:
    """Lay a piece where the last one ended, and return where it ends."""
    end = min(filled + len(piece), len(found))
    found[filled:end] = piece[: end - filled]
    return end


def _seconds(recording: Recording, channel: int | None, most: int) -> Iterator[np.ndarray]:
    """Yield the samples of a recording second by second."""
    step = recording.sample_rate_hz
    for start in range(0, most, step):
        piece = recording.stretches(start, min(start + step, most))
        if not piece.shape[1]:
            return
        yield np.asarray(piece.mean(axis=0) if channel is None else piece[channel], np.float32)
