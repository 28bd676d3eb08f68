"""A song as one file: written, read back on another machine without loss, and refused where anything is wrong."""

import io
import json
import shutil
import zipfile

from django.apps import apps
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.web.archive.read import read_archive
from pneumen.web.archive.rows import NOT_OF_SONG, OF_SONG, rows_of, told
from pneumen.web.audio.models import AudioFile
from pneumen.web.comp.models import BalanceItem
from pneumen.web.part.models import Part
from pneumen.web.send.models import SendItem
from pneumen.web.send.services import changed_since
from pneumen.web.send.show import send_screen
from pneumen.web.settle import outcome_of
from pneumen.web.song.models import Song
from pneumen.web.take.models import Take
from tests.signals import phrases, wav
from tests.web.base import DemoCase


class Archived(DemoCase):
    def setUp(self):
        super().setUp()
        self.learnt_take(phrases(-10, -80))
        self.act("take:said", None, 1, rhythm="good", remark="“so”, =1+1")

    def export(self):
        answer = self.client.get(reverse("archive:export", args=[self.song.pk]))
        self.assertIn("lamplighters-waltz.pneumen.zip", answer["Content-Disposition"])
        return b"".join(answer.streaming_content)

    def send(self, content):
        file = SimpleUploadedFile("song.zip", content, "application/zip")
        return self.client.post(reverse("archive:read"), {"archive": file}, follow=True)

    def changed(self, change=None, *, document=None, extra=()):
        """Return the archive with its document changed, or other files in it."""
        with zipfile.ZipFile(io.BytesIO(self.export())) as archive:
            files = {name: archive.read(name) for name in archive.namelist()}
        if document is None:
            value = json.loads(files["song.json"])
            if change:
                change(value)
            document = json.dumps(value).encode()
        files["song.json"] = document
        files |= dict(extra)
        written = io.BytesIO()
        with zipfile.ZipFile(written, "w") as archive:
            for name, content in files.items():
                if content is not None:
                    archive.writestr(name, content)
        return written.getvalue()


class RoundTrip(Archived):
    def setUp(self):
        super().setUp()
        self.act("take:simulated", self.harp)
        self.work()
        file = SimpleUploadedFile("bed.wav", wav(phrases(-20)), "audio/wav")
        self.client.post(reverse("part:backing", args=[self.voice.pk]), {"backing": file})
        self.act("take:sitting", None, 1, set_up="stand", minutes="5")

    def plain(self, song):
        """Return all rows of a song, whatever their numbers are."""
        rows = list(rows_of(song))
        place = {}
        for label, row in rows:
            place[label, row.pk] = len([1 for known, _ in place if known == label])
        found = []
        for label, row in rows:
            values = told(row)
            for field in row._meta.concrete_fields:
                if field.is_relation and field.name in values and field.related_model is not AudioFile:
                    values[field.name] = place.get((field.related_model._meta.label, values[field.name]))
            found.append((label, values))
        return found

    def test_nothing_is_lost_on_the_way(self):
        before, figures = self.plain(self.song), outcome_of(Part.objects.whole().get(pk=self.voice.pk)).levels
        self.assertContains(self.send(self.export()), "everything that was in its archive")
        back = Song.objects.exclude(pk=self.song.pk).get()
        self.assertEqual(self.plain(back), before)
        voice = Part.objects.whole().get(song=back, name="Voice")
        self.assertEqual(outcome_of(voice).levels, figures)
        for name in ("take:page", "take:log", "take:learnt", "room:page", "kit:page"):
            self.assertEqual(self.page(name, voice).status_code, 200, name)
        take = voice.takes.get()
        self.assertEqual((take.rhythm, take.remark, take.status), ("good", "“so”, =1+1", Take.DONE))
        self.assertEqual(take.audio.checksum, self.voice.takes.get().audio.checksum)

    def test_another_person_has_a_song_of_their_own(self):
        content = self.export()
        other = get_user_model().objects.create(username="other")
        path = settings.INCOMING / "song.zip"
        path.write_bytes(content)
        song = read_archive(other, path)
        path.unlink()
        rows = list(rows_of(song))
        self.assertEqual({row.owner for _, row in rows}, {other})
        self.assertEqual(len(rows), len(list(rows_of(self.song))))

    def test_files_keep_their_bytes(self):
        with zipfile.ZipFile(io.BytesIO(self.export())) as archive:
            for audio in AudioFile.objects.all():
                self.assertEqual(archive.read(f"audio/{audio.checksum}"), audio.path.read_bytes())

    def test_what_was_put_away_stays_behind(self):
        self.act("take:delete", None, 1)
        self.send(self.export())
        back = Song.objects.exclude(pk=self.song.pk).get()
        self.assertEqual(Take.objects.filter(part__song=back).count(), 1)  # the harp's

    def test_every_kind_of_row_is_thought_of(self):
        labels = {model._meta.label for model in apps.get_models() if model.__module__.startswith("pneumen")}
        self.assertEqual(labels, {label for label, _ in OF_SONG} | set(NOT_OF_SONG))

    def test_nothing_of_ours_lies_about_afterwards(self):
        self.send(self.export())
        self.assertEqual(list(settings.INCOMING.iterdir()), [])


