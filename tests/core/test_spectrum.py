"""Spectrum, spectrogram and outline: against signals that are known, and against SciPy's own estimate."""

import unittest

import numpy as np
from scipy.signal import welch

from pneumen.core.take import Outline, spectrogram_of, spectrum_of
from tests.signals import RATE, noise, sine


class Spectra(unittest.TestCase):
    def test_a_sine_stands_in_its_band_with_its_power(self):
        for hertz in (50.0, 440.0, 7000.0):
            found = spectrum_of(sine(hertz, 2, -20), RATE)
            top = int(found.level_dbfs.argmax())
            self.assertAlmostEqual(np.log2(found.frequency_hz[top] / hertz), 0, delta=1 / 12 if hertz > 100 else 0.2)
            whole_db = 10 * np.log10((10 ** (found.level_dbfs / 10)).sum())
            self.assertAlmostEqual(whole_db, -23.01, delta=0.2)

    def test_lines_are_told_to_a_fraction_of_a_hertz(self):
        samples = sine(120, 3, -40) + sine(240.4, 3, -50) + noise(3, -70)
        lines = spectrum_of(samples, RATE).lines_hz
        self.assertAlmostEqual(lines[0], 120, delta=0.5)
        self.assertAlmostEqual(lines[1], 240.4, delta=0.5)

    def test_noise_has_no_lines_worth_the_name_and_scipys_level(self):
        """Against scipy.signal.welch, a general-purpose reference."""
        samples = noise(8, -50)
        found = spectrum_of(samples, RATE)
        hertz, density = welch(samples, RATE, nperseg=8192)
        for low, high in ((100, 200), (1000, 2000), (8000, 16_000)):
            inside = (found.frequency_hz >= low) & (found.frequency_hz < high)
            expected = 10 * np.log10(density[(hertz >= low) & (hertz < high)].sum() * (hertz[1] - hertz[0]))
            self.assertAlmostEqual(10 * np.log10((10 ** (found.level_dbfs[inside] / 10)).sum()), expected, delta=0.6)

    def test_moments_too_short_silent_or_of_low_rate_can_be_looked_at(self):
        for samples, rate in ((sine(440, 0.01, -20), RATE), (np.zeros(RATE), RATE), (sine(440, 1, -20), 8000)):
            found = spectrum_of(samples, rate)
            self.assertTrue(np.isfinite(found.level_dbfs).all())
            self.assertLess(found.frequency_hz[-1], rate / 2)
            _, levels = spectrogram_of(samples, rate, 50)
            self.assertTrue(np.isfinite(levels).all())

    def test_a_spectrogram_shows_when(self):
        samples = np.concatenate([sine(300, 1, -20), sine(3000, 1, -20)])
        hertz, levels = spectrogram_of(samples, RATE, 100)
        self.assertEqual(levels.shape, (len(hertz), 100))
        self.assertAlmostEqual(hertz[levels[:, 10].argmax()], 300, delta=15)
        self.assertAlmostEqual(hertz[levels[:, 90].argmax()], 3000, delta=120)


class Outlines(unittest.TestCase):
    def trace(self, samples, block=7001):
        outline = Outline(RATE)
        for start in range(0, len(samples), block):
            outline(samples[start : start + block])
        return outline.trace()

    def test_a_peak_stands_at_its_time_with_its_level(self):
        samples = np.zeros(10 * RATE)
        samples[7 * RATE] = -0.5
        trace = self.trace(samples)
        levels = trace.between(0, 10, 1000)
        self.assertEqual(len(levels), 1000)
        self.assertAlmostEqual(int(levels.argmax()) / 100, 7, delta=0.02)
        self.assertAlmostEqual(levels.max(), -6, delta=0.3)

    def test_any_stretch_is_had_closer_and_block_lengths_do_not_matter(self):
        samples = np.random.default_rng(2).uniform(-1, 1, 3 * RATE) * np.linspace(0, 1, 3 * RATE)
        whole = self.trace(samples)
        self.assertEqual(whole, self.trace(samples, block=977))
        closer = whole.between(1.0, 1.1, 400)
        self.assertEqual(len(closer), 40)
        self.assertLessEqual(closer.max(), whole.between(0, 3, 10).max())
        self.assertEqual(len(whole.between(5, 6, 100)), 0)

    def test_memory_stays_put(self):
        outline = Outline(8)
        outline(np.zeros(3 * 2**21))
        trace = outline.trace()
        self.assertLessEqual(len(trace.peaks), 2**21)
        self.assertAlmostEqual(len(trace.peaks) * trace.seconds_per_column, 3 * 2**21 / 8, delta=1)
