"""One steady sound in a recording: its level, for mapping a knob."""

from typing import Final

import numpy as np

from pneumen.core.errors import UnreadableFile
from pneumen.core.filters import RunningFilter, band_pass
from pneumen.core.levels import FULL_SCALE_TOUCHED, db_to_ratio, frame_powers, ratio_to_db

BAND_HZ: Final = (700.0, 1400.0)
"""The octave about 1 kHz the test sound lies in: hum and rumble stay out."""
FRAME_S: Final = 0.1
LEAST_S: Final = 1.0
SILENT_DBFS: Final = -110.0
STEADY_DB: Final = 4.0
"""The middle four fifths of a steady sound's tenths of a second lie so close together."""
TEST_SOUND_S: Final = 10.0
TEST_SOUND_DBFS: Final = -40.0


def test_sound(sample_rate_hz: int, *, seed: int = 1) -> np.ndarray:
    """Return the steady narrow-band noise to play from one fixed spot, soft at first: turn the player up slowly."""
    noise = np.random.default_rng(seed).standard_normal(round(TEST_SOUND_S * sample_rate_hz))
    banded = RunningFilter(band_pass(4, BAND_HZ, sample_rate_hz))(noise)
    return banded / np.sqrt(np.square(banded).mean()) * db_to_ratio(TEST_SOUND_DBFS)


def steady_level_dbfs(samples: np.ndarray, sample_rate_hz: int) -> float:
    """Return the RMS level of the steady sound in a recording, dBFS in its octave.

    Raises:
        UnreadableFile: where it is short, clips, is silent or not steady.
    """
    frame = round(FRAME_S * sample_rate_hz)
    if len(samples) < LEAST_S * sample_rate_hz:
        raise UnreadableFile("it is shorter than a second", "record some seconds of the test sound")
    if float(np.abs(samples).max()) >= FULL_SCALE_TOUCHED:
        raise UnreadableFile("it clips", "play the test sound softer, and record every position anew")
    banded = RunningFilter(band_pass(2, BAND_HZ, sample_rate_hz))(samples)
    levels = ratio_to_db(np.sqrt(np.maximum(frame_powers(banded, frame), 1e-15)))
    low, middle, high = np.percentile(levels, (10, 50, 90))
    if middle < SILENT_DBFS:
        raise UnreadableFile("it is silent", "check the lead and the input")
    if high - low > STEADY_DB:
        raise UnreadableFile("the sound in it is not steady", "record only while the test sound plays")
    return float(middle)
