"""Where between the samples a peak or a dip lies."""

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
