"""Gain stages before the interface: the instrument's own volume, a pedal, a mixer."""

import json
import unittest

from pneumen.core.errors import BadDocument, OutOfRange
from pneumen.core.line import levels_of, volts_of
from pneumen.core.part import SOURCES, own_volume_db
from pneumen.core.rig import Scene, simulate
from pneumen.core.setup import Before, setup_from_json, setup_to_json
from tests.signals import PLUGGED_SETUP, as_json


def setup(**before):
    return setup_from_json(as_json({**PLUGGED_SETUP, "before": before} if before else PLUGGED_SETUP))[0]


class Stages(unittest.TestCase):
    def test_each_moves_the_level_in_its_order(self):
        plain = levels_of(setup())
        for name, step in (("own_volume_db", "own-volume"), ("pedal_db", "pedal"), ("mixer_db", "mixer")):
            with self.subTest(name):
                moved = levels_of(setup(**{name: -6.0}))
                self.assertAlmostEqual(moved.peak_dbfs, plain.peak_dbfs - 6, 9)
                self.assertEqual([one.name for one in moved.peak_steps][1], step)
        both = [one.name for one in levels_of(setup(own_volume_db=-3, pedal_db=2, mixer_db=1)).peak_steps]
        self.assertEqual(both[:4], ["source", "own-volume", "pedal", "mixer"])

    def test_the_instruments_noise_follows_what_stands_behind_it_only(self):
        plain = levels_of(setup()).noise_by_stage_dbfs["instrument"]
        for name, by_db in (("own_volume_db", 0), ("pedal_db", 6), ("mixer_db", 6)):
            self.assertAlmostEqual(levels_of(setup(**{name: 6.0})).noise_by_stage_dbfs["instrument"], plain + by_db, 9)

    def test_turning_down_early_costs_clean_range_late_does_not(self):
        """The trade's rule: clean gain early, noise late."""
        plain = levels_of(setup()).clean_range_db
        self.assertLess(levels_of(setup(own_volume_db=-12)).clean_range_db, plain - 6)

    def test_the_plug_in_volts_is_behind_them(self):
        plain, moved = (volts_of(levels_of(one))[0].loudest_dbu for one in (setup(), setup(pedal_db=6)))
        self.assertAlmostEqual(moved, plain + 6, 9)

    def test_the_stand_in_plays_through_them(self):
        levels = []
        for before in ({}, {"own_volume_db": -8.0}, {"pedal_db": -8.0}):
            take = simulate(Scene(chain=setup(**before), source="keyboard", duration_s=6, seed=3))
            levels.append(abs(take.samples).max())
        for level in levels[1:]:
            self.assertAlmostEqual(level / levels[0], 10 ** (-8 / 20), delta=0.01)

    def test_they_are_written_and_read_again(self):
        whole = setup(own_volume_db=-3.5, mixer_db=4)
        self.assertEqual(setup_from_json(setup_to_json(whole))[0], whole)
        self.assertNotIn("before", json.loads(setup_to_json(setup())))
        with self.assertRaisesRegex(BadDocument, "pedal_db"):
            setup(pedal_db=200)


class OwnVolume(unittest.TestCase):
    def test_full_up_and_half_down(self):
        self.assertEqual(own_volume_db(0.75), 0)
        self.assertAlmostEqual(own_volume_db(1.0), 5.0, 1)  # a square law: 40 log(4/3)
        for share in (0, 1.2, float("nan")):
            with self.subTest(share), self.assertRaises(OutOfRange):
                own_volume_db(share)

    def test_a_keyboards_is_level_a_guitars_tone(self):
        self.assertTrue(SOURCES["keyboard"].volume_is_level)
        self.assertFalse(SOURCES["guitar-direct"].volume_is_level)

    def test_stages_have_bounds(self):
        with self.assertRaisesRegex(OutOfRange, "mixer_db"):
            Before(mixer_db=90)
