"""Takes: taking in files, measuring beside the requests, learning, listening."""

from unittest import mock

import numpy as np
from django.conf import settings
from django.test import override_settings

from pneumen.web.job.models import Job
from pneumen.web.part.models import Part
from pneumen.web.take import services
from pneumen.web.take.models import Lesson, Take
from tests.signals import RATE, phrases, sine, wav
from tests.web.base import HTMX, DemoCase


def stored():
    return [path.name for path in settings.AUDIO.glob("*/*")]


class TakingIn(DemoCase):
    def test_an_upload_is_measured_and_shown(self):
        take = self.measured_take(phrases(-10, -80))
        self.assertEqual((take.status, stored()), (Take.DONE, [take.audio.checksum]))
        page = self.page("take:page")
        for words in (
            "Predicted beside measured",
            "If so, it tells",
            "True peak",
            "LUFS",
            "outline of take 1",
        ):
            self.assertContains(page, words)

    def test_aiff_and_flac_get_what_the_browser_can_play(self):
        aiff = self.measured_take(name="a.aiff", content=wav(container="AIFF", subtype="PCM_24"))
        self.assertTrue(aiff.preview)
        flac = self.measured_take(name="a.flac", content=wav(container="FLAC", subtype="PCM_24"))
        self.assertFalse(flac.preview)
        kinds = [self.page("take:audio", None, take.number)["Content-Type"] for take in (aiff, flac)]
        self.assertEqual(kinds, ["audio/wav", "audio/flac"])

    def test_a_copy_to_listen_to_goes_as_far_as_the_file(self):
        take = self.measured_take(content=wav(container="AIFF", subtype="PCM_16")[:200_000])
        self.assertGreater(take.preview.path.stat().st_size, 150_000)

    def test_bad_files_leave_neither_file_nor_row(self):
        many = wav(np.zeros((100, 64)))
        cases = (
            (b"", "is empty"),
            (b"hello", "not a recording"),
            (many, "64 channels"),
            (b"\0\0\0\x20ftypM4A " + bytes(50), "convert it"),
        )
        for content, message in cases:
            for options in ({}, HTMX):
                response = self.upload(content=content, name="Öl & Luft.m4a", **options)
                self.assertContains(response, message, status_code=200 if options else 422)
        self.assertEqual((Take.objects.count(), stored(), list(settings.INCOMING.iterdir())), (0, [], []))

    def test_a_take_measured_while_the_page_is_made_is_still_being_measured_on_it(self):
        """The page reads its takes, then their jobs: between the two a job may end."""
        self.upload()
        Job.objects.update(state=Take.DONE)
        page = self.page("take:page")
        self.assertContains(page, "Measuring")
        self.assertIsNone(page.context["screen"])

    def test_no_file_chosen(self):
        response = self.act("take:upload")
        self.assertContains(response, "Choose a file first", status_code=422)

    def test_a_file_too_large_is_refused_unread(self):
        with override_settings(MOST_UPLOAD_BYTES=1000):
            self.assertContains(self.upload(), "too large", status_code=413)
            by_script = self.upload(**HTMX)
            self.assertEqual((by_script.status_code, by_script["HX-Retarget"]), (413, "#upload-problem"))
        self.assertEqual(stored(), [])

    def test_not_a_number_fails_with_its_reason(self):
        broken = sine(440, 2, -12)
        broken[RATE] = np.nan
        take = self.measured_take(content=wav(broken, subtype="FLOAT"))
        self.assertEqual(take.status, Take.FAILED)
        self.assertContains(self.page("take:page"), "is not a number")
        self.act("take:delete", None, take.number)
        self.assertEqual((Take.objects.count(), stored()), (0, [take.audio.checksum]))

    def test_silent_stereo_and_lossy_files_are_shown(self):
        cases = (
            (wav(np.zeros(2 * RATE)), "The take is silent"),
            (wav(np.column_stack([phrases(), phrases()])), "Both channels are the same"),
            (wav(phrases(), subtype="VORBIS", container="OGG"), "OGG"),
            (wav(phrases(), subtype="MPEG_LAYER_III", container="MP3"), "MP3"),
        )
        for content, message in cases:
            self.measured_take(content=content)
            self.assertContains(self.page("take:page"), message)

    def test_findings_are_gathered_by_kind_what_cannot_be_mended_first(self):
        sound = phrases(-10, -80)
        time_s = np.arange(len(sound)) / RATE
        sound += 0.003 * sum(np.sin(2 * np.pi * 50 * each * time_s) / each for each in range(1, 5))
        for at in (70_000, 170_000):
            sound[at : at + 200] = 0
        self.measured_take(sound)
        page = self.page("take:page")
        said = page.context["screen"].findings
        self.assertEqual([one.kind for one in said][:1], ["dropouts"])
        self.assertIn("hum", [one.kind for one in said])
        self.assertEqual([one.verdict.gravity for one in said], sorted(one.verdict.gravity for one in said)[::-1])
        self.assertEqual([place.when for place in said[0].places], ["0:01.5", "0:03.5"])
        self.assertContains(page, "Listen to dropouts from 0:03.5")

    def test_a_finding_tells_what_the_setup_has_to_do_with_it(self):
        self.measured_take(np.clip(phrases(8, -75), -1, 1))
        said = self.page("take:page").context["screen"].findings[0]
        self.assertEqual(said.kind, "clipping")
        self.assertIn("In this chain", said.here)

    def test_pops_of_the_stand_in_go_with_the_screen(self):
        heard = []
        for screen in (False, True):
            fields = {"pop_screen": "on"} if screen else {}
            self.act("place:keep", aside="0", **fields, **{"was-pop_screen": str(not screen)})
            self.act("take:simulated")
            self.work()
            findings = self.page("take:page").context["screen"].findings
            heard.append([one.here for one in findings if one.kind == "pops"])
        (before,), after = heard
        self.assertIn("A pop screen", before)
        self.assertEqual(after, [])

    def test_cut_short_is_measured_and_said(self):
        self.measured_take(content=wav(phrases(-12, -75))[:600_000])
        self.assertContains(self.page("take:page"), "cut short")

    def test_a_row_that_cannot_be_made_leaves_no_file(self):
        with mock.patch.object(services, "_new_take", side_effect=RuntimeError), self.assertLogs("django.request"):
            with self.assertRaises(RuntimeError):
                self.upload()
        self.assertEqual(stored(), [])

    def test_the_same_file_twice_is_stored_once_and_stays_while_a_take_put_away_has_it(self):
        first, second = self.measured_take(), self.measured_take()
        self.assertEqual(len(stored()), 1)
        for take in (first, second):
            self.act("take:delete", None, take.number)
        self.assertEqual(len(stored()), 1)
        self.assertEqual(self.voice.takes.count(), 0)
        self.act("take:undo", None, second.number)
        self.assertEqual([take.number for take in self.voice.takes.all()], [second.number])
        self.assertContains(self.page("take:page"), f"Take {second.number}")


