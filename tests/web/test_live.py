"""Listening through the page: what the script sends, the take that is kept, and what goes wrong on the way."""

import errno
import json
from unittest.mock import patch

import numpy as np
import soundfile
from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import Client
from django.urls import reverse

from pneumen.core.live import ARMED, LISTENING, RECORDING
from pneumen.web.live import desk
from pneumen.web.live.services import keep_left_over
from pneumen.web.take.models import Take
from tests.web.base import DemoCase

RATE_HZ = 48_000


def noise(seconds, dbfs, seed=1):
    return 10 ** (dbfs / 20) * np.random.default_rng(seed).standard_normal(round(seconds * RATE_HZ))


def song(seconds, peak_dbfs):
    time_s = np.arange(round(seconds * RATE_HZ)) / RATE_HZ
    swell = 0.5 + 0.5 * np.abs(np.sin(2 * np.pi * 0.4 * time_s))
    return 10 ** (peak_dbfs / 20) * swell * np.sin(2 * np.pi * 330 * time_s)


class LiveCase(DemoCase):
    def setUp(self):
        super().setUp()
        desk.DESK._open.clear()
        self.sent = 0

    def opened(self, part=None, **more):
        facts = {"device": "Hedge Two", "channel": "1", "channels": "1", "rate": str(RATE_HZ), "counted": "1"}
        facts["settings"] = json.dumps({"autoGainControl": False})
        self.part = part or self.voice
        self.part_id = self.part.pk
        answer = self.client.post(reverse("gain:live-open", args=[self.part.pk]), facts | more)
        self.key = answer.json().get("key")
        self.sent = 0
        return answer

    def address(self, act):
        return reverse(f"gain:live-{act}", args=[self.part_id, self.key])

    def sends(self, *sounds, piece_s=0.25):
        """Send sounds as the script does, and return the last answer."""
        samples = np.concatenate(sounds).astype("<f4")
        answer, frames = None, round(piece_s * RATE_HZ)
        for start in range(0, len(samples), frames):
            answer = self.sends_bytes(samples[start : start + frames].tobytes())
            self.sent += len(samples[start : start + frames]) if samples.ndim == 1 else frames
        return answer

    def sends_bytes(self, body, first=None):
        url = f"{self.address('sound')}?first={self.sent if first is None else first}"
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(url, body, content_type="application/octet-stream")

    def presses(self, act="press", **data):
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(self.address(act), data)

    def state(self):
        return desk.DESK._open[self.key].heard

    def newest(self):
        return Take.objects.filter(part=self.part).first()


class Listening(LiveCase):
    def test_it_answers_with_a_word_a_number_and_a_picture(self):
        self.opened()
        answer = self.sends(noise(2, -70), song(1, -9)).content.decode()
        for told in ("Good", "−9", "Listening", "The loudest peak is in the window", "planned −", "<svg"):
            self.assertIn(told, answer)
        self.assertContains(self.sends(song(1, -20)), "Good")  # the loudest is held
        clipped = self.sends(song(1, 0.5))
        self.assertContains(clipped, "Clips")
        self.assertContains(clipped, "samples touched full scale since listening began")
        self.assertContains(
            self.sends(noise(12, -70)), "samples touched full scale"
        )  # remembered longer than it is drawn

    def test_the_drawing_that_is_not_seen_is_not_drawn(self):
        self.opened()
        answer = self.client.post(f"{self.address('sound')}?first=0&seen=narrow", noise(1, -70).astype("<f4").tobytes(),
                                  content_type="application/octet-stream")  # fmt: skip
        self.assertEqual(answer.content.decode().count("<svg"), 1)

    def test_without_a_gain_control_the_word_is_a_distance(self):
        self.act("start:page", **self.usb())
        self.opened()
        self.assertContains(self.sends(noise(2, -70), song(1, -30)), "Closer")
        self.assertContains(self.sends(song(1, -1)), "Farther")

    def usb(self):
        from tests.web.base import answers

        return answers(self.voice, microphone="usb-condenser", usb_gain="none")

    def test_a_second_channel_can_be_the_one(self):
        self.opened(channels="2", channel="2")
        both = np.stack([song(1, -3), song(1, -20)], axis=1)
        self.assertContains(self.sends(noise(2, -70)[:, None] * [1, 1], both), "−20")

    def test_the_page_says_what_it_does(self):
        page = self.page("gain:live")
        for told in ("Listen", "Space", "Page Down", "three-quarter window", "Stand view", "needs JavaScript"):
            self.assertContains(page, told)
        self.assertContains(self.page("gain:live", stand=""), "Back to the picture")
        self.assertContains(self.page("gain:page"), "Listen at the input")
        self.assertContains(self.page("take:page"), "Record it here")


