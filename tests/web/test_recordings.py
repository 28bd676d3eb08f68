"""Recordings cannot be made again: what a start sweeps, what is put away, and how it comes back."""

import uuid
from unittest import mock

from django.conf import settings
from django.db.models import F
from django.urls import reverse

from pneumen.web.audio import files
from pneumen.web.audio.models import AudioFile, Ledger
from pneumen.web.audio.put_away import KEPT_DAYS, find, put_away, today
from pneumen.web.audio.sweep import KNOWN, MOST_ORPHANS, start
from pneumen.web.part.models import Part
from pneumen.web.song import away as putting_away
from pneumen.web.song.away import put_away_of
from pneumen.web.song.models import Song
from pneumen.web.take.models import Take
from tests.signals import phrases
from tests.web.base import DemoCase


def stored():
    return sorted(path.name for path in files.stored())


def away():
    return sorted(path.name.partition("-")[2] for path in settings.PUT_AWAY.iterdir())


def recorded(case, level_dbfs=-12.0, part=None):
    """Upload a recording; return its take."""
    case.upload(phrases(level_dbfs), part)
    return (part or case.voice).takes.first()


def left_behind(number=0):
    """Store a recording that no row points to; return its checksum."""
    path, checksum = files.receive([b"left behind %d" % number])
    files.put(path, checksum)
    return checksum


class TheSweep(DemoCase):
    def setUp(self):
        super().setUp()
        self.first_start = start()

    def test_a_first_start_has_nothing_to_say(self):
        self.assertEqual((self.first_start, start()), ("", ""))

    def test_what_a_kill_left_is_put_away_not_deleted(self):
        kept, orphan = recorded(self).audio.checksum, left_behind()
        (settings.INCOMING / f"{files.PREFIX}half.wav").write_bytes(b"x")
        told = start()
        self.assertEqual((stored(), away()), ([kept], [orphan]))
        self.assertEqual(list(settings.INCOMING.iterdir()), [])
        self.assertIn("1 recording in", told)
        self.assertIn("put away for 30 days", told)
        self.assertEqual(find(orphan).read_bytes(), b"left behind 0")

    def test_never_in_bulk(self):
        orphans = sorted(left_behind(number) for number in range(MOST_ORPHANS + 1))
        self.assertIn("left as they are", start())
        self.assertEqual((stored(), away()), (orphans, []))

    def test_files_of_other_programs_are_not_touched(self):
        others = [
            settings.AUDIO / "holiday.wav",
            settings.AUDIO / "ab" / "notes.txt",
            settings.AUDIO / "cd" / ("ef" * 32),
        ]
        others += [settings.INCOMING / "somebody-elses.wav", settings.PUT_AWAY / "7-notes.txt"]
        for path in others:
            path.parent.mkdir(exist_ok=True)
            path.write_bytes(b"not ours")
        self.assertEqual(start(), "")
        Ledger.objects.update(days=F("days") + 400)
        putting_away.purge()
        self.assertTrue(all(path.read_bytes() == b"not ours" for path in others))

    def test_a_missing_database_deletes_nothing_however_often_it_is_started(self):
        checksum = recorded(self).audio.checksum
        for model in (Take, AudioFile, Ledger):
            getattr(model, "everything", model.objects).all().delete()
        for _ in range(3):
            self.assertIn("whose database is new", start())
            self.assertEqual((stored(), away()), ([checksum], []))

    def test_an_older_database_deletes_nothing_however_often_it_is_started(self):
        recorded(self)
        Ledger.objects.update(starts=F("starts") + 5)
        start()
        orphan = left_behind()
        Ledger.objects.update(starts=F("starts") - 5)  # as an older backup has it
        for _ in range(8):
            self.assertIn("whose database is older than the folder", start())
        self.assertIn(orphan, stored())

    def test_another_database_deletes_nothing(self):
        orphan = left_behind()
        Ledger.objects.update(identity=uuid.uuid4())
        self.assertIn("another one than before", start())
        self.assertEqual(stored(), [orphan])

    def test_a_folder_that_lost_its_mark_deletes_nothing(self):
        orphan = left_behind()
        for mark in ("", "scribble", f"{uuid.uuid4()} many"):
            (settings.AUDIO.parent / KNOWN).write_text(mark)
            self.assertIn("is not known", start())
        self.assertEqual(stored(), [orphan])


