"""The way round: known delays, fractional ones, polarity and drift are found again, in noise and through filters."""

import unittest

import numpy as np
from scipy.signal import butter, resample_poly, sosfilt

from pneumen.core.delay import NotThere, loop_of, sweep, test_signal
from pneumen.core.errors import OutOfRange, UnreadableFile

RATE_HZ = 48_000
FINE = 16


def came_back(signal, late, drift_ppm=0.0, noise_db=None, seed=0):
    """Return a signal as a recorder takes it that starts early and whose clock is fast."""
    fine = resample_poly(np.concatenate([np.zeros(200), signal, np.zeros(4000)]), FINE, 1)
    at = (np.arange(len(signal) + 4000) - late) / (1 + drift_ppm / 1e6)
    taken = np.interp((at + 200) * FINE, np.arange(len(fine)), fine)
    if noise_db is not None:
        rms = np.sqrt(np.square(signal).mean()) * 10 ** (noise_db / 20)
        taken = taken + np.random.default_rng(seed).normal(size=len(taken)) * rms
    return taken


def noise(seconds, seed=1):
    return 0.1 * np.random.default_rng(seed).normal(size=int(seconds * RATE_HZ))


class Found(unittest.TestCase):
    def test_a_whole_delay_is_found_exactly(self):
        signal = noise(1)
        found = loop_of(signal, np.concatenate([np.zeros(611), signal]), RATE_HZ)
        self.assertAlmostEqual(found.offset_samples, 611, 3)
        self.assertAlmostEqual(found.offset_ms, 1000 * 611 / RATE_HZ, 4)
        self.assertGreater(found.confidence, 0.999)
        self.assertEqual((found.polarity, found.drift_ppm), ("same", None))

    def test_fractions_are_found_within_a_tenth_of_a_sample_at_20_db(self):
        for number, signal in enumerate((test_signal(RATE_HZ), noise(6))):
            for late in (611.37, -40.6, 2500.5):
                found = loop_of(signal, came_back(signal, late, noise_db=-20, seed=number), RATE_HZ)
                self.assertLess(abs(found.offset_samples - late), 0.1, (number, late))

    def test_two_clocks_are_told_apart_and_the_start_is_still_found(self):
        signal = noise(8)
        for drift_ppm in (50.0, -120.0, 3.0):
            found = loop_of(signal, came_back(signal, 300.25, drift_ppm, noise_db=-30), RATE_HZ)
            self.assertAlmostEqual(found.drift_ppm, drift_ppm, delta=0.5)
            self.assertLess(abs(found.offset_samples - 300.25), 0.1)

    def test_a_lead_turned_round_is_inverted(self):
        signal = noise(1)
        found = loop_of(signal, -came_back(signal, 128.5), RATE_HZ)
        self.assertEqual(found.polarity, "inverted")
        self.assertLess(abs(found.offset_samples - 128.5), 0.1)

    def test_through_coupling_and_a_soft_top_it_is_still_found(self):
        signal = test_signal(RATE_HZ)
        taken = sosfilt(butter(1, 15, "highpass", fs=RATE_HZ, output="sos"), came_back(signal, 700.0))
        found = loop_of(signal, np.tanh(3 * taken) / 3 + 0.01, RATE_HZ)  # and an offset of the converter
        self.assertLess(abs(found.offset_samples - 700.0), 0.3)
        self.assertGreater(found.confidence, 0.95)

    def test_a_recording_that_starts_late_or_ends_early_will_do(self):
        signal = noise(3)
        self.assertLess(abs(loop_of(signal, came_back(signal, 0.0)[5000:], RATE_HZ).offset_samples + 5000), 0.1)
        self.assertLess(abs(loop_of(signal, came_back(signal, 50.0)[:60_000], RATE_HZ).offset_samples - 50), 0.1)


class Refused(unittest.TestCase):
    def test_silence_and_another_sound_are_told(self):
        with self.assertRaises(UnreadableFile):
            loop_of(noise(1), np.zeros(RATE_HZ), RATE_HZ)
        with self.assertRaises(UnreadableFile):
            loop_of(np.zeros(RATE_HZ), noise(1), RATE_HZ)
        with self.assertRaises(NotThere):
            loop_of(noise(1, 1), noise(1, 2), RATE_HZ)

    def test_deep_in_noise_it_is_found_where_it_stands_out(self):
        signal = noise(4)
        found = loop_of(signal, came_back(signal, 200.0, noise_db=15), RATE_HZ)
        self.assertLess(abs(found.offset_samples - 200), 1)
        self.assertLess(found.confidence, 0.3)


class TestFile(unittest.TestCase):
    def test_a_sweep_is_as_steep_as_farinas_formula(self):
        # Farina (2000): the instantaneous frequency grows exponentially, from 20 Hz to 0.45 of the rate.
        once = sweep(RATE_HZ, 4.0)
        middle = once[2 * RATE_HZ - 2400 : 2 * RATE_HZ + 2400]
        rising = np.count_nonzero((middle[:-1] < 0) & (middle[1:] >= 0)) / 0.1
        self.assertAlmostEqual(rising, np.sqrt(20 * 0.45 * RATE_HZ), delta=25)
        self.assertLessEqual(np.abs(once).max(), 1.0)
        self.assertEqual((once[0], once[-1]), (0.0, 0.0))

    def test_the_file_is_soft_and_ends_in_silence(self):
        signal = test_signal(44_100)
        self.assertAlmostEqual(20 * np.log10(np.abs(signal).max()), -20, 1)
        self.assertFalse(signal[-44_100:].any())
        with self.assertRaises(OutOfRange):
            sweep(100)
