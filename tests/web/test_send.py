"""The manifest: what goes, the package, its history, and what cannot be."""

import errno
import io
import json
import shutil
import zipfile
from unittest import mock

import numpy as np
import soundfile
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.core.take import PcmFile, codes_of
from pneumen.web.send.models import Delivery, SendItem, SendPlan
from pneumen.web.send.services import remove_nobodys
from pneumen.web.send.show import send_screen, send_verdict
from pneumen.web.song.away import purge
from tests.signals import RATE, noise, phrases, wav
from tests.web.base import HTMX, DemoCase
from tests.web.test_comp import WORDS, sung


class SendCase(DemoCase):
    def sent(self, **more):
        """Return what the form sends: all that goes as it stands."""
        screen = send_screen(self.voice)
        told = {"audience": screen.audience, "rate_hz": "", "bits": "24", "format": "wav"}
        told |= {f"goes-{one.item.key}": "on" for one in screen.items if one.item.goes and one.item.part}
        told |= {f"name-{one.item.key}": one.item.name for one in screen.items if one.item.part}
        return {key: value for key, value in (told | more).items() if value is not None}

    def plan(self, **more):
        return self.act("send:plan", None, **self.sent(**more))

    def package(self, **more):
        answer = self.plan(make="1", **more)
        self.work()
        return answer, Delivery.objects.first()

    def unpacked(self, row):
        archive = b"".join(self.page("send:zip", None, row.number).streaming_content)
        with zipfile.ZipFile(io.BytesIO(archive)) as file:
            return {name: file.read(name) for name in file.namelist()}

    def tearDown(self):
        shutil.rmtree(settings.PACKAGES, ignore_errors=True)
        settings.PACKAGES.mkdir()


class Manifest(SendCase):
    def test_before_a_take_nothing_goes_and_it_says_so(self):
        page = self.page("send:page").content.decode()
        self.assertIn("Nothing goes yet", page)
        self.assertEqual(self.act("send:make").status_code, 422)
        self.assertIn("files is empty", self.act("send:make").content.decode())

    def test_a_take_goes_until_there_is_a_track_and_then_the_track(self):
        self.measured_take(sung())
        self.assertEqual(self.goes(), ["01 Voice take 1.wav"])
        self.act("comp:lines", None, how="words", words=WORDS)
        self.act("comp:choices", accept="1")
        self.act("comp:track", breaths="1")
        self.work()
        self.assertEqual(self.goes(), ["01 Voice.wav"])
        screen = send_screen(self.voice)
        self.assertIn("Comp of take 1", screen.items[0].told)
        self.assertEqual(
            [row.label for row in screen.dots], ["The lamps go on", "the ovens breathe", "Turn your waltz"]
        )
        self.assertEqual([row.dots for row in screen.dots], [(True,)] * 3)

    def goes(self):
        return list(send_screen(self.voice).goes)

    def test_parts_that_send_nothing_are_named(self):
        self.measured_take(sung())
        self.assertIn("Lever harp, Clarinet send nothing yet", send_screen(self.voice).sentence)

    def test_who_it_is_for_sets_the_rate_and_ones_hand_goes_before(self):
        self.measured_take(sung())
        self.plan(audience="mixer")
        self.assertEqual(send_screen(self.voice).rate_hz, 48_000)
        self.plan(audience="mixer", rate_hz="96000")
        self.assertEqual(send_screen(self.voice).rate_hz, 96_000)
        self.plan(audience="classical", rate_hz="")
        self.assertEqual(send_screen(self.voice).rate_hz, 96_000)

    def test_it_stands_as_its_files_do_on_the_page_and_in_the_thread(self):
        take = self.measured_take(sung())
        self.assertEqual((send_screen(self.voice).verdict, send_verdict(self.song)), ("open", "open"))
        self.package()
        self.assertEqual((send_screen(self.voice).verdict, send_verdict(self.song)), ("watch", "watch"))
        take.rhythm = "good"
        take.save(update_fields=["rhythm"])
        verdicts = {verdict for one in send_screen(self.voice).items if one.arrives for verdict, _ in one.checks}
        self.assertEqual(verdicts, set(), "marked, it was listened through")
        self.assertEqual((send_screen(self.voice).verdict, send_verdict(self.song)), ("clear", "clear"))

    def test_several_takes_go_whole_and_names_are_ones_own(self):
        takes = [self.measured_take(sung(seed=seed)) for seed in (1, 2)]
        self.plan(**{f"goes-take:{takes[0].pk}": "on", f"name-take:{takes[0].pk}": "Lead / first"})
        self.assertEqual(self.goes(), ["01 Lead - first.wav", "02 Voice take 2.wav"])

    def test_faults_of_what_goes_are_told(self):
        clipped = np.clip(8 * phrases(-12), -0.9, 0.9)
        self.measured_take(clipped)
        checks = [told for one in send_screen(self.voice).items for _, told in one.checks]
        self.assertTrue(any("ran out of room" in told for told in checks), checks)
        self.assertTrue(any("listened" in told for told in checks), checks)

    def test_what_cannot_be_is_refused_and_nothing_is_kept(self):
        self.measured_take(sung())
        cases = [
            ({"audience": "everyone"}, "audience must be one of"),
            ({"rate_hz": "7"}, "rate must be one of"),
            ({"bits": "8"}, "depth must be one of"),
            ({"format": "mp3"}, "format must be one of"),
            ({"note": "x" * 4001}, "at most 4000 letters"),
            ({"channels-take:1": "five"}, "channels must be one of"),
            ({"name-take:1": "x" * 121}, "at most 120 letters"),
        ]
        pk = self.voice.takes.get().pk
        for change, told in cases:
            with self.subTest(told):
                answer = self.plan(**{key.replace("take:1", f"take:{pk}"): value for key, value in change.items()})
                self.assertEqual(answer.status_code, 422)
                self.assertIn(told, answer.content.decode())
        self.assertFalse(SendItem.objects.exclude(name="Voice take 1").exists())

    def test_the_sheet_to_print(self):
        self.measured_take(sung())
        self.plan(recipient="Mira", key="D major", note="Keep the breaths.")
        page = self.page("send:sheet").content.decode()
        for told in ("To Mira", "Key: D major", "Keep the breaths.", "01 Voice take 1.wav"):
            self.assertIn(told, page)


