"""Pitch beside another library's: Praat's autocorrelation (Boersma 1993), through parselmouth, on the same sounds.

Voices are those of Debian's alsa-utils (GPL-2) and of espeak-ng (GPL-3), instruments TimGM6mb's (GPL-2), made in the
test. Frames count where both hear a pitch; a gross error is 20 % and more apart, as pitch trackers are usually counted.
"""

import unittest

import numpy as np
import parselmouth

from pneumen.core.performance import pitch_of
from tests.material.sounds import RATE, played, recorded, spoken

LOWEST_HZ, HIGHEST_HZ, STEP_S = 60.0, 1600.0, 0.01
OURS_LATER_S = 0.002
"""Ours lie so much later than Praat's (found on these voices; the bounds are wide of it)."""
GROSS_CENTS = 1200 * np.log2(1.2)
MELODY = ((0.2, 0.7, 0), (1.0, 0.7, 4), (1.8, 0.5, 7), (2.4, 0.5, 2), (3.0, 1.2, -3))


def apart(samples):
    """Return by how many cents the two differ where both hear a pitch, and in how many frames they agree on that."""
    ours = pitch_of(samples, RATE, lowest_hz=LOWEST_HZ, highest_hz=HIGHEST_HZ)
    sound = parselmouth.Sound(np.asarray(samples, float), sampling_frequency=RATE)
    theirs = sound.to_pitch_ac(time_step=STEP_S, pitch_floor=LOWEST_HZ, pitch_ceiling=HIGHEST_HZ)
    hertz = theirs.selected_array["frequency"]
    frames = np.arange(len(ours.hertz)) * ours.hop_s
    mine = np.interp(theirs.xs() - OURS_LATER_S, frames, ours.hertz)  # nan beside a frame without a pitch
    both = (hertz > 0) & ~np.isnan(mine)
    return 1200 * np.log2(mine[both] / hertz[both]), float(np.mean((hertz > 0) == ~np.isnan(mine)))


class BesidePraat(unittest.TestCase):
    def test_recorded_and_spoken_voices(self):
        voices = [recorded(name) for name in ("Front_Center", "Rear_Left", "Side_Right")]
        voices += [spoken(voice, line) for line, voice in enumerate(("en", "en-us+f3", "de+m3"))]
        for number, samples in enumerate(voices):
            cents, agreed = apart(samples)
            self.assertGreater(len(cents), 40, number)
            self.assertLess(np.median(np.abs(cents)), 10, number)
            self.assertLess(np.mean(np.abs(cents) > GROSS_CENTS), 0.03, number)
            self.assertGreater(agreed, 0.85, number)

    def test_sampled_instruments(self):
        for program, lowest in ((71, 58), (73, 72), (40, 67), (56, 65), (42, 48), (57, 53)):
            notes = tuple((start, length, lowest + step, 90) for start, length, step in MELODY)
            cents, agreed = apart(played(program, notes, 4.6))
            self.assertGreater(len(cents), 250, program)
            self.assertLess(np.median(np.abs(cents)), 2, program)
            self.assertLess(np.mean(np.abs(cents) > GROSS_CENTS), 0.03, program)
            self.assertGreater(agreed, 0.85, program)

    def test_what_has_no_pitch_has_none_for_either(self):
        cents, agreed = apart(0.1 * np.random.default_rng(5).standard_normal(2 * RATE))
        self.assertLess(len(cents), 10)
        self.assertGreater(agreed, 0.8)
