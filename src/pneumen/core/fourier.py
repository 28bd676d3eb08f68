"""SciPy's Fourier transforms, loaded where the first one is asked for.

Loading them takes as long as measuring half a minute of sound; a process that is forked before goes without.
"""

from typing import Any

import numpy as np


def fft(values: np.ndarray, length: int | None = None, *, axis: int = -1) -> np.ndarray:
    """Return scipy.fft.fft."""
    return np.asarray(_scipy().fft(values, length, axis=axis))


def rfft(values: np.ndarray, length: int | None = None, *, axis: int = -1) -> np.ndarray:
    """Return scipy.fft.rfft."""
    return np.asarray(_scipy().rfft(values, length, axis=axis))


def irfft(values: np.ndarray, length: int | None = None, *, axis: int = -1) -> np.ndarray:
    """Return scipy.fft.irfft."""
    return np.asarray(_scipy().irfft(values, length, axis=axis))


def fast_length(least: int) -> int:
    """Return the next length of which real values are transformed quickly."""
    return int(_scipy().next_fast_len(least, real=True))


def _scipy() -> Any:  # noqa: ANN401 - it ships no types
    import scipy.fft

    return scipy.fft
