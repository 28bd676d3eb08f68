"""Timing and tuning, against notes whose time and pitch are known (MIDI tuning: A 440, equal temperament)."""

import unittest

import numpy as np
from scipy.signal import butter, sosfilt

from pneumen.core.errors import OutOfRange
from pneumen.core.part import SOURCES
from pneumen.core.performance import (
    Note,
    Tuning,
    is_melodic,
    meant,
    notes_in,
    off_cents,
    onsets_of,
    pitch_of,
    study_of,
    tightness_of,
    timing_of,
    tuning_of,
    tuning_of_sound,
)
from tests.material.sounds import played
from tests.signals import RATE, noise

CLARINET, TRUMPET, PIANO, HARP = 71, 56, 0, 46


def hertz_of(midi):
    """Return a note's frequency: A4 is note 69 and 440 Hz, a semitone the twelfth root of two (MIDI 1.0)."""
    return 440.0 * 2 ** ((midi - 69) / 12)


def tone(hertz, seconds, rate=RATE):
    """Return a tone with five partials; hertz a figure or a function of time."""
    time_s = np.arange(round(seconds * rate)) / rate
    phase = 2 * np.pi * np.cumsum(np.broadcast_to(hertz(time_s) if callable(hertz) else hertz, time_s.shape)) / rate
    return 0.1 * sum(np.sin(number * phase) / number for number in range(1, 6))


def notes(*midi):
    return tuple(Note(start_s=n, end_s=n + 0.9, hertz=hertz_of(one), sure=1.0) for n, one in enumerate(midi))


class Pitch(unittest.TestCase):
    def test_steady_tones_to_a_few_cents(self):
        for hertz in (82.4, 220.0, 440.0, 1046.5):
            track = pitch_of(tone(hertz, 1) + noise(1, -80), RATE)
            cents = 1200 * np.log2(track.hertz[10:-10] / hertz)
            self.assertLess(np.nanmax(np.abs(cents)), 3, hertz)
            self.assertFalse(np.isnan(cents).any())

    def test_vibrato_is_followed(self):
        track = pitch_of(tone(lambda t: 440 * 2 ** (np.sin(2 * np.pi * 5.5 * t) * 50 / 1200), 2), RATE)
        cents = track.cents[20:-20]
        self.assertAlmostEqual(cents.max(), 50, delta=5)
        self.assertAlmostEqual(cents.min(), -50, delta=5)
        self.assertAlmostEqual(np.median(cents), 0, delta=4)

    def test_silence_and_noise_have_no_pitch(self):
        self.assertTrue(np.isnan(pitch_of(np.zeros(RATE), RATE).hertz).all())
        self.assertGreater(np.isnan(pitch_of(noise(2, -20), RATE).hertz).mean(), 0.9)

    def test_octaves_are_not_confused_in_real_instruments(self):
        for program, midi in ((CLARINET, 58), (TRUMPET, 67), (40, 69)):
            sound = played(program, ((0.5, 1.5, midi, 90),), 2.6)
            cents = pitch_of(np.asarray(sound), 48_000).cents[80:180] - 100 * (midi - 69)
            self.assertLess(abs(np.nanmedian(cents)), 15, program)

    def test_what_cannot_be_told_is_refused(self):
        for how in ({"lowest_hz": 5}, {"lowest_hz": 400, "highest_hz": 500}):
            with self.assertRaises(OutOfRange):
                pitch_of(np.zeros(RATE), RATE, **how)
        self.assertEqual(len(pitch_of(np.zeros(10), RATE).hertz), 0)


