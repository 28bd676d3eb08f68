"""Faults that hide: tops tilted by AC coupling, channels that are no pair, values beyond all level, and what was
looked for at all."""

import unittest
from functools import cache

import numpy as np
from scipy.signal import butter, sosfilt

from pneumen.core.errors import UnreadableFile
from pneumen.core.rig import PERFORMERS
from pneumen.core.rig.performer import perform
from pneumen.core.take import KINDS, Played, measure, open_recording
from pneumen.wording.takes import advice_on_take, checked_told, found_told, why_not_checked
from tests.signals import RATE, audio_file, has_flat_tops, kinds, measured, noise, phrases, sine


def coupled(samples, hertz, order=1):
    return sosfilt(butter(order, hertz, "high", fs=RATE, output="sos"), samples)


@cache
def played(source, seed=5):
    samples = perform(source, 8, RATE, 0.0, seed).whole
    return samples / np.abs(samples).max()


DRIVEN = ("guitar-amp", "bass-amp")


class Coding(unittest.TestCase):
    def test_a_single_impulse_was_no_mp3(self):
        samples = np.zeros(2 * RATE)
        samples[40_000] = 0.5
        self.assertNotIn("lossy", kinds(measured(samples)))

    def test_a_lossy_container_is_told_as_that(self):
        for container, subtype, name in (("MP3", "MPEG_LAYER_III", "take.mp3"), ("OGG", "VORBIS", "take.ogg")):
            found = measured(phrases(), name=name, subtype=subtype, format=container)
            (lossy,) = (one for one in found.findings if one.kind == "lossy")
            self.assertEqual((lossy.verdict, lossy.cause), ("baked-in", "lossy-container"))


class TiltedTops(unittest.TestCase):
    """Flat tops behind AC coupling of first order at 2 and 5 Hz (normal in preamps, physics): straight is the test."""

    def test_performers_cut_off_then_coupled_are_found_out(self):
        found, missed = 0, []
        for source in PERFORMERS:
            clipped = 0.7 * np.clip(2.5 * played(source), -1, 1)
            for hertz in (2, 5):
                told = has_flat_tops(coupled(clipped, hertz) + noise(8, -100))
                found += told
                missed += [source] * (not told)
        self.assertLessEqual(set(missed), {"shaker", "tambourine"}, missed)  # their tops are one and two samples long

    def test_a_take_that_is_only_just_cut_off_is_found_out_too(self):
        """3 dB over: few crests meet the ceiling, and only those that come near it count."""
        for source in ("voice-pop", "clarinet", "lever-harp", "horn", "cello", "grand-piano"):
            clipped = 0.9 * np.clip(10 ** (3 / 20) * played(source, 2), -1, 1)
            self.assertTrue(has_flat_tops(coupled(clipped, 5) + noise(8, -90)), source)

    def test_clean_takes_behind_any_coupling_are_none(self):
        for source in PERFORMERS:
            if source not in DRIVEN:
                for samples in (coupled(played(source), 5), coupled(played(source, 6), 20, 2)):
                    self.assertFalse(has_flat_tops(0.7 * samples), source)

    def test_measure_finds_what_the_watch_finds(self):
        clipped = coupled(0.7 * np.clip(2.5 * played("clarinet"), -1, 1), 5)
        for samples in (clipped, 0.7 * coupled(played("clarinet"), 5)):
            self.assertEqual("clipping" in kinds(measured(samples)), has_flat_tops(samples))

    def test_low_notes_and_triangles_are_none(self):
        time_s = np.arange(3 * RATE) / RATE
        triangle = 0.6 * (2 * np.abs(2 * (time_s * 110 % 1) - 1) - 1)
        for samples in (
            sine(40, 3, -3),
            coupled(sine(55, 3, -3), 5),
            sosfilt(butter(2, 3000, fs=RATE, output="sos"), triangle),
        ):
            self.assertNotIn("clipping", kinds(measured(samples)))

    def test_where_the_source_may_be_driven_it_is_to_be_watched(self):
        samples = 0.7 * np.clip(2.5 * played("guitar-amp"), -1, 1)
        with audio_file(samples) as path, open_recording(path) as recording:
            told = measure(recording, played=Played(driven=True))
        self.assertEqual({one.verdict for one in told.findings if one.kind == "clipping"}, {"watch"})
        self.assertIn("may be meant", advice_on_take(told.findings[0]))

    def test_single_samples_at_full_scale_are_likely_from_the_second_on(self):
        for count, expected in ((1, []), (2, ["clipping"]), (5, ["clipping"])):
            samples = phrases(-20)
            samples[np.arange(count) * 24_000 + RATE + 9_000] = 1.0
            found = [one for one in measured(samples).findings if one.kind == "clipping"]
            self.assertEqual([one.kind for one in found], expected)
            self.assertTrue(all(one.verdict == "watch" for one in found))

    def test_two_channels_turned_up_to_full_scale_are_none(self):
        one = phrases(-20)
        one[RATE + 9_000] = 1.0
        self.assertNotIn("clipping", kinds(measured(np.column_stack([one, one]))))


