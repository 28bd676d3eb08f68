"""Blind trials: spots ticked, played or uploaded, heard without labels, chosen, revealed, felt in the setup."""

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from pneumen.web.audio.sweep import start
from pneumen.web.job.models import Job
from pneumen.web.job.services import take_up_again
from pneumen.web.place.models import Trial
from tests.core.test_phrases import clap, phrase, quiet, recording
from tests.signals import wav
from tests.web.base import HTMX, DemoCase


def with_claps(levels=(0.1, 0.2)):
    parts = [quiet(0.8)]
    for level in levels:
        parts += [clap(), quiet(0.8), phrase(level, seconds=1.2), quiet(0.8)]
    return recording(*parts)


class Trials(DemoCase):
    spots = ("here", "school-4")

    def make(self, *files, spots=spots, **more):
        sent = {"spot": spots} | more
        if files:
            sent["phrases"] = [SimpleUploadedFile(f"{n}.wav", one, "audio/wav") for n, one in enumerate(files)]
        return self.client.post(reverse("place:make-trial", args=[self.voice.pk]), sent)

    def page_of(self, number=1):
        return self.client.get(reverse("place:trial", args=[self.voice.pk, number]))

    def test_the_stand_in_plays_and_nothing_tells_which_is_which(self):
        self.assertEqual(self.make(simulate="1").status_code, 302)
        self.assertContains(self.page_of(), "Waiting for its turn")
        self.assertTrue(self.work())
        page = self.page_of().content.decode()
        for label in ("As it stands", "Foot and more", "37 cm"):
            self.assertNotIn(label, page.split("<main")[1])
        self.assertIn("Use A", page)
        sound = self.client.get(reverse("place:trial-listen", args=[self.voice.pk, 1, 0]))
        self.assertEqual(sound["Content-Type"], "audio/wav")
        self.assertEqual(len({spot.audio.checksum for spot in Trial.objects.get().spots.all()}), 2)

    def test_the_chosen_spot_becomes_the_setup_and_all_is_revealed(self):
        self.make(simulate="1")
        self.work()
        far = Trial.objects.get().spots.get(label="Foot and more")
        self.client.post(reverse("place:choose-trial", args=[self.voice.pk, 1]), {"heard": far.heard_at})
        self.voice.refresh_from_db()
        self.assertAlmostEqual(self.voice.distance_m, far.distance_m)
        page = self.page_of()
        self.assertContains(page, "Your ear took Foot and more, 37 cm")
        near = next(one for one in page.context["heard"] if not one.chosen)
        self.assertEqual(near.label, "As it stands")
        level, bass, _, _, noise = (float(one.replace("\N{MINUS SIGN}", "-")) for _, one in near.figures)
        self.assertAlmostEqual(level, 5.5, delta=1.2)  # 37 to 18 cm is 6.3 dB in the open, less what the room fills up
        self.assertGreater(bass, 0)
        self.assertLess(noise, 0)
        self.assertContains(self.page("place:page"), "Foot and more, 37 cm")

    def test_one_recording_with_claps_is_cut_in_the_order_ticked(self):
        self.assertEqual(self.make(wav(with_claps())).status_code, 302)
        self.work()
        first, second = Trial.objects.get().spots.all()
        self.assertEqual((first.label, second.label), ("As it stands", "Foot and more"))
        self.assertAlmostEqual(second.measured["level_dbfs"] - first.measured["level_dbfs"], 6.02, 1)
        self.assertAlmostEqual(second.matched_db - first.matched_db, -6.02, 1)

    def test_one_file_for_each_spot(self):
        parts = [wav(recording(quiet(0.5), phrase(level, seconds=1.2), quiet(0.5))) for level in (0.3, 0.1)]
        self.make(*parts)
        self.work()
        first, second = Trial.objects.get().spots.all()
        self.assertAlmostEqual(first.measured["level_dbfs"] - second.measured["level_dbfs"], 9.54, 1)

    def test_files_are_taken_in_the_order_of_their_names(self):
        loud, soft = (wav(recording(quiet(0.5), phrase(level, seconds=1.2), quiet(0.5))) for level in (0.3, 0.1))
        files = [SimpleUploadedFile(name, one, "audio/wav") for name, one in (("b.wav", soft), ("a.wav", loud))]
        address = reverse("place:make-trial", args=[self.voice.pk])
        self.client.post(address, {"spot": self.spots, "phrases": files})
        self.work()
        first, second = Trial.objects.get().spots.all()
        self.assertGreater(first.measured["level_dbfs"], second.measured["level_dbfs"] + 9)

    def test_files_of_a_trial_are_kept_while_it_is_there_and_go_with_it(self):
        self.make(wav(with_claps()))
        raw = Trial.objects.get().audio.path
        start()
        self.assertTrue(raw.exists())
        self.work()
        self.assertFalse(raw.exists())
        start()
        kept = [spot.audio.path for spot in Trial.objects.get().spots.all()]
        self.assertTrue(all(one.exists() for one in kept))
        self.act("place:delete-trial", None, 1)
        self.assertEqual((Trial.objects.count(), list(settings.AUDIO.glob("*/*"))), (0, []))

    def test_what_cannot_be_is_told_and_nothing_is_kept(self):
        one = wav(with_claps())
        for files, spots, more, told in (
            ((), ("here",), {"simulate": "1"}, "Spots to try must be two to 6; ticked were 1"),
            ((), self.spots, {}, "Choose one recording with claps between"),
            ((one, one, one), self.spots, {}, "Files must be one with claps between, or 2"),
            ((b"no sound",), self.spots, {}, "0.wav: "),
            ((one,), self.spots, {"distance-here": "900"}, "Distance of As it stands must be between 2 cm and 60 cm"),
            ((one,), self.spots, {"distance-here": "near"}, "must be a length, as 20 cm"),
        ):
            with self.subTest(told=told):
                answer = self.make(*files, spots=spots, **more)
                self.assertContains(answer, told, status_code=422)
        self.assertEqual((Trial.objects.count(), list(settings.AUDIO.glob("*/*"))), (0, []))

    def test_a_recording_that_cannot_be_cut_says_why(self):
        for samples, told in (
            (recording(quiet(1), phrase(), quiet(1)), "There is no clap in it; clap once before each phrase"),
            (with_claps((0.1, 0.2, 0.3)), "3 phrases lie between the claps, 2 spots were ticked"),
        ):
            self.make(wav(samples))
            self.work()
            self.assertContains(self.page_of(Trial.objects.first().number), told)
        before = self.voice.distance_m
        self.client.post(reverse("place:choose-trial", args=[self.voice.pk, 1]), {"heard": "0"})
        self.voice.refresh_from_db()
        self.assertEqual(self.voice.distance_m, before)

    def test_a_worker_that_dies_leaves_it_to_the_next(self):
        self.make(simulate="1")
        Job.objects.update(state=Trial.WORKING)
        self.assertFalse(self.work())
        take_up_again()
        self.assertTrue(self.work())
        status = reverse("place:trial-status", args=[self.voice.pk, 1])
        self.assertEqual(self.client.get(status, **HTMX)["HX-Refresh"], "true")

    def test_strangers_hear_nothing(self):
        self.make(simulate="1")
        self.work()
        other = Client()
        other.force_login(type(self.owner).objects.create_user("stranger"))
        for name, more in (("place:trial", (1,)), ("place:trial-listen", (1, 0)), ("place:trial-status", (1,))):
            answer = other.get(reverse(name, args=[self.voice.pk, *more]))
            self.assertEqual(answer.status_code, 404, name)

    def test_the_random_order_is_random(self):
        orders = set()
        for _ in range(12):
            self.make(simulate="1", spots=("here", "brow", "school-4"))
            orders.add(tuple(spot.heard_at for spot in Trial.objects.first().spots.all()))
        self.assertGreater(len(orders), 2)
        self.assertTrue(all(sorted(order) == [0, 1, 2] for order in orders))
