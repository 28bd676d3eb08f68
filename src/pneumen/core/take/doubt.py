"""Before a take teaches: does it tell of the performer and the room, or of a knob and a fan?"""

from collections.abc import Collection
from typing import Final

from pneumen.core.take.correct import Correction
from pneumen.core.take.measurement import Measurement

LEAST_DOUBT_DB: Final = 12.0
"""Nearer than this to what was expected, a take is believed (estimate: people differ by that much)."""
BEYOND_BAND: Final = 1.5
"""An outlier lies so many times its band from what was expected."""
LEVEL, NOISE = "level", "noise"


def doubts_of(
    correction: Correction,
    measurement: Measurement,
    *,
    expected_noise_dbfs: float,
    signal_band_db: float,
    noise_band_db: float,
) -> Collection[str]:
    """Return what of a take should be asked about before it is learnt: "level", "noise", both or nothing.

    A level far off is a knob, a pad or another input rather than a person. A floor far up, or one with a mains hum
    in it, is no room: hum, or a fan or a laptop near the microphone.
    """
    found = []
    surely = max(-correction.level_offset_db, 0.0) if correction.lower_bound else abs(correction.level_offset_db)
    if surely > _limit_db(signal_band_db):
        found.append(LEVEL)
    floor_dbfs = measurement.noise.floor_dbfs_a
    if correction.room_noise_dba is not None and floor_dbfs is not None:
        over_db = floor_dbfs - expected_noise_dbfs
        hums = any(finding.kind == "hum" for finding in measurement.findings)
        if over_db > (noise_band_db if hums else _limit_db(noise_band_db)):
            found.append(NOISE)
    return tuple(found)


def _limit_db(band_db: float) -> float:
    return max(BEYOND_BAND * band_db, LEAST_DOUBT_DB)
