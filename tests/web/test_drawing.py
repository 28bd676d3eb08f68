"""Axes, maps to scale and paths: what every picture is drawn with."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from pneumen.web.drawing import Axis, LogAxis, Paper, Tick, ToScale, polyline, ticks_at, whisker

LEVELS = Axis(low=-120.0, high=30.0, start=400.0, end=25.0)
DISTANCES = LogAxis(low=0.02, high=2.0, start=100.0, end=700.0)


class Axes(unittest.TestCase):
    def test_ends_middle_and_beyond(self):
        self.assertEqual([LEVELS.at(one) for one in (-120, -45, 30)], [400.0, 212.5, 25.0])
        self.assertEqual([LEVELS.at(one) for one in (-500, 500)], [400.0, 25.0])
        self.assertEqual(LEVELS.px_per_unit, -2.5)

    def test_on_a_logarithmic_axis_equal_ratios_are_equally_far_apart(self):
        # 2 cm, 20 cm and 2 m: a decade each.
        for value, at in ((0.02, 100.0), (0.2, 400.0), (2.0, 700.0)):
            self.assertAlmostEqual(DISTANCES.at(value), at)
        self.assertAlmostEqual(DISTANCES.at(0.1) - DISTANCES.at(0.05), DISTANCES.at(1.0) - DISTANCES.at(0.5))

    def test_a_doubling_of_distance_goes_as_far_as_its_six_decibels(self):
        # 20 log10(2) = 6.0206 dB; the microphone moves to the right where the level falls.
        self.assertAlmostEqual(DISTANCES.at(0.4) - DISTANCES.at(0.2), -6.0206 * DISTANCES.px_per_db, 2)

    @given(st.floats(0.02, 2.0), st.floats(0.02, 2.0))
    def test_the_order_of_values_is_the_order_on_the_paper(self, one, other):
        if one < other:
            self.assertLessEqual(DISTANCES.at(one), DISTANCES.at(other))

    def test_round_ticks_are_round_within_and_no_more_than_asked_for(self):
        for low, high, most in ((0, 500, 8), (38, 53, 5), (-3.2, 11.8, 5), (0, 0.37, 4), (0, 100_000, 5)):
            found = Axis(low=low, high=high, start=0, end=100).round_ticks(most)
            self.assertTrue(2 <= len(found) <= most + 1, (low, high, found))
            self.assertTrue(all(low - 1e-9 <= one <= high + 1e-9 for one in found))
            step = found[1] - found[0]
            self.assertIn(round(step / 10 ** math.floor(math.log10(step) + 1e-9), 6), (1, 2, 5))

    def test_every_step_hits_zero_and_the_ends(self):
        self.assertEqual(Axis(low=-20, high=20, start=0, end=1).every(10), [-20, -10, 0, 10, 20])
        self.assertEqual(Axis(low=-19, high=19, start=0, end=1).every(10), [-10, 0, 10])

    def test_words_that_would_stand_in_each_other_are_left_out(self):
        labels = {0.02: "2 cm", 0.021: "2.1 cm", 0.2: "20 cm", 5.0: "5 m"}
        self.assertEqual([tick.label for tick in ticks_at(DISTANCES, labels, apart=30)], ["2 cm", "20 cm"])
        self.assertEqual(ticks_at(DISTANCES, {0.2: "here"}), (Tick(at=DISTANCES.at(0.2), label="here"),))


class Maps(unittest.TestCase):
    def test_up_on_the_paper_is_north(self):
        plan = ToScale(left=40.0, bottom=300.0, px_per_m=50.0)
        self.assertEqual(plan.at(0, 0), (40.0, 300.0))
        self.assertEqual(plan.at(2, 3), (140.0, 150.0))


class Paths(unittest.TestCase):
    def test_lines(self):
        self.assertEqual(polyline([(0, 1), (2.04, 3), (4, 5.26)]), "M0.0 1.0L2.0 3.0L4.0 5.3")

    def test_a_whisker_has_a_bar_at_each_end(self):
        self.assertEqual(whisker(10, 20, 40, 4), "M10.0 20.0V40.0M6.0 20.0h8M6.0 40.0h8")

    def test_paper_for_a_phone_has_its_own_key(self):
        self.assertEqual([Paper(width=342, narrow=narrow).key for narrow in (True, False)], ["narrow", "wide"])
