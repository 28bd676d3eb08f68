"""Hum and clicks in a recording, against signals of known make."""

import unittest

import numpy as np

from pneumen.core.rig.performer import PERFORMERS, perform
from pneumen.core.take import clicks_in, crackles, mains_hum_hz

RATE_HZ = 48_000
LENGTH_S = 5
ACTIVE_DBFS = -25.0
SOURCES = ("voice-pop", "cello", "bass-direct-passive", "drum-kit", "clarinet", "acoustic-guitar", "grand-piano")


def played(source, seed=0):
    """Return five seconds of a performance at -25 dBFS over a floor of -70."""
    whole = perform(source, LENGTH_S + 4.0, RATE_HZ, 0.0, seed).whole[-LENGTH_S * RATE_HZ :]
    level = 10 ** (ACTIVE_DBFS / 20) / np.sqrt(np.square(whole).mean())
    return level * whole + 10 ** (-70 / 20) * np.random.default_rng(seed).standard_normal(len(whole))


def mains(frequency_hz, rms_dbfs, multiples=(1, 2, 3, 5)):
    """Return mains hum of a level, as rectifiers leave it."""
    seconds = np.arange(LENGTH_S * RATE_HZ) / RATE_HZ
    wave = sum(np.sin(2 * np.pi * frequency_hz * k * seconds + k) / k for k in multiples)
    return wave * 10 ** (rms_dbfs / 20) / np.sqrt(np.square(wave).mean())


class Hum(unittest.TestCase):
    def test_hum_is_found_under_every_source_and_nothing_is_found_without(self):
        for source in SOURCES:
            with self.subTest(source):
                sound = played(source)
                self.assertIsNone(mains_hum_hz(sound, RATE_HZ, ACTIVE_DBFS))
                for frequency_hz in (50.0, 60.0):
                    hum = mains(frequency_hz * 1.002, ACTIVE_DBFS - 35)
                    self.assertEqual(mains_hum_hz(sound + hum, RATE_HZ, ACTIVE_DBFS), frequency_hz)

    def test_hum_too_faint_to_be_heard_behind_the_take_is_none(self):
        floor = 1e-6 * np.random.default_rng(1).standard_normal(LENGTH_S * RATE_HZ)
        self.assertEqual(mains_hum_hz(floor + mains(50.0, ACTIVE_DBFS - 49), RATE_HZ, ACTIVE_DBFS), 50.0)
        self.assertIsNone(mains_hum_hz(floor + mains(50.0, ACTIVE_DBFS - 51), RATE_HZ, ACTIVE_DBFS))

    def test_a_held_low_note_near_the_mains_is_a_note(self):
        floor = 1e-4 * np.random.default_rng(1).standard_normal(LENGTH_S * RATE_HZ)
        for note_hz in (49.0, 55.0, 61.74):  # G1, A1 and B1 of equal temperament at 440 Hz
            self.assertIsNone(mains_hum_hz(floor + mains(note_hz, -20.0), RATE_HZ, -20.0), note_hz)

    def test_one_line_alone_and_a_short_recording_tell_nothing(self):
        floor = 1e-5 * np.random.default_rng(1).standard_normal(LENGTH_S * RATE_HZ)
        self.assertIsNone(mains_hum_hz(floor + mains(50.0, -30.0, (1,)), RATE_HZ, -30.0))
        self.assertIsNone(mains_hum_hz((floor + mains(50.0, -30.0))[:RATE_HZ], RATE_HZ, -30.0))


class Clicks(unittest.TestCase):
    def test_no_source_crackles_by_itself(self):
        for source in sorted(PERFORMERS):
            with self.subTest(source):
                self.assertFalse(crackles(len(clicks_in(played(source), RATE_HZ))))

    def test_spikes_and_steps_are_found_where_they_are(self):
        for source in set(SOURCES) - {"drum-kit"}:  # a stroke may pass for one click
            rng = np.random.default_rng(5)
            at = np.arange(1, 5) * RATE_HZ - rng.integers(0, RATE_HZ // 2, 4)
            spiked, stepped = played(source), played(source)
            spiked[at] += 0.2
            stepped[at[1] :] += 0.2
            with self.subTest(source):
                found = [seconds for seconds, _ in clicks_in(spiked, RATE_HZ)]
                self.assertEqual(len(found), len(at))
                np.testing.assert_allclose(found, at / RATE_HZ, atol=0.001)
                (seconds, over_db), *rest = clicks_in(stepped, RATE_HZ)
                self.assertFalse(rest)
                self.assertAlmostEqual(seconds, at[1] / RATE_HZ, delta=0.001)
                self.assertGreater(over_db, 26)

    def test_silence_and_little_are_no_clicks(self):
        self.assertEqual(clicks_in(np.zeros(RATE_HZ), RATE_HZ), [])
        self.assertEqual(clicks_in(np.zeros(10), RATE_HZ), [])
