"""True peak after ITU-R BS.1770-5, Annex 2: fourfold oversampling, computed only where it can matter."""

from typing import Final

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

# The standard's interpolating filter, phases 0 and 1; phases 3 and 2 are the same read backwards.
_PHASE_0 = [
    0.0017089843750,
    0.0109863281250,
    -0.0196533203125,
    0.0332031250000,
    -0.0594482421875,
    0.1373291015625,
    0.9721679687500,
    -0.1022949218750,
    0.0476074218750,
    -0.0266113281250,
    0.0148925781250,
    -0.0083007812500,
]
_PHASE_1 = [
    -0.0291748046875,
    0.0292968750000,
    -0.0517578125000,
    0.0891113281250,
    -0.1665039062500,
    0.4650878906250,
    0.7797851562500,
    -0.2003173828125,
    0.1015625000000,
    -0.0582275390625,
    0.0330810546875,
    -0.0189208984375,
]
PHASES: Final = np.array([_PHASE_0, _PHASE_1, _PHASE_1[::-1], _PHASE_0[::-1]]).T
TAPS: Final = len(PHASES)
MOST_GAIN: Final = float(np.abs(PHASES).sum(axis=0).max())
"""No output can exceed the largest input by more: quieter stretches need no oversampling."""
STRETCH: Final = 16


def _stretch_filter() -> np.ndarray:
    """One matrix that takes a stretch (with its context) to its four-fold oversampled values: BLAS does the rest."""
    matrix = np.zeros((STRETCH + TAPS - 1, STRETCH, PHASES.shape[1]))
    for sample in range(STRETCH):
        matrix[sample : sample + TAPS, sample] = PHASES
    return matrix.reshape(STRETCH + TAPS - 1, -1)


STRETCH_FILTER: Final = _stretch_filter()


class TruePeak:
    """The running true peak of one channel: call it with each block in turn, then finish."""

    def __init__(self) -> None:
        self.value = 0.0
        self._tail = np.zeros(TAPS - 1)

    def __call__(self, block: np.ndarray, sample_peak: float) -> None:
        """Take in the next samples; sample_peak is the largest of them, taken by the caller already."""
        self.value = max(self.value, sample_peak)
        if sample_peak * MOST_GAIN > self.value or np.abs(self._tail).max() * MOST_GAIN > self.value:
            self._oversample(np.concatenate([self._tail, block]))
        self._tail = np.concatenate([self._tail, block[-(TAPS - 1) :]])[-(TAPS - 1) :]

    def finish(self) -> float:
        """Let the filter run out and return the highest value found (full scale is 1)."""
        self._oversample(np.concatenate([self._tail, np.zeros(TAPS)]))
        return self.value

    def _oversample(self, samples: np.ndarray) -> None:
        starts = np.arange(0, len(samples), STRETCH)
        peaks = np.maximum.reduceat(np.abs(samples), starts)
        reach = np.maximum(peaks, np.append(peaks[1:], 0.0))  # a window may end in the next stretch
        self._interpolate(samples, starts[[reach.argmax()]])  # the loudest first: it rules out most of the others
        self._interpolate(samples, starts[reach * MOST_GAIN > self.value])

    def _interpolate(self, samples: np.ndarray, starts: np.ndarray) -> None:
        if not starts.size:
            return
        padded = np.concatenate([samples, np.zeros(STRETCH + TAPS)])
        interpolated = sliding_window_view(padded, STRETCH + TAPS - 1)[starts] @ STRETCH_FILTER
        self.value = max(self.value, float(interpolated.max()), -float(interpolated.min()))