class Pairs(unittest.TestCase):
    def say(self, first, second):
        told = measured(np.column_stack([first, second]))
        causes = [one.cause for one in told.findings if one.kind == "wrong-channels"]
        return told.channels_say, causes

    def test_two_that_are_one(self):
        one = phrases(-12)
        self.assertEqual(self.say(one, one), ("dual-mono", ["dual-mono"]))
        self.assertEqual(self.say(one, -one), ("dual-mono", ["inverted"]))
        self.assertEqual(self.say(one, one * 10 ** (-1 / 20)), ("dual-mono", ["unequal"]))
        self.assertEqual(self.say(one, -one * 10 ** (-2.9 / 20)), ("dual-mono", ["inverted"]))
        self.assertEqual(self.say(one, one * 10 ** (-3.1 / 20)), ("stereo", []))

    def test_the_difference_decides_at_forty_decibels(self):
        one, length_s = sine(440, 4, -12), 4
        for under_db, say in ((42, "dual-mono"), (37, "stereo")):
            # Another tone, so many dB under the first.
            other = one + 10 ** (-under_db / 20) * sine(1330, length_s, -12)
            self.assertEqual(self.say(one, other)[0], say)

    def test_one_side_with_nothing_but_a_preamps_noise(self):
        one = phrases(-6)
        self.assertEqual(self.say(one, noise(7, -70)), ("one-sided", ["noise-sided"]))
        self.assertEqual(self.say(one, noise(7, -40))[0], "stereo")  # too loud to be a preamp's alone
        self.assertEqual(self.say(one, 10 ** (-60 / 20) * one)[0], "stereo")  # it holds the other
        self.assertEqual(self.say(one, np.zeros(len(one))), ("one-sided", ["one-sided"]))


class BeyondMeasure(unittest.TestCase):
    def test_values_vast_but_finite_are_refused_in_a_sentence(self):
        for value in (1e30, 1e200, 1e307):
            samples = sine(440, 1, -12)
            samples[100] = value
            with self.assertRaisesRegex(UnreadableFile, "times full scale"):
                measured(samples, subtype="DOUBLE")

    def test_a_float_file_over_full_scale_says_that_it_will_clip(self):
        told = measured(1.5 * sine(440, 1), subtype="FLOAT")
        hot = next(one for one in told.findings if one.kind == "too-hot")
        self.assertEqual(hot.verdict, "watch")
        self.assertIn("floating point", advice_on_take(hot))


class Checked(unittest.TestCase):
    def test_every_kind_is_named_once_with_why_where_it_was_not_looked_for(self):
        for samples in (phrases(), sine(440, 1, -12), np.zeros(RATE)):
            told = measured(samples)
            named = [*told.checked, *(one.kind for one in told.not_checked)]
            self.assertEqual(sorted(named), sorted(KINDS))
            self.assertTrue(all(why_not_checked(one) for one in told.not_checked))
            self.assertLessEqual(set(kinds(told)), set(told.checked))

    def test_noise_is_looked_for_where_there_is_a_pause(self):
        self.assertIn("noise", measured(phrases()).checked)
        whys = {one.kind: one.why for one in measured(sine(440, 1, -12)).not_checked}
        self.assertEqual(whys["noise"], "no-pause")
        self.assertIn("no pause to measure it in", checked_told(measured(sine(440, 1, -12))))

    def test_what_sets_the_verdict_is_named_before_the_level(self):
        plain = phrases()
        time_s = np.arange(len(plain)) / RATE
        hum = plain + sum(10 ** (-(46 + 6 * each) / 20) * np.sin(2 * np.pi * 50 * each * time_s) for each in (1, 2, 3))
        self.assertEqual(found_told(measured(hum)), "The take holds hum; ")
        lost = hum.copy()
        at = int(np.abs(plain).argmax())
        lost[at : at + 300] = 0.0
        self.assertIn("dropouts", found_told(measured(lost)))
        self.assertNotIn("hum", found_told(measured(lost)))  # what cannot be mended comes first
        self.assertEqual(found_told(measured(plain * 0.03)), "")  # too low: its level says so


if __name__ == "__main__":
    unittest.main()