class Notes(unittest.TestCase):
    def test_a_scale_is_cut_into_its_notes(self):
        scale = (60, 62, 64, 65, 67, 69, 71, 72)
        sound = np.concatenate([tone(hertz_of(one), 0.4) for one in scale])
        found = notes_in(pitch_of(sound, RATE))
        self.assertEqual([round(69 + note.cents / 100) for note in found], list(scale))
        for number, note in enumerate(found):
            self.assertAlmostEqual(note.start_s, 0.4 * number, delta=0.05)

    def test_vibrato_is_one_note_and_a_slide_between_two_none_of_its_own(self):
        wide = tone(lambda t: 440 * 2 ** (np.sin(2 * np.pi * 6 * t) * 60 / 1200), 1.5)
        self.assertEqual(len(notes_in(pitch_of(wide, RATE))), 1)
        slide = tone(lambda t: 440 * 2 ** (np.clip((t - 0.6) / 0.08, 0, 1) * 4 / 12), 1.4)
        found = notes_in(pitch_of(slide, RATE))
        self.assertEqual([round(note.cents / 100) for note in found], [0, 4])

    def test_tuning_is_where_notes_gather(self):
        sharp = [Note(start_s=n, end_s=n + 1, hertz=hertz_of(60 + n) * 2 ** (17 / 1200), sure=1) for n in (0, 2, 4, 7)]
        found = tuning_of(sharp)
        self.assertAlmostEqual(found.shift_cents, 17, places=6)
        self.assertTrue(found.sure)
        self.assertAlmostEqual(off_cents(sharp[1], -7, found), 0, places=6)
        scattered = [Note(start_s=n, end_s=n + 1, hertz=440 * 2 ** (25 * n / 1200), sure=1) for n in range(4)]
        self.assertFalse(tuning_of(scattered).sure)
        self.assertIsNone(tuning_of([]))

    def test_the_tuning_of_any_music(self):
        chords = tuple((0.3 + 0.5 * n, 0.45, midi, 90) for n in range(8) for midi in (60 + n, 64 + n, 67 + n))
        sound = np.asarray(played(PIANO, chords, 5.0))
        plain = tuning_of_sound(sound, 48_000)
        self.assertLess(abs(plain.shift_cents), 6)
        sharp = tuning_of_sound(sound, 48_000 * 2 ** (20 / 1200))
        self.assertAlmostEqual(sharp.shift_cents - plain.shift_cents, 20, delta=3)
        self.assertIsNone(tuning_of_sound(np.zeros(48_000), 48_000))

    def test_what_most_takes_hold_was_meant(self):
        line, tuning = notes(60, 62, 64, 65, 67), Tuning(a_hz=440.0, agreement=1.0)
        wrong = notes(60, 62, 63, 65, 67)
        told = meant(wrong, [line, line], tuning)
        self.assertEqual(told, (-9, -7, -5, -4, -2))
        late = meant(line, [line[1:], (*line, *notes(72))], tuning)
        self.assertEqual(late, (-9, -7, -5, -4, -2))
        self.assertEqual(meant(line, [], tuning), (None,) * 5)
        self.assertEqual(meant(line, [notes(60), notes(61)], tuning)[1:], (None,) * 4)