class Package(SendCase):
    def test_a_package_is_made_read_back_and_downloaded(self):
        self.measured_take(sung())
        _, row = self.package(recipient="Mira", bits="24", audience="song")
        files = self.unpacked(row)
        self.assertEqual(sorted(files), ["01 Voice take 1.wav", "manifest.json", "notes.txt"])
        manifest = json.loads(files["manifest.json"])
        self.assertEqual(manifest, row.manifest)
        samples, rate = soundfile.read(io.BytesIO(files["01 Voice take 1.wav"]))
        self.assertEqual((rate, len(samples)), (44_100, round(7.0 * 44_100)))
        page = self.page("send:page").content.decode()
        for told in ("Read back: every sample", "to Mira", "Nothing has changed since", "heard together"):
            self.assertIn(told, page)
        self.assertEqual(self.page("send:together", None, row.number).status_code, 200)

    def test_the_music_lies_where_its_offset_says_to_the_sample(self):
        samples = noise(2, -20)
        self.upload(content=wav(samples, rate=44_100))
        self.work()
        take = self.voice.takes.get()
        self.act("comp:place", None, take.number, offset="0.5")
        _, row = self.package()
        found = soundfile.read(io.BytesIO(self.unpacked(row)["01 Voice take 1.wav"]))[0]
        self.assertEqual(np.count_nonzero(found[:22_050]), 0)
        self.assertLess(np.abs(found[22_050 : 22_050 + len(samples)] - codes_of(samples, 24) / 2**23).max(), 2.0**-22)
        self.assertIn("to \N{PLUS-MINUS SIGN}10 ms", self.unpacked(row)["notes.txt"].decode())

    def test_the_backing_goes_only_when_asked(self):
        self.measured_take(sung())
        file = SimpleUploadedFile("backing.wav", wav(phrases(-15), rate=RATE))
        self.client.post(reverse("part:backing", args=[self.voice.pk]), {"backing": file})
        self.assertEqual(len(send_screen(self.voice).goes), 1)
        self.plan(with_backing="on")
        self.assertEqual(len(send_screen(self.voice).goes), 2)

    def test_a_full_disk_leaves_nothing_and_it_can_be_made_again(self):
        self.measured_take(sung())
        full = OSError(errno.ENOSPC, "No space left on device")
        with mock.patch.object(PcmFile, "write", side_effect=full):
            _, row = self.package()
        page = self.page("send:page").content.decode()
        self.assertIn("The package was not made", page)
        self.assertIn("disk is full", page)
        self.assertEqual(list(settings.PACKAGES.iterdir()), [])
        _, again = self.package()
        self.assertNotEqual(again.pk, row.pk)
        self.assertTrue(again.manifest)

    def test_what_changed_since_is_told_and_history_stays(self):
        first = self.measured_take(sung(seed=1))
        self.package()
        second = self.measured_take(sung(seed=2))
        self.assertIn("Nothing has changed since", self.page("send:page").content.decode())
        self.plan(**{f"goes-take:{first.pk}": None, f"goes-take:{second.pk}": "on"})
        page = self.page("send:page").content.decode()
        self.assertIn("Would go now and did not: Voice take 2", page)
        self.assertIn("Went and would not now: Voice take 1", page)
        self.package()
        page = self.page("send:page").content.decode()
        self.assertIn("Sent before", page)
        self.act("send:remove", None, 1)
        self.assertEqual(self.page("send:zip", None, 1).status_code, 404)
        self.assertIn("Package 1", self.page("send:page").content.decode())

    def test_progress_is_told(self):
        self.measured_take(sung())
        self.plan(make="1")
        address = reverse("send:status", args=[self.voice.pk, 1])
        self.assertIn("being made and read back", self.client.get(address, **HTMX).content.decode())
        self.work()
        self.assertEqual(self.client.get(address, **HTMX)["HX-Refresh"], "true")

    def test_packages_of_songs_that_are_gone_are_removed(self):
        self.measured_take(sung())
        _, row = self.package()
        folder = row.folder
        Delivery.objects.all().delete()
        self.assertEqual(remove_nobodys(), 1)
        self.assertFalse(folder.exists())
        purge()

    def test_disk_space_lists_it_and_its_files_go_from_there(self):
        self.measured_take(sung())
        _, row = self.package()
        size = sum(path.stat().st_size for path in row.folder.rglob("*") if path.is_file())
        self.assertEqual(row.size_bytes, size)
        page = self.client.get(reverse("song:space"))
        self.assertContains(page, f"Package {row.number}</a> of {self.song.name}")
        with self.captureOnCommitCallbacks(execute=True):
            answer = self.act("send:remove", None, row.number, from_space="1")
        self.assertRedirects(answer, reverse("song:space"))
        self.assertEqual(row.size_bytes, 0)
        self.assertNotContains(self.client.get(reverse("song:space")), "Packages that were sent")
        self.assertEqual(self.song.deliveries.count(), 1)

    def test_names_in_any_script_and_with_slashes(self):
        take = self.measured_take(sung())
        self.song.name = "Вальс / 声 ..: \u202e"
        self.song.save()
        _, row = self.package(**{f"name-take:{take.pk}": "../../Голос"})
        self.assertEqual(sorted(self.unpacked(row))[0], "01 Голос.wav")
        self.assertTrue(row.folder.resolve().is_relative_to(settings.PACKAGES.resolve()))

    def test_another_persons_package_is_not_there(self):
        self.assertEqual(self.page("send:zip", None, 9).status_code, 404)
        self.assertEqual(self.page("send:together", None, 9).status_code, 404)
        self.assertEqual(SendPlan.objects.count(), 0)


