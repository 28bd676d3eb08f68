"""Keys as people write them, and where a take rushes or drags by section."""

import unittest

import numpy as np

from pneumen.core.errors import UnknownName
from pneumen.core.performance import nearest_in, scale_of, timing_by_span

BEAT_S = 0.5


class Keys(unittest.TestCase):
    def test_scales_of_the_keys_of_a_handbook(self):
        """Semitones over A; C major is C D E F G A B: 3 5 7 8 10 0 2 (any theory of music)."""
        cases = {
            "C major": {3, 5, 7, 8, 10, 0, 2},
            "D major": {5, 7, 9, 10, 0, 2, 4},
            "Bb": {1, 3, 5, 6, 8, 10, 0},
            "F# dorian": {9, 11, 0, 2, 4, 6, 7},
        }
        for key, steps in cases.items():
            with self.subTest(key):
                self.assertEqual(scale_of(key), steps)

    def test_the_same_key_in_other_letters(self):
        for one, other in (("Am", "a minor"), ("Eb maj", "eb major"), ("H minor", "b minor"), ("C\u266f", "C#")):
            self.assertEqual(scale_of(one), scale_of(other))

    def test_minor_takes_either_sixth_and_seventh(self):
        self.assertTrue({8, 9, 10, 11} <= scale_of("A minor"))

    def test_what_is_no_key(self):
        for key in ("", "J major", "C loud", "D major extra", "##"):
            with self.assertRaises(UnknownName):
                scale_of(key)

    def test_the_nearest_note_of_a_scale(self):
        scale = scale_of("C major")
        self.assertEqual([nearest_in(scale, one) for one in (3.4, 4.1, -0.9, -1.6, 15.2)], [3, 5, 0, -2, 15])


class BySection(unittest.TestCase):
    def notes(self, late_ms, seed=1):
        """Thirty-two notes on half beats; the second half later, a common offset on all of them."""
        rng = np.random.default_rng(seed)
        at = 0.137 + np.arange(32) * BEAT_S / 2 + rng.normal(0, 0.004, 32)
        at[16:] += late_ms / 1000
        return at

    def test_a_section_that_drags_is_told_beside_the_other(self):
        spans = ((0.0, 4.1), (4.1, 9.0), (20.0, 30.0))
        first, second, none = timing_by_span(self.notes(30), BEAT_S, spans)
        self.assertAlmostEqual(second.behind_ms - first.behind_ms, 30, delta=4)
        self.assertLess(max(first.spread_ms, second.spread_ms), 9)
        self.assertEqual((first.count, second.count), (16, 16))
        self.assertIsNone(none)

    def test_a_common_offset_is_nobodys(self):
        for shift in (0.0, 0.05, 0.2):
            first, second = timing_by_span(self.notes(0) + shift, BEAT_S, ((0, 4.1 + shift), (4.1 + shift, 9.0)))
            self.assertAlmostEqual(first.behind_ms, 0, delta=4)
            self.assertAlmostEqual(second.behind_ms, 0, delta=4)

    def test_too_few_notes(self):
        self.assertEqual(timing_by_span(np.array([1.0, 2.0]), BEAT_S, ((0, 3),)), (None,))


if __name__ == "__main__":
    unittest.main()
