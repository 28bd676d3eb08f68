"""Noises with a given A-weighted level, made in the frequency domain."""

from functools import lru_cache

import numpy as np

from pneumen.core.levels import a_weighting_db


def weighted_noise(
    rng: np.random.Generator, samples: int, rate_hz: int, rms_a: float, slope_db_per_octave: float = 0.0
) -> np.ndarray:
    """Return Gaussian noise whose A-weighted RMS is rms_a.

    Args:
        slope_db_per_octave: 0 for white; rooms fall by about 5.
    """
    shape, weighted = _shape_of(samples, rate_hz, slope_db_per_octave)
    spectrum = np.empty(len(shape), complex)
    spectrum.real, spectrum.imag = (shape * rng.standard_normal(len(shape)) for _ in range(2))
    # Each bin pair of irfft carries 4 shape^2 / samples^2 of power; set their weighted sum to the level wanted.
    return np.fft.irfft(spectrum, samples) * rms_a * samples / (2 * np.sqrt(weighted))


@lru_cache(maxsize=4)
def _shape_of(samples: int, rate_hz: int, slope_db_per_octave: float) -> tuple[np.ndarray, float]:
    """Return a spectrum's amplitudes, 1 at 1 kHz, and the sum of their A-weighted squares."""
    frequency_hz = np.fft.rfftfreq(samples, 1 / rate_hz)
    shape = np.zeros(len(frequency_hz))
    band = (frequency_hz >= 10) & (frequency_hz <= min(20_000, 0.49 * rate_hz))
    shape[band] = (frequency_hz[band] / 1000) ** (slope_db_per_octave / 6.02)
    weighted = np.square(shape[band] * 10 ** (a_weighting_db(frequency_hz[band]) / 20)).sum()
    shape.setflags(write=False)
    return shape, float(weighted)
