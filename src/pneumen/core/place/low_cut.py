"""A low-cut in microphone, preamp or recorder: what it takes off the source for good."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.line import cut_db, low_cut_db
from pneumen.core.part import Source
from pneumen.core.verdict import Verdict

LOW_CUTS_HZ: Final = (0, 40, 60, 75, 80, 100, 120, 150)
HIGHEST_SAFE_HZ: Final = 80
"""Off, or 80 Hz at most for low instruments (common practice, no source)."""
FELT_DB: Final = 3.0
"""What the lowest note may lose before it is missed (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LowCut:
    """What a low-cut costs: dB off the whole and off the lowest note; the verdict before recording."""

    cut_hz: float
    lost_db: float
    lowest_note_hz: float
    lowest_note_db: float
    verdict: Verdict


def low_cut_of(source: Source, cut_hz: float) -> LowCut:
    """Return what a low-cut does to a source's own spectrum, and to its lowest note.

    Raises:
        OutOfRange: naming the frequency.
    """
    lowest_db = float(low_cut_db(np.array([source.lowest_note_hz]), cut_hz)[0])
    verdict = Verdict.CLEAR
    if cut_hz:
        verdict = Verdict.WATCH if lowest_db > -FELT_DB and cut_hz <= HIGHEST_SAFE_HZ else Verdict.BAKED_IN
    return LowCut(
        cut_hz=cut_hz,
        lost_db=cut_db(source.octave_spectrum_db, cut_hz),
        lowest_note_hz=source.lowest_note_hz,
        lowest_note_db=lowest_db,
        verdict=verdict,
    )
