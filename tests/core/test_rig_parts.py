"""What the rig is made of: noises of a given level, performers that sound like theirs, hidden worlds."""

import unittest

import numpy as np
from scipy.signal import welch

from pneumen.core.levels import a_weighting_db
from pneumen.core.rig import PERFORMERS, draw_truth
from pneumen.core.rig.noise import weighted_noise
from pneumen.core.rig.performer import perform
from pneumen.core.rig.tones import ringing, sines
from tests.signals import RATE


def weighted_rms_db(samples, rate=RATE):
    """A-weighted level by an independent estimate: SciPy's Welch spectrum under IEC 61672-1's curve."""
    frequency_hz, density = welch(samples, rate, nperseg=8192)
    power = (density * 10 ** (a_weighting_db(np.maximum(frequency_hz, 1)) / 10)).sum() * frequency_hz[1]
    return 10 * np.log10(power)


class Noises(unittest.TestCase):
    def test_level_is_a_weighted_for_any_slope_and_rate(self):
        for rate in (16_000, 44_100, 48_000, 96_000):
            for slope in (0, -5, 3):
                made = weighted_noise(np.random.default_rng(1), rate * 4, rate, 10 ** (-60 / 20), slope)
                self.assertAlmostEqual(weighted_rms_db(made, rate), -60, delta=0.3, msg=(rate, slope))

    def test_rooms_fall_towards_the_treble(self):
        made = weighted_noise(np.random.default_rng(1), RATE * 8, RATE, 1.0, -5)
        frequency_hz, density = welch(made, RATE, nperseg=4096)
        low, high = (10 * np.log10(density[np.abs(frequency_hz / f - 1) < 0.1].mean()) for f in (500, 4000))
        self.assertAlmostEqual(low - high, 15, delta=1.5)  # three octaves of 5 dB


class Performances(unittest.TestCase):
    def play(self, source, tilt=0.0, seed=1):
        return perform(source, 12.0, RATE, tilt, seed).whole

    def test_each_plays_sounds_and_rests(self):
        for source in PERFORMERS:
            played = self.play(source)
            frames = np.square(played).reshape(-1, RATE // 10).mean(axis=1)
            self.assertTrue(np.isfinite(played).all())
            self.assertGreater((frames > frames.max() * 1e-3).mean(), 0.25, source)  # it sounds a good part of the time
            self.assertTrue((frames[:9] == 0).all(), source)  # silence before the first note
            self.assertLess(frames[-3:].max(), frames.max() * 1e-3, source)  # and room for the floor at the end

    def test_notes_have_partials_at_their_pitch(self):
        # A sung tone is periodic: its spectrum stands in lines, so it is far from flat (Wiener entropy).
        played = self.play("voice-pop")[int(1.5 * RATE) : int(3.5 * RATE)]
        power = np.square(np.abs(np.fft.rfft(played * np.hanning(len(played)))))[20:8000]
        flatness = np.exp(np.log(power + 1e-20).mean()) / power.mean()
        self.assertLess(flatness, 0.02)

    def test_a_clarinets_even_partials_are_weak(self):
        # A stopped pipe sounds odd partials (Benade, Fundamentals of Musical Acoustics, from memory).
        played = self.play("clarinet")
        start = int(1.6 * RATE)
        piece = played[start : start + RATE // 4] * np.hanning(RATE // 4)
        power = np.square(np.abs(np.fft.rfft(piece)))
        first = int(power[:200].argmax())
        even, odd = (power[n * first - 2 : n * first + 3].max() for n in (2, 3))
        self.assertGreater(10 * np.log10(odd / even), 6)

    def test_a_brighter_performer_has_more_treble(self):
        def treble(tilt):
            frequency_hz, density = welch(self.play("acoustic-guitar", tilt), RATE, nperseg=4096)
            return density[frequency_hz > 3000].sum() / density.sum()

        self.assertGreater(treble(2.0), 1.5 * treble(-2.0))

    def test_strings_ring_on_and_drums_do_not(self):
        def share_ringing(source):
            frames = np.square(self.play(source)).reshape(-1, RATE // 20).mean(axis=1)
            return (frames > frames.max() * 1e-4).mean()

        self.assertGreater(share_ringing("lever-harp"), share_ringing("hand-drum"))


class Worlds(unittest.TestCase):
    def test_what_is_drawn_stays_within_what_bands_say(self):
        worlds = [draw_truth(seed, 1, loudness_band_db=5, knob_band_db=10) for seed in range(200)]
        for name, most in (("loudness_db", 7), ("sensitivity_db", 2), ("room_noise_db", 3), ("gain_db", 10)):
            values = np.array([getattr(world, name) for world in worlds])
            self.assertLessEqual(np.abs(values).max(), most, name)
            self.assertAlmostEqual(values.mean(), 0, delta=most / 8, msg=name)

    def test_without_a_knob_the_gain_is_nearly_as_set(self):
        self.assertLess(max(abs(draw_truth(seed, 1).gain_db) for seed in range(100)), 1.0)


class Tones(unittest.TestCase):
    """Partials are added up by short cuts: what comes out is the sum of the sines one by one."""

    def test_sines_of_whole_multiples(self):
        phase = 2 * np.pi * np.cumsum(220 + 3 * np.sin(np.arange(24_000) / 900)) / RATE
        amplitudes = np.random.default_rng(1).random(60)
        amplitudes[::4] = 0
        known = sum(each * np.sin(number * phase) for number, each in enumerate(amplitudes, 1))
        np.testing.assert_allclose(sines(amplitudes, phase), known, atol=1e-9)

    def test_sines_that_ring_on(self):
        random, time_s = np.random.default_rng(2), np.arange(30_011) / RATE
        amplitudes, phases = random.random(20), random.uniform(0, 6, 20)
        hertz, falls = random.uniform(40, 9000, 20), random.uniform(1, 60, 20)
        known = sum(
            a * np.exp(-fall * time_s) * np.sin(2 * np.pi * f * time_s + phase)
            for a, f, phase, fall in zip(amplitudes, hertz, phases, falls, strict=True)
        )
        np.testing.assert_allclose(ringing(amplitudes, hertz, phases, falls, len(time_s), RATE), known, atol=1e-9)
