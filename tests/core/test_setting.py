"""Setting a control: the dial's procedure, where the next decibels pay, and a compressor against a simulated one."""

import unittest

import numpy as np

from pneumen.core.errors import OutOfRange
from pneumen.core.gain import SAFETY, Compressor, compressed, dial_plan, school_named
from pneumen.core.gear import Knob
from pneumen.core.line import gain_still_helps, levels_of, worth_by_stage_db
from pneumen.core.setup import setup_from_json
from tests.signals import SETUP, USB_SETUP, as_json, changed

DIAL = Knob(low_db=0.0, high_db=40.0)
DOWN = school_named("dial-down")


def levels(setup):
    return levels_of(setup_from_json(as_json(setup))[0])


class Dial(unittest.TestCase):
    """Seven of ten, down until nothing clips, then half a number to a whole one more."""

    def test_it_ends_just_under_where_it_clips(self):
        for peak_dbfs in (-30.0, -12.0, -3.0, 4.0):
            with self.subTest(peak_dbfs):
                plan = dial_plan(DIAL, peak_dbfs, 10.0, DOWN)
                edge_db = peak_dbfs + DIAL.gain_at(plan.holds_at / 10) - 10.0
                self.assertLessEqual(edge_db, 0)
                if plan.holds_at < 7:
                    self.assertGreater(peak_dbfs + DIAL.gain_at((plan.holds_at + 0.5) / 10) - 10.0, 0)
                self.assertEqual(plan.ends, (max(plan.holds_at - SAFETY[1], 0), max(plan.holds_at - SAFETY[0], 0)))
                self.assertLessEqual(plan.peaks_dbfs[0], plan.peaks_dbfs[1])

    def test_what_clips_at_the_left_stop_is_told(self):
        plan = dial_plan(DIAL, 12.0, 0.0, DOWN)
        self.assertIsNone(plan.holds_at)
        self.assertEqual(plan.ends, (0, 0))

    def test_a_soft_source_stays_at_seven(self):
        plan = dial_plan(DIAL, -50.0, 10.0, DOWN)
        self.assertEqual(plan.holds_at, 7)
        self.assertFalse(plan.in_window)


class NextDecibels(unittest.TestCase):
    def test_each_stage_is_worth_what_it_takes_from_the_sum(self):
        """Two equal noises and one 6 dB quieter: 10 log((1 + 1) / (1 + 1/4)) = 2.04 dB for 6.02 dB."""
        found = levels(SETUP)
        noise = found.noise_by_stage_dbfs
        worth = worth_by_stage_db(found, 6.0)
        for stage, gained in worth.items():
            rest = sum(10 ** (one / 10) for name, one in noise.items() if name != stage)
            quieter = rest + 10 ** ((noise[stage] - 6) / 10)
            self.assertAlmostEqual(gained, found.noise_dbfs - 10 * np.log10(quieter), 9)
        self.assertEqual(next(iter(worth)), found.noise_set_by)

    def test_more_gain_helps_only_while_the_converter_is_heard(self):
        quiet = changed(SETUP, room={"noise_dba": -20}, microphone={"self_noise_dba": -20})
        self.assertTrue(gain_still_helps(levels(changed(quiet, preamp={"gain_db": 0}))))
        self.assertFalse(gain_still_helps(levels(changed(SETUP, preamp={"gain_db": 40}))))
        self.assertFalse(gain_still_helps(levels(USB_SETUP)))

    def test_what_it_says_of_gain_is_what_gain_does(self):
        quiet = changed(SETUP, room={"noise_dba": -20}, microphone={"self_noise_dba": -20}, preamp={"gain_db": 0})
        gained = levels(changed(quiet, preamp={"gain_db": 6})).clean_range_db - levels(quiet).clean_range_db
        self.assertAlmostEqual(gained, worth_by_stage_db(levels(quiet), 6.0)["converter"], 6)


def through(compressor, samples, rate_hz, attack_s, release_s):
    """Return samples through a feed-forward compressor that follows the power, sample by sample."""
    power, out = 1e-9, np.empty_like(samples)
    rise, fall = (1 - np.exp(-1 / (rate_hz * seconds)) for seconds in (attack_s, release_s))
    for number, sample in enumerate(samples):
        power += (sample**2 - power) * (rise if sample**2 > power else fall)
        level_db = 10 * np.log10(2 * power)  # a sine at full scale is 0
        gain_db = -max(level_db - compressor.threshold_dbfs, 0) * (1 - 1 / compressor.ratio)
        out[number] = sample * 10 ** (gain_db / 20)
    return out


class Compression(unittest.TestCase):
    def test_a_simulated_one_takes_as_much(self):
        rate_hz = 8_000
        sine = np.sin(2 * np.pi * 440 * np.arange(2 * rate_hz) / rate_hz)
        for level_dbfs in (-30.0, -15.0, -6.0):
            for ratio in (2.0, 4.0):
                with self.subTest(level_dbfs, ratio=ratio):
                    compressor = Compressor(ratio=ratio, threshold_dbfs=-18)
                    played = through(compressor, 10 ** (level_dbfs / 20) * sine, rate_hz, 0.2, 0.2)
                    landed_db = 20 * np.log10(np.abs(played[rate_hz:]).max())
                    taken_db = compressor.takes_db(level_dbfs, level_dbfs - 3.01)
                    self.assertAlmostEqual(landed_db, level_dbfs - taken_db, delta=0.4)

    def test_sections_move_together(self):
        loud, soft = compressed(Compressor(threshold_dbfs=-20), (("Chorus", -8.0, -18.0), ("Verse", -16.0, -26.0)))
        self.assertAlmostEqual(loud.takes_db, (-18 + 3.01 + 20) / 2, 2)
        self.assertEqual(soft.takes_db, 0)
        self.assertLess(loud.peak_dbfs - soft.peak_dbfs, 8)

    def test_a_fast_one_acts_by_the_peaks(self):
        self.assertGreater(Compressor(slow=False).takes_db(-6, -26), Compressor().takes_db(-6, -26))

    def test_no_ratio_does_nothing(self):
        self.assertEqual(Compressor(ratio=1, threshold_dbfs=-40).takes_db(-3, -12), 0)

    def test_impossible_settings_are_refused(self):
        for facts in ({"ratio": 0.5}, {"ratio": 30}, {"threshold_dbfs": 3}, {"threshold_dbfs": -80}):
            with self.subTest(facts), self.assertRaises(OutOfRange):
                Compressor(**facts)
