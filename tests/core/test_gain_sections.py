"""Gain by section: fewest settings against trying everything, the risk against a simulation, where schools agree."""

import itertools
import unittest

import numpy as np

from pneumen.core.errors import OutOfRange, UnknownName
from pneumen.core.forecast import gain_plan, outcome
from pneumen.core.gain import (
    SCHOOLS,
    TAKE_SPREAD_DB,
    agreement_of,
    fewest_settings,
    own_school,
    predictive,
    school_named,
)
from pneumen.core.part import Section
from tests.core.test_cue import voice

WINDOW = (-12.0, -6.0)


def fewest_by_trying(peaks, window, reach):
    """Return how few whole gains keep all peaks in a window, by trying every set of gains."""
    gains = range(int(reach[0]), int(reach[1]) + 1)
    serves = {gain: {n for n, peak in enumerate(peaks) if window[0] <= peak + gain <= window[1]} for gain in gains}
    for count in range(1, len(peaks) + 1):
        for chosen in itertools.combinations(gains, count):
            if set().union(*(serves[gain] for gain in chosen)) == set(range(len(peaks))):
                return count
    return None


class Fewest(unittest.TestCase):
    def test_as_few_as_trying_everything_finds(self):
        rng = np.random.default_rng(5)
        for _ in range(60):
            peaks = [float(one) for one in rng.uniform(-40, -20, rng.integers(2, 6))]
            found = fewest_settings(peaks, 0.0, WINDOW, (0.0, 40.0))
            self.assertEqual(len(found), fewest_by_trying(peaks, WINDOW, (0, 40)))
            served = sorted(number for one in found for number in one.sections)
            self.assertEqual(served, list(range(len(peaks))))
            for one in found:
                for number in one.sections:
                    self.assertTrue(WINDOW[0] - 1e-6 <= peaks[number] + one.gain_db <= WINDOW[1] + 1e-6)

    def test_what_no_gain_reaches_takes_the_end_of_the_reach(self):
        found = fewest_settings((-30.0, -80.0), 0.0, WINDOW, (0.0, 40.0))
        self.assertEqual([one.gain_db for one in found], [21.0, 40.0])
        hot = fewest_settings((5.0,), 0.0, WINDOW, (0.0, 40.0))
        self.assertEqual(hot[0].gain_db, 0.0)

    def test_a_window_narrower_than_a_step_still_has_its_setting(self):
        found = fewest_settings((-30.0,), 0.0, (-9.2, -8.9), (0.0, 60.0), step_db=5.0)
        self.assertEqual([one.gain_db for one in found], [20.0])


class Risk(unittest.TestCase):
    def test_the_chance_agrees_with_takes_drawn_at_random(self):
        rng, degrees, count = np.random.default_rng(3), 8.0, 400_000
        ahead = predictive(-9.0, 6.0)
        draws = ahead.location_db + ahead.scale_db * rng.standard_t(degrees, count)
        self.assertAlmostEqual(float((draws > -6).mean()), ahead.chance_over(-6.0), 2)
        low, high = ahead.within()
        self.assertAlmostEqual(high - low, 12.0, 6)  # 95 % of a guess of plus or minus 6 dB

    def test_takes_narrow_it_and_a_wide_performer_widens_it(self):
        steady = predictive(-9.0, 6.0, (80.0, 80.2, 79.9, 80.1))
        wild = predictive(-9.0, 6.0, (74.0, 86.0, 79.0, 83.0))
        self.assertLess(steady.scale_db, predictive(-9.0, 6.0).scale_db)
        self.assertGreater(wild.chance_over(0.0), steady.chance_over(0.0))
        self.assertGreater(predictive(-9.0, 2.0, unrecorded=True).scale_db, predictive(-9.0, 2.0).scale_db)
        self.assertGreaterEqual(predictive(-9.0, 0.0).scale_db, TAKE_SPREAD_DB)

    def test_many_takes_end_at_their_own_spread(self):
        seen = np.random.default_rng(8).normal(80, 3.0, 400)
        self.assertAlmostEqual(predictive(-9.0, 6.0, seen).scale_db, 3.0, delta=0.3)


class Schools(unittest.TestCase):
    def test_all_nine_are_there_with_the_meters_words(self):
        self.assertEqual(len(SCHOOLS), 9)
        self.assertIn("Lights only", [one.label for one in SCHOOLS])
        self.assertIn("Dial down", [one.label for one in SCHOOLS])
        self.assertTrue(all(one.meter for one in SCHOOLS))

    def test_a_window_of_ones_own_has_a_name_and_its_bounds(self):
        school = own_school(-15.5, -7.0)
        self.assertEqual(school_named(school.slug), school)
        for low, high in ((-8, -9), (-9, -8.5), (-70, -6), (-12, 1)):
            with self.assertRaises(OutOfRange):
                own_school(low, high)
        for slug in ("own", "own:", "own:a:b", "own:-1", "own:nan:0", "nobodys"):
            with self.assertRaises(UnknownName):
                school_named(slug)

    def test_where_they_agree(self):
        found = agreement_of({"a": (0.0, 5.0), "b": (4.0, 9.0), "c": (4.5, 4.6), "d": (20.0, 30.0)})
        self.assertEqual((found.low_db, found.high_db, found.schools), (4.5, 4.6, ("a", "b", "c")))


class Plan(unittest.TestCase):
    SECTIONS = (
        Section(name="Verse", bars=16, loudness_db=-12),
        Section(name="Chorus", bars=8, loudness_db=0),
    )

    def test_one_section_needs_no_plan(self):
        self.assertIsNone(gain_plan(outcome(voice().setup), self.SECTIONS[:1]))

    def test_the_loudest_section_peaks_where_the_part_does(self):
        found = outcome(voice().setup)
        plan = gain_plan(found, self.SECTIONS)
        chorus = next(one for one in plan.by_section if one.name == "Chorus")
        self.assertAlmostEqual(chorus.peak_dbfs, found.levels.peak_dbfs + chorus.gain_db - found.gain_db, 6)
        verse = next(one for one in plan.with_one if one.name == "Verse")
        self.assertAlmostEqual(verse.peak_dbfs, chorus.peak_dbfs - 12, 6)

    def test_every_section_lies_in_the_window_with_its_own_setting(self):
        plan = gain_plan(outcome(voice().setup), self.SECTIONS)
        self.assertTrue(all(one.in_window for one in plan.by_section))
        self.assertEqual(len(plan.settings_db), 2)
        self.assertFalse(all(one.in_window for one in plan.with_one))
