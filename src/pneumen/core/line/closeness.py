"""What closeness, angle and a low-cut do to a source's own spectrum: one figure on every level."""

import math
from functools import lru_cache
from typing import Final

import numpy as np

from pneumen.core.errors import require_within
from pneumen.core.gear import near_response_db, off_axis_db
from pneumen.core.levels import a_weighting_db
from pneumen.core.setup import OCTAVES_HZ

ROOM_NOISE_DB_PER_OCTAVE: Final = -5.0
"""How a quiet room's noise falls towards the treble (the slope of the NC and NR curves, from memory)."""


def low_cut_db(frequency_hz: np.ndarray, cut_hz: float) -> np.ndarray:
    """Return the response of a low-cut of 12 dB an octave, -3 dB at cut_hz; 0 Hz is off.

    Reference: second-order Butterworth high-pass, 1 / sqrt(1 + (fc/f)^4).

    >>> [round(float(one), 1) for one in low_cut_db(np.array([40.0, 80.0, 160.0]), 80)]
    [-12.3, -3.0, -0.3]
    """
    require_within("low_cut_hz", cut_hz, 0, 400)
    return -10 * np.log10(1 + (cut_hz / np.asarray(frequency_hz, dtype=float)) ** 4)


@lru_cache(maxsize=8192)
def closeness_db(
    octaves_db: tuple[float, ...] | None,
    pattern: str,
    distance_m: float,
    *,
    off_axis_deg: float = 0.0,
    extent_m: float = 0.0,
) -> float:
    """Return what the proximity effect adds to a spectrum's power, beyond what the angle takes off in the far field.

    Args:
        octaves_db: the spectrum by octaves through an omni, relative, 63 Hz to 8 kHz; None where it is not told, and
            nothing is added then.
        distance_m: to the capsule.
        extent_m: half the width of what sounds: the wave of something large is less curved.

    Reference: spherical wave at a first-order microphone (Olson; Beranek; from memory), by power over the octaves.

    >>> voice = (-25.0, -12.0, -3.0, 0.0, -6.0, -12.0, -18.0, -24.0)
    >>> [round(closeness_db(voice, "cardioid", one), 1) for one in (0.15, 0.08, 0.05, 0.03)]
    [1.1, 3.1, 5.7, 9.3]
    """
    if octaves_db is None:
        return 0.0
    powers = 10 ** (np.array(octaves_db) / 10)
    curved_m = math.hypot(distance_m, extent_m)
    heard = near_response_db(pattern, curved_m, np.array(OCTAVES_HZ, dtype=float), off_axis_deg)
    lifted_db = 10 * math.log10(float((powers * 10 ** (heard / 10)).sum() / powers.sum()))
    return max(lifted_db - off_axis_db(pattern, off_axis_deg), 0.0)


@lru_cache(maxsize=1024)
def cut_db(octaves_db: tuple[float, ...], cut_hz: float) -> float:
    """Return what a low-cut takes off a spectrum's power, 0 dB or less."""
    powers = 10 ** (np.array(octaves_db) / 10)
    kept = 10 ** (low_cut_db(np.array(OCTAVES_HZ, dtype=float), cut_hz) / 10)
    return 10 * math.log10(float((powers * kept).sum() / powers.sum()))


@lru_cache(maxsize=64)
def cut_of_room_noise_db(cut_hz: float) -> float:
    """Return what a low-cut takes off a room's A-weighted noise, 0 dB or less (its spectrum is an estimate)."""
    octaves = np.array(OCTAVES_HZ, dtype=float)
    noise_db = ROOM_NOISE_DB_PER_OCTAVE * np.log2(octaves / 1000) + a_weighting_db(octaves)
    return cut_db(tuple(noise_db.tolist()), cut_hz)
