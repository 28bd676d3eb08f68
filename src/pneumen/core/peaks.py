"""Peaks: which ones there are, and where between the samples one lies."""

import numpy as np


def parabola_shift(left: np.ndarray, top: np.ndarray, right: np.ndarray) -> np.ndarray:
    """Return how far from the middle one of three neighbours a parabola through them turns, in samples; 0 of a line.

    Args:
        left, top, right: of one shape; top is the largest of the three, or the smallest.

    Reference: Smith, Spectral Audio Signal Processing, 2011, quadratic interpolation of spectral peaks.

    >>> parabola_shift(np.array([0.0]), np.array([1.0]), np.array([0.5])).round(3)
    array([0.167])
    """
    bend = left - 2 * top + right
    return np.asarray(np.where(bend == 0, 0.0, 0.5 * (left - right) / np.where(bend == 0, 1.0, bend)))


def peaks_over(levels: np.ndarray, least: float, *, apart: int) -> np.ndarray:
    """Return the places of the peaks of at least a level, in order; of two that lie closer together the higher one.

    >>> peaks_over(np.array([0.0, 5.0, 0.0, 4.0, 0.0, 0.0, 3.0, 0.0]), 1.0, apart=3)
    array([1, 6])
    """
    inner = levels[1:-1]
    places = np.flatnonzero((inner > levels[:-2]) & (inner >= levels[2:]) & (inner >= least)) + 1
    kept: list[int] = []
    for place in places[np.argsort(levels[places])[::-1]].tolist():
        if all(abs(place - other) >= apart for other in kept):
            kept.append(place)
    return np.array(sorted(kept), int)
