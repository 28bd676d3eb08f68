"""Layers tightened to their lead, the balance, and what is to be sung next on the stand and on paper."""

import json

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.web.comp.ground import offsets_of, takes_on_sheet
from pneumen.web.comp.models import Balance, BalanceItem, CompTrack, LayerTrack, LineTake
from pneumen.web.comp.track import plan_of
from pneumen.web.part.models import Backing, Part
from pneumen.web.send.items import items_of, plan_of_song
from pneumen.web.take.models import Layer, Take
from tests.core.test_bleed import LATE_S, backing, leaked
from tests.material.takes import clean_take
from tests.signals import RATE, noise, wav
from tests.web.test_comp import CompCase, sung


def struck(late_ms=0.0, seed=1):
    """Strokes a third of a second apart in three phrases; the second phrase is late."""
    samples = noise(12, -80, seed=seed)
    rng = np.random.default_rng(9)
    for phrase in range(3):
        for step in range(8):
            start = 1.0 + 3.8 * phrase + 0.33 * step + (late_ms / 1000 if phrase == 1 else 0.0) + rng.normal(0, 0.004)
            stroke = np.random.default_rng(seed * 100 + step).standard_normal(round(0.2 * RATE))
            place = round(start * RATE)
            samples[place : place + len(stroke)] += 0.1 * stroke * np.exp(-np.arange(len(stroke)) / 2000)
    return samples


class Layers(CompCase):
    def planned(self, late_ms=60.0):
        takes = [self.take(struck(seed=1)), self.take(struck(late_ms, seed=2))]
        self.act("take:layers", usual="1")
        lead, double = Layer.objects.order_by("pk")[:2]
        for layer, take in zip((lead, double), takes, strict=True):
            self.act("take:layer", None, layer.pk, take=str(take.number))
        return Layer.objects.get(kind="double-left")

    def test_the_late_phrase_is_told_and_shifted(self):
        layer = self.planned()
        page = self.page("comp:layers").content.decode()
        self.assertIn("Shift 1", " ".join(page.split()))
        self.act("comp:layer", None, layer.pk)
        self.work()
        track = LayerTrack.objects.get()
        moved = [shift for _, shift in track.shifts if shift]
        self.assertEqual(len(moved), 1)
        self.assertAlmostEqual(moved[0], -60, delta=12)
        self.assertEqual(self.page("comp:layer-audio", None, layer.pk).status_code, 200)

    def test_a_tightened_layer_is_what_is_sent(self):
        layer = self.planned()
        self.act("comp:layer", None, layer.pk)
        self.work()
        page = self.page("send:page").content.decode()
        self.assertIn("Tightened to the lead", page)

    def test_a_layer_without_a_lead_is_refused(self):
        self.act("take:layers", usual="1")
        layer = Layer.objects.get(kind="double-left")
        answer = self.act("comp:layer", None, layer.pk)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("choose a take for both", answer.content.decode())
        self.assertEqual(self.act("comp:layer", self.harp, layer.pk).status_code, 404)


class TheBalance(CompCase):
    def test_it_is_set_heard_and_stays_out_of_the_package(self):
        take = self.take()
        key = f"take:{take.pk}"
        self.act("comp:balance", **{f"level-{key}": "−6", f"place-{key}": "-40", f"cut-{key}": "80"})
        self.assertIn("It is being made", self.page("comp:balance").content.decode())
        self.work()
        row = BalanceItem.objects.get()
        self.assertEqual((row.level_db, row.place, row.low_cut_hz), (-6, -40, 80))
        balance = Balance.objects.get()
        self.assertAlmostEqual(balance.volumes[1], 1.0, 3)
        self.assertLess(balance.volumes[0], 0.75)
        for end in ("before", "after"):
            self.assertEqual(self.page("comp:balance-audio", None, end).status_code, 200)
        self.assertEqual(self.page("comp:balance-audio", None, "between").status_code, 404)
        self.act("send:make")
        self.work()
        self.assertEqual(self.song.deliveries.get().manifest["files"][0]["gain_db"], 0.0)

    def test_what_cannot_be_is_refused_and_nothing_is_kept(self):
        self.assertIn("nothing to hear yet", self.act("comp:balance").content.decode())
        key = f"take:{self.take().pk}"
        for change, told in (
            ({f"level-{key}": "99"}, "level must be between"),
            ({f"place-{key}": "far"}, "a number"),
            ({f"cut-{key}": "70"}, "low-cut must be one of"),
        ):
            with self.subTest(told):
                answer = self.act("comp:balance", **change)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(told, answer.content.decode())
        self.assertFalse(BalanceItem.objects.exists())


class SungNext(CompCase):
    def test_it_stands_on_the_stand_and_on_the_sessions_sheet(self):
        self.take(sung(clip_in=1))
        self.lines()
        self.assertIn("Next: “the ovens breathe”", self.page("take:stand").content.decode())
        sheet = self.client.get(reverse("take:sheet", args=[self.voice.pk, 1])).content.decode()
        self.assertIn("Sing these again", sheet)
        self.take(sung(seed=4))
        self.assertNotIn("Next:", self.page("take:stand").content.decode())


