"""Delay: one round trip on every screen, the buffer planned and set, what was seen, and the way round."""

import io

import numpy as np
import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.core.delay import BUFFERS, round_trip_ms
from pneumen.core.delay import test_signal as signal_of
from pneumen.core.rig import latency_samples
from pneumen.core.verdict import Verdict
from pneumen.web.delay.plan import delay_of
from pneumen.web.delay.show import delay_screen
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.wording.figures import figure
from tests.web.base import HTMX, DemoCase, answers


class DelayCase(DemoCase):
    def fresh(self, part=None):
        return Part.objects.whole().get(pk=(part or self.voice).pk)

    def screen(self, part=None):
        return delay_screen(self.fresh(part))

    def send(self, samples, rate_hz=44_100, **sent):
        out = io.BytesIO()
        soundfile.write(out, samples, rate_hz, format="WAV", subtype="PCM_24")
        file = SimpleUploadedFile("back.wav", out.getvalue(), "audio/wav")
        address = reverse("delay:loop", args=[self.voice.pk])
        return self.client.post(address, {"recording": file, **sent}, follow=True)


class Page(DelayCase):
    def test_the_round_trip_is_the_same_on_every_screen(self):
        ms = outcome_of(self.fresh()).setup.round_trip_ms
        self.assertEqual(ms, self.screen().plan.round_trip_ms)
        self.assertAlmostEqual(ms, round_trip_ms(256, 44_100), 6)
        self.assertContains(self.page("delay:page"), f"{figure(ms)} ms through the computer")
        self.assertContains(self.page("start:page"), "256 samples")
        self.assertContains(self.page("hookup:page"), f"{figure(ms)} ms later")

    def test_segments_add_up_and_lie_on_their_paper(self):
        screen = self.screen()
        self.assertAlmostEqual(sum(one.ms for one in screen.plan.way), screen.plan.round_trip_ms)
        for journey in screen.journeys:
            self.assertTrue(journey.start_x < journey.end_x < journey.frame.width)
            self.assertEqual(len(journey.stretches), len(screen.plan.way))

    def test_a_recorder_has_no_buffer(self):
        self.act("start:page", **answers(self.voice, source="horn", microphone="recorder"))
        page = self.page("delay:page")
        self.assertContains(page, "plays what it hears at once")
        self.assertIsNone(page.context["screen"].plan)

    def test_what_is_set_reaches_every_screen_and_goes_back(self):
        self.act("delay:keep", **{"buffer": "512", "was-buffer": "256"})
        ms = outcome_of(self.fresh()).setup.round_trip_ms
        self.assertAlmostEqual(ms, round_trip_ms(512, 44_100), 6)
        self.assertContains(self.page("start:page"), "512 samples")
        self.act("delay:planned")
        self.assertEqual(self.screen().plan.buffer, 256)

    def test_a_drag_is_tried_out_and_not_stored(self):
        tried = self.client.get(f"/parts/{self.voice.pk}/delay/tried/?buffer=96&was-buffer=256", **HTMX)
        self.assertEqual(tried.context["screen"].plan.buffer, 96)
        self.assertEqual(self.screen().plan.buffer, 256)
        refused = self.client.get(f"/parts/{self.voice.pk}/delay/tried/?buffer=0&was-buffer=256", **HTMX)
        self.assertContains(refused, "Buffer must be between")
        self.assertEqual(refused.context["screen"].plan.buffer, 256)

    def test_what_cannot_be_is_refused_and_nothing_is_stored(self):
        for field, value in (
            ("buffer", "0"),
            ("buffer", "99999999"),
            ("plugins", "-1"),
            ("buffer", "many"),
            ("load", "x"),
        ):
            answer = self.act("delay:keep", **{field: value, f"was-{field}": ""})
            self.assertEqual(answer.status_code, 422, (field, value))
        self.assertIsNone(self.fresh().song.buffer)

    def test_plug_ins_and_load_count(self):
        before = self.screen().plan.round_trip_ms
        self.act("delay:keep", **{"plugins": "441", "was-plugins": "0"})
        self.assertAlmostEqual(self.screen().plan.round_trip_ms, before + 10, 3)
        self.act("delay:keep", **{"load": "models", "was-load": "plain"})
        self.assertGreater(self.screen().plan.buffer, 256)


class Verdicts(DelayCase):
    def own(self, way):
        self.act("delay:keep", **{"own": way, "was-own": ""})
        return self.screen()

    def test_the_way_one_hears_oneself_decides(self):
        self.assertEqual(self.own("direct").verdict, Verdict.CLEAR)
        through = self.own("computer")
        self.assertEqual(through.verdict, Verdict.MENDABLE)
        self.assertIn("it disturbs", through.sentence)
        twice = self.own("both")
        self.assertIn("it combs", twice.sentence)
        self.assertContains(self.page("hookup:page"), "a second time at once")  # one answer on both screens
        self.assertEqual(self.own("none").verdict, Verdict.CLEAR)

    def test_heard_twice_is_no_clear_however_quick(self):
        self.act("delay:keep", **{"buffer": "32", "was-buffer": "256"})
        self.act("delay:seen", buffer="32", what="held", minutes="30")
        self.assertEqual(self.own("both").verdict, Verdict.WATCH)


