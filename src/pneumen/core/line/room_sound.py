"""What a room's own sound adds to the levels of what is played in it."""

from typing import Final, overload

import numpy as np

from pneumen.core.levels import power_sum_db

ROOM_CREST_DB: Final = 12.0
"""How far the reverberant sound's highest peak, as a sine with that peak, lies over its RMS: it is noise-like and
swells with the music (estimate; fitted to the stand-in's thirty sources: 4 to 16, struck ones least)."""


@overload
def room_on_rms_db(lead_db: np.ndarray) -> np.ndarray: ...
@overload
def room_on_rms_db(lead_db: float) -> float: ...
def room_on_rms_db(lead_db: float | np.ndarray) -> float | np.ndarray:
    """Return what reverberant sound adds to an RMS level whose direct sound leads it by lead_db, by power.

    >>> round(room_on_rms_db(10.0), 2), round(room_on_rms_db(0.0), 2)
    (0.41, 3.01)
    """
    return power_sum_db(-lead_db, 0.0)


@overload
def room_on_peak_db(lead_db: np.ndarray, crest_db: float) -> np.ndarray: ...
@overload
def room_on_peak_db(lead_db: float, crest_db: float) -> float: ...
def room_on_peak_db(lead_db: float | np.ndarray, crest_db: float) -> float | np.ndarray:
    """Return what it adds to a peak that lies crest_db over the RMS level: struck sources tower over their room.

    >>> round(room_on_peak_db(10.0, 12.0), 2), round(room_on_peak_db(10.0, 20.0), 2)
    (0.41, 0.07)
    """
    return power_sum_db(ROOM_CREST_DB - crest_db - lead_db, 0.0)
