"""The outline of a take for drawing: lowest and highest sample of equal stretches of time."""

from typing import Final

import numpy as np

MOST_COLUMNS: Final = 2400
FINEST_PER_S: Final = 400


class Outline:
    """Collects extremes in stretches that double in length as the file grows, so memory stays put."""

    def __init__(self, sample_rate_hz: int) -> None:
        self._rate_hz = sample_rate_hz
        self._stretch = max(1, sample_rate_hz // FINEST_PER_S)
        self._position = 0
        self._low = np.empty(0)
        self._high = np.empty(0)

    def __call__(self, samples: np.ndarray) -> None:
        """Take in the next samples of one channel."""
        if not samples.size:
            return
        to_next = -self._position % self._stretch
        starts = np.unique(np.append(0, np.arange(to_next, len(samples), self._stretch)))
        low, high = np.minimum.reduceat(samples, starts), np.maximum.reduceat(samples, starts)
        if to_next and self._low.size:  # the block before ended inside a stretch
            self._low[-1], self._high[-1] = min(self._low[-1], low[0]), max(self._high[-1], high[0])
            low, high = low[1:], high[1:]
        self._low, self._high = np.append(self._low, low), np.append(self._high, high)
        self._position += len(samples)
        while len(self._low) > MOST_COLUMNS:
            pairs = np.arange(0, len(self._low), 2)
            self._low, self._high = np.minimum.reduceat(self._low, pairs), np.maximum.reduceat(self._high, pairs)
            self._stretch *= 2

    @property
    def seconds_per_column(self) -> float:
        return self._stretch / self._rate_hz

    @property
    def columns(self) -> list[tuple[float, float]]:
        """(lowest, highest) of each stretch, full scale is 1."""
        return [(float(low), float(high)) for low, high in zip(self._low, self._high, strict=True)]
