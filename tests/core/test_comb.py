"""An early reflection in speech: found with its delay and strength, and never invented.

Material: eSpeak NG (GPL-3, run here), the recorded voices of Debian's alsa-utils (GPL-2) joined to a few seconds.
"""

import unittest

import numpy as np
import soxr

from pneumen.core.part import SOURCES
from pneumen.core.take import Played, comb_in, measure, open_recording
from pneumen.core.take.comb import RATE_HZ
from tests.material.sounds import RATE, recorded, spoken
from tests.material.takes import OTHER_VOICES, VOICES
from tests.signals import audio_file

RECORDED = [f"{where}_{side}" for where in ("Front", "Rear") for side in ("Center", "Left", "Right")]


def reflected(samples, delay_s, gain):
    late = round(delay_s * RATE)
    found = np.array(samples, float)
    found[late:] += gain * samples[:-late]
    return found


def coarse(samples):
    return soxr.resample(np.asarray(samples, np.float32), RATE, RATE_HZ)


def voices(names):
    for name in names:
        samples = np.concatenate([spoken(name, line) for line in range(4)])
        yield name, samples + 10**-3.5 * np.random.default_rng(1).standard_normal(len(samples))


class EarlyComb(unittest.TestCase):
    def test_a_reflection_is_found_with_its_delay_and_strength(self):
        for name, samples in voices(VOICES[:4]):
            for delay_ms, gain in ((1.6, 0.5), (2.3, 0.4), (3.4, 0.35)):
                with self.subTest(name, delay_ms=delay_ms):
                    found = comb_in(coarse(reflected(samples, delay_ms / 1000, gain)))
                    self.assertIsNotNone(found)
                    self.assertAlmostEqual(1000 * found.delay_s, delay_ms, delta=0.1)
                    self.assertAlmostEqual(found.gain, gain, delta=0.08)

    def test_clean_speech_has_none(self):
        for name, samples in voices((*VOICES, *OTHER_VOICES)):
            with self.subTest(name):
                self.assertIsNone(comb_in(coarse(samples)))

    def test_recorded_voices(self):
        samples = np.concatenate([recorded(name) for name in RECORDED])
        self.assertIsNone(comb_in(coarse(samples)))
        found = comb_in(coarse(reflected(samples, 0.002, 0.45)))
        self.assertAlmostEqual(1000 * found.delay_s, 2.0, delta=0.1)

    def test_a_take_of_speech_says_it_in_a_sentence_of_its_own_and_a_sung_one_is_not_judged(self):
        _, samples = next(voices(VOICES[:1]))
        with audio_file(0.5 * reflected(samples, 0.0018, 0.5), rate=RATE) as path:
            for source, told in (("spoken-word", True), ("voice-pop", False)):
                with open_recording(path) as recording:
                    found = measure(recording, played=Played.of(SOURCES[source])).findings
                combs = [one for one in found if one.cause == "early-comb"]
                self.assertEqual(bool(combs), told)
            self.assertTrue(all((one.kind, one.unit) == ("echo", "s") for one in combs))

    def test_too_little_or_nothing_at_all(self):
        for samples in (np.zeros(0), np.zeros(5 * RATE_HZ), np.ones(500)):
            self.assertIsNone(comb_in(samples.astype(np.float32)))


if __name__ == "__main__":
    unittest.main()
