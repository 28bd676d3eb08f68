"""Rows that are read once while nothing is stored: every change, whoever makes it, is seen by the next reader."""

import re
import threading
from unittest import mock

from django.db import connection, transaction
from django.test import Client, TransactionTestCase
from django.test.utils import CaptureQueriesContext

from pneumen.demo.load import load_demo
from pneumen.web.kept_rows import MOST_KEPT, MOST_WORKED_OUT, as_read, as_worked_out
from pneumen.web.part.models import Part
from pneumen.web.song.models import Preferences, Song

TOKEN = re.compile(r'(csrfmiddlewaretoken" value="|X-CSRFToken&quot;: &quot;|X-CSRFToken": ")[A-Za-z0-9]+')


class AsRead(TransactionTestCase):
    def setUp(self):
        load_demo(fresh=True)
        self.client = Client(HTTP_HOST="127.0.0.1", REMOTE_ADDR="127.0.0.1")
        self.part = Part.objects.order_by("position").first()

    def rows(self):
        """Return the part as a screen would have it, and how often the database was asked for it."""
        load = lambda: Part.objects.whole().get(pk=self.part.pk)  # noqa: E731
        with CaptureQueriesContext(connection) as asked:
            part = as_read(("part", self.part.pk), load)
        return part, sum(" FROM " in one["sql"] for one in asked.captured_queries)

    def test_what_nobody_changed_is_not_read_again_and_says_the_same(self):
        first, asked = self.rows()
        again, asked_again = self.rows()
        self.assertGreater(asked, 5)
        self.assertEqual(asked_again, 0)
        self.assertEqual(first, again)
        self.assertIsNot(first, again)
        self.assertEqual(list(first.song.room.noises.all()), list(again.song.room.noises.all()))
        self.assertEqual(first.to_chain(), again.to_chain())

    def test_what_one_sets_on_its_rows_another_does_not_see(self):
        first, _ = self.rows()
        first.name = "tried out"
        first.song.name = "tried too"
        again, _ = self.rows()
        self.assertNotEqual(again.name, "tried out")
        self.assertNotEqual(again.song.name, "tried too")

    def test_a_change_of_its_own_is_seen(self):
        self.rows()
        Part.objects.filter(pk=self.part.pk).update(name="Alto")
        self.assertEqual(self.rows()[0].name, "Alto")
        Song.objects.filter(pk=self.part.song_id).update(budget=77)
        self.assertEqual(self.rows()[0].song.budget, 77)

    def test_a_change_of_another_thread_is_seen(self):
        self.rows()

        def change():
            Part.objects.filter(pk=self.part.pk).update(name="Bass")
            connection.close()

        other = threading.Thread(target=change)
        other.start()
        other.join()
        self.assertEqual(self.rows()[0].name, "Bass")

    def test_what_is_taken_back_was_never_kept(self):
        name = self.rows()[0].name
        with transaction.atomic():
            Part.objects.filter(pk=self.part.pk).update(name="Never")
            self.assertEqual(self.rows()[0].name, "Never")
            transaction.set_rollback(True)
        self.assertEqual(self.rows()[0].name, name)

    def test_no_more_are_kept_than_are_allowed(self):
        read = []
        for number in range(MOST_KEPT + 1):
            as_read(("number", number), lambda number=number: read.append(number))
        as_read(("number", 0), lambda: read.append("again"))
        self.assertEqual(read[-1], "again")
        as_read(("number", MOST_KEPT), lambda: read.append("never"))
        self.assertEqual(read[-1], "again")

    def test_a_kept_change_shows_on_every_page_at_once(self):
        page = f"/parts/{self.part.pk}/place/"
        for distance in ("0.31", "0.22"):
            self.client.get(page)
            answer = self.client.post(f"{page}keep/", {"distance": f"{float(distance) * 100:.0f} cm"}, follow=True)
            self.assertEqual(answer.status_code, 200)
            shown = Part.objects.get(pk=self.part.pk).distance_m
            self.assertAlmostEqual(shown, float(distance), places=3)
            for step in ("place", "gain"):
                told = self.client.get(f"/parts/{self.part.pk}/{step}/").content.decode()
                self.assertIn(f"{float(distance) * 100:.0f} cm", told.replace("\u00a0", " ").replace("&nbsp;", " "))

    def test_a_page_asked_for_again_says_the_same_and_its_screen_is_worked_out_once(self):
        for part in Part.objects.order_by("position"):
            for step in ("start", "part", "kit", "room", "hookup", "place", "gain", "delay"):
                page = f"/parts/{part.pk}/{step}/"
                first, again = (TOKEN.sub("", self.client.get(page).content.decode()) for _ in range(2))
                with self.subTest(page):
                    self.assertEqual(first, again)
        page = f"/parts/{self.part.pk}/gain/"
        self.client.get(page)
        with mock.patch("pneumen.web.gain.views.gain_screen", side_effect=AssertionError("worked out again")):
            self.assertEqual(self.client.get(page).status_code, 200)
            with self.assertRaises(AssertionError):
                self.client.get(f"{page}?stand")  # another look at it is another page

    def test_a_screen_follows_whatever_was_stored_and_whoever_reads_it(self):
        page = f"/parts/{self.part.pk}/place/"
        self.assertContains(self.client.get(page), "18 cm")

        def change():
            Part.objects.filter(pk=self.part.pk).update(distance_m=0.27)
            connection.close()

        other = threading.Thread(target=change)
        other.start()
        other.join()
        self.assertContains(self.client.get(page), "27 cm")
        Preferences.objects.update_or_create(owner=self.part.owner, defaults={"lengths": "feet"})
        self.assertNotContains(self.client.get(page), "27 cm")

    def test_thread_and_bar_are_worked_out_once_for_every_page_of_a_part(self):
        self.client.get(f"/parts/{self.part.pk}/place/")
        with mock.patch("pneumen.web.frame.outcome_of", side_effect=AssertionError("worked out again")):
            self.assertEqual(self.client.get(f"/parts/{self.part.pk}/gain/").status_code, 200)

    def test_thread_and_bar_follow_what_was_stored(self):
        place, gain = f"/parts/{self.part.pk}/place/", f"/parts/{self.part.pk}/gain/"
        self.client.get(gain)
        before = {knot.step.slug: knot.verdict for knot in self.client.get(place).context["knots"]}
        loudest = max(self.part.to_chain().gain_range_db)
        kept = self.client.post(f"{gain}keep/", {"gain": f"{loudest:.0f}"}, HTTP_HX_REQUEST="true")
        told = {knot.step.slug: knot.verdict for knot in kept.context["knots"]}
        after = {knot.step.slug: knot.verdict for knot in self.client.get(place).context["knots"]}
        self.assertEqual(after, told)
        self.assertNotEqual(after["gain"], before["gain"])
        Part.objects.filter(pk=self.part.pk).update(name="Alto of the attic")
        self.assertIn("Alto of the attic", [name for _, name, _ in self.client.get(place).context["bar_parts"]])

    def test_no_more_screens_are_kept_than_are_allowed(self):
        made = []
        as_read(("any",), lambda: None)
        for number in range(MOST_WORKED_OUT + 1):
            as_worked_out(("screen", number), lambda number=number: made.append(number))
        as_worked_out(("screen", 0), lambda: made.append("again"))
        self.assertEqual(made[-1], "again")
