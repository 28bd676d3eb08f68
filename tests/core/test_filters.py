"""Filters that run along a file, against SciPy's signal package, which has both."""

import subprocess
import sys
from itertools import pairwise
from unittest import TestCase

import numpy as np
from scipy.signal import butter, find_peaks, sosfilt, sosfreqz

from pneumen.core.filters import ROW, RunningFilter, band_pass
from pneumen.core.peaks import peaks_over
from pneumen.core.take.loudness import k_weighting_sos

BANDS = [
    (order, band_hz, rate_hz)
    for order in (2, 3, 4)
    for band_hz, rate_hz in (((10, 60), 6000), ((60, 120), 5512.5), ((700, 1400), 44_100), ((700, 1400), 192_000))
]


class BandPass(TestCase):
    def test_it_is_the_butterworth_band_pass_of_scipy(self):
        for order, band_hz, rate_hz in BANDS:
            hertz = np.geomspace(1, 0.49 * rate_hz, 400)
            known = sosfreqz(butter(order, band_hz, "bandpass", fs=rate_hz, output="sos"), hertz, fs=rate_hz)[1]
            own = sosfreqz(band_pass(order, band_hz, rate_hz), hertz, fs=rate_hz)[1]
            with self.subTest(order=order, band_hz=band_hz, rate_hz=rate_hz):
                np.testing.assert_allclose(own, known, atol=1e-9)

    def test_its_edges_are_three_decibels_down(self):
        edges = sosfreqz(band_pass(3, (10, 60), 6000), [10, 60], fs=6000)[1]
        np.testing.assert_allclose(20 * np.log10(np.abs(edges)), -10 * np.log10(2), atol=1e-6)


class Running(TestCase):
    def test_in_blocks_of_any_length_it_is_sosfilt_of_the_whole(self):
        noise = np.random.default_rng(3).standard_normal(40_000)
        for sections in (k_weighting_sos(48_000), k_weighting_sos(8000), band_pass(3, (10, 60), 6000)):
            known = sosfilt(sections, noise)
            for edges in ((0, 40_000), (0, 1, ROW - 1, ROW, 3 * ROW, 3 * ROW, 9999, 40_000)):
                running = RunningFilter(sections)
                own = np.concatenate([running(noise[a:b]) for a, b in pairwise(edges)])
                with self.subTest(edges=edges):
                    np.testing.assert_allclose(own, known, atol=1e-9)

    def test_what_rings_goes_on_into_the_next_block(self):
        running = RunningFilter(k_weighting_sos(48_000))
        running(np.ones(ROW))
        self.assertGreater(np.abs(running(np.zeros(ROW))).max(), 1e-3)


class Peaks(TestCase):
    def test_they_are_those_of_scipy(self):
        for seed in range(20):
            levels = np.random.default_rng(seed).standard_normal(500).cumsum()
            least = float(np.median(levels))
            with self.subTest(seed=seed):
                known = find_peaks(levels, height=least, distance=7)[0]
                self.assertEqual(peaks_over(levels, least, apart=7).tolist(), known.tolist())


class Loading(TestCase):
    def test_measuring_a_file_loads_none_of_the_packages_that_take_long(self):
        code = "import sys, pneumen.cli.measure; print({'scipy.signal', 'scipy.stats'} & set(sys.modules))"
        told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        self.assertEqual(told.stdout.strip(), "set()")