class ATake(LiveCase):
    def test_it_begins_and_ends_by_itself_and_holds_every_sample(self):
        self.opened()
        before, music, after = noise(4, -70), song(4, -10), noise(7, -70, 2)
        self.sends(noise(3, -70, 3))
        self.presses()
        self.assertEqual(self.state().phase, ARMED)
        self.sends(before, music)
        self.assertEqual(self.state().phase, RECORDING)
        self.assertContains(self.sends(after), "take 1")
        self.assertEqual(self.state().phase, LISTENING)
        take = self.newest()
        kept, rate_hz = soundfile.read(take.audio.path)
        self.assertEqual((rate_hz, take.audio.encoding), (RATE_HZ, "PCM_24"))
        whole = np.concatenate([before, music, after]).astype("<f4").astype(float)
        begun = 4 * RATE_HZ - np.argmax(np.abs(kept) > 0.02) + np.argmax(np.abs(whole[4 * RATE_HZ :]) > 0.02)
        np.testing.assert_allclose(kept, whole[begun : begun + len(kept)], atol=2**-23)
        self.assertEqual((take.origin.device, take.origin.lost, take.origin.ended_by), ("Hedge Two", 0, "quiet"))

    def test_it_is_measured_like_any_other_and_asks_how_it_was_recorded(self):
        self.opened()
        self.sends(noise(3, -70))
        self.presses()
        self.sends(noise(1, -70, 2), song(4, -10), noise(6, -70, 3))
        self.work()
        take = self.newest()
        self.assertAlmostEqual(take.to_core().level.sample_peak_dbfs, -10, delta=0.5)
        page = self.page("take:page")
        for told in ("Was it recorded as set?", "Recorded by the browser through Hedge Two, one channel, at 48 kHz."):
            self.assertContains(page, told)
        self.assertContains(page, "It is at 48 kHz, and 44.1 kHz is planned")

    def test_the_key_ends_it_and_the_next_one_is_another_file(self):
        self.opened()
        self.sends(noise(3, -70))
        for _ in range(2):
            self.presses()
            self.presses()
            self.sends(song(1, -10))
            self.presses()
        takes = list(Take.objects.filter(part=self.voice))
        self.assertEqual(len({take.audio.checksum for take in takes}), 2)
        self.assertEqual([take.origin.ended_by for take in takes], ["key", "key"])
        self.assertEqual(list(settings.LIVE.iterdir()), [])

    def test_an_input_that_goes_away_leaves_what_had_come(self):
        self.opened()
        self.sends(noise(3, -70))
        self.presses()
        self.presses()
        self.sends(song(2, -10))
        self.presses("close", why="gone")
        self.assertAlmostEqual(soundfile.info(self.newest().audio.path).duration, 4, delta=0.1)
        self.work()
        self.assertContains(self.page("take:page"), "The input went away while it was recorded")
        self.assertEqual(self.sends_bytes(b"\0" * 8).status_code, 404)

    def test_stopped_while_armed_nothing_is_kept(self):
        self.opened()
        self.sends(noise(3, -70))
        self.presses()
        self.presses("close")
        self.assertIsNone(self.newest())

    def test_lost_samples_are_told(self):
        self.opened()
        self.sends(noise(3, -70))
        self.presses()
        self.presses()
        self.sends(song(1, -10))
        self.sent += 480
        self.assertContains(self.sends(song(1, -10)), "480 samples were lost")
        self.presses()
        self.work()
        self.assertContains(self.page("take:page"), "480 samples were lost on the way: the computer was too busy")

    def test_a_pair_is_kept_on_two_channels(self):
        self.opened(channels="2", channel="0")
        both = np.stack([song(2, -10), song(2, -12)], axis=1)
        self.sends(noise(3, -70)[:, None] * [1, 1])
        self.presses()
        self.presses()
        self.sends(both)
        self.presses()
        self.assertEqual(soundfile.info(self.newest().audio.path).channels, 2)


class Altered(LiveCase):
    def test_a_browser_that_alters_the_sound_is_told_and_teaches_nothing(self):
        self.opened(settings=json.dumps({"autoGainControl": True, "noiseSuppression": True}))
        self.sends(noise(3, -70))
        self.presses()
        answer = self.sends(noise(1, -70, 2), song(4, -10), noise(6, -70, 3))
        self.assertContains(answer, "keeps its noise suppression, automatic gain on")
        self.work()
        page = self.page("take:page")
        self.assertContains(page, "Is that so?")
        self.act("take:told", None, self.newest().number)
        self.assertFalse(self.newest().lessons.exists())
        self.act("take:told", None, self.newest().number, trust="level")
        self.assertTrue(self.newest().lessons.filter(what="level").exists())  # its person says so
        self.assertFalse(self.newest().lessons.filter(what="noise").exists())