class PuttingAway(DemoCase):
    def test_a_take_comes_back_with_its_recording_and_what_was_measured(self):
        take = recorded(self)
        self.work()
        page = self.client.post(reverse("take:delete", args=[self.voice.pk, take.number]), follow=True)
        self.assertContains(page, f"Take {take.number} was put away")
        self.assertContains(page, reverse("take:undo", args=[self.voice.pk, take.number]))
        self.assertEqual(self.client.get(reverse("take:audio", args=[self.voice.pk, take.number])).status_code, 404)
        self.act("take:undo", None, take.number)
        self.assertEqual(self.client.get(reverse("take:audio", args=[self.voice.pk, take.number])).status_code, 200)
        self.assertIsNotNone(self.voice.takes.get().to_core())

    def test_a_take_put_away_before_it_was_measured_is_measured_when_it_comes_back(self):
        take = recorded(self)
        self.act("take:delete", None, take.number)
        self.assertFalse(self.work())  # nobody waits for it
        self.act("take:undo", None, take.number)
        self.assertTrue(self.work())
        self.assertIsNotNone(self.voice.takes.get().to_core())

    def test_numbers_are_not_given_twice(self):
        first = recorded(self, -12)
        self.act("take:delete", None, first.number)
        self.assertEqual(recorded(self, -14).number, first.number + 1)
        self.act("take:undo", None, first.number)
        self.assertEqual(self.voice.takes.count(), 2)

    def test_a_part_comes_back_with_its_takes(self):
        take = recorded(self, part=self.harp)
        page = self.client.post(reverse("song:delete-part", args=[self.harp.pk]), follow=True)
        self.assertContains(page, "“Lever harp” was put away")
        self.assertEqual(self.client.get(reverse("gain:page", args=[self.harp.pk])).status_code, 404)
        self.assertNotContains(self.page("gain:page"), "Lever harp</a>")
        self.client.post(reverse("song:undo-part", args=[self.harp.pk]))
        self.assertEqual(Part.objects.get(pk=self.harp.pk).takes.get().number, take.number)

    def test_all_that_can_come_back_is_listed(self):
        take = recorded(self)
        self.act("take:delete", None, take.number)
        self.client.post(reverse("song:delete-part", args=[self.clarinet.pk]))
        told = [row.told for row in put_away_of(self.owner)]
        self.assertEqual(told, ["Clarinet of Lamplighter’s Waltz", f"Take {take.number} of Voice, Lamplighter’s Waltz"])
        page = self.client.get("/songs/")
        self.assertContains(page, "Bring back", count=2 * 2)  # each with its label for those who do not see it
        self.client.post(f"/songs/{self.song.pk}/delete/")
        self.assertEqual([row.told for row in put_away_of(self.owner)], ["Lamplighter’s Waltz"])

    def test_of_all_parts_deleted_one_stays(self):
        for part in (self.voice, self.harp, self.clarinet):
            self.client.post(reverse("song:delete-part", args=[part.pk]))
        self.assertEqual(self.song.parts.count(), 1)

    def test_after_thirty_days_of_use_row_and_recording_go(self):
        take = recorded(self)
        checksum = take.audio.checksum
        self.act("take:delete", None, take.number)
        Ledger.objects.update(days=F("days") + KEPT_DAYS - 1)
        putting_away.purge()
        self.assertEqual(stored(), [checksum])
        Ledger.objects.update(days=F("days") + 1)
        with self.captureOnCommitCallbacks(execute=True):
            putting_away.purge()
        self.assertEqual((Take.everything.count(), stored(), away()), (0, [], [checksum]))
        Ledger.objects.update(days=F("days") + KEPT_DAYS)
        putting_away.purge()
        self.assertEqual(away(), [])

    def test_a_song_that_comes_back_brings_all_of_it(self):
        take = recorded(self)
        self.client.post(f"/songs/{self.song.pk}/delete/")
        self.assertEqual((Song.objects.count(), stored()), (0, [take.audio.checksum]))
        self.client.post(f"/songs/{self.song.pk}/undo/")
        self.assertEqual(Song.objects.get().parts.first().takes.get().audio.checksum, take.audio.checksum)


class RemovingForGood(DemoCase):
    def test_a_take_goes_with_its_recording_once_it_was_put_away(self):
        take = recorded(self)
        address = reverse("song:remove-take", args=[self.voice.pk, take.number])
        self.assertEqual(self.client.post(address).status_code, 404)  # it is in use: put away first
        self.act("take:delete", None, take.number)
        self.assertContains(self.client.get(reverse("song:space")), f'action="{address}"')
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post(address)
        self.assertEqual((Take.everything.count(), stored(), away()), (0, [], []))

    def test_a_recording_that_something_else_points_to_stays(self):
        first, second = recorded(self), recorded(self, part=self.harp)
        self.assertEqual(first.audio, second.audio)
        self.client.post(f"/songs/parts/{self.voice.pk}/delete/")
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post(reverse("song:remove-part", args=[self.voice.pk]))
        self.assertEqual(stored(), [second.audio.checksum])

    def test_a_song_goes_with_all_its_recordings(self):
        for level in (-12, -20):
            recorded(self, level)
        self.act("take:delete", None, 1)
        self.client.post(f"/songs/{self.song.pk}/delete/")
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post(reverse("song:remove", args=[self.song.pk]))
        self.assertEqual((Song.everything.count(), AudioFile.objects.count(), stored(), away()), (0, 0, [], []))

    def test_what_nothing_needs_is_told_with_its_size_and_removed(self):
        for number in range(2):
            put_away(files.path_of(left_behind(number)))
        (settings.PUT_AWAY / "7-notes.txt").write_text("not ours")
        self.assertContains(self.client.get(reverse("song:space")), "2 recordings that no song or trial needs")
        self.client.post(reverse("song:remove-nobodys"))
        self.assertEqual(away(), ["notes.txt"])


class TheLedger(DemoCase):
    def test_a_day_counts_once_whatever_the_clock_does(self):
        before = today()
        self.assertEqual(today(), before)
        for step in (1, 400, -3, -3):
            with mock.patch("django.utils.timezone.localdate", return_value=_days_on(step)):
                now = today()
        self.assertEqual(now, before + 3)

    def test_what_is_not_there_cannot_be_put_away(self):
        put_away(settings.AUDIO / "ab" / ("ab" * 32))
        self.assertEqual(away(), [])


def _days_on(days):
    from datetime import date, timedelta

    return date(2030, 1, 1) + timedelta(days=days)
