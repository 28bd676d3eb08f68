"""The shape of crests: parabolas, the flattest natural crests, and tops cut off, with and without noise."""

import unittest

import numpy as np

from pneumen.core.take.crests import BASE, crests_of
from tests.signals import RATE, noise, sine


def squareness(samples):
    place = np.flatnonzero(samples >= BASE * samples.max())
    return crests_of(samples, place, float(samples.max()), 2**-23).squareness


class Squareness(unittest.TestCase):
    def test_a_parabola_is_half_as_wide_at_a_quarter_of_the_depth(self):
        # A crest that falls as the square of time is sqrt(1/4) as wide there, by its very shape.
        self.assertTrue(np.allclose(squareness(sine(50, 1, -6)), 0.5, atol=0.02))

    def test_a_sixth_order_crest_keeps_its_roundness(self):
        # It falls as the sixth power: (1/4)^(1/6) = 0.794.
        time = np.linspace(-1, 1, 4801)
        crest = 0.5 * (1 - np.abs(time) ** 6)
        self.assertAlmostEqual(float(squareness(np.tile(crest, 3))[1]), 0.794, delta=0.01)

    def test_a_cut_top_is_nearly_square(self):
        self.assertTrue((squareness(np.minimum(sine(200, 1, -6), 0.35)) > 0.98).all())

    def test_noise_leaves_the_two_apart(self):
        for seed in range(5):
            hiss = 0.3 * 10 ** (-60 / 20) * np.random.default_rng(seed).standard_normal(RATE)
            self.assertLess(np.median(squareness(sine(50, 1, -10) + hiss)), 0.7)
            self.assertGreater(np.median(squareness(np.minimum(sine(200, 1, -6), 0.3) + hiss)), 0.9)

    def test_too_much_noise_tells_nothing(self):
        loud = sine(200, 1, -20) + noise(1, -35)
        self.assertEqual(squareness(loud).size, 0)

    def test_short_crests_are_left_out(self):
        self.assertEqual(squareness(sine(9000, 1, -6)).size, 0)


if __name__ == "__main__":
    unittest.main()
