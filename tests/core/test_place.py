"""What closeness does to the tone, against the values of textbooks and the closed form."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from pneumen.core.errors import OutOfRange, UnknownName
from pneumen.core.gear import PATTERNS, near_response_db
from pneumen.core.place import THIRD_OCTAVES_HZ, response_at


def at(pattern, distance_m, hertz, angle_deg=0.0):
    return float(near_response_db(pattern, distance_m, np.array([hertz]), angle_deg)[0])


class Proximity(unittest.TestCase):
    def test_a_cardioid_at_100_hz(self):
        # Olson; Beranek (from memory), worked from the spherical wave: on axis at 5, 10, 15 and 30 cm.
        for distance_m, expected in ((0.05, 14.9), (0.10, 9.3), (0.15, 6.4), (0.30, 2.6)):
            self.assertAlmostEqual(at("cardioid", distance_m, 100), expected, delta=0.06)

    def test_a_figure_8_where_kr_is_one(self):
        self.assertAlmostEqual(at("figure-8", 343 / (2 * math.pi * 100), 100), 10 * math.log10(2), 6)

    def test_an_omni_has_none_and_far_away_nobody_has(self):
        self.assertEqual(at("omni", 0.02, 50), 0)
        for pattern in PATTERNS:
            self.assertAlmostEqual(at(pattern, 500, 1000), 0, 4)

    def test_published_nulls(self):
        # 180, 126, 110 and 90 degrees (Eargle, The Microphone Book, from memory; arccos(-a/b)).
        for pattern, null_deg in (
            ("cardioid", 180),
            ("supercardioid", 125.3),
            ("hypercardioid", 109.5),
            ("figure-8", 90),
        ):
            self.assertLess(at(pattern, 100, 1000, null_deg), -40)
            self.assertGreater(at(pattern, 100, 1000, null_deg - 40), -20)

    def test_at_the_side_a_cardioid_hears_half_and_little_bass_rises(self):
        self.assertAlmostEqual(at("cardioid", 0.05, 1000, 90), -6.02, 2)
        self.assertAlmostEqual(at("cardioid", 0.05, 100, 90), -6.02, 2)  # the gradient is silent at 90 degrees

    @given(st.sampled_from([name for name in PATTERNS if name != "omni"]), st.floats(0.02, 1.0))
    def test_closer_is_never_thinner(self, pattern, distance_m):
        self.assertGreaterEqual(at(pattern, distance_m, 80), at(pattern, 1.2 * distance_m, 80))

    def test_the_reference_is_flat_at_itself(self):
        told = response_at("cardioid", 0.3, reference_m=0.3)
        np.testing.assert_allclose(told.response_db, 0, atol=1e-12)
        self.assertEqual(told.frequency_hz, THIRD_OCTAVES_HZ)
        self.assertEqual((len(THIRD_OCTAVES_HZ), THIRD_OCTAVES_HZ[0], THIRD_OCTAVES_HZ[-1]), (26, 50, 16_000))

    def test_a_null_is_told_as_nothing(self):
        self.assertEqual(set(response_at("figure-8", 0.2, angle_deg=90).response_db), {None})

    def test_bad_input_by_name(self):
        for arguments, error in (
            ({"pattern": "heart", "distance_m": 0.1}, UnknownName),
            ({"pattern": "omni", "distance_m": 0}, OutOfRange),
            ({"pattern": "omni", "distance_m": math.nan}, OutOfRange),
            ({"pattern": "omni", "distance_m": 1, "angle_deg": 999}, OutOfRange),
            ({"pattern": "omni", "distance_m": 1, "reference_m": 0}, OutOfRange),
        ):
            with self.assertRaises(error):
                response_at(**arguments)


if __name__ == "__main__":
    unittest.main()
