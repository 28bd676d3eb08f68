"""Phrases cut between claps, measured and matched; and the air the stand-in plays them through."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from pneumen.core.errors import Contradiction, OutOfRange, UnreadableFile
from pneumen.core.rig import air_of
from pneumen.core.room import FURNITURE, MATERIALS, WALLS, Box
from pneumen.core.take import matching_gains_db, measure_phrase, phrases_between_claps, whole_phrase
from tests.signals import RATE


def clap(level=0.5, seed=1):
    noise = np.random.default_rng(seed).standard_normal(RATE // 2)
    return level / 3 * noise * np.exp(-np.arange(len(noise)) / RATE / 0.03)


def phrase(level=0.2, seconds=2.0, hertz=330.0):
    t = np.arange(round(seconds * RATE)) / RATE
    beat = 0.5 + 0.5 * np.sin(2 * np.pi * 2 * t) ** 2
    return level * beat * (np.sin(2 * np.pi * hertz * t) + 0.3 * np.sin(2 * np.pi * 4 * hertz * t))


def quiet(seconds):
    return np.zeros(round(seconds * RATE))


def recording(*parts, noise_dbfs=-80.0, seed=2):
    joined = np.concatenate(parts)
    return joined + 10 ** (noise_dbfs / 20) * np.random.default_rng(seed).standard_normal(len(joined))


class Claps(unittest.TestCase):
    def three(self, levels=(0.2, 0.05, 0.4), **how):
        parts = [quiet(1)]
        for number, level in enumerate(levels):
            parts += [clap(seed=number), quiet(1), phrase(level), quiet(1)]
        return recording(*parts, **how)

    def test_each_phrase_lies_where_it_was_put(self):
        found = phrases_between_claps(self.three(), RATE)
        self.assertEqual(len(found), 3)
        for number, (start, end) in enumerate(found):
            begins = 1 + number * 4.5 + 1.5  # silence, then clap and its pause; 4.5 s from clap to clap
            self.assertAlmostEqual(start / RATE, begins - 0.25, delta=0.05)
            self.assertAlmostEqual(end / RATE, begins + 2.25, delta=0.05)

    @settings(max_examples=15)
    @given(st.lists(st.floats(0.02, 0.8), min_size=2, max_size=6), st.floats(-90, -60), st.integers(0, 99))
    def test_soft_or_loud_in_any_number_and_noise(self, levels, noise_dbfs, seed):
        found = phrases_between_claps(self.three(levels, noise_dbfs=noise_dbfs, seed=seed), RATE)
        self.assertEqual(len(found), len(levels))

    def test_pauses_inside_a_phrase_do_not_cut_it(self):
        parts = [quiet(1), clap(), quiet(1), phrase(), quiet(0.8), phrase(), quiet(1), clap(), quiet(1), phrase()]
        found = phrases_between_claps(recording(*parts), RATE)
        for (start, end), seconds in zip(found, (5.3, 2.25), strict=True):
            self.assertAlmostEqual((end - start) / RATE, seconds, delta=0.06)

    def test_what_cannot_be_cut_is_told(self):
        for samples, told in (
            (recording(quiet(1), phrase(), quiet(1)), "there is no clap in it; clap once before each phrase"),
            (recording(quiet(1), clap(), quiet(1), clap(), quiet(1)), "nothing is played after the claps"),
            (np.random.default_rng(3).standard_normal(RATE), "sound and silence cannot be told apart"),
            (np.zeros(100), "too short"),
        ):
            with self.assertRaisesRegex(UnreadableFile, told):
                phrases_between_claps(samples, RATE)

    def test_a_file_of_one_phrase_loses_its_silence(self):
        start, end = whole_phrase(recording(quiet(2), phrase(), quiet(3)), RATE)
        self.assertAlmostEqual(start / RATE, 1.75, delta=0.03)
        self.assertAlmostEqual(end / RATE, 4.25, delta=0.03)


class Measured(unittest.TestCase):
    def test_a_sine_of_the_standard(self):
        # ITU-R BS.1770-5: 997 Hz at full scale reads -3.01 LUFS; a sine's RMS lies 3.01 dB under its peak.
        told = measure_phrase(0.1 * np.sin(2 * np.pi * 997 * np.arange(3 * RATE) / RATE), RATE)
        self.assertAlmostEqual(told.loudness_lufs, -23.01, delta=0.02)
        self.assertAlmostEqual(told.level_dbfs, -23.01, delta=0.02)
        self.assertAlmostEqual(told.peak_dbfs, -20.0, delta=0.02)
        self.assertIsNone(told.floor_dbfs_a)

    def test_more_bass_more_noise_fuller_gaps(self):
        plain = measure_phrase(recording(quiet(0.3), phrase(), quiet(0.3)), RATE)
        bassy = measure_phrase(recording(quiet(0.3), phrase() + phrase(hertz=100), quiet(0.3)), RATE)
        self.assertGreater(bassy.bass_db, plain.bass_db + 6)
        noisy = measure_phrase(recording(quiet(0.3), phrase(), quiet(0.3), noise_dbfs=-60), RATE)
        self.assertAlmostEqual(noisy.floor_dbfs_a - plain.floor_dbfs_a, 20, delta=1.5)
        rests = np.concatenate([phrase(seconds=0.4), quiet(0.4)] * 3)
        dry = measure_phrase(recording(quiet(0.3), rests, quiet(0.3)), RATE)
        ring = np.random.default_rng(4).standard_normal(RATE) * 10 ** (-3 * np.arange(RATE) / RATE / 0.8)
        wet = np.convolve(rests, np.concatenate([[1.0], 0.02 * ring]))[: len(rests)]
        self.assertGreater(measure_phrase(recording(quiet(0.3), wet, quiet(0.3)), RATE).gaps_db, dry.gaps_db + 3)

    def test_matched_to_one_loudness_and_no_peak_over_minus_six(self):
        measures = [measure_phrase(phrase(level), RATE) for level in (0.2, 0.1, 0.4)]
        gains = matching_gains_db(measures)
        for gain, wanted in zip(gains, (-6.02, 0, -12.04), strict=True):
            self.assertAlmostEqual(gain - gains[1], wanted, 2)
        lifted = [10 ** (gain / 20) * phrase(level) for gain, level in zip(gains, (0.2, 0.1, 0.4), strict=True)]
        self.assertAlmostEqual(20 * np.log10(max(np.abs(one).max() for one in lifted)), -6.0, 2)
        spiky = np.concatenate([phrase(0.1), [0.9], phrase(0.1)])
        peaks = [measure_phrase(spiky, RATE), *measures]
        for one, gain in zip(peaks, matching_gains_db(peaks), strict=True):
            self.assertLessEqual(one.peak_dbfs + gain, -6.0 + 1e-9)

    def test_silence_and_numbers_that_do_not_work(self):
        with self.assertRaisesRegex(UnreadableFile, "silent"):
            measure_phrase(np.zeros(RATE), RATE)
        one = measure_phrase(phrase(), RATE)
        for count in (1, 7):
            with self.assertRaisesRegex(Contradiction, f"two to 6, were {count}"):
                matching_gains_db([one] * count)


BARE = Box(size_m=(4.2, 3.1, 2.4), surfaces=dict.fromkeys(WALLS, MATERIALS["plaster"].absorption))
SOFT = Box(
    size_m=(4.2, 3.1, 2.4),
    surfaces=dict.fromkeys(WALLS, MATERIALS["curtain-velvet"].absorption),
    objects_m2=(FURNITURE["bed"].absorption_m2,),
)

OPEN = Box(size_m=(4.2, 3.1, 2.4), surfaces=dict.fromkeys(WALLS, (1.0,) * 6))


class Air(unittest.TestCase):
    def air(self, box=SOFT, distance_m=0.2, **how):
        return air_of(box, (2.0, 1.4, 1.5), (2.0, 1.4 + distance_m, 1.5), **({"pattern": "cardioid"} | how))

    def gain_db(self, air, hertz):
        spectrum = np.abs(np.fft.rfft(air, 1 << 17))
        return 20 * np.log10(spectrum[round(hertz / RATE * (1 << 17))])

    def test_the_direct_sound_counts_one_and_bass_builds_up(self):
        # Cardioid, 100 Hz: 5 cm +14.9, 15 cm +6.4 dB (Olson; Beranek; from memory).
        for distance_m, rise_db in ((0.05, 14.9), (0.15, 6.4)):
            air = self.air(OPEN, distance_m)
            self.assertAlmostEqual(self.gain_db(air, 8000), 0, delta=0.1)
            self.assertAlmostEqual(self.gain_db(air, 100), rise_db, delta=0.4)

    def test_a_bare_room_rings_longer_and_farther_off_it_is_louder(self):
        def late(box, distance_m):
            return float(np.square(self.air(box, distance_m)[RATE // 20 :]).sum())

        self.assertGreater(late(BARE, 0.2), 4 * late(SOFT, 0.2))
        self.assertAlmostEqual(10 * np.log10(late(BARE, 0.4) / late(BARE, 0.2)), 6.0, delta=0.7)  # the law of distance

    def test_turned_away_the_room_comes_forward(self):
        on, off = self.air(BARE), self.air(BARE, turned_deg=90)
        self.assertAlmostEqual(20 * np.log10(np.abs(off[:8]).max() / np.abs(on[:8]).max()), -6.02, delta=0.5)

    def test_a_bright_zone_is_brighter(self):
        dark, bright = self.air(OPEN, bright=-2), self.air(OPEN, bright=2)
        tilt = [self.gain_db(air, 4000) - self.gain_db(air, 1000) for air in (dark, bright)]
        self.assertAlmostEqual(tilt[1] - tilt[0], 8, delta=0.1)  # 4 steps of 1 dB over two octaves

    def test_nobody_stands_in_a_wall(self):
        with self.assertRaisesRegex(OutOfRange, "inside the room"):
            air_of(BARE, (2, 1, 1.5), (2, 3.2, 1.5), pattern="omni")
