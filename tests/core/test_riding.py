"""A line said softly, loudly, softly: what an input does to it, against processors made here, and a closed form."""

import math
import unittest
from functools import cache

import numpy as np
from scipy.signal import butter as filter_of
from scipy.signal import istft, lfilter, sosfilt, stft

from pneumen.core.errors import UnreadableFile
from pneumen.core.take import ALIKE, CUTS, RIDES, THINS, UNTOUCHED, riding_in
from pneumen.core.take.riding import NOISE_SCATTER_DB

RATE_HZ = 44_100
SEEDS = range(6)


def line(draw, seconds=2.0):
    """Return something like speech: voiced syllables with formants, hisses, and the stops between them."""
    pieces, total = [], 0
    while total < seconds * RATE_HZ:
        count = round(draw.uniform(0.09, 0.22) * RATE_HZ)
        time_s, pitch_hz = np.arange(count) / RATE_HZ, draw.uniform(100, 145)
        voiced = sum(np.sin(2 * np.pi * n * pitch_hz * time_s) / n**1.3 for n in range(1, int(9000 / pitch_hz)))
        for formant_hz in (draw.uniform(300, 800), draw.uniform(900, 2300)):
            radius = np.exp(-np.pi * 100 / RATE_HZ)
            ring = [1, -2 * radius * np.cos(2 * np.pi * formant_hz / RATE_HZ), radius**2]
            voiced = lfilter([1 - radius], ring, voiced) + 0.15 * voiced
        shape = np.minimum(1, np.minimum(time_s / 0.015, (time_s[-1] - time_s) / 0.03))
        hiss = sosfilt(filter_of(2, (4000, 11_000), "bandpass", fs=RATE_HZ, output="sos"), draw.standard_normal(2000))
        pieces += [voiced / voiced.std() * shape, 0.2 * hiss * np.hanning(2000) / hiss.std()]
        pieces.append(np.zeros(round(draw.choice([0.03, 0.06, 0.09, 0.14]) * RATE_HZ)))
        total = sum(len(one) for one in pieces)
    whole = np.concatenate(pieces)
    return whole / whole.std()


@cache
def recorded(seed, louder_db=13):
    """Return the three lines in a room with noise, as they come to the input."""
    draw = np.random.default_rng(seed)
    pieces = [np.zeros(round(1.4 * RATE_HZ))]
    for level_db in (0, louder_db, draw.uniform(-2, 2)):
        gap = np.zeros(round(draw.uniform(1.3, 1.8) * RATE_HZ))
        pieces += [10 ** ((-38 + level_db) / 20) * line(draw), gap]
    clean = np.concatenate(pieces)
    noise = draw.standard_normal(len(clean))
    noise = noise + lfilter([1], [1, -0.97], noise)
    return clean + 10 ** (draw.uniform(-76, -64) / 20) * noise / noise.std()


def tenths(samples, gain_of):
    """Turn each hundredth of a second up or down by what is told of its level."""
    frame, out = RATE_HZ // 100, samples.copy()
    for start in range(0, len(samples), frame):
        piece = samples[start : start + frame]
        out[start : start + frame] = piece * 10 ** (gain_of(10 * math.log10(np.square(piece).mean() + 1e-12)) / 20)
    return out


def automatic_gain(samples):
    """Bring each syllable to one level: down at once, up within a second and a half, held in the pauses."""
    state = {"db": 0.0}

    def gain(level_db):
        if level_db > -58:
            wanted = min(-24 - level_db, 20)
            state["db"] += (wanted - state["db"]) * (0.2 if wanted < state["db"] else 0.004)
        return state["db"]

    return tenths(samples, gain)


def gate(samples, depth_db=-15):
    """Close a fifth of a second after the last sound."""
    state = {"since": 99}

    def gain(level_db):
        state["since"] = 0 if level_db > -54 else state["since"] + 1
        return 0.0 if state["since"] < 20 else depth_db

    return tenths(samples, gain)


def spectral_subtraction(samples):
    """Take the noise out of each band, as Boll described it (1979), down to a floor."""
    _, _, bands = stft(samples, RATE_HZ, nperseg=1024)
    power = np.abs(bands) ** 2
    noise = 1.5 * np.percentile(power, 20, axis=1, keepdims=True)
    gain = np.sqrt(np.maximum(1 - noise / np.maximum(power, 1e-20), 10**-1.2))
    return istft(bands * gain, RATE_HZ, nperseg=1024)[1][: len(samples)]


class Lines(unittest.TestCase):
    def test_an_honest_input_is_left_alone(self):
        for seed in SEEDS:
            with self.subTest(seed):
                found = riding_in(recorded(seed), RATE_HZ)
                self.assertEqual(found.found, (UNTOUCHED,), found)
                self.assertAlmostEqual(found.louder_db, 13, delta=1.5)

    def test_each_processor_is_found(self):
        for name, through, what in (
            ("gain", automatic_gain, {RIDES, ALIKE}),
            ("gate", gate, {CUTS}),
            ("subtraction", spectral_subtraction, {THINS}),
        ):
            for seed in SEEDS:
                with self.subTest(name, seed=seed):
                    found = riding_in(through(recorded(seed)), RATE_HZ)
                    self.assertTrue(set(found.found) & what, found)
                    self.assertNotIn(UNTOUCHED, found.found)

    def test_lines_said_alike_tell_nothing(self):
        self.assertEqual(riding_in(recorded(3, louder_db=1), RATE_HZ).found, (ALIKE,))

    def test_noise_scatters_as_a_closed_form_says(self):
        """The power of a band of noise is exponential: E[ln X] = -gamma, so the mean lies 10 gamma / ln 10 dB over."""
        draws = 10 * np.log10(np.random.default_rng(1).exponential(size=400_000))
        self.assertAlmostEqual(-draws.mean(), NOISE_SCATTER_DB, delta=0.03)
        self.assertAlmostEqual(riding_in(recorded(2), RATE_HZ).scatter_db, NOISE_SCATTER_DB, delta=0.15)

    def test_what_is_no_three_lines_is_refused_in_words(self):
        whole = recorded(1)
        for samples, told in (
            (whole[: len(whole) // 2], "lines are heard in it, not three"),
            (np.zeros(RATE_HZ), "0 lines are heard"),
            (whole[: -round(1.2 * RATE_HZ)], "pauses too shortly"),
        ):
            with self.subTest(told), self.assertRaisesRegex(UnreadableFile, told):
                riding_in(samples, RATE_HZ)
