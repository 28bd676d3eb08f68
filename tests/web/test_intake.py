"""Takes coming in: many files at once, a watched folder, what phones record; and the stand view."""

import os
from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone

from pneumen.web.part.models import Part
from pneumen.web.take.models import Sitting, Take, WatchedFolder
from pneumen.web.take.watch import Watch, Watcher, watch_folder
from tests.core.test_phone import broadcast, encoded
from tests.signals import phrases, sine, wav
from tests.web.base import HTMX, DemoCase


class Many(DemoCase):
    def send(self, files, field="recording", **options):
        sent = [SimpleUploadedFile(name, content) for name, content in files]
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(
                reverse("take:upload", args=[self.voice.pk]), {field: sent}, follow=not options, **options
            )

    def test_each_goes_to_the_part_and_section_its_name_tells_of(self):
        one, two, three = (wav(phrases(level, -80)) for level in (-9, -10, -11))
        answer = self.send([("Voice Chorus 1.wav", one), ("lever_harp_02.wav", two), ("Bridge take.wav", three)])
        self.assertContains(answer, "3 taken in")
        self.assertEqual([take.section for take in self.voice.takes.order_by("number")], ["Bridge", "Chorus"])
        self.assertEqual(self.harp.takes.count(), 1)

    def test_the_oldest_comes_first_by_their_own_stamps(self):
        stamps = ((b"2026-11-02", "c.wav"), (b"2026-11-01", "b.wav"), (b"2025-03-09", "a.wav"))
        self.send([(name, broadcast(phrases(-9, -80), date=date)) for date, name in stamps])
        takes = self.voice.takes.order_by("number")
        self.assertEqual([take.original_name for take in takes], ["a.wav", "b.wav", "c.wav"])
        self.assertEqual(takes[0].when.year, 2025)
        self.assertEqual(Sitting.objects.count(), 3)

    def test_recordings_of_last_year_end_no_session_that_goes_on(self):
        self.upload(phrases(-10, -80))
        self.send([(f"{n}.wav", broadcast(phrases(-9 - n, -80), date=b"2025-03-09")) for n in (1, 2)])
        self.upload(phrases(-12, -80))
        sittings = [take.sitting.number for take in self.voice.takes.order_by("number")]
        self.assertEqual(sittings, [1, 2, 2, 1])

    def test_a_stamp_of_tomorrow_tells_no_time_but_where_it_lies_in_the_song(self):
        late = (timezone.now() + timedelta(days=3)).strftime("%Y-%m-%d").encode()
        self.send([("a.wav", broadcast(sine(440, 1), date=late, reference=96_000)), ("b.wav", wav(sine(440, 1)))])
        stamped = self.voice.takes.get(original_name="a.wav")
        self.assertIsNone(stamped.recorded_at)
        self.assertEqual(stamped.time_reference_s, 2.0)

    def test_a_bad_one_keeps_none_of_the_others_out(self):
        answer = self.send([("a.wav", b"nonsense"), ("b.wav", wav(phrases())), ("notes.txt", b"x"), (".hid.wav", b"x")])
        for words in ("1 taken in: Voice 1.", "Not a.wav", "2 left aside"):
            self.assertContains(answer, words)
        self.assertEqual(Take.objects.count(), 1)

    def test_two_of_one_name_are_two(self):
        self.send([("a.wav", wav(phrases(-9))), ("a.wav", wav(phrases(-12)))])
        self.assertEqual(self.voice.takes.count(), 2)

    def test_a_folder_without_recordings_says_so(self):
        answer = self.send([("a.txt", b"x"), ("b.session", b"y")], "folder")
        self.assertContains(answer, "None of these files was taken in")

    def test_the_log_shows_how_far_each_is(self):
        self.send([("a.wav", wav(phrases(-9))), ("b.wav", wav(phrases(-12)))])
        page = self.page("take:log")
        self.assertTrue(page.context["log"].is_measuring)
        self.assertContains(page, "Measuring take 2")
        while self.work():
            pass
        page = self.page("take:log")
        self.assertFalse(page.context["log"].is_measuring)
        self.assertNotContains(page, "<progress value")

    def test_what_a_phone_recorded_is_measured_and_heard(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "take.m4a"
            encoded(path, phrases(-10, -80), "aac", "ipod")
            take = self.measured_take(content=path.read_bytes(), name="take.m4a")
        self.assertEqual((take.status, take.audio.container), (Take.DONE, "M4A"))
        self.assertEqual(self.page("take:audio", None, take.number)["Content-Type"], "audio/wav")


class Watched(DemoCase):
    def setUp(self):
        super().setUp()
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.row = watch_folder(self.voice, str(self.folder))
        self.row.since = timezone.now() - timedelta(seconds=5)
        self.row.save()
        self.watch = Watch()

    def write(self, name, content):
        (self.folder / name).write_bytes(content)

    def look(self, times=3):
        return [take for _ in range(times) for take in self.watch.look(self.row)]

    def test_a_finished_file_becomes_a_take_once(self):
        self.write("chorus 1.wav", wav(phrases(-10, -80)))
        (take,) = self.look()
        self.assertEqual((take.part, take.section, take.original_name), (self.voice, "Chorus", "chorus 1.wav"))
        self.assertEqual(self.look(), [])
        self.assertEqual(Watch().look(self.row), [])  # after a restart it is known by its bytes

    def test_a_file_that_still_grows_is_waited_for(self):
        content = wav(phrases(-10, -80))
        self.write("a.wav", content[: len(content) // 2])
        self.assertEqual(self.look(), [])
        self.write("a.wav", content)
        self.assertEqual(len(self.look()), 1)

    def test_one_that_changes_while_it_is_read_is_not_taken_in_half(self):
        self.write("a.wav", wav(phrases(-10, -80)))

        def growing(path):
            yield path.read_bytes()
            os.utime(path, (1, 1))

        with mock.patch("pneumen.web.take.watch._chunks", growing):
            self.assertEqual(self.look(2), [])
        self.assertEqual(Take.objects.count(), 0)

    def test_what_lay_there_before_links_and_other_files_are_left_alone(self):
        self.write("old.wav", wav(phrases(-10, -80)))
        os.utime(self.folder / "old.wav", (1_000_000, 1_000_000))
        self.write("song.session", b"project")
        (self.folder / "link.wav").symlink_to(self.folder / "old.wav")
        self.write("empty.wav", b"")
        self.assertEqual(self.look(), [])

    def test_the_folder_is_only_read(self):
        self.write("a.wav", wav(phrases(-10, -80)))
        before = (self.folder / "a.wav").read_bytes()
        self.look()
        self.assertEqual([path.name for path in self.folder.iterdir()], ["a.wav"])
        self.assertEqual((self.folder / "a.wav").read_bytes(), before)

    def test_a_folder_that_goes_away_is_said(self):
        self.folder.rename(self.folder.with_name(f"{self.folder.name}-gone"))
        self.assertTrue(Watcher().look())
        self.row.refresh_from_db()
        self.assertIn("no such file", self.row.problem)
        self.assertContains(self.page("take:page"), "no such file")
        self.folder.with_name(f"{self.folder.name}-gone").rename(self.folder)
        Watcher().look()
        self.row.refresh_from_db()
        self.assertEqual(self.row.problem, "")

    def test_nothing_watched_is_nothing_to_do(self):
        self.act("take:watch", stop="1")
        self.assertFalse(Watcher().look())

    def test_only_a_folder_that_can_be_read_is_watched(self):
        file = self.folder / "a.txt"
        file.write_text("x")
        for path, told in (
            ("", "whole path"),
            ("recordings", "whole path"),
            ("/nowhere/at/all", "is not there"),
            (str(file), "is no folder"),
            (os.fspath(settings.AUDIO), "own data"),
        ):
            answer = self.act("take:watch", path=path)
            self.assertContains(answer, told, status_code=422, msg_prefix=path)
        self.assertEqual(WatchedFolder.objects.get().path, str(self.folder))

    def test_it_is_chosen_and_ended_on_the_page(self):
        self.act("take:watch", stop="1")
        self.assertFalse(WatchedFolder.objects.exists())
        self.act("take:watch", path=f" {self.folder} ")
        self.assertContains(self.page("take:page"), f"Watching {self.folder}")


class BeforeATake(DemoCase):
    def test_the_list_stands_on_the_page_with_the_room_on_the_disk(self):
        voice, harp = (self.page("take:page", part) for part in (self.voice, self.harp))
        for words in ("Warmed up", "Room on the disk", "Recording really runs"):
            self.assertContains(voice, words)
        self.assertContains(harp, "Pedals and benches quiet")


class Stand(DemoCase):
    def test_one_number_is_large_and_follows(self):
        page = self.page("take:stand")
        self.assertContains(page, "No take yet")
        self.upload(phrases(-10, -80))
        self.assertContains(self.page("take:stand"), "measuring")
        self.work()
        fragment = self.client.get(reverse("take:stand", args=[self.voice.pk]), **HTMX)
        self.assertContains(fragment, '<div class="big">\N{MINUS SIGN}10.0</div>')
        self.assertNotContains(fragment, "<html")
        self.assertEqual(Part.objects.get(pk=self.voice.pk).takes.count(), 1)
