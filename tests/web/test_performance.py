"""Timing and tuning on the Takes screen: measured beside the backing and other takes, never graded."""

from unittest import mock

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.web.take.performance import performance_of
from tests.signals import RATE, noise, wav
from tests.web.base import DemoCase

BEAT_S = 0.6


def hertz_of(midi, cents=0.0):
    return 440.0 * 2 ** ((midi - 69) / 12 + cents / 1200)


def sung(line, scatter_s=0.0, seed=1, start_s=1.2):
    """Return a line of (note, cents) of one beat each, some later or earlier than their beat."""
    rng = np.random.default_rng(seed)
    whole = np.zeros(round((start_s + BEAT_S * len(line) + 1.5) * RATE))
    for number, (midi, cents) in enumerate(line):
        time_s = np.arange(round(0.42 * RATE)) / RATE
        shape = np.minimum(1, time_s / 0.02) * np.minimum(1, (0.42 - time_s) / 0.05)
        tone = sum(np.sin(2 * np.pi * hertz_of(midi, cents) * part * time_s) / part for part in range(1, 6))
        place = round((start_s + BEAT_S * number + rng.normal(0, scatter_s)) * RATE)
        whole[place : place + len(time_s)] += 0.08 * shape * tone
    return whole + noise(len(whole) / RATE, -85)[: len(whole)]


def spread_ms(scatter_s, count, seed=1):
    """Return the robust deviation of the very scatter that sung() drew: 1.4826 times the median one."""
    off = np.random.default_rng(seed).normal(0, scatter_s, count)
    return 1000 * 1.4826 * np.median(np.abs(off - np.median(off)))


LINE = [(midi, 0.0) for midi in (60, 62, 64, 65, 67, 65, 64, 62, 60, 64, 67, 72, 67, 64, 60, 62)]


class Performances(DemoCase):
    def told(self, number=None):
        take = self.clarinet.takes.get(number=number) if number else self.clarinet.takes.first()
        return performance_of(self.clarinet, take)

    def backing(self, seconds=20, leak=False):
        clicks = np.zeros(seconds * RATE)
        for place in range(RATE // 2, len(clicks) - 3000, round(BEAT_S * RATE)):
            clicks[place : place + 2000] += 0.4 * np.exp(-np.arange(2000) / 300) * np.sin(np.arange(2000) / 8)
        file = SimpleUploadedFile("bed.wav", wav(clicks), "audio/wav")
        self.client.post(reverse("part:backing", args=[self.clarinet.pk]), {"backing": file})
        self.act("hookup:cue", self.clarinet, backing="80")
        return clicks

    def test_without_a_backing_only_takes_are_held_against_each_other(self):
        self.measured_take(sung(LINE), self.clarinet)
        first = self.told()
        self.assertIsNone(first.timing)
        self.assertIsNone(first.beside)
        self.measured_take(sung(LINE, scatter_s=0.02), self.clarinet)
        number, tightness = self.told().beside
        self.assertEqual((number, tightness.count), (1, len(LINE)))
        self.assertAlmostEqual(tightness.spread_ms, spread_ms(0.02, len(LINE)), delta=3)
        self.assertContains(self.page("take:page", self.clarinet), "No tempo to hold it against")

    def test_spread_is_told_against_the_backing_and_no_lag_without_an_offset(self):
        self.backing()
        self.measured_take(sung(LINE, scatter_s=0.015), self.clarinet)
        timing = self.told().timing
        self.assertTrue(timing.sure)
        self.assertAlmostEqual(timing.spread_ms, spread_ms(0.015, len(LINE)), delta=3)
        self.assertIsNone(timing.lag_ms)
        self.assertContains(self.page("take:page", self.clarinet), "own offset")

    def test_the_leak_of_the_backing_tells_the_lag(self):
        clicks = self.backing()
        late = sung(LINE, start_s=0.5 + 2 * BEAT_S + 0.04)  # the first beat falls at half a second
        take = late + 0.02 * clicks[: len(late)]
        self.measured_take(take, self.clarinet)
        self.assertAlmostEqual(self.told().timing.lag_ms, 40, delta=20)

    def test_a_flat_take_is_in_its_own_tuning_and_one_note_off_stands_out(self):
        line = [(midi, -30.0) for midi, _ in LINE]
        line[5] = (65, 10.0)
        self.measured_take(sung(line), self.clarinet)
        found = self.told()
        self.assertAlmostEqual(found.tuning.shift_cents, -30, delta=4)
        (far,) = found.far
        self.assertAlmostEqual(far.cents, 40, delta=6)
        self.assertAlmostEqual(far.note.start_s, 1.2 + 5 * BEAT_S, delta=0.08)

    def test_a_wrong_note_is_told_by_what_other_takes_hold(self):
        for _ in range(2):
            self.measured_take(sung(LINE), self.clarinet)
        wrong = list(LINE)
        wrong[3] = (64, 0.0)
        self.measured_take(sung(wrong), self.clarinet)
        found = self.told()
        self.assertTrue(found.agreed)
        self.assertEqual([one.wrong_by for one in found.far], [-1])
        self.assertContains(self.page("take:page", self.clarinet), "1 semitone below what most takes hold")

    def test_a_take_is_measured_even_where_listening_to_it_fails(self):
        with mock.patch("pneumen.web.take.services.keep_study", side_effect=ZeroDivisionError):
            with self.assertLogs("pneumen.worker"):
                take = self.measured_take(sung(LINE), self.clarinet)
        self.assertEqual(take.status, take.DONE)
        self.assertIsNone(self.told())
        self.assertNotContains(self.page("take:page", self.clarinet), "Timing and tuning")

    def test_what_plays_chords_has_no_notes(self):
        self.measured_take(sung(LINE), self.harp)
        self.assertContains(self.page("take:page", self.harp), "one note at a time")

    def test_silence_and_noise_can_be_listened_to(self):
        for sound in (np.zeros(3 * RATE), noise(3, -20), sung(LINE)[: RATE // 10]):
            self.measured_take(sound, self.clarinet)
            self.assertEqual(self.page("take:page", self.clarinet).status_code, 200)
            self.assertEqual(self.told().notes, ())
