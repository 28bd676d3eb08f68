"""Where a gain without decibels stands, in words: a knob, a recorder's dial, the computer's slider."""

import unittest

from pneumen.wording.controls import place_told, stands_at, turned


class Controls(unittest.TestCase):
    def test_each_control_is_told_in_its_own_numbers(self):
        for control, share, told in (
            ("knob", 0.6, "60 % of the turn"),
            ("dial", 0.62, "6.2 of 10"),
            ("slider", 0.3, "30 % of the slider"),
        ):
            with self.subTest(control):
                self.assertEqual(stands_at(share, control), told)
        self.assertEqual(turned(0.6, "knob"), ("60", "%"))
        self.assertEqual(turned(0.62, "dial"), ("6.2", "of 10"))

    def test_a_place_is_told_as_one_would_say_it(self):
        for control, share, told in (
            ("knob", 0, "at the left stop"),
            ("knob", 0.26, "about a quarter turn"),
            ("knob", 0.5, "about half a turn"),
            ("knob", 0.6, "about 60 % of the turn"),
            ("knob", 1.0, "about a full turn"),
            ("dial", 0, "all the way down, 0 of 10"),
            ("dial", 0.5, "about 5.0 of 10"),
            ("slider", 0, "as the computer has it"),
            ("slider", 0.5, "about 50 % of the slider"),
        ):
            with self.subTest(f"{control} {share}"):
                self.assertEqual(place_told(share, control), told)
