"""A layer laid to its lead, and files heard together: laws of panning, filters and offsets, against closed forms."""

import tempfile
import unittest
from pathlib import Path

import numpy as np
import pyloudnorm
import soundfile

from pneumen.core.comp import CompTake, join_takes, shifts_for, tightened
from pneumen.core.errors import OutOfRange
from pneumen.core.performance import PhraseOffset
from pneumen.core.send import Voice, write_balance, write_together
from pneumen.core.take import LaidTake, codes_of, matching_volumes, measure, open_recording
from tests.signals import RATE, noise, phrases, sine


class FolderCase(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def file(self, samples, name="one"):
        path = self.folder / f"{name}.wav"
        soundfile.write(path, codes_of(samples, 24) << 8, RATE, subtype="PCM_24")
        return path


class Balance(FolderCase):
    def heard(self, *voices, seconds=2.0):
        target = self.folder / "out.wav"
        gain_db = write_balance(voices, target, rate_hz=RATE, frames=round(seconds * RATE))
        return soundfile.read(target)[0].T, gain_db

    def level(self, samples):
        return 10 * np.log10(np.square(samples[RATE // 2 :]).mean())

    def test_the_middle_is_3_db_down_on_either_side_and_power_stays_wherever_it_stands(self):
        """Equal power, sin/cos: -3.01 dB in the middle."""
        path = self.file(sine(440, 2, -12))
        own = self.level(sine(440, 2, -12))
        for place in (-100, -50, 0, 50, 100):
            (left, right), _ = self.heard(Voice(file=path, place=place))
            self.assertAlmostEqual(10 * np.log10(np.square(left).mean() + np.square(right).mean()), own, delta=0.02)
            if place == 0:
                self.assertAlmostEqual(self.level(left) - own, -3.01, delta=0.02)
            if place == 100:
                self.assertLess(np.abs(left).max(), 2.0**-15)

    def test_a_low_cut_takes_3_db_at_its_corner_and_12_an_octave(self):
        for hertz, expected in ((80, -3.01), (40, -12.3), (20, -24.1), (1000, 0)):
            path = self.file(sine(hertz, 4, -6))
            (left, _), _ = self.heard(Voice(file=path, place=-100, low_cut_hz=80), seconds=4.0)
            self.assertAlmostEqual(self.level(left) - self.level(sine(hertz, 4, -6)), expected, delta=0.1)

    def test_offsets_levels_and_a_sum_that_is_lowered_by_the_least(self):
        path = self.file(sine(440, 1, -1))
        (left, _), gain_db = self.heard(Voice(file=path, offset_s=0.5, place=-100))
        self.assertEqual((np.count_nonzero(left[: RATE // 2]), gain_db), (0, 0.0))
        (left, _), gain_db = self.heard(*[Voice(file=path, place=-100)] * 2)
        self.assertAlmostEqual(gain_db, -5.02, delta=0.02)
        self.assertLessEqual(np.abs(left).max(), 1.0)

    def test_what_cannot_be(self):
        for change in ({"level_db": 40.0}, {"place": 120.0}, {"low_cut_hz": 400}):
            with self.assertRaises(OutOfRange):
                Voice(file=Path("x.wav"), **change)

    def test_before_and_after_are_brought_to_one_loudness(self):
        """Against pyloudnorm, a general-purpose implementation of ITU-R BS.1770."""
        path = self.file(phrases(-20))
        loudness = []
        for number, level in enumerate((0.0, -7.0)):
            target = self.folder / f"{number}.wav"
            write_balance([Voice(file=path, level_db=level)], target, rate_hz=RATE, frames=7 * RATE)
            loudness.append(target)
        levels = []
        for target in loudness:
            with open_recording(target) as recording:
                levels.append(measure(recording).level)
        volumes = matching_volumes(*levels)
        meter = pyloudnorm.Meter(RATE)
        told = [
            meter.integrated_loudness(soundfile.read(target)[0] * volume)
            for target, volume in zip(loudness, volumes, strict=True)
        ]
        self.assertAlmostEqual(told[0], told[1], delta=0.1)

    def test_a_package_is_heard_as_it_lies(self):
        one, two = self.file(sine(440, 2, -20), "one"), self.file(sine(660, 2, -20), "two")
        write_together([one, two], self.folder / "both.wav", rate_hz=RATE, frames=2 * RATE)
        found = soundfile.read(self.folder / "both.wav")[0].T
        wanted = (sine(440, 2, -20) + sine(660, 2, -20)) * np.sqrt(0.5)
        self.assertLess(np.abs(found - wanted).max(), 2.0**-15)


class Tighten(FolderCase):
    PHRASES = (
        PhraseOffset(start_s=1.0, offset_ms=5.0, count=6),
        PhraseOffset(start_s=3.0, offset_ms=-60.0, count=6),
        PhraseOffset(start_s=5.0, offset_ms=40.0, count=6),
    )

    def test_what_lies_off_is_shifted_and_few_milliseconds_stay(self):
        found = shifts_for(self.PHRASES, shared_ms=0.0, lead_offset_s=0.0, song_s=7.0)
        self.assertEqual([one.shift_ms for one in found], [0.0, 60.0, -40.0])
        self.assertEqual((found[0].span.start_s, found[-1].span.end_s), (0.0, 7.0))
        shared = shifts_for(self.PHRASES, shared_ms=30.0, lead_offset_s=0.5, song_s=7.0)
        self.assertEqual([one.shift_ms for one in shared], [-35.0, 30.0, -70.0])
        self.assertAlmostEqual(shared[1].span.start_s, 3.38)

    def test_each_phrase_lands_where_its_lead_has_it(self):
        """Strokes that are late by a known time stand in time afterwards, and the wave itself is untouched."""
        lead, layer = np.zeros(7 * RATE), np.zeros(7 * RATE)
        stroke = noise(0.2, -20) * np.linspace(1, 0, round(0.2 * RATE))
        for start, late_ms in ((1.0, 5.0), (3.0, -60.0), (5.0, 40.0)):
            lead[round(start * RATE) :][: len(stroke)] += stroke
            layer[round((start + late_ms / 1000) * RATE) :][: len(stroke)] += stroke
        path = self.file(layer)
        shifts = shifts_for(self.PHRASES, shared_ms=0.0, lead_offset_s=0.0, song_s=7.0)
        comp = tightened(CompTake(file="one.wav"), shifts, rate_hz=RATE, song_s=7.0)
        with open_recording(path) as recording:
            sources = {
                name: LaidTake(recording, rate_hz=RATE, offset_s=take.offset_s) for name, take in comp.takes.items()
            }
            found = join_takes(comp, sources).samples[0]
        for start, late_s in ((1.0, 0.005), (3.0, 0.0), (5.0, 0.0)):
            at = round((start + late_s) * RATE)
            self.assertLess(np.abs(found[at : at + len(stroke)] - stroke).max(), 2.0**-22, start)


if __name__ == "__main__":
    unittest.main()
