"""Whether words are spoken or sung in a take: only words have Ps that pop and Ss that hiss."""

from typing import Final

import numpy as np

from pneumen.core.take.floor import runs_in
from pneumen.core.take.frames import Frames

HISS_HZ: Final = (5000.0, 10_000.0)
VOWEL_HZ: Final = (250.0, 2000.0)
HISS_OVER_VOWEL_DB: Final = 3.0
HISS_S: Final = (0.03, 0.35)
"""So long an S, an F or a T lasts (common practice, no source)."""
LEAST_CONSONANTS: Final = 2
HISS_SHARE: Final = (0.008, 0.22)
"""Consonants are a small share of what sounds; cymbals, shakers and bells are nearly all of it."""
HEARD_UNDER_DB: Final = 40.0
LOUD_UNDER_DB: Final = 25.0
DARK_DB: Final = 15.0
DARK_SHARE: Final = 0.7
VOWEL_UNDER_DB: Final = 20.0
LEAST_VOWEL_S: Final = 0.07
"""What is loud in words lasts so long, in the middle of many; a drum's strokes do not."""
USUALLY_DARK_DB: Final = 18.0
"""Most loud moments are vowels, which have next to no treble."""


def holds_words(frames: Frames) -> bool:
    """Return whether a take sounds like words: vowels with short hissing consonants among them.

    The limits come from speech of a synthesiser, recorded words and sampled instruments (own measurements).
    """
    hiss, vowel = frames.band(*HISS_HZ), frames.band(*VOWEL_HZ)
    whole = frames.band(120.0, 10_000.0)
    if not whole.size or whole.max() <= 0 or frames.top_hz < HISS_HZ[1]:
        return False
    heard = whole > whole.max() * 10 ** (-HEARD_UNDER_DB / 10)
    loud = whole > whole.max() * 10 ** (-LOUD_UNDER_DB / 10)
    hissing = heard & (hiss > vowel * 10 ** (HISS_OVER_VOWEL_DB / 10))
    long_s = np.array([last - first for first, last in runs_in(hissing)]) * frames.step_s
    consonants = np.count_nonzero((long_s > HISS_S[0]) & (long_s < HISS_S[1])) >= LEAST_CONSONANTS
    share = hissing.sum() / heard.sum()
    under_db = 10 * np.log10(vowel[loud] / np.maximum(hiss[loud], 1e-20))
    is_dark = (under_db > DARK_DB).mean() >= DARK_SHARE and np.median(under_db) >= USUALLY_DARK_DB
    vowels_s = [last - first for first, last in runs_in(vowel > vowel.max() * 10 ** (-VOWEL_UNDER_DB / 10))]
    lasts = np.median(vowels_s) * frames.step_s >= LEAST_VOWEL_S
    return bool(consonants and HISS_SHARE[0] <= share <= HISS_SHARE[1] and is_dark and lasts)
