"""The backing's leak in a take: how strong, however the backing was coloured, late, or on another clock."""

import unittest

import numpy as np
from scipy.signal import butter, sosfilt

from pneumen.core.take import measure, open_recording
from pneumen.core.take.second_look import SecondLook
from tests.material.takes import clean_take
from tests.signals import RATE, audio_file

LATE_S = 1.3


def backing(seed=5):
    """Return half a minute of a piano over a drum kit."""
    whole = np.zeros(30 * RATE)
    for kind, start_s in (("piano", 0), ("groove", 3), ("piano", 14), ("groove", 16)):
        sound = clean_take(kind, seed).samples
        at = round(start_s * RATE)
        whole[at : at + len(sound)] += sound[: len(whole) - at]
    return whole


def leaked(take, heard, level_db, *, ppm=0.0):
    """Return a take with the leak of headphones: narrow, late, by a clock that runs otherwise."""
    at = (np.arange(len(take.samples)) - LATE_S * RATE) * (1 + ppm * 1e-6)
    late = np.interp(at, np.arange(len(heard)), heard, left=0, right=0)
    leak = sosfilt(butter(2, (400, 5000), "bandpass", fs=RATE, output="sos"), late)
    power = np.square(leak[: len(leak) // 960 * 960]).reshape(-1, 960).mean(axis=1)
    loud = np.sqrt(power[power > power.max() * 1e-3].mean())
    return take.samples + leak / loud * take.active_rms * 10 ** (level_db / 20)


def bleed_in(samples, heard):
    with (
        audio_file(samples) as path,
        audio_file(heard) as other,
        open_recording(path) as recording,
        open_recording(other) as backing_recording,
    ):
        return measure(recording, backing=backing_recording)


class Bleed(unittest.TestCase):
    def setUp(self):
        self.take, self.heard = clean_take("words", 7), backing()

    def told(self, samples, heard=None):
        found = bleed_in(samples, self.heard if heard is None else heard)
        self.assertIn("bleed", found.checked)
        return next((one for one in found.findings if one.kind == "bleed"), None)

    def test_a_leak_is_told_with_its_level(self):
        for level_db, ppm in ((-14, 0), (-25, 40), (-26, -40)):
            with self.subTest(level_db=level_db, ppm=ppm):
                found = self.told(leaked(self.take, self.heard, level_db, ppm=ppm))
                self.assertAlmostEqual(found.value, level_db, delta=5)
                self.assertEqual(found.verdict, "baked-in" if level_db > -20 else "watch")
                self.assertEqual(found.cause, "")

    def test_a_leak_tells_how_late_the_backing_stands_and_how_the_clock_ran(self):
        for level_db, ppm in ((-14, 0), (-20, 0), (-14, 40), (-25, -40), (-20, 100)):
            with self.subTest(level_db=level_db, ppm=ppm):
                found = bleed_in(leaked(self.take, self.heard, level_db, ppm=ppm), self.heard)
                self.assertAlmostEqual(found.backing_lag_s, LATE_S, delta=0.0004)
                self.assertEqual(found.backing_lag_band_ms, 5.0)
                if ppm:  # where the backing runs fast, the take's own clock was slow
                    self.assertAlmostEqual(found.drift_ppm, -ppm, delta=10)
                else:
                    self.assertIsNone(found.drift_ppm)

    def test_where_pauses_do_not_tell_it_the_lag_keeps_within_the_wider_band_it_claims(self):
        for seed in (11, 12, 13):
            take, heard = clean_take("harp", seed), backing(seed)
            for ppm in (0, 60):
                found = bleed_in(leaked(take, heard, -20, ppm=ppm), heard)
                self.assertAlmostEqual(
                    found.backing_lag_s, LATE_S, delta=found.backing_lag_band_ms / 1000, msg=str(ppm)
                )

    def test_without_a_leak_no_clock_is_told(self):
        found = bleed_in(self.take.samples, self.heard)
        self.assertEqual((found.backing_lag_s, found.drift_ppm), (None, None))

    def test_no_leak_is_found_where_there_is_none(self):
        self.assertIsNone(self.told(self.take.samples))

    def test_a_faint_leak_is_not_told(self):
        self.assertIsNone(self.told(leaked(self.take, self.heard, -46)))

    def test_another_song_is_no_leak(self):
        self.assertIsNone(self.told(leaked(self.take, self.heard, -20), backing(6)))

    def test_a_file_that_holds_its_backing_is_told_so(self):
        mixed = self.take.samples.copy()
        mixed += 1.5 * self.heard[: len(mixed)]
        self.assertEqual(self.told(mixed).cause, "holds-backing")

    def test_without_a_backing_it_is_not_looked_for(self):
        with audio_file(self.take.samples) as path, open_recording(path) as recording:
            found = measure(recording)
        self.assertEqual({one.kind: one.why for one in found.not_checked}["bleed"], "no-backing")

    def test_a_take_that_never_pauses_tells_nothing(self):
        steady = 0.1 * np.sin(2 * np.pi * 440 * np.arange(4 * RATE) / RATE)
        found = bleed_in(steady, self.heard)
        self.assertEqual({one.kind: one.why for one in found.not_checked}["bleed"], "no-pause")

    def test_pauses_are_sought_by_level(self):
        power = np.full(30, 1e-2)
        power[10:20] = 1e-5
        with audio_file(np.zeros(RATE)) as path, open_recording(path) as recording:
            look = SecondLook(recording=recording, channel=0, power=power, silent=np.zeros(30, bool))
            self.assertEqual(look.pauses(), [(16_000, 32_000)])