class Loop(DemoCase):
    """Plan, predict, record a test take, measure, correct: for each kind of gain control."""

    def play(self, part):
        self.act("take:simulated", part)
        self.work()
        return part.takes.first()

    def correct_and_check(self, part):
        for _ in range(3):
            self.play(part)
            todo = self.page("take:page", part).context["screen"].todo
            if todo is None:
                break
            self.act("gain:apply", part, **todo.values)
        peak = part.takes.first().measurement["level"]["sample_peak_dbfs"]
        return self.page("take:page", part).context["screen"], peak

    def test_a_second_take_lands_in_the_window(self):
        for part in (self.voice, self.harp, self.clarinet):
            with self.subTest(part.name):
                Part.objects.filter(pk=part.pk).update(
                    gain_db=12 if part == self.voice else 10, gain_chain=part.chain_name
                )
                screen, peak = self.correct_and_check(part)
                if part == self.clarinet and peak < screen.school.low_dbfs:
                    continue  # no gain control, and nearer than the nearest there is nothing
                self.assertTrue(screen.school.low_dbfs <= peak <= screen.school.high_dbfs, peak)

    def test_the_band_narrows(self):
        before = float(self.page("gain:page").context["screen"].hero_band)
        self.play(self.voice)
        self.assertLess(float(self.page("gain:page").context["screen"].hero_band), before * 0.7)

    def test_a_known_gain_tells_performer_and_room(self):
        self.play(self.voice)
        self.voice.refresh_from_db()
        self.assertTrue(Lesson.objects.get(part=self.voice, what="level").absolute)
        page = self.page("take:page")
        self.assertContains(page, "dB SPL at 1 m")
        self.assertContains(page, "The room’s noise is")
        self.voice.song.room.refresh_from_db()
        self.assertNotEqual(self.voice.song.room.noise_change_db, 0)

    def test_a_bare_knob_claims_no_sound_level(self):
        self.play(self.harp)
        self.harp.refresh_from_db()
        self.assertFalse(Lesson.objects.filter(part=self.harp, absolute=True).exists())
        page = self.page("take:page", self.harp)
        self.assertNotContains(page, "dB SPL")
        self.assertContains(page, "A bare knob does not tell")

    def test_a_clipped_take_says_so_and_asks_for_less(self):
        self.learnt_take(np.clip(phrases(8, -75), -1, 1))
        screen = self.page("take:page").context["screen"]
        self.assertEqual(screen.verdict, "baked-in")
        self.assertIn("ower the gain", screen.todo.title)
        self.assertTrue(any("only guessed" in line for line in screen.caveats))

    def test_a_take_from_another_setup_is_not_compared_with_this_one(self):
        self.play(self.voice)
        self.assertContains(self.page("gain:page"), "measured \N{MINUS SIGN}")
        self.act("gain:keep", distance="50", gain="5", school="wide")
        self.assertNotContains(self.page("gain:page"), "measured \N{MINUS SIGN}")


class Listening(DemoCase):
    def ask(self, header):
        headers = {"HTTP_RANGE": header} if header else {}
        return self.client.get(f"/parts/{self.voice.pk}/takes/1/audio/", **headers)

    def test_ranges(self):
        content = wav()
        self.measured_take(content=content)
        cases = (
            ("", 200, content),
            ("bytes=0-99", 206, content[:100]),
            ("bytes=1000-", 206, content[1000:]),
            ("bytes=-50", 206, content[-50:]),
            (f"bytes=5-{10**9}", 206, content[5:]),
            ("bytes=junk", 200, content),
        )
        for header, status, expected in cases:
            response = self.ask(header)
            self.assertEqual((response.status_code, b"".join(response.streaming_content)), (status, expected), header)
        self.assertEqual(self.ask(f"bytes={len(content)}-").status_code, 416)

    def test_a_take_that_is_not_there(self):
        self.assertEqual(self.ask("").status_code, 404)
