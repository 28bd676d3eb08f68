"""A clap in a simulated room: images with every wall's absorption by octave, and a dense tail after them.

It shares with the product's own predictions the geometry of the images, not the way a decay is read.
"""

from typing import Final

import numpy as np

from pneumen.core.levels import SPEED_OF_SOUND_M_S, db_to_ratio
from pneumen.core.room import BANDS_HZ, Box, Point, images_up_to, reverberation_times_eyring_s

IMAGE_ORDER: Final = 18
BEFORE_S: Final = 0.6
LONGEST_S: Final = 4.0


def simulate_clap(
    box: Box, clapper_m: Point, ear_m: Point, *, rate_hz: int = 48_000, noise_dbfs: float = -85.0, seed: int = 0
) -> np.ndarray:
    """Return a recording of one hand clap in a box, peak near -6 dBFS.

    Args:
        noise_dbfs: RMS of the recording's noise.
    """
    box.require_inside("clapper_m", clapper_m)
    box.require_inside("ear_m", ear_m)
    rng = np.random.default_rng([seed, 41])
    rings = [one or 0.05 for one in reverberation_times_eyring_s(box)]
    length = round((BEFORE_S + min(max(1.6 * max(rings), 0.8), LONGEST_S)) * rate_hz)
    pulse = _pulse(rng, rate_hz)
    out = np.zeros(length)
    for band, arrivals in enumerate(_arrivals(box, clapper_m, ear_m, rings, length, rate_hz, rng)):
        out += in_band(np.convolve(arrivals, pulse)[:length], band, rate_hz)
    out *= 0.5 / np.abs(out).max()
    return out + rng.standard_normal(length) * db_to_ratio(noise_dbfs)


def _arrivals(
    box: Box, clapper_m: Point, ear_m: Point, rings: list[float], length: int, rate_hz: int, rng: np.random.Generator
) -> np.ndarray:
    """Return the arrivals in each band as amplitudes at their moments, shape (6, length)."""
    images = images_up_to(IMAGE_ORDER)
    distance = np.linalg.norm(images.positions(np.array(clapper_m), box.size_m) - np.array(ear_m), axis=1)
    place = BEFORE_S * rate_hz + distance / SPEED_OF_SOUND_M_S * rate_hz
    whole = place.astype(int)
    part, inside = place - whole, whole + 1 < length
    amplitude = np.sqrt(images.reflected(box.wall_absorption)) / np.maximum(distance, 0.05)[:, None]
    found = np.zeros((len(BANDS_HZ), length))
    for band in range(len(BANDS_HZ)):
        np.add.at(found[band], whole[inside], (amplitude[:, band] * (1 - part))[inside])
        np.add.at(found[band], whole[inside] + 1, (amplitude[:, band] * part)[inside])
        found[band] = _with_tail(box, found[band], rings[band], rate_hz, rng)
    return found


def _with_tail(box: Box, arrivals: np.ndarray, rt60_s: float, rate_hz: int, rng: np.random.Generator) -> np.ndarray:
    """Let the images go over into noise that decays as fast as Eyring says, from where their order runs out."""
    mean_free_s = 4 * box.volume_m3 / box.surface_m2 / SPEED_OF_SOUND_M_S
    join = round((BEFORE_S + 0.7 * IMAGE_ORDER * mean_free_s) * rate_hz)
    before = arrivals[join - round(0.02 * rate_hz) : join]
    if join >= len(arrivals) or not before.any():
        return arrivals
    seconds = np.arange(len(arrivals) - join) / rate_hz
    noise = rng.standard_normal(len(seconds)) * np.sqrt(np.square(before).mean()) * 10 ** (-3 * seconds / rt60_s)
    return np.concatenate([arrivals[:join], noise])


def _pulse(rng: np.random.Generator, rate_hz: int) -> np.ndarray:
    """A clap's own sound: a few milliseconds of noise that starts at once (estimate)."""
    seconds = np.arange(round(0.004 * rate_hz)) / rate_hz
    return rng.standard_normal(len(seconds)) * np.exp(-seconds / 0.0006)


def in_band(samples: np.ndarray, band: int, rate_hz: int) -> np.ndarray:
    """Return what of a signal lies in one octave band; the lowest and highest reach further out."""
    from scipy.signal import butter, sosfiltfilt  # takes a second to load, and few commands need it

    low = BANDS_HZ[band] / 2**0.5 if band else 60.0
    high = min(BANDS_HZ[band] * 2**0.5 if band < len(BANDS_HZ) - 1 else 12_000.0, 0.45 * rate_hz)
    return sosfiltfilt(butter(2, (low, high), "bandpass", fs=rate_hz, output="sos"), samples)
