"""Takes: taking in files, measuring beside the requests, learning, listening."""

import errno
from unittest import mock

import numpy as np
from django.conf import settings
from django.db import OperationalError
from django.test import override_settings

from pneumen.web.job.models import Job
from pneumen.web.job.services import take_up_again, wake_by
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
            "What this take taught",
            "True peak",
            "LUFS",
            "The outline of take 1",
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


class Work(DemoCase):
    def test_a_killed_worker_is_followed_by_another(self):
        self.upload()
        Job.objects.update(state=Take.WORKING, attempts=1)
        self.assertFalse(self.work())
        take_up_again()
        self.assertTrue(self.work())
        self.assertEqual(Take.objects.get().status, Take.DONE)

    def test_a_file_that_kills_its_worker_twice_is_set_aside_and_told(self):
        self.upload()
        Job.objects.update(state=Take.WORKING, attempts=2)
        take_up_again()
        self.assertFalse(self.work())
        self.assertContains(self.page("take:page"), "ended the program twice")
        self.assertEqual(stored(), [Take.objects.get().audio.checksum])

    def test_what_failed_is_tried_again_by_one_press(self):
        self.upload()
        Job.objects.update(state=Take.FAILED, attempts=2, error="the disk is full: free some space, then try again")
        page = self.page("take:page")
        self.assertContains(page, "the disk is full")
        self.assertContains(page, "Try again")
        self.act("take:again", None, self.voice.takes.get().number)
        self.assertTrue(self.work())
        self.assertEqual(self.voice.takes.get().status, Take.DONE)

    def test_only_what_failed_is_tried_again(self):
        take = self.measured_take()
        self.act("take:again", None, take.number)
        self.assertFalse(self.work())

    def test_a_full_disk_is_named_and_a_held_database_is_waited_for(self):
        self.upload()
        full = OSError(errno.ENOSPC, "No space left on device")
        with mock.patch.object(services, "_measure", side_effect=full), self.assertLogs("pneumen.worker"):
            self.work()
        self.assertContains(self.page("take:page"), "the disk is full")
        self.act("take:again", None, self.voice.takes.get().number)
        held = OperationalError("database is locked")
        with mock.patch.object(services, "_measure", side_effect=held), self.assertRaises(OperationalError):
            self.work()
        self.assertEqual(self.voice.takes.get().status, Take.WORKING)
        take_up_again()  # as the worker does before each piece of work
        self.assertTrue(self.work())
        self.assertEqual(self.voice.takes.get().status, Take.DONE)

    def test_short_ones_are_measured_before_long_ones(self):
        self.upload(phrases(count=6))
        self.upload(phrases(count=1))
        long, short = self.voice.takes.order_by("number")
        self.work()
        self.assertEqual([take.status for take in (long, short)], [Take.WAITING, Take.DONE])

    def test_a_short_one_that_comes_later_is_measured_in_between(self):
        self.upload(phrases(count=6))
        seen = []

        def short_comes(audio, tell):
            with mock.patch.object(services, "_measure", measure_now):
                self.upload(phrases(count=1))
                tell(0.5)
            seen.extend(take.status for take in self.voice.takes.order_by("number"))
            return measure_now(audio, tell)

        measure_now = services._measure
        with mock.patch.object(services, "_measure", short_comes):
            self.work()
        self.assertEqual(seen, [Take.WORKING, Take.DONE])
        self.assertEqual({take.status for take in self.voice.takes.all()}, {Take.DONE})

    def test_a_database_that_could_not_be_written_is_no_attempt(self):
        self.upload()
        for _ in range(5):
            Job.objects.update(state=Take.WORKING, attempts=1)
            take_up_again(killed=False)
        self.assertEqual((Job.objects.get().state, Job.objects.get().attempts), (Take.WAITING, 0))

    def test_a_take_put_away_stops_the_work_on_it(self):
        self.upload()
        take = self.voice.takes.get()

        def measured(audio, tell):
            services.put_take_away(take)
            tell(0.5)
            raise AssertionError("it was told to stop")

        with mock.patch.object(services, "_measure", measured):
            self.assertTrue(self.work())
        self.assertFalse(Job.objects.exists())

    def test_the_worker_is_woken_when_the_work_is_stored(self):
        rung = []
        wake_by(lambda: rung.append(Job.objects.count()))
        self.addCleanup(wake_by, lambda: None)
        self.upload()
        self.assertEqual(rung, [1])

    def test_a_fault_in_one_take_does_not_stop_the_next(self):
        self.upload(), self.upload()
        with mock.patch.object(services, "_measure", side_effect=ZeroDivisionError), self.assertLogs("pneumen.worker"):
            self.assertTrue(self.work())
        self.assertTrue(self.work())
        self.assertEqual(sorted(take.status for take in Take.objects.all()), [Take.DONE, Take.FAILED])

    def test_a_take_deleted_while_it_is_measured_stays_deleted(self):
        for act in (self.upload, lambda: self.act("take:simulated")):
            act()
            real = services._measure

            def measure_late(take, tell, real=real):
                result = real(take, tell)
                services.put_take_away(Take.objects.get())
                return result

            with mock.patch.object(services, "_measure", measure_late):
                self.work()
            self.assertEqual(Take.objects.count(), 0)
            self.assertIsNone(Take.everything.first().measurement)

    def test_a_simulated_take_never_teaches_a_part_that_a_real_one_has_told_of(self):
        self.act("take:simulated")
        self.work()
        self.assertTrue(Lesson.objects.get().take.simulated)
        self.assertContains(self.page("gain:page"), "simulated take 1")
        real = self.measured_take(phrases(-20.0))
        learnt = Lesson.objects.get().levels
        self.assertEqual(Lesson.objects.get().take, real)
        self.act("take:simulated")
        self.work()
        self.assertEqual((Lesson.objects.get().take, Lesson.objects.get().levels), (real, learnt))
        self.assertContains(self.page("take:page"), "Nothing is learnt from it: a real take has told of this part")
        self.act("take:delete", None, real.number)
        self.act("song:remove-take", None, real.number)
        self.act("take:simulated")
        self.work()
        self.assertEqual(Lesson.objects.get().levels, learnt)  # what it taught outlives it until it is forgotten

    def test_a_simulated_take_plays_the_setup_it_was_asked_for(self):
        self.act("take:simulated")
        self.act("gain:keep", distance="60", gain="0", school="wide")
        self.work()
        take = self.voice.takes.get()
        self.assertGreater(take.measurement["level"]["sample_peak_dbfs"], -20)

    def test_progress_is_told_until_the_page_reloads(self):
        self.upload()
        status = self.client.get(f"/parts/{self.voice.pk}/takes/1/status/", **HTMX)
        self.assertContains(status, "Waiting for its turn")
        self.work()
        self.assertEqual(self.client.get(f"/parts/{self.voice.pk}/takes/1/status/", **HTMX)["HX-Refresh"], "true")

    def test_moving_a_slider_later_rewrites_no_history(self):
        take = self.measured_take()
        before = take.snapshot
        self.act("gain:keep", distance="50", gain="5", school="wide")
        take.refresh_from_db()
        self.assertEqual(take.snapshot, before)


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
        self.assertLess(float(self.page("gain:page").context["screen"].hero_band), before / 2)

    def test_a_known_gain_tells_performer_and_room(self):
        self.play(self.voice)
        self.voice.refresh_from_db()
        self.assertTrue(Lesson.objects.get(part=self.voice).absolute)
        page = self.page("take:page")
        self.assertContains(page, "dB SPL at 1 m")
        self.assertContains(page, "The room’s noise is")
        self.voice.song.room.refresh_from_db()
        self.assertNotEqual(self.voice.song.room.noise_change_db, 0)

    def test_a_bare_knob_claims_no_sound_level(self):
        self.play(self.harp)
        self.harp.refresh_from_db()
        self.assertFalse(Lesson.objects.get(part=self.harp).absolute)
        page = self.page("take:page", self.harp)
        self.assertNotContains(page, "dB SPL")
        self.assertContains(page, "A bare knob does not tell")

    def test_forgetting_goes_back_to_the_guess(self):
        before = self.page("gain:page").context["screen"].hero
        self.play(self.voice)
        self.act("take:forget")
        self.voice.refresh_from_db()
        self.assertFalse(Lesson.objects.exists())
        self.assertEqual(self.page("gain:page").context["screen"].hero, before)

    def test_a_clipped_take_says_so_and_asks_for_less(self):
        self.measured_take(np.clip(phrases(8, -75), -1, 1))
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
