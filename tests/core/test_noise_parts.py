"""What the noise of the pauses is made of, told from noises that are known."""

import unittest

import numpy as np
from scipy.signal import butter, sosfilt

from pneumen.core.levels import a_weighting_db
from pneumen.core.take.noise_parts import NOISE_KINDS, NoiseMeter, NoisePart
from pneumen.wording.noise import noise_told
from tests.signals import RATE, measured, noise, phrases, sine


def parts(samples, rate=RATE):
    meter = NoiseMeter(rate)
    meter(samples)
    return {one.kind: one for one in meter.parts()}


def band(low_hz, high_hz, level_dbfs, seconds=4, seed=3):
    kind = "bandpass" if low_hz else "lowpass"
    edges = (low_hz, high_hz) if low_hz else high_hz
    found = sosfilt(
        butter(4, edges, kind, fs=RATE, output="sos"), np.random.default_rng(seed).standard_normal(seconds * RATE)
    )
    return 10 ** (level_dbfs / 20) * found / found.std()


class Parts(unittest.TestCase):
    def test_a_line_has_its_own_level_and_the_weight_of_its_pitch(self):
        found = parts(sine(233, 4, -57) + noise(4, -90))["tone"]
        self.assertAlmostEqual(found.hertz, 233, delta=1.5)
        self.assertAlmostEqual(found.level_dbfs, -60.0, delta=0.3)
        self.assertAlmostEqual(found.level_dbfs_a, -60 + float(a_weighting_db(233.0)), delta=0.4)

    def test_multiples_of_the_mains_are_one_hum(self):
        for mains in (50, 60):
            hum = sine(mains, 4, -60) + sine(2 * mains, 4, -60) + sine(3 * mains, 4, -66)
            found = parts(hum + noise(4, -95))
            self.assertEqual(found["hum"].hertz, mains)
            self.assertAlmostEqual(found["hum"].level_dbfs, 10 * np.log10(2 * 10**-6.3 + 10**-6.9), delta=0.4)
            self.assertNotIn("tone", found)

    def test_a_fans_tone_beside_the_hum_stays_a_tone(self):
        found = parts(sine(50, 4, -60) + sine(100, 4, -60) + sine(317, 4, -62) + noise(4, -95))
        self.assertAlmostEqual(found["tone"].hertz, 317, delta=1.5)
        self.assertEqual(found["hum"].hertz, 50)

    def test_broad_noises_are_told_by_where_they_lie(self):
        for low, high, kind in ((25, 70, "rumble"), (200, 700, "middle"), (2000, 9000, "hiss")):
            found = parts(band(low, high, -60) + noise(4, -110))
            self.assertEqual(max(found.values(), key=lambda one: one.level_dbfs).kind, kind)
            self.assertAlmostEqual(found[kind].level_dbfs, -60, delta=0.6)

    def test_white_noise_is_hiss_without_a_line(self):
        found = parts(noise(4, -70))
        self.assertEqual(next(iter(found)), "hiss")
        self.assertFalse({"tone", "hum"} & set(found))

    def test_the_parts_add_up_to_the_floor(self):
        samples = phrases(-10, -75) + sine(120, len(phrases()) / RATE, -70)
        told = measured(samples).noise
        total = 10 * np.log10(sum(10 ** (one.level_dbfs_a / 10) for one in told.parts))
        self.assertAlmostEqual(total, told.floor_dbfs_a, delta=0.7)

    def test_silence_and_takes_without_a_pause_have_no_parts(self):
        self.assertEqual(parts(np.zeros(RATE)), {})
        self.assertEqual(measured(sine(440, 3, -12)).noise.parts, ())

    def test_every_part_has_its_sentence(self):
        for kind in NOISE_KINDS:
            told = noise_told(NoisePart(kind=kind, level_dbfs=-60, level_dbfs_a=-70.4, hertz=120.0))
            self.assertIn("\N{MINUS SIGN}70", told)
            self.assertNotIn("{", told)
