"""Mains hum: steady lines at 50 or 60 Hz and their multiples, whatever else sounds."""

from collections.abc import Iterable
from typing import Final

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from pneumen.core.fourier import rfft
from pneumen.core.take.floor import HIGH_PASS_HZ

MAINS_HZ: Final = (50.0, 60.0)
MULTIPLES: Final = 10
WINDOW_S: Final = 1.0
LEAST_S: Final = 2.0
ALWAYS_THERE_SHARE: Final = 0.2
"""A line in the quietest fifth of the windows is always there: what is played or sung is not."""
SURROUNDINGS_HZ: Final = (4.0, 22.0)
"""From so near a line, outside the window's own skirt, to so far counts as its surroundings."""
OVER_SURROUNDINGS_DB: Final = 10.0
UNDER_SIGNAL_DB: Final = 50.0
"""Lines further under the take's active level than this are not heard behind it."""
OFF_HZ: Final = 0.25
"""Public grids keep their frequency within 0.2 Hz in ordinary operation (common practice); multiples by as much more.
A held G (49.0 Hz) or a B (61.7 Hz) lies outside."""
LEAST_LINES: Final = 2
PIECE_S: Final = 2.0
MOST_PIECES: Final = 24
COARSE_HZ: Final = 6000
"""Ten multiples of 60 Hz lie far under half of that."""


def looks_at(frames: int, sample_rate_hz: int) -> list[tuple[int, int]]:
    """Return the stretches of a file that are looked through for hum, in samples: all of a short one.

    Hum is there all the time: of a long file pieces spread over it tell as much.
    """
    length = round(PIECE_S * sample_rate_hz)
    if frames < LEAST_S * sample_rate_hz:
        return []
    if frames <= MOST_PIECES * length:
        return [(0, frames)]
    starts = np.linspace(0, frames - length, MOST_PIECES).astype(int)
    return [(int(start), int(start) + length) for start in starts]


def mains_hum_hz(samples: np.ndarray, sample_rate_hz: int, active_rms_dbfs: float) -> float | None:
    """Return the mains frequency (50 or 60 Hz) of the hum in one channel, None where there is none.

    Args:
        samples: one channel, full scale 1; shorter than two seconds tells nothing.
        active_rms_dbfs: the take's level without its pauses.
    """
    return hum_in_pieces([samples], sample_rate_hz, active_rms_dbfs)


def hum_in_pieces(pieces: Iterable[np.ndarray], sample_rate_hz: int, active_rms_dbfs: float) -> float | None:
    """Return the same for a file of which some stretches are looked at, one after the other.

    At least two lines stand over their surroundings all the time, and all lines together are not too far under
    the active level; of both frequencies the one with more lines is it.
    """
    spectra = [_spectra(piece, sample_rate_hz) for piece in pieces if len(piece) >= LEAST_S * sample_rate_hz]
    if not spectra:
        return None
    frequency_hz = spectra[0][0]
    steady = np.quantile(np.hstack([power for _, power in spectra]), ALWAYS_THERE_SHARE, axis=1)
    steady = np.maximum(steady, 1e-30)
    lines = {mains: _lines(frequency_hz, steady, mains) for mains in MAINS_HZ}
    mains = max(MAINS_HZ, key=lambda each: (len(lines[each]), sum(lines[each])))
    if len(lines[mains]) < LEAST_LINES:
        return None
    return mains if 10 * np.log10(sum(lines[mains])) >= active_rms_dbfs - UNDER_SIGNAL_DB else None


def _spectra(samples: np.ndarray, sample_rate_hz: int) -> tuple[np.ndarray, np.ndarray]:
    """Return the power spectra of one-second windows, up to where multiples of the mains are looked for.

    Neighbouring samples are averaged first: what folds down by that comes and goes with the music, and hum does not.
    """
    together = max(1, sample_rate_hz // COARSE_HZ)
    coarse = samples[: len(samples) // together * together].reshape(-1, together).mean(axis=1)
    rate_hz = sample_rate_hz / together
    length = round(WINDOW_S * rate_hz)
    window = np.hanning(length + 1)[:-1]
    spectra = rfft(sliding_window_view(coarse, length)[:: length - 3 * length // 4] * (window / window.sum()), axis=1)
    return np.fft.rfftfreq(length, 1 / rate_hz), np.square(np.abs(spectra)).T


def _lines(frequency_hz: np.ndarray, power: np.ndarray, mains_hz: float) -> list[float]:
    """Return the mean squares of the multiples of one mains frequency that stand over their surroundings."""
    found = []
    for multiple in range(1, MULTIPLES + 1):
        at_hz = multiple * mains_hz
        if not HIGH_PASS_HZ < at_hz < frequency_hz[-1] - SURROUNDINGS_HZ[1]:
            continue
        off = np.abs(frequency_hz - at_hz)
        around = power[(off >= SURROUNDINGS_HZ[0]) & (off <= SURROUNDINGS_HZ[1])]
        peak = int(np.argmin(off)) + int(np.argmax(power[np.argmin(off) - 2 : np.argmin(off) + 3])) - 2
        over_db = 10 * np.log10(power[peak] / np.median(around))
        if over_db > OVER_SURROUNDINGS_DB and abs(_exact_hz(frequency_hz, power, peak) - at_hz) <= OFF_HZ * multiple:
            # A sine's line in a Hann window spreads to its neighbours: half the square of its amplitude is its power.
            found.append(float(2 * power[peak - 1 : peak + 2].sum() / 1.5))
    return found


def _exact_hz(frequency_hz: np.ndarray, power: np.ndarray, peak: int) -> float:
    """Return a peak's place between the bins: a parabola through the levels of three."""
    left, middle, right = 10 * np.log10(power[peak - 1 : peak + 2])
    bend = left - 2 * middle + right
    shift = 0.0 if bend >= 0 else 0.5 * (left - right) / bend
    return float(frequency_hz[peak] + shift * (frequency_hz[1] - frequency_hz[0]))
