"""Between samples: exact for parabolas, near for what is nearly one."""

import unittest

import numpy as np

from pneumen.core.peaks import parabola_shift


class Shifts(unittest.TestCase):
    def test_a_parabola_turns_where_it_does(self):
        for turn in (-0.5, -0.2, 0.0, 0.31, 0.5):
            for bend in (-3.0, 0.7):
                left, top, right = (np.array([bend * (place - turn) ** 2]) for place in (-1, 0, 1))
                self.assertAlmostEqual(float(parabola_shift(left, top, right)[0]), turn)

    def test_the_crest_of_a_sine_to_a_hundredth_of_a_sample(self):
        for turn in np.linspace(-0.5, 0.5, 11):
            left, top, right = (np.array([np.cos(2 * np.pi * (place - turn) / 20)]) for place in (-1, 0, 1))
            self.assertAlmostEqual(float(parabola_shift(left, top, right)[0]), turn, delta=0.01)

    def test_a_line_turns_nowhere_and_shapes_stay(self):
        self.assertEqual(
            parabola_shift(np.zeros((2, 3)), np.ones((2, 3)), 2 * np.ones((2, 3))).tolist(), [[0.0] * 3] * 2
        )
