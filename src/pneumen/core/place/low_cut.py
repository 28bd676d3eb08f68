"""A low-cut in microphone, preamp or recorder: what it takes off the source for good."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.line import cut_db, low_cut_db
from pneumen.core.part import OCTAVES_HZ, Source
from pneumen.core.verdict import Verdict

LOW_CUTS_HZ: Final = (0, 40, 60, 75, 80, 100, 120, 150)
HIGHEST_SAFE_HZ: Final = 80
"""Off, or 80 Hz at most for low instruments (common practice, no source)."""
FELT_DB: Final = 1.0
BAND_FELT_DB: Final = -20.0
"""A band this far under the strongest is still part of the sound (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LowCut:
    """What a low-cut costs: dB off the whole and off the lowest octave that counts; the verdict before recording."""

    cut_hz: float
    lost_db: float
    lowest_octave_hz: int
    lowest_octave_db: float
    verdict: Verdict


def low_cut_of(source: Source, cut_hz: float) -> LowCut:
    """Return what a low-cut does to a source's own spectrum.

    Raises:
        OutOfRange: naming the frequency.
    """
    octaves = np.array(OCTAVES_HZ, dtype=float)
    spectrum = np.array(source.octave_spectrum_db)
    lowest = int(np.flatnonzero(spectrum >= BAND_FELT_DB)[0])
    lowest_db = float(low_cut_db(octaves, cut_hz)[lowest])
    verdict = Verdict.CLEAR
    if cut_hz:
        verdict = Verdict.WATCH if lowest_db > -FELT_DB and cut_hz <= HIGHEST_SAFE_HZ else Verdict.BAKED_IN
    return LowCut(
        cut_hz=cut_hz,
        lost_db=cut_db(source.octave_spectrum_db, cut_hz),
        lowest_octave_hz=OCTAVES_HZ[lowest],
        lowest_octave_db=lowest_db,
        verdict=verdict,
    )