class Archived(CompCase):
    def test_sheet_marks_and_track_travel_with_the_song(self):
        self.three_takes()
        self.lines()
        self.act("comp:line", None, self.rows()[0].pk, mark="1:feeling:good")
        self.act("comp:choices", accept="1")
        self.track()
        self.act("take:delete", None, 2)
        archive = b"".join(self.client.get(reverse("archive:export", args=[self.song.pk])).streaming_content)
        self.client.post(reverse("archive:read"), {"archive": SimpleUploadedFile("song.zip", archive)})
        copy = Part.objects.filter(name="Voice").exclude(pk=self.voice.pk).get()
        self.assertEqual([row.words for row in copy.sheet_lines.all()], [row.words for row in self.rows()])
        self.assertEqual(LineTake.objects.filter(line__part=copy, feeling="good").count(), 1)
        self.assertEqual(json.dumps(copy.track.lineage), json.dumps(self.voice.track.lineage))
        self.assertEqual(self.client.get(reverse("comp:page", args=[copy.pk])).status_code, 200)


class ManyTakes(CompCase):
    def test_of_many_takes_the_newest_stand_on_the_sheet_and_those_that_were_chosen(self):
        first = self.take(sung(seed=1))
        self.take(sung(seed=2))
        self.lines()
        self.choose(0, 2)
        for number in range(3, 40):
            copy = Take.objects.get(pk=first.pk)
            copy.pk, copy.number = None, number
            copy.save()
        part = Part.objects.whole().get(pk=self.voice.pk)
        numbers = [take.number for take in takes_on_sheet(part)]
        leads = Take.objects.get(place__leads=True).number
        self.assertEqual(numbers[:-24], sorted({leads, 2}))
        self.assertEqual(numbers[-24:], list(range(16, 40)))
        self.assertLessEqual(len(numbers), 26)
        self.assertEqual(self.page("comp:page").status_code, 200)


class Gains(CompCase):
    def test_a_known_change_of_gain_is_undone_and_one_by_other_gear_is_not(self):
        Part.objects.filter(pk=self.voice.pk).update(gain_db=12, gain_chain=self.voice.chain_name)
        self.take(sung(seed=1))
        self.take(sung(seed=2))
        self.act("take:told", None, 2, gain="18")
        self.lines()
        self.choose(0, 1)
        self.choose(1, 2)
        self.choose(2, 2)
        self.track()
        self.assertEqual(self.gains_db(), {"1": 3.0, "2": -3.0})
        self.act("take:told", None, 2, gain="18", other_gear="1")
        self.assertEqual(self.gains_db(), {"1": 0.0, "2": 0.0})

    def gains_db(self):
        part = Part.objects.whole().get(pk=self.voice.pk)
        return {name: take.gain_db for name, take in plan_of(part, part.track).comp.takes.items()}


class Clocks(CompCase):
    """A recorder with a clock of its own: the leak of the backing tells how far it drifts."""

    def test_the_leak_lays_a_take_and_its_clock_is_set_right_wherever_it_is_rendered(self):
        heard = backing()
        file = SimpleUploadedFile("bed.wav", wav(heard), "audio/wav")
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post(reverse("part:backing", args=[self.voice.pk]), {"backing": file})
        take = self.take(leaked(clean_take("words", 7), heard, -20, ppm=-60))
        self.lines()
        part = Part.objects.whole().get(pk=self.voice.pk)
        laid = offsets_of(part, takes_on_sheet(part))[0]
        self.assertEqual((laid.source, laid.clock), ("leak", "leak"))
        zero_s = Backing.objects.get(song=self.song).zero_s
        self.assertAlmostEqual(laid.offset_s, -LATE_S - zero_s, delta=0.001)
        self.assertAlmostEqual(laid.drift_ppm, 60, delta=10)
        page = self.page("comp:page").content.decode()
        self.assertRegex(page, r"its clock runs \d\d ppm fast, from the backing’s leak")
        self.track()
        self.assertEqual(self.drifts_rendered(part), [laid.drift_ppm, laid.drift_ppm])
        self.act("comp:place", None, take.number, offset="", clock="0")
        self.assertEqual(self.drifts_rendered(part), [0, 0])

    def test_a_leak_by_the_same_clock_and_a_take_without_a_leak_are_laid_too(self):
        heard = backing()
        file = SimpleUploadedFile("bed.wav", wav(heard), "audio/wav")
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post(reverse("part:backing", args=[self.voice.pk]), {"backing": file})
        self.take(leaked(clean_take("words", 7), heard, -20))
        self.take(clean_take("words", 8).samples)
        self.lines()
        part = Part.objects.whole().get(pk=self.voice.pk)
        leaking, silent = offsets_of(part, takes_on_sheet(part))
        self.assertEqual((leaking.source, leaking.drift_ppm, leaking.band_ms), ("leak", None, 5.0))
        self.assertNotEqual(silent.source, "leak")
        self.assertEqual(self.page("comp:page").status_code, 200)

    def drifts_rendered(self, part):
        """What the track and the package take out."""
        track = CompTrack.objects.get(part=part)
        (piece,) = plan_of(part, track).comp.takes.values()
        item = next(one for one in items_of(part.song, [part], plan_of_song(part.song)) if one.take)
        return [piece.drift_ppm, item.drift_ppm]
