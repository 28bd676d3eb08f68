"""Tops that were cut off before a file was resampled: its corners ring, and they are flat no more.

Constructed: stand-in performers, whole, held by a limiter that looks ahead, and cut off, then resampled by soxr. A
clarinet's wave is nearly square by itself (odd harmonics, Fletcher and Rossing, The Physics of Musical Instruments,
chapter 15; from memory).
"""

import unittest

import numpy as np
import soxr
from scipy.ndimage import minimum_filter1d, uniform_filter1d

from pneumen.core.rig.performer import perform
from pneumen.core.take import clipping_in
from tests.core.test_measure_faults import coupled
from tests.signals import RATE, noise

SECONDS = 8
LOOK_S = 0.005
CUT = ("voice-pop", "voice-belted", "horn", "flute", "cello", "hand-drum")
RATES_HZ = (44_100, 96_000)


def played(source, seed=3):
    whole = perform(source, SECONDS, RATE, 0.0, seed).whole
    return whole / np.abs(whole).max()


def limited(samples):
    """Hold samples under full scale by a gain that turns down before a crest and up after it, never within one."""
    gain = np.minimum(1, 1 / np.maximum(np.abs(samples), 1e-9))
    look = int(LOOK_S * RATE)
    return samples * uniform_filter1d(minimum_filter1d(gain, 2 * look + 1), look)


def is_told(samples, rate_hz=RATE):
    """Return whether clipping is told of samples that were brought to a rate and into 24 bits."""
    there = soxr.resample(samples, RATE, rate_hz) if rate_hz != RATE else samples
    codes = np.round(0.8 * there / max(1.0, np.abs(0.8 * there).max()) * 2**23) / 2**23
    return bool(clipping_in(codes[None], rate_hz, 2**-23))


class Resampled(unittest.TestCase):
    def test_cut_off_by_6_db_is_told_at_other_rates(self):
        for source in CUT:
            cut = np.clip(2 * played(source), -1, 1) + noise(SECONDS, -80)
            for rate_hz in RATES_HZ:
                self.assertTrue(is_told(cut, rate_hz), (source, rate_hz))

    def test_also_where_it_was_there_and_back(self):
        for source in CUT:
            cut = np.clip(2 * played(source), -1, 1) + noise(SECONDS, -80)
            self.assertTrue(is_told(soxr.resample(soxr.resample(cut, RATE, 44_100), 44_100, RATE)), source)

    def test_also_behind_a_coupling(self):
        for source in ("voice-pop", "horn", "flute", "cello"):
            cut = coupled(np.clip(3 * played(source), -1, 1), 5) + noise(SECONDS, -80)
            self.assertTrue(is_told(cut, 44_100), source)

    def test_whole_and_limited_takes_are_let_be(self):
        for source in (*CUT, "clarinet", "lever-harp", "shaker"):
            whole = played(source) + noise(SECONDS, -80)
            for rate_hz in (RATE, *RATES_HZ):
                self.assertFalse(is_told(whole, rate_hz), (source, rate_hz))
                self.assertFalse(is_told(limited(2 * whole), rate_hz), (source, rate_hz, "limited"))

    def test_a_wave_that_is_square_by_itself_is_no_clipping(self):
        time_s = np.arange(SECONDS * RATE) / RATE
        square = sum(np.sin(2 * np.pi * 233.1 * odd * time_s) / odd for odd in (1, 3, 5, 7))
        breathing = square * (0.7 + 0.3 * np.sin(2 * np.pi * 0.4 * time_s))
        self.assertFalse(is_told(0.9 * breathing / np.abs(breathing).max() + noise(SECONDS, -80), 44_100))
