"""Rows that are read once while nothing is stored: every change, whoever makes it, is seen by the next reader."""

import threading

from django.db import connection, transaction
from django.test import Client, TransactionTestCase
from django.test.utils import CaptureQueriesContext

from pneumen.demo.load import load_demo
from pneumen.web.kept_rows import MOST_KEPT, as_read
from pneumen.web.part.models import Part
from pneumen.web.song.models import Song


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