class Joined(SendCase):
    def test_two_takes_that_do_not_overlap_go_as_one_file_and_others_are_refused(self):
        one = self.measured_take(np.concatenate([sung(), np.zeros(8 * RATE)]))
        two = self.measured_take(np.concatenate([np.zeros(8 * RATE), sung(seed=2)]))
        for take, late in ((one, 0.0), (two, 0.0)):
            self.act("comp:place", None, take.number, offset=f"{late}")
        both = {f"goes-take:{take.pk}": "on" for take in (one, two)}
        self.plan(**both)
        self.assertEqual(len(send_screen(self.voice).goes), 2)
        _, row = self.package(**both, **{f"into-take:{two.pk}": f"take:{one.pk}"})
        self.assertEqual([name for name in self.unpacked(row) if name.endswith(".wav")], ["01 Voice take 1.wav"])
        self.assertIn(f'name="into-take:{two.pk}"', self.page("send:page").content.decode())
        found = soundfile.read(io.BytesIO(self.unpacked(row)["01 Voice take 1.wav"]))[0]
        for start in (1.0, 9.0):
            piece = found[round((start + 0.2) * 44_100) : round((start + 0.8) * 44_100)]
            self.assertGreater(np.abs(piece).max(), 0.1)
        self.act("comp:place", None, two.number, offset="-8")
        _, row = self.package(**both, **{f"into-take:{two.pk}": f"take:{one.pk}"})
        self.assertIn("join only what does not overlap", self.page("send:page").content.decode())
        self.assertEqual(self.plan(**{f"into-take:{two.pk}": "elsewhere"}).status_code, 422)
