"""The clap: known decays, another library's reading of the same response, and made rooms with and without flutter."""

import itertools
import unittest
import warnings
from itertools import pairwise

import numpy as np
from scipy.signal import butter, sosfilt

from pneumen.core.errors import OutOfRange, UnreadableFile
from pneumen.core.rig import simulate_clap
from pneumen.core.room import BANDS_HZ, MATERIALS, WALLS, Box, clap_of
from tests.core.test_room import box, reference, reverberation_times_eyring_s
from tests.signals import RATE, phrases

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    from pyroomacoustics.experimental.rt60 import measure_rt60

SOFT = MATERIALS["curtain-folded"].absorption


def tones(rt60_s, rate=RATE, length_s=3.0, seed=0):
    """A decay with nothing random in its fall: one tone in each octave, all dying away alike."""
    seconds = np.arange(round(length_s * rate)) / rate
    phases = np.random.default_rng(seed).uniform(0, 6.28, len(BANDS_HZ))
    fall = 10 ** (-3 * seconds / rt60_s)
    return 0.1 * fall * sum(np.sin(2 * np.pi * hz * seconds + p) for hz, p in zip(BANDS_HZ, phases, strict=True))


def after_silence(decay, rate=RATE, noise_dbfs=-100.0, before_s=1.0, seed=1):
    samples = np.concatenate([np.zeros(round(before_s * rate)), decay])
    return samples + 10 ** (noise_dbfs / 20) * np.random.default_rng(seed).standard_normal(len(samples))


class KnownDecays(unittest.TestCase):
    def test_ring_time_of_every_octave(self):
        for rt60_s in (0.25, 0.5, 1.0, 2.0):
            found = clap_of(after_silence(tones(rt60_s, length_s=2 * rt60_s + 0.5)), RATE)
            for value, early in zip(found.t20_s, found.edt_s, strict=True):
                self.assertAlmostEqual(value / rt60_s, 1, delta=0.02)
                self.assertAlmostEqual(early / rt60_s, 1, delta=0.12)  # the filter rounds the very beginning
            self.assertAlmostEqual(found.rt60_s / rt60_s, 1, delta=0.02)
            self.assertFalse(found.noise_limited)

    def test_noise_that_decays_is_read_within_what_chance_allows(self):
        # A Gaussian decay read once has a standard error of about 1 / sqrt(B T) in its time (Davy, 1980, from memory).
        rng = np.random.default_rng(5)
        seconds = np.arange(2 * RATE) / RATE
        reads = [
            clap_of(after_silence(0.3 * rng.standard_normal(2 * RATE) * 10 ** (-3 * seconds / 0.6)), RATE).t20_s
            for _ in range(6)
        ]
        means = np.mean(reads, axis=0) / 0.6
        np.testing.assert_allclose(means[2:], 1, atol=0.05)
        np.testing.assert_allclose(means[:2], 1, atol=0.12)

    def test_other_rates(self):
        for rate in (16_000, 44_100, 96_000):
            found = clap_of(after_silence(tones(0.5, rate=rate), rate=rate), rate)
            self.assertAlmostEqual(found.rt60_s, 0.5, delta=0.01)
        slow = clap_of(after_silence(tones(0.5, rate=8000), rate=8000), 8000)
        self.assertIsNone(slow.t20_s[5])  # the octave of 4 kHz does not fit under half of 8 kHz
        self.assertEqual(slow.limited_by[5], "filter")

    def test_noise_takes_the_figures_it_spoils(self):
        loud = clap_of(after_silence(tones(0.5), noise_dbfs=-42), RATE)
        self.assertTrue(loud.noise_limited)
        self.assertIsNone(loud.rt60_s)
        self.assertIn("noise", loud.limited_by)
        # Moderate noise is taken out of the integral rather than bending it.
        middling = clap_of(after_silence(tones(0.5), noise_dbfs=-75), RATE)
        self.assertAlmostEqual(middling.rt60_s, 0.5, delta=0.02)

    def test_what_is_shorter_than_the_filter_can_tell_is_not_told(self):
        # B T > 4 with filters run backwards: 88 Hz at 125 Hz, so 0.045 s.
        found = clap_of(after_silence(tones(0.03, length_s=0.5)), RATE)
        self.assertIsNone(found.t20_s[0])
        self.assertAlmostEqual(found.t20_s[5], 0.03, delta=0.006)

    def test_the_loudest_of_several_claps_is_read_up_to_the_next(self):
        one = tones(0.3, length_s=1.0)
        three = after_silence(np.concatenate([0.5 * one, one, 0.9 * one]))
        self.assertAlmostEqual(clap_of(three, RATE).rt60_s, 0.3, delta=0.02)


class AgainstAnotherReading(unittest.TestCase):
    """pyroomacoustics' own backward integration on its own room response, where the field is diffuse (even walls)."""

    def test_the_same_response_read_twice(self):
        for size, absorption in (((5.0, 4.2, 2.9), 0.12), ((4.0, 3.3, 2.5), 0.2)):
            room = reference(size, dict.fromkeys(WALLS, absorption), (1.3, 1.1, 1.2), (3.1, 2.4, 1.5), 40)
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                room.compute_rir()
            response = room.rir[0][0]
            ours = clap_of(after_silence(response, noise_dbfs=-120), RATE)
            for value, centre_hz in zip(ours.t20_s[2:], BANDS_HZ[2:], strict=True):
                sos = butter(3, (centre_hz / 2**0.5, centre_hz * 2**0.5), "bandpass", fs=RATE, output="sos")
                theirs = measure_rt60(sosfilt(sos, response), fs=RATE, decay_db=20)
                self.assertAlmostEqual(value / theirs, 1, delta=0.04)