class SeenOnes(DelayCase):
    def words(self):
        return {one.buffer: one.word for one in self.screen().plan.chances}

    def test_what_crackled_moves_the_planned_buffer(self):
        self.act("delay:seen", buffer="256", what="crackled")
        self.assertEqual([self.words()[size] for size in (32, 256, 512)], ["likely", "likely", "unlikely"])
        self.assertEqual(self.screen().plan.buffer, 512)
        self.assertContains(self.page("delay:page"), "256 samples: it crackled")

    def test_ten_minutes_count_two_do_not(self):
        self.act("delay:seen", buffer="64", what="held", minutes="2")
        self.assertEqual(self.words()[64], "unknown")
        self.act("delay:seen", buffer="64", what="held", minutes="10")
        self.assertEqual(self.words()[64], "unlikely")
        self.assertEqual(self.screen().plan.buffer, 64)
        self.assertEqual(len(self.screen().seen), 1)  # the newest at one size holds

    def test_a_buffer_that_crackled_and_is_used_all_the_same_is_baked_in(self):
        self.act("delay:seen", buffer="128", what="crackled")
        self.act("delay:keep", **{"buffer": "64", "was-buffer": "256"})
        self.assertEqual(self.screen().verdict, Verdict.BAKED_IN)
        self.assertContains(self.page("gain:page"), "Would bake in")

    def test_it_is_taken_back_and_bad_input_is_told(self):
        self.act("delay:seen", buffer="128", what="crackled")
        self.act("delay:seen", remove=self.screen().seen[0].number)
        self.assertEqual(self.screen().seen, ())
        for sent in (
            {"buffer": "128", "what": "held", "minutes": "0"},
            {"buffer": "0", "what": "crackled"},
            {"buffer": "x", "what": "crackled"},
            {"buffer": "128", "what": "held", "minutes": "-3"},
            {"remove": "x"},
        ):
            answer = self.client.post(reverse("delay:seen", args=[self.voice.pk]), sent, follow=True)
            self.assertTrue(list(answer.context["messages"]), sent)
        self.assertEqual(self.screen().seen, ())


class Loops(DelayCase):
    def test_the_stand_ins_own_latency_is_found(self):
        plan = delay_of(self.fresh())
        self.act("delay:loop", simulate="1")
        row = self.fresh().song.loops.first()
        self.assertLess(abs(row.offset_samples - latency_samples(plan.round_trip_ms, 44_100, self.voice.pk)), 0.1)
        self.assertContains(self.page("delay:page"), "Simulated: it says nothing of your own gear")
        self.assertEqual(self.screen().plan.measured_ms, None)  # what is simulated replaces nothing

    def test_a_bare_loop_stands_in_place_of_what_was_worked_out(self):
        self.send(np.concatenate([np.zeros(700), signal_of(44_100)]), through="bare")
        self.assertAlmostEqual(self.screen().plan.round_trip_ms, 1000 * 700 / 44_100, 2)
        self.assertAlmostEqual(outcome_of(self.fresh()).setup.round_trip_ms, 1000 * 700 / 44_100, 2)
        self.act("delay:keep", **{"buffer": "64", "was-buffer": "256"})  # at another buffer it says nothing
        self.assertAlmostEqual(self.screen().plan.round_trip_ms, round_trip_ms(64, 44_100), 6)

    def test_through_a_program_it_is_the_offset_to_enter(self):
        page = self.send(np.concatenate([np.zeros(132), -signal_of(44_100)]), through="program")
        self.assertContains(page, "132.0 samples (2.99 ms) late")
        self.assertContains(page, "moved earlier")
        self.assertContains(page, "Polarity is inverted")
        self.assertContains(page, "One clock")
        self.assertIsNone(self.screen().plan.measured_ms)
        self.act("delay:loop", forget="1")
        self.assertIsNone(self.screen().loop)

    def test_bad_files_are_told_and_keep_nothing(self):
        for samples, rate_hz, told in (
            (signal_of(48_000), 48_000, "record at the song"),
            (np.zeros(44_100), 44_100, "silent"),
            (0.1 * np.random.default_rng(2).normal(size=3 * 44_100), 44_100, "not in the recording"),
        ):
            self.assertContains(self.send(samples, rate_hz, through="bare"), told)
        self.assertContains(self.send(signal_of(44_100), through="ether"), "through")
        empty = self.client.post(reverse("delay:loop", args=[self.voice.pk]), {}, follow=True)
        self.assertContains(empty, "Choose the recording of the test file first")
        self.assertFalse(self.fresh().song.loops.exists())

    def test_a_compensation_that_is_right_has_nothing_to_enter(self):
        page = self.send(signal_of(44_100), through="program")
        self.assertContains(page, "there is nothing to enter")
        self.assertNotContains(page, "Enter it as recording offset")

    def test_what_clips_is_measured_and_told(self):
        clipped = np.clip(20 * np.concatenate([np.zeros(480), signal_of(44_100)]), -1, 1)
        page = self.send(clipped, through="program")
        self.assertContains(page, "clips: turn the output down")
        self.assertContains(page, "480.0 samples")

    def test_a_way_round_without_compensation_is_never_early(self):
        self.assertContains(self.send(signal_of(44_100)[300:], through="bare"), "300.0 samples early")
        self.assertFalse(self.fresh().song.loops.exists())

    def test_the_test_file_is_at_the_songs_rate(self):
        answer = self.page("delay:test-file")
        samples, rate_hz = soundfile.read(io.BytesIO(answer.content))
        self.assertEqual((rate_hz, len(samples)), (44_100, len(signal_of(44_100))))


class Curve(DelayCase):
    def test_every_size_has_its_word(self):
        lost = self.screen().lost
        self.assertEqual([size.label for size in lost.sizes], [f"{size}" for size in BUFFERS])
        self.assertEqual([size.is_chosen for size in lost.sizes].index(True), BUFFERS.index(256))