class Refused(Archived):
    def refused(self, content, reason):
        stored, songs = AudioFile.objects.count(), Song.objects.count()
        self.assertContains(self.send(content), reason)
        self.assertEqual((AudioFile.objects.count(), Song.objects.count()), (stored, songs))
        self.assertEqual(list(settings.INCOMING.iterdir()), [])

    def test_what_is_no_archive(self):
        whole = self.export()
        for content, reason in (
            (b"hello", "no song’s archive"),
            (whole[: len(whole) // 2], "no song’s archive"),
            (self.changed(document=b"{"), "is damaged"),
            (self.changed(lambda value: value.update(format="other")), "something else"),
            (self.changed(document=b"[" * 100_000), "is damaged"),
        ):
            self.refused(content, reason)
        self.assertContains(self.client.post(reverse("archive:read"), follow=True), "Choose an archive first")

    def test_an_older_format_is_read_with_what_its_rows_did_not_know_yet_left_as_it_was(self):
        def older(value, version=1):
            value["version"] = version
            for row in value["rows"]:
                for name in ("tone", "chroma", "time_reference_s", "school", "doubles"):
                    row["values"].pop(name, None)

        self.refused(self.changed(lambda value: older(value, version=2)), "written by another Pneumen")
        self.assertContains(self.send(self.changed(older)), "everything that was in its archive")
        back = Song.objects.exclude(pk=self.song.pk).get()
        voice = back.parts.get(name="Voice")
        self.assertEqual((voice.doubles, voice.takes.get().tone), (0, None))

    def test_a_newer_format(self):
        self.refused(self.changed(lambda value: value.update(version=99)), "newer Pneumen")

    def test_paths_that_climb_out_and_files_nobody_told_of(self):
        for name in ("../../evil", "/etc/passwd", "audio/../song.json", "audio/short"):
            self.refused(self.changed(extra=[(name, b"x")]), "other files")
        self.refused(self.changed(lambda value: value["audio"].update({"../evil": 1})), "other files")

    def test_a_recording_that_is_not_what_was_written(self):
        checksum = self.voice.takes.get().audio.checksum
        size = AudioFile.objects.get(checksum=checksum).size_bytes
        self.refused(self.changed(extra=[(f"audio/{checksum}", bytes(size))]), "not what was written")
        self.refused(self.changed(extra=[(f"audio/{checksum}", None)]), "other files")

    def test_a_bomb_is_stopped_at_what_it_says(self):
        checksum = self.voice.takes.get().audio.checksum
        bomb = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(self.export())) as archive, zipfile.ZipFile(bomb, "w") as written:
            for name in archive.namelist():
                content = bytes(50_000_000) if name.endswith(checksum) else archive.read(name)
                written.writestr(name, content, zipfile.ZIP_DEFLATED)
        self.refused(bomb.getvalue(), "larger than it says")

    def test_more_than_is_taken_in(self):
        claims = self.changed(
            lambda value: value["audio"].update({"a" * 64: 10**12}), extra=[(f"audio/{'a' * 64}", b"x")]
        )
        self.refused(claims, "more than are taken in at once")

    def test_rows_that_cannot_be(self):
        def changed(kind, **values):
            def change(document):
                for row in document["rows"]:
                    if row["kind"] == kind:
                        row["values"].update(values)

            return self.changed(change)

        for content in (
            changed("take.Take", snapshot={}),
            changed("take.Take", rhythm="superb"),
            changed("take.Take", part=10**6),
            changed("part.Part", distance_m=-5),
            changed("part.Part", source="kazoo"),
            changed("room.Room", size_x_m="wide"),
            changed("take.Take", measurement={"level": 3}),
            self.changed(lambda value: value["rows"].append({"kind": "auth.User", "number": 1, "values": {}})),
            self.changed(lambda value: value["rows"].append("row")),
            self.changed(lambda value: value["rows"].append({"kind": "take.Take", "number": [], "values": {}})),
            changed("part.Section", bars=0),
            self.changed(lambda value: value.update(rows=[])),
        ):
            self.refused(content, "song.zip was not taken in")

    def test_another_persons_song_is_not_exported(self):
        other = get_user_model().objects.create(username="other")
        self.song.owner = other
        self.song.save()
        self.assertEqual(self.client.get(reverse("archive:export", args=[self.song.pk])).status_code, 404)

    def test_a_recording_gone_from_the_store_is_said(self):
        self.voice.takes.get().audio.path.unlink()
        answer = self.client.get(reverse("archive:export", args=[self.song.pk]), follow=True)
        self.assertContains(answer, "is gone from the data folder")


class Sent(Archived):
    """What hangs on keys of files: how they are sent and balanced, and what was sent before."""

    def setUp(self):
        super().setUp()
        self.second = self.measured_take(phrases(-12, -80))
        first = self.voice.takes.get(number=1)
        both = {f"goes-take:{take.pk}": "on" for take in (first, self.second)}
        self.act("send:plan", None, audience="song", rate_hz="", bits="24", format="wav", make="1", **both)
        self.work()
        own = {"owner": self.song.owner, "song": self.song}
        BalanceItem.objects.create(**own, key=f"take:{self.second.pk}", level_db=-3, place=40)
        BalanceItem.objects.create(**own, key=f"track:{self.voice.pk}", level_db=2)
        SendItem.objects.filter(take=self.second).update(into=f"take:{first.pk}")

    def tearDown(self):
        shutil.rmtree(settings.PACKAGES, ignore_errors=True)
        settings.PACKAGES.mkdir()

    def back(self):
        self.send(self.export())
        return Song.objects.exclude(pk=self.song.pk).get()

    def test_they_name_the_rows_that_came_along(self):
        back = self.back()
        voice = back.parts.get(name="Voice")
        one, two = voice.takes.order_by("number")
        self.assertEqual(
            {row.key: row.level_db for row in back.balance_items.all()}, {f"take:{two.pk}": -3, f"track:{voice.pk}": 2}
        )
        self.assertEqual(SendItem.objects.get(take=two).into, f"take:{one.pk}")

    def test_what_was_sent_is_still_told_and_nothing_counts_as_changed(self):
        SendItem.objects.filter(take=self.second).update(into="")
        before = self.song.deliveries.get()
        row = self.back().deliveries.get()
        self.assertEqual(
            (row.manifest, row.made_at, row.recipient), (before.manifest, before.made_at, before.recipient)
        )
        voice = row.song.parts.get(name="Voice")
        self.assertEqual(changed_since(row, [one.item for one in send_screen(voice).items]), ([], [], []))
        page = self.page("send:page", voice).content.decode()
        self.assertIn(before.files[0]["sha256"][:8], page)
        self.assertNotIn(reverse("send:zip", args=[voice.pk, row.number]), page)

    def test_a_file_that_stayed_behind_is_named_by_nothing(self):
        self.second.put_away_day = 1
        self.second.save(update_fields=["put_away_day"])
        back = self.back()
        self.assertEqual([row.key.partition(":")[0] for row in back.balance_items.all()], ["track"])
        (_, gone) = back.deliveries.get().made_of
        self.assertTrue(gone["key"].startswith("gone:"), gone)

    def test_a_delivery_that_cannot_be_shown_is_refused(self):
        def damage(document):
            (row,) = (one for one in document["rows"] if one["kind"] == "send.Delivery")
            row["values"]["manifest"] = {"files": [{"file": 3}], "findings": []}

        self.assertContains(self.send(self.changed(damage)), "cannot be worked with")
        self.assertEqual(Song.objects.count(), 1)