def echo_train(distance_m, where, gain, seed=0):
    """A clap between two walls, its echoes by the paths there and back, over a faint tail and a faint noise."""
    rng = np.random.default_rng(seed)
    out, pulse = np.zeros(round(1.2 * RATE)), rng.standard_normal(200) * np.exp(-np.arange(200) / 30)
    near, far = 2 * where * distance_m, 2 * (1 - where) * distance_m
    for turn in range(60):
        for path, walls in ((0.0, 0), (near, 1), (far, 1)):
            path_m = max(path + 2 * distance_m * turn, 0.05)
            at = round(path_m / 343 * RATE)
            if at + 200 < len(out):
                out[at : at + 200] += pulse * gain ** (2 * turn + walls) / max(path_m, 1) ** 0.5
    out += 0.02 * rng.standard_normal(len(out)) * 10 ** (-3 * np.arange(len(out)) / RATE / 0.5)
    return 0.3 * (np.concatenate([np.zeros(RATE // 2), out]) + 1e-4 * rng.standard_normal(len(out) + RATE // 2))


class MadeRooms(unittest.TestCase):
    def made(self, bare, size=(4.4, 3.3, 2.5), seed=0):
        walls = dict.fromkeys(WALLS, SOFT) | dict.fromkeys(bare, MATERIALS["plaster"].absorption)
        return simulate_clap(Box(size_m=size, surfaces=walls), (1.6, 1.3, 1.4), (1.75, 1.45, 1.65), seed=seed)

    def test_flutter_points_to_the_pair_of_bare_walls(self):
        for bare, distance in ((("west", "east"), 4.4), (("south", "north"), 3.3)):
            flutter = clap_of(self.made(bare), RATE).flutter
            self.assertTrue(flutter.found)
            self.assertAlmostEqual(flutter.spacing_m, distance, delta=0.06)

    def test_midway_between_the_walls_the_distance_is_the_same(self):
        walls = dict.fromkeys(WALLS, SOFT) | dict.fromkeys(("west", "east"), MATERIALS["plaster"].absorption)
        made = simulate_clap(Box(size_m=(4.0, 3.0, 2.5), surfaces=walls), (2.0, 1.3, 1.4), (2.0, 1.5, 1.6))
        self.assertAlmostEqual(clap_of(made, RATE).flutter.spacing_m, 4.0, delta=0.06)

    def test_an_off_centre_clap_is_read_at_the_distance_of_the_walls(self):
        """Echoes come back after 2a/c, 2b/c and 2L/c (geometry): their common period is that of the walls' distance."""
        for distance_m, where, gain in itertools.product((2.6, 3.4, 4.4, 5.2), (0.2, 0.35, 0.42), (0.9, 0.97)):
            found = clap_of(echo_train(distance_m, where, gain), RATE).flutter
            self.assertTrue(found.found, (distance_m, where))
            self.assertAlmostEqual(found.spacing_m, distance_m, delta=0.06, msg=f"{distance_m} {where} {gain}")

    def test_a_clap_buried_in_noise_tells_nothing_and_says_so(self):
        rng = np.random.default_rng(3)
        for over in (1.5, 3.0):
            samples = 0.01 * rng.standard_normal(3 * RATE)
            samples[RATE : RATE + 480] *= 1 + over
            found = clap_of(samples, RATE)
            self.assertTrue(found.noise_limited)
            self.assertEqual((set(found.t20_s), found.rt60_s, found.flutter.found), ({None}, None, False))
        with self.assertRaisesRegex(UnreadableFile, "no clap"):
            clap_of(0.01 * rng.standard_normal(3 * RATE), RATE)

    def test_soft_rooms_and_plain_decays_do_not_flutter(self):
        for seed in range(4):
            self.assertFalse(clap_of(self.made((), seed=seed), RATE).flutter.found)
            noise = np.random.default_rng(seed).standard_normal(RATE) * 10 ** (-3 * np.arange(RATE) / RATE / 0.5)
            self.assertFalse(clap_of(after_silence(0.3 * noise), RATE).flutter.found)

    def test_an_even_room_rings_as_eyring_says(self):
        for absorption in (0.1, 0.2, 0.3):
            room = box((5.0, 4.0, 3.0), absorption)
            read = clap_of(simulate_clap(room, (1.4, 1.3, 1.4), (3.2, 2.4, 1.6), seed=3), RATE)
            # Images in a box decay a little more slowly than Eyring's mixed field: paths along one axis meet few walls.
            self.assertTrue(0.9 < read.rt60_s / reverberation_times_eyring_s(room)[3] < 1.35)

    def test_ring_time_grows_with_the_rooms_hardness(self):
        times = [
            clap_of(simulate_clap(box(absorption=a), (1.4, 1.3, 1.4), (3.0, 2.0, 1.6)), RATE).rt60_s
            for a in (0.4, 0.25, 0.1)
        ]
        self.assertTrue(all(short < long for short, long in pairwise(times)))


class BadFiles(unittest.TestCase):
    def test_without_a_clap_it_says_so(self):
        rng = np.random.default_rng(0)
        speech = phrases()
        for samples in (np.zeros(RATE), 0.1 * rng.standard_normal(RATE), np.sin(np.arange(2 * RATE) / 30), speech):
            with self.assertRaisesRegex(UnreadableFile, "no clap"):
                clap_of(samples, RATE)

    def test_too_short_and_cut_off(self):
        with self.assertRaisesRegex(UnreadableFile, "shorter"):
            clap_of(np.ones(100), RATE)
        late = after_silence(tones(0.4))[: RATE + 900]
        with self.assertRaisesRegex(UnreadableFile, "run on"):
            clap_of(late, RATE)
        with self.assertRaises(OutOfRange):
            clap_of(np.zeros(RATE), 100)


if __name__ == "__main__":
    unittest.main()
