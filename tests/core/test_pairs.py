"""Two microphones: combs against transforms, nulls, three to one, pairs against published angles."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName
from pneumen.core.place import (
    PAIRS,
    THREE_TO_ONE,
    StereoPair,
    mono_sum_of,
    pair_differences,
    recording_angle_deg,
    singer_who_plays,
    stereo_image,
    sum_response_db,
)

RATE = 48_000


class Mono(unittest.TestCase):
    def test_a_comb_out_of_a_transform(self):
        # A unit pulse and its copy 48 samples (1 ms) later at half the height, transformed by numpy.
        pulse = np.zeros(RATE)
        pulse[0], pulse[48] = 1.0, 0.5
        hertz = np.arange(20, 20_000)
        spectrum = 20 * np.log10(np.abs(np.fft.rfft(pulse)))[hertz]
        np.testing.assert_allclose(sum_response_db(hertz, 0.001, 0.5), spectrum, atol=1e-9)
        mono = mono_sum_of(0.343, 0.686, rate_hz=RATE)
        self.assertAlmostEqual(mono.align_samples, 48, 9)
        self.assertEqual([round(one) for one in mono.notches_hz], [500, 1500, 2500])
        self.assertAlmostEqual(mono.ripple_db, spectrum.max() - spectrum.min(), 2)

    def test_three_to_one_leaves_nine_and_a_half_decibels_and_six_of_ripple(self):
        # Common practice: three times as far is 20 log10(3) = 9.54 dB; (1 + 1/3)/(1 - 1/3) = 2 is 6.02 dB of ripple.
        mono = mono_sum_of(0.2, 0.2 * THREE_TO_ONE, rate_hz=RATE)
        self.assertAlmostEqual(mono.ripple_db, 6.02, 2)
        self.assertEqual(mono.verdict, "watch")

    def test_equal_distances_agree_and_equal_loudness_hollows_out(self):
        self.assertEqual(mono_sum_of(0.3, 0.3, rate_hz=RATE).verdict, "clear")
        self.assertEqual(mono_sum_of(0.3, 0.5, rate_hz=RATE, difference_db=0).verdict, "mendable")
        self.assertEqual(mono_sum_of(0.3, 0.5, rate_hz=RATE, difference_db=20).verdict, "clear")

    def test_delaying_the_nearer_by_the_samples_told_takes_the_comb_away(self):
        mono = mono_sum_of(0.2, 0.2 + 343 * 61 / RATE, rate_hz=RATE)
        noise = np.random.default_rng(1).standard_normal(RATE)
        far = np.roll(noise, 61)
        lined_up = np.roll(noise, round(mono.align_samples)) + far
        np.testing.assert_allclose(lined_up, 2 * far, atol=1e-12)

    def test_a_sound_that_reaches_both_at_once_has_no_comb(self):
        self.assertFalse(mono_sum_of(0.3, 0.3, rate_hz=RATE).combs)
        self.assertTrue(mono_sum_of(0.3, 0.33, rate_hz=RATE).combs)

    def test_the_farther_is_not_the_nearer(self):
        with self.assertRaisesRegex(OutOfRange, "far_m must be between 0.5 m and 100 m"):
            mono_sum_of(0.5, 0.2, rate_hz=RATE)


class Singer(unittest.TestCase):
    def found(self, spot=(0.12, -0.45), **how):
        usual = {"voice_m": 0.15, "play_m": 0.25, "voice_pattern": "cardioid", "play_pattern": "cardioid"}
        return singer_who_plays(spot, **(usual | how))

    def test_a_figure_8_with_its_side_on_the_instrument_beats_an_omni(self):
        omni = self.found(voice_pattern="omni", play_pattern="omni")
        eight = self.found(voice_pattern="figure-8", play_pattern="figure-8")
        self.assertGreater(eight.voice.separation_db, omni.voice.separation_db + 12)
        self.assertGreater(eight.instrument.separation_db, omni.instrument.separation_db + 8)
        looks, at = eight.voice.looks, eight.voice.at_m
        away = (0.12 - at[0], -0.45 - at[1])
        cosine = (looks[0] * away[0] + looks[1] * away[1]) / math.hypot(*away)
        self.assertLess(abs(math.degrees(math.acos(cosine)) - 90), 8)  # its published null

    def test_no_null_takes_the_room_out(self):
        """What the other source sends round the room lies at its direct level at the critical distance (statistics)."""
        eights = {"voice_pattern": "figure-8", "play_pattern": "figure-8"}
        open_air, dead, live = (self.found(**eights, critical_m=one) for one in (None, 50.0, 0.5))
        self.assertAlmostEqual(dead.voice.separation_db, open_air.voice.separation_db, delta=0.2)
        self.assertLess(live.voice.separation_db, open_air.voice.separation_db - 6)
        # Own sound at 15 cm against the room's: 20 log10(0.5 / 0.15) and 4.8 dB that a figure-8 hears less of it.
        own = live.voice.own_db + 20 * math.log10(0.5 / 0.15) + 10 * math.log10(3)
        self.assertLessEqual(live.voice.separation_db, own)
        self.assertGreater(live.voice.separation_db, own - 3)

    def test_an_omni_has_distance_alone(self):
        one = self.found(voice_pattern="omni").voice
        other = math.dist(one.at_m, (0.12, -0.45))
        self.assertAlmostEqual(one.separation_db, 20 * math.log10(other / 0.15), 6)
        self.assertEqual(one.own_db, 0)

    def test_a_louder_voice_is_harder_to_keep_out_of_the_other(self):
        even, loud = self.found(), self.found(level_difference_db=6)
        self.assertAlmostEqual(loud.voice.separation_db - even.voice.separation_db, 6, delta=0.01)
        self.assertAlmostEqual(even.instrument.separation_db - loud.instrument.separation_db, 6, delta=0.01)

    @given(st.sampled_from(["cardioid", "supercardioid", "figure-8"]), st.floats(0.05, 0.4), st.floats(-0.9, -0.3))
    def test_each_microphone_keeps_its_distance_and_looks_near_its_own_source(self, pattern, distance_m, below):
        spot = (0.15, below)
        found = self.found(spot, voice_m=distance_m, play_m=distance_m, voice_pattern=pattern, play_pattern=pattern)
        for one, source in ((found.voice, (0.0, 0.0)), (found.instrument, spot)):
            self.assertAlmostEqual(math.dist(one.at_m, source), distance_m, 9)
            self.assertLessEqual(abs(one.turned_deg), 40)

    def test_three_to_one_at_the_least_else_one_after_the_other(self):
        for louder_db in (-12, -6, 0, 6, 12):
            found = self.found(level_difference_db=louder_db)
            least = min(found.voice.separation_db, found.instrument.separation_db)
            self.assertEqual(found.verdict == "mendable", least < 20 * math.log10(3))
        self.assertEqual(self.found(voice_pattern="figure-8", play_pattern="figure-8").verdict, "clear")

    def test_mouth_and_instrument_in_each_other(self):
        with self.assertRaisesRegex(Contradiction, "at least 10 cm from the mouth"):
            self.found((0.01, 0.01))
        with self.assertRaisesRegex(UnknownName, "pattern must be one of"):
            self.found(play_pattern="star")


class Pairs(unittest.TestCase):
    def test_published_recording_angles(self):
        # Williams (1987) and the tables after him, from memory: coincident cardioids at 90 degrees fill 180;
        # cardioids 17 cm apart at 110 fill about 95 to 105; omnis 50 cm apart about 90 to 100.
        for kind, low, high in (("coincident", 170, 190), ("near", 92, 110), ("spaced", 80, 102)):
            pair = PAIRS[kind][1]
            self.assertTrue(low <= 2 * recording_angle_deg(pair, 3.0) <= high, kind)

    def test_at_one_point_there_is_no_time_and_side_by_side_no_level(self):
        angles = np.array([0.0, 20, 45, 80])
        level, time = pair_differences(PAIRS["coincident"][1], angles, 1.0)
        np.testing.assert_allclose(time, 0, atol=1e-12)
        self.assertTrue((np.diff(level) > 0).all())
        level, time = pair_differences(PAIRS["spaced"][1], angles, 50.0)
        np.testing.assert_allclose(level, 0, atol=0.1)
        np.testing.assert_allclose(time, 1000 * 0.5 * np.sin(np.radians(angles)) / 343, rtol=1e-3, atol=1e-9)

    @given(st.sampled_from(sorted(PAIRS)), st.floats(-80, 80), st.floats(0.3, 5))
    def test_left_is_right_mirrored(self, kind, angle, distance_m):
        pair = PAIRS[kind][1]
        one, other = (pair_differences(pair, np.array([a]), distance_m) for a in (angle, -angle))
        np.testing.assert_allclose(np.ravel(one), -np.ravel(other), atol=1e-6)

    def test_an_omni_pair_at_one_point_has_no_picture(self):
        self.assertIsNone(recording_angle_deg(StereoPair(pattern="omni", between_deg=90, spacing_m=0), 2.0))
        with self.assertRaisesRegex(OutOfRange, "spacing_m must be between 0 m and 3 m"):
            StereoPair(pattern="omni", between_deg=0, spacing_m=9)

    def test_the_picture_of_each_kind(self):
        point, apart = (stereo_image(PAIRS[kind][1], 0.0, 2.0) for kind in ("coincident", "spaced"))
        self.assertEqual((point.edge_comb_hz, point.verdict), (None, "clear"))
        self.assertEqual(apart.verdict, "watch")
        _, edge_ms = pair_differences(PAIRS["spaced"][1], np.array([apart.edge_deg]), 2.0)
        self.assertAlmostEqual(apart.edge_comb_hz, 500 / float(edge_ms[0]), 6)  # the first notch of that delay
        self.assertTrue(point.sides_agree and apart.sides_agree)
        self.assertFalse(stereo_image(PAIRS["spaced"][1], 30.0, 2.0).sides_agree)