class BadInput(LiveCase):
    def test_what_is_no_sound_is_refused_in_words(self):
        self.opened()
        for body, told in ((b"123", "whole frames"), (b"", "whole frames"), (np.float32(np.nan).tobytes(), "finite")):
            answer = self.sends_bytes(body)
            self.assertEqual(answer.status_code, 422)
            self.assertIn(told, answer.json()["problem"])
        self.assertIn("First must be a number", self.sends_bytes(b"\0" * 4, first="soon").json()["problem"])

    def test_an_input_that_cannot_be_is_refused(self):
        for more in ({"channel": "3"}, {"rate": "12"}, {"channels": "0"}, {"rate": ""}, {"quiet": "0"}, {"quiet": "x"},
                     {"settings": "{"}, {"settings": "[]"}):  # fmt: skip
            with self.subTest(more):
                answer = self.opened(**more)
                self.assertEqual(answer.status_code, 422)
                self.assertTrue(answer.json()["problem"])

    def test_nobody_hears_anothers_input(self):
        self.opened()
        stranger = Client(REMOTE_ADDR="192.0.2.7")
        stranger.force_login(get_user_model().objects.create(username="stranger"))
        self.assertEqual(stranger.post(self.address("press")).status_code, 404)
        elsewhere = reverse("gain:live-press", args=[self.harp.pk, self.key])
        self.assertEqual(self.client.post(elsewhere).status_code, 404)

    def test_not_more_than_eight_at_once(self):
        for _ in range(desk.MOST_OPEN):
            self.assertEqual(self.opened().status_code, 200)
        self.assertContains(self.opened(), "close some of them", status_code=422)

    def test_a_page_that_was_left_makes_room_and_its_take_is_kept(self):
        self.opened()
        self.sends(noise(3, -70))
        self.presses()
        self.presses()
        self.sends(song(1, -10))
        desk.DESK._open[self.key].touched -= 2 * desk.GONE_AFTER_S
        self.opened()
        self.assertEqual(self.newest().origin.ended_by, "gone")
        self.assertEqual(len(desk.DESK._open), 1)

    def test_a_program_that_was_killed_leaves_a_take(self):
        self.opened()
        self.sends(noise(3, -70))
        self.presses()
        self.presses()
        self.sends(song(1, -10))
        desk.DESK._open.clear()  # as after a kill: the file alone is there
        with self.captureOnCommitCallbacks(execute=True):
            keep_left_over()
        self.assertEqual(self.newest().origin.ended_by, "torn")
        self.assertAlmostEqual(soundfile.info(self.newest().audio.path).duration, 3, delta=0.1)
        keep_left_over()
        self.assertEqual(Take.objects.filter(part=self.voice).count(), 1)

    def test_a_full_disk_keeps_what_had_come(self):
        self.opened()
        self.sends(noise(3, -70))
        self.presses()
        self.presses()
        self.sends(song(1, -10))
        with patch.object(desk.Listening, "take_in", side_effect=OSError(errno.ENOSPC, "full")):
            self.assertContains(self.sends(song(0.2, -10)), "The disk was full", status_code=507)
        self.assertEqual(self.newest().origin.ended_by, "full")

    def test_a_part_that_is_gone_leaves_nothing_behind(self):
        self.opened(self.harp)
        self.sends(noise(3, -70))
        self.presses()
        self.presses()
        self.sends(song(1, -10))
        self.harp.delete()
        self.presses("close")
        self.assertEqual(list(settings.LIVE.iterdir()), [])


class TheLine(LiveCase):
    """One line said softly, loudly, softly checks an input; it is no take."""

    def said(self, samples):
        self.opened(rate="44100", purpose="line")
        self.assertEqual(self.state().phase, ARMED)
        self.sends(noise(2, -70)[: 2 * 44_100])
        self.sends(samples)
        return self.presses("close").content.decode()

    def test_an_honest_input_is_said_to_be_one(self):
        from tests.core.test_riding import recorded

        self.assertIn("The input leaves the sound alone", self.said(recorded(1)))
        self.assertIsNone(self.newest())
        self.assertContains(self.page("gain:live"), "Hedge Two.")

    def test_a_hidden_gate_follows_the_takes_of_that_input(self):
        from tests.core.test_riding import gate, recorded

        self.assertIn("A gate is at work", self.said(gate(recorded(1))))
        self.opened()
        self.assertContains(self.sends(noise(1, -70)), "The check of this input found a gate")
        self.presses()
        self.presses()
        self.sends(song(1, -10))
        self.presses()
        self.assertTrue(self.newest().origin.alters_levels)
        self.opened(device="Another")
        self.assertNotContains(self.sends(noise(1, -70)), "found a gate")

    def test_a_line_that_tells_nothing_says_why(self):
        self.assertIn("The check told nothing", self.said(np.concatenate([noise(2, -70), song(2, -20), noise(2, -70)])))