class Onsets(unittest.TestCase):
    def strokes(self, program, count=20):
        rng = np.random.default_rng(9)
        at = 0.6 + 0.4 * np.arange(count) + rng.normal(0, 0.015, count)
        line = tuple((float(one), 0.3, int(60 + rng.integers(0, 12)), 95) for one in at)
        return at, np.asarray(played(program, line, 0.4 * count + 1.5))

    def test_real_strokes_are_found_where_they_are(self):
        for program in (PIANO, HARP, CLARINET, TRUMPET):
            at, sound = self.strokes(program)
            found = onsets_of(sound, 48_000, voice=False)
            off = np.array([found[np.abs(found - one).argmin()] - one for one in at])
            self.assertGreater((np.abs(off) < 0.04).mean(), 0.95, program)
            self.assertLess(np.std(off[np.abs(off) < 0.04]), 0.008, program)
            self.assertLessEqual(len(found), len(at) + 2)

    def test_a_syllable_begins_with_its_vowel(self):
        """Morton, Marcus and Frankish, 1976: consonants before it move what is heard as its time by little."""
        rng, sound, vowels = np.random.default_rng(2), np.zeros(9 * RATE), []
        for number in range(16):
            begin = 0.7 + 0.5 * number
            time_s = np.arange(round(0.3 * RATE)) / RATE
            vowel = np.minimum(1, time_s / 0.03) * np.minimum(1, (0.3 - time_s) / 0.05) * tone(180, 0.3)
            place = round(begin * RATE)
            sound[place : place + len(vowel)] += vowel
            if number % 2:
                hiss = sosfilt(butter(3, (4500, 9000), "bandpass", fs=RATE, output="sos"), rng.standard_normal(6000))
                sound[place - 6000 : place] += 0.1 * hiss * np.hanning(6000)
            vowels.append(begin)
        found = onsets_of(sound + noise(9, -80), RATE, voice=True)
        self.assertEqual(len(found), len(vowels))
        self.assertLess(np.ptp(found - vowels), 0.012)

    def test_nothing_begins_in_silence(self):
        self.assertEqual(len(onsets_of(np.zeros(RATE), RATE, voice=True)), 0)
        self.assertEqual(len(onsets_of(np.zeros(9), RATE, voice=False)), 0)


class Timings(unittest.TestCase):
    def test_spread_lag_and_grid_are_those_it_was_made_with(self):
        rng = np.random.default_rng(1)
        for division, scatter_ms in ((1, 8), (2, 15), (3, 20)):
            grid = 0.6 / division
            at = 2.0 + 0.03 + grid * np.arange(80) + rng.normal(0, scatter_ms / 1000, 80)
            found = timing_of(at, 0.6, first_beat_s=2.0)
            self.assertEqual(found.division, division)
            self.assertAlmostEqual(found.lag_ms, 30, delta=6)
            self.assertAlmostEqual(found.spread_ms, scatter_ms, delta=0.35 * scatter_ms)
            self.assertTrue(found.sure)

    def test_without_a_known_offset_no_lag_is_told(self):
        at = 0.2 + 0.5 * np.arange(20)
        self.assertIsNone(timing_of(at, 0.5).lag_ms)

    def test_who_runs_away_drifts(self):
        at = 1.0 + 0.5 * np.arange(60)
        self.assertAlmostEqual(timing_of(at * (1 - 0.0005), 0.5).drift_ms_per_min, -30, delta=3)
        self.assertAlmostEqual(timing_of(at, 0.5).drift_ms_per_min, 0, delta=0.1)

    def test_notes_anywhere_are_no_timing(self):
        at = np.sort(np.random.default_rng(3).uniform(0, 30, 60))
        self.assertFalse(timing_of(at, 0.5).sure)
        self.assertIsNone(timing_of(at[:2], 0.5))
        with self.assertRaises(OutOfRange):
            timing_of(at, 0.0)

    def test_a_double_is_as_tight_as_it_is(self):
        rng = np.random.default_rng(4)
        lead = np.cumsum(rng.uniform(0.25, 0.7, 50))
        double = np.sort(np.delete(lead + 0.4 + rng.normal(0, 0.02, 50), (7, 30)))
        found = tightness_of(lead, double)
        self.assertAlmostEqual(found.lag_ms, 400, delta=12)
        self.assertAlmostEqual(found.spread_ms, 20, delta=8)
        self.assertGreater(found.count, 40)
        self.assertIsNone(tightness_of(lead, lead[:2]))


class Studies(unittest.TestCase):
    def test_only_what_plays_one_note_at_a_time_has_notes(self):
        sound = tone(300, 1)
        for slug, melodic in (("voice-pop", True), ("clarinet", True), ("lever-harp", False), ("spoken-word", False)):
            self.assertEqual(is_melodic(SOURCES[slug]), melodic)
            self.assertEqual(study_of(sound, RATE, SOURCES[slug]).notes is not None, melodic)
