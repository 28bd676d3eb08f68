"""Work beside the requests: in order, taken up again, cancelled, and what is learnt from it."""

import errno
from unittest import mock

from django.conf import settings
from django.db import OperationalError

from pneumen.core.verdict import Verdict
from pneumen.web.job.models import Job
from pneumen.web.job.services import take_up_again, wake_by
from pneumen.web.take import services
from pneumen.web.take.models import Lesson, Take
from tests.signals import phrases
from tests.web.base import HTMX, DemoCase


def stored():
    return [path.name for path in settings.AUDIO.glob("*/*")]


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

        def short_comes(take, audio, tell):
            with mock.patch.object(services, "_measure", measure_now):
                self.upload(phrases(count=1))
                tell(0.5)
            seen.extend(take.status for take in self.voice.takes.order_by("number"))
            return measure_now(take, audio, tell)

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

        def measured(_, audio, tell):
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

            def measure_late(take, audio, tell, real=real):
                result = real(take, audio, tell)
                services.put_take_away(Take.objects.get())
                return result

            with mock.patch.object(services, "_measure", measure_late):
                self.work()
            self.assertEqual(Take.objects.count(), 0)
            self.assertIsNone(Take.everything.first().measurement)

    def test_a_simulated_take_never_teaches_a_part_that_a_real_one_has_told_of(self):
        self.act("take:simulated")
        self.work()
        self.assertTrue(Lesson.objects.get(what="level").take.simulated)
        self.assertContains(self.page("gain:page"), "simulated take 1")
        real = self.learnt_take(phrases(-20.0))
        learnt = Lesson.objects.filter(what="level").first().levels
        self.assertEqual(Lesson.objects.filter(what="level").first().take, real)
        self.act("take:simulated")
        self.work()
        newest = Lesson.objects.filter(what="level").first()
        self.assertEqual((newest.take, newest.levels), (real, learnt))
        self.assertContains(self.page("take:page"), "Nothing is learnt from it: a real take has told of this part")
        self.act("take:delete", None, real.number)
        self.act("song:remove-take", None, real.number)
        self.act("take:simulated")
        self.work()
        # What it taught outlives it until it is undone.
        self.assertEqual(Lesson.objects.filter(what="level").first().levels, learnt)

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

    def test_the_list_says_of_a_take_what_its_sentence_says(self):
        self.measured_take(phrases(-30.0))
        page = self.page("take:page")
        self.assertEqual(page.context["screen"].verdict, Verdict.WATCH)
        self.assertContains(page, '<span class="v-watch ms-auto">Watch</span>')
