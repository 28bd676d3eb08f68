"""Where frames of 100 ms, and blocks of them, begin and end in a file of any rate."""

from collections.abc import Iterator
from typing import Final

import numpy as np

from pneumen.core.take.recording import Recording

FRAMES_PER_S: Final = 10
FRAMES_PER_BLOCK: Final = 11
"""With the loudness filter's 100 ms of context a length of small prime factors, and short enough for the cache. Whoever
reads a file reads it in these blocks: what is looked for over some of them is then found alike by all."""


def block_edges(recording: Recording) -> Iterator[int]:
    """Yield the sample at which each block of whole frames ends, the last as far as the file goes."""
    block = 1
    while True:
        edge = round(block * FRAMES_PER_BLOCK * recording.sample_rate_hz / FRAMES_PER_S)
        yield min(edge, recording.frames)
        if edge >= recording.frames:
            return
        block += 1


def frame_starts(position: int, length: int, sample_rate_hz: int) -> np.ndarray:
    """Return where frames begin in a block, in its own samples: at the rounded multiples of 100 ms of the file.

    Args:
        position: of the block's first sample in the file; length: its samples.
    """
    first = round(position * FRAMES_PER_S / sample_rate_hz)
    numbers = first + np.arange(FRAMES_PER_BLOCK)
    starts = np.round(numbers * sample_rate_hz / FRAMES_PER_S).astype(int) - position
    return np.asarray(starts[starts < length])


def each_frame(reduce: np.ufunc, block: np.ndarray, starts: np.ndarray) -> np.ndarray:
    """Return what a ufunc makes of each frame of a block, shape (channels, frames)."""
    length = block.shape[1] // len(starts)
    if length * len(starts) == block.shape[1] and (np.diff(starts) == length).all():  # much faster where all are alike
        return np.asarray(reduce.reduce(block.reshape(len(block), len(starts), length), axis=2))
    return np.asarray(reduce.reduceat(block, starts, axis=1))
