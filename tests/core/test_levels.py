"""Decibels and units, against the standards' own tables and closed forms."""

import doctest
import importlib
import pkgutil
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

import pneumen.core
from pneumen.core import levels

# IEC 61672-1:2013, Table 3, column A, from memory; nominal frequencies stand for 1000 * 10^(n/10) Hz.
A_WEIGHTING = [-70.4, -63.4, -56.7, -50.5, -44.7, -39.4, -34.6, -30.2, -26.2, -22.5, -19.1, -16.1, -13.4, -10.9, -8.6]
A_WEIGHTING += [
    -6.6,
    -4.8,
    -3.2,
    -1.9,
    -0.8,
    0.0,
    0.6,
    1.0,
    1.2,
    1.3,
    1.2,
    1.0,
    0.5,
    -0.1,
    -1.1,
    -2.5,
    -4.3,
    -6.6,
    -9.3,
]


class Levels(unittest.TestCase):
    def test_a_weighting_is_the_standards_table(self):
        frequency_hz = 1000 * 10 ** ((np.arange(len(A_WEIGHTING)) - 20) / 10)
        np.testing.assert_allclose(levels.a_weighting_db(frequency_hz), A_WEIGHTING, atol=0.06)

    def test_published_check_values(self):
        cases = (
            # +4 dBu is 1.228 V: the trade's line level, from the definition of 0 dBu (1 mW in 600 ohm).
            (levels.dbu_to_volt(4), 1.2277, 4),
            (levels.dbv_to_dbu(0), 2.218, 3),
            (levels.divider_db(150, 1500), -0.828, 3),  # closed form: 20 log (10/11)
            (levels.power_sum_db(-70, -70), -66.99, 2),  # two equal noises: +3.01 dB
            (levels.pascal_to_spl_db(1.0), 94.0, 6),
            (levels.thermal_noise_dbu(150), -130.9, 1),  # Johnson-Nyquist, 150 ohm, 20 kHz, 293 K
        )
        for value, expected, places in cases:
            self.assertAlmostEqual(value, expected, places)

    def test_no_preamp_can_be_quieter_than_its_source(self):
        # 150 ohm, A-weighted: the limit of -133.0 dBu quoted in data-sheet notes (from memory).
        weighted = levels.thermal_noise_dbu(150) + levels.a_weighting_of_white_noise_db()
        self.assertAlmostEqual(weighted, -133.0, delta=0.1)

    def test_what_is_left_of_a_noise(self):
        self.assertAlmostEqual(levels.power_difference_db(-60, -63.0103), -63.0, 1)
        self.assertIsNone(levels.power_difference_db(-60, -60))

    @given(st.floats(-120, 40))
    def test_ratio_and_back(self, level_db):
        self.assertAlmostEqual(levels.ratio_to_db(levels.db_to_ratio(level_db)), level_db, 9)

    @given(st.lists(st.floats(-150, 0), min_size=1, max_size=6))
    def test_a_sum_is_louder_than_its_loudest_part(self, parts):
        self.assertGreaterEqual(levels.power_sum_db(*parts), max(parts) - 1e-9)


class Examples(unittest.TestCase):
    def test_every_example_of_a_docstring_runs(self):
        tried = 0
        for module in pkgutil.walk_packages(pneumen.core.__path__, "pneumen.core."):
            result = doctest.testmod(importlib.import_module(module.name))
            self.assertEqual(result.failed, 0, module.name)
            tried += result.attempted
        self.assertGreater(tried, 15)
