"""Finding pauses: what counts as one, frame by frame (100 ms each), with constructed levels."""

import unittest

import numpy as np
from scipy.signal import sosfreqz, welch

from pneumen.core.levels import a_weighting_db
from pneumen.core.take.clipping import flat_tops
from pneumen.core.take.floor import FloorMeter, find_pauses
from pneumen.core.take.loudness import integrated_loudness_lufs, k_weighting, k_weighting_sos, loudest_3s_lufs
from tests.signals import RATE, noise, sine


def pauses(levels_db, silent=()):
    power = 10 ** (np.asarray(levels_db, float) / 10)
    empty = np.zeros(len(power), bool)
    empty[list(silent)] = True
    return find_pauses(power, empty)


class Pauses(unittest.TestCase):
    def test_steady_low_stretches_are_pauses(self):
        self.assertEqual(pauses([-80] * 10 + [-20] * 10 + [-80] * 10), [(0, 10), (20, 30)])

    def test_a_dip_is_too_short(self):
        self.assertEqual(pauses([-20] * 10 + [-80] * 2 + [-20] * 10), [])

    def test_breaths_well_over_the_floor_are_left_out(self):
        self.assertEqual(pauses([-80] * 10 + [-60] * 4 + [-20] * 10 + [-80] * 10), [(0, 10), (24, 34)])

    def test_frames_that_scatter_like_rumble_stay_in(self):
        rng = np.random.default_rng(1)
        floor = -70 + 10 * np.log10(rng.chisquare(12, 40) / 12)
        found = pauses([*floor, *[-20] * 10])
        self.assertGreater(sum(stop - first for first, stop in found), 34)

    def test_a_level_take_has_none(self):
        self.assertEqual(pauses([-20] * 40), [])
        self.assertEqual(pauses([-20, -24] * 20), [])

    def test_falling_tails_are_none(self):
        self.assertEqual(pauses(np.tile(np.linspace(-20, -50, 12), 4)), [])

    def test_digital_silence_counts_for_nothing(self):
        self.assertEqual(pauses([-300] * 10 + [-70] * 10 + [-20] * 10, silent=range(10)), [(10, 20)])
        self.assertEqual(pauses([-300] * 10 + [-20] * 10, silent=range(10)), [])

    def test_too_little_to_judge(self):
        self.assertEqual(pauses([]), [])
        self.assertEqual(pauses([-80, -20]), [])


class Meter(unittest.TestCase):
    def read(self, samples, rate=RATE):
        meter = FloorMeter(rate)
        meter(samples)
        return meter

    def test_plain_level_of_white_noise(self):
        self.assertAlmostEqual(self.read(noise(5, -60)).floor_dbfs, -60, delta=0.2)

    def test_weighted_level_agrees_with_a_reference_spectrum(self):
        samples = noise(5, -60)
        frequency_hz, density = welch(samples, RATE, nperseg=8192)
        power = (density * 10 ** (a_weighting_db(np.maximum(frequency_hz, 1)) / 10)).sum() * frequency_hz[1]
        self.assertAlmostEqual(self.read(samples).floor_dbfs_a, 10 * np.log10(power), delta=0.2)

    def test_single_tones_are_weighted_by_the_standard(self):
        # IEC 61672-1, Table 3 (from memory): 100 Hz -19.1 dB, 1 kHz 0, 10 kHz -2.5.
        for frequency_hz, weight_db in ((100, -19.1), (1000, 0.0), (10_000, -2.5)):
            read = self.read(sine(frequency_hz, 2, -40))
            self.assertAlmostEqual(read.floor_dbfs, -43.01, delta=0.1)
            self.assertAlmostEqual(read.floor_dbfs_a, -43.01 + weight_db, delta=0.15)

    def test_pauses_add_by_their_length(self):
        meter = FloorMeter(RATE)
        meter(noise(3, -60))
        meter(noise(1, -50, seed=2))
        self.assertAlmostEqual(meter.floor_dbfs, 10 * np.log10(0.75e-6 + 0.25e-5), delta=0.2)

    def test_nothing_taken_in_is_no_figure(self):
        self.assertIsNone(FloorMeter(RATE).floor_dbfs)


class Weighting(unittest.TestCase):
    def test_response_at_published_points(self):
        # ITU-R BS.1770-5, Figures 2 and 4: near 0 dB to 1 kHz, +4 dB at high frequencies, a roll-off below 100 Hz.
        _, through = sosfreqz(k_weighting_sos(RATE), RATE // 2, fs=RATE)  # a value for every hertz
        response = 20 * np.log10(np.abs(through) + 1e-12)
        self.assertAlmostEqual(response[997], 0.69, delta=0.03)  # the standard's -0.691 makes up for just this
        self.assertAlmostEqual(response[10_000], 4.0, delta=0.1)
        self.assertLess(response[20], -12)

    def test_blocks_of_any_length_give_the_same_as_one(self):
        samples = noise(2, -20)
        whole = k_weighting(RATE)(samples)
        running = k_weighting(RATE)
        pieces = [running(samples[start : start + 7001]) for start in range(0, len(samples), 7001)]
        np.testing.assert_allclose(np.concatenate(pieces), whole, atol=2e-6)

    def test_gates(self):
        loud, soft = np.full(100, 10 ** (-20 / 10)), np.full(100, 10 ** (-45 / 10))
        # The soft half lies more than 10 LU under the mean of both and is gated out.
        both = integrated_loudness_lufs(np.concatenate([loud, soft]))
        self.assertAlmostEqual(both, integrated_loudness_lufs(loud), delta=0.1)
        self.assertIsNone(integrated_loudness_lufs(np.full(100, 1e-9)))
        self.assertIsNone(loudest_3s_lufs(loud[:29]))


class Tops(unittest.TestCase):
    def test_only_the_flat_crest_is_found(self):
        samples = 0.6 * sine(100, 0.05)
        samples[100:140] = np.minimum(samples[100:140], 0.5)
        found = flat_tops(samples, np.arange(samples.size), 0.6, 2**-23)
        self.assertTrue(all(value <= 0.5 for value in found.value))
        clipped = flat_tops(np.minimum(samples, 0.5), np.arange(samples.size), 0.5, 2**-23)
        self.assertEqual(len(clipped.first), 5)  # one for each period of 10 ms

    def test_nothing_near_the_top_is_nothing_found(self):
        self.assertEqual(flat_tops(np.zeros(1000), np.empty(0, int), 0.5, 2**-23).first.size, 0)
