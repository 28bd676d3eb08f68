"""Lost samples and the frames of a take, on constructed signals whose answer is known."""

import unittest

import numpy as np
from scipy.signal import butter, sosfilt

from pneumen.core.take.dropouts import DropoutWatch
from pneumen.core.take.frames import BANDS_HZ, LOW_BANDS_HZ, FrameMeter
from tests.signals import RATE, noise, sine

BLOCK = 52_800


def lost(samples, bits=24):
    watch = DropoutWatch(RATE)
    for start in range(0, len(samples), BLOCK):
        watch(samples[start : start + BLOCK], 2.0 ** (1 - bits))
    return watch.found


def in_codes(samples, bits):
    return np.round(samples * 2 ** (bits - 1)) / 2 ** (bits - 1)


class LostSamples(unittest.TestCase):
    def setUp(self):
        hiss = sosfilt(butter(2, 4000, fs=RATE, output="sos"), noise(3, -20))
        self.sound = in_codes(hiss + sine(220, 3, -12), 24)

    def test_zeroed_samples(self):
        for length in (16, 128, 2048):
            sound = self.sound.copy()
            sound[70_000 : 70_000 + length] = 0
            self.assertEqual(lost(sound), [(70_000, 70_000 + length)])

    def test_held_samples(self):
        sound = self.sound.copy()
        sound[70_000:70_100] = 0.01
        ((first, last),) = lost(sound)
        self.assertAlmostEqual(first, 70_000, delta=1)
        self.assertAlmostEqual(last, 70_100, delta=1)

    def test_a_repeated_block(self):
        for length in (32, 256, 4096):
            sound = self.sound.copy()
            sound[70_000 : 70_000 + length] = sound[70_000 - length : 70_000]
            ((first, last),) = lost(sound)
            self.assertEqual(first, 70_000)
            self.assertAlmostEqual(last, 70_000 + length, delta=1)

    def test_across_the_border_of_two_blocks(self):
        sound = self.sound.copy()
        sound[BLOCK - 50 : BLOCK + 50] = 0
        self.assertEqual(lost(sound), [(BLOCK - 50, BLOCK + 50)])

    def test_a_tone_that_repeats_itself_is_no_fault(self):
        self.assertEqual(lost(in_codes(sine(1000, 3, -12), 24)), [])

    def test_silence_between_faded_regions_is_no_fault(self):
        sound, fade = self.sound.copy(), round(0.005 * RATE)
        sound[70_000:80_000] = 0
        sound[70_000 - fade : 70_000] *= np.linspace(1, 0, fade)
        sound[80_000 : 80_000 + fade] *= np.linspace(0, 1, fade)
        self.assertEqual(lost(in_codes(sound, 24)), [])

    def test_soft_noise_in_coarse_codes_is_no_fault(self):
        self.assertEqual(lost(in_codes(noise(3, -92), 16), 16), [])

    def test_a_ceiling_is_no_gap(self):
        self.assertEqual(lost(np.clip(sine(60, 3, 3), -0.9, 0.9)), [])


class Bands(unittest.TestCase):
    def frames(self, samples, rate=RATE):
        meter = FrameMeter(rate)
        for start in range(0, len(samples), 10_007):
            meter(samples[start : start + 10_007])
        return meter.frames()

    def test_a_sine_has_its_power_in_its_own_band(self):
        # A sine of amplitude a has the mean square a^2 / 2.
        for band, (low, high) in enumerate(BANDS_HZ[1:], start=1):
            frames = self.frames(0.1 * np.sin(2 * np.pi * (low * high) ** 0.5 * np.arange(2 * RATE) / RATE))
            middle = frames.bands[20:-20]
            self.assertAlmostEqual(float(10 * np.log10(middle[:, band].mean() / 0.005)), 0.0, delta=0.2)
            self.assertLess(float(np.delete(middle.mean(axis=0), band).max()), 0.005 / 1000)

    def test_low_tones_lie_in_the_low_bands(self):
        for band, (low, high) in enumerate(LOW_BANDS_HZ):
            frames = self.frames(0.1 * np.sin(2 * np.pi * (low * high) ** 0.5 * np.arange(4 * RATE) / RATE))
            self.assertAlmostEqual(float(10 * np.log10(frames.low[band, 100:-20].mean() / 0.005)), 0.0, delta=0.5)

    def test_white_noise_spreads_by_width(self):
        frames = self.frames(noise(10, -20))
        expected = 0.01 * (BANDS_HZ[6][1] - BANDS_HZ[6][0]) / (RATE / 2)
        self.assertAlmostEqual(float(10 * np.log10(frames.bands[:, 6].mean() / expected)), 0.0, delta=0.3)

    def test_other_rates_have_frames_as_long(self):
        for rate in (8000, 44_100, 96_000, 192_000):
            frames = self.frames(np.zeros(rate), rate)
            self.assertAlmostEqual(frames.step_s, 512 / 48_000, delta=0.0007)
            self.assertEqual(frames.low.shape[1], len(frames.bands))
