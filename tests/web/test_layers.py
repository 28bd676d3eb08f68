"""Layers in the application: planned, filled, held against each other, told what is missing."""

import numpy as np

from pneumen.web.comp.ground import offsets_of, takes_on_sheet
from pneumen.web.part.models import Part
from pneumen.web.take.models import Layer
from tests.core.test_bleed import LATE_S, backing, leaked
from tests.material.takes import clean_take
from tests.signals import noise
from tests.web.base import DemoCase
from tests.web.test_comp import CompCase
from tests.web.test_performance import LINE, sung


class Layers(DemoCase):
    def screen(self):
        return self.page("take:layers", self.clarinet).context["layers"]

    def add(self, kind, section=""):
        self.act("take:layers", self.clarinet, kind=kind, section=section)
        return Layer.objects.get(part=self.clarinet, kind=kind, section=section)

    def fill(self, layer, number):
        return self.act("take:layer", self.clarinet, layer.pk, take=str(number))

    def test_the_usual_is_a_lead_and_doubles_where_it_is_loudest(self):
        self.act("take:layers", self.voice, usual="1")
        found = [(one.kind, one.section) for one in self.voice.layers.order_by("pk")]
        self.assertEqual(found[0], ("lead", ""))
        self.assertEqual([kind for kind, _ in found[1:]], ["double-left", "double-right"])
        self.assertEqual(len({section for _, section in found[1:]}), 1)
        self.assertContains(self.page("take:layers"), "0 of 3 layers are recorded")

    def test_a_double_is_as_tight_as_it_is_and_a_copy_is_found_out(self):
        self.measured_take(sung(LINE), self.clarinet)
        self.measured_take(sung(LINE, scatter_s=0.015, seed=3), self.clarinet)
        lead, left = self.add("lead"), self.add("double-left")
        self.fill(lead, 1)
        self.fill(left, 2)
        row = next(one for one in self.screen().rows if one.layer.kind == "double-left")
        self.assertIn("tight enough", row.told)
        self.assertIn("All 2 layers", self.screen().sentence)
        self.fill(left, 1)
        row = next(one for one in self.screen().rows if one.layer.kind == "double-left")
        self.assertEqual(row.verdict, "baked-in")
        self.assertIn("The same recording as take 1", row.told)
        self.assertIn("1 of 2 layers are recorded; missing: Double, left", self.screen().sentence)

    def test_a_copy_under_another_name_and_level_is_found_out_by_its_wave(self):
        sound = sung(LINE)
        self.measured_take(sound, self.clarinet)
        self.measured_take(0.6 * np.concatenate([np.zeros(900), sound])[: len(sound)] + noise(1, -90)[0], self.clarinet)
        left, right = self.add("double-left"), self.add("double-right")
        self.fill(left, 1)
        self.fill(right, 2)
        right.refresh_from_db()
        self.assertGreater(right.likeness, 0.95)

    def test_what_cannot_be_is_refused(self):
        layer = self.add("lead")
        for fields in ({"kind": "shout"}, {"kind": "lead"}, {"kind": "octave", "section": "Yodel"}):
            self.assertEqual(self.act("take:layers", self.clarinet, **fields).status_code, 422, fields)
        self.assertEqual(self.fill(layer, 77).status_code, 422)
        self.assertEqual(self.act("take:layer", self.voice, layer.pk, take="").status_code, 404)
        self.assertEqual(Layer.objects.count(), 1)

    def test_a_layer_is_emptied_and_removed(self):
        self.measured_take(sung(LINE), self.clarinet)
        layer = self.add("lead")
        self.fill(layer, 1)
        self.fill(layer, "")
        layer.refresh_from_db()
        self.assertIsNone(layer.take)
        self.act("take:layer", self.clarinet, layer.pk, remove="1")
        self.assertFalse(Layer.objects.exists())
        self.assertContains(self.page("take:layers", self.clarinet), "one good lead needs none")


class Heard(CompCase):
    """An earlier layer in the headphones: its leak in the next take tells where that lies."""

    def setUp(self):
        super().setUp()
        self.lead_sound = backing(4)
        self.first = self.take(self.lead_sound)
        self.layer = Layer.objects.create(owner=self.voice.owner, part=self.voice, kind="lead", take=self.first)

    def hear(self, on="1"):
        return self.act("take:layer", None, self.layer.pk, heard=on)

    def test_it_plays_for_the_takes_that_follow_until_it_is_let_go(self):
        self.assertContains(self.page("take:layers"), "The song’s backing plays in the headphones")
        self.hear()
        self.assertContains(self.page("take:layers"), "Lead, take 1, plays in the headphones")
        self.assertEqual(self.take(noise(2, -40)).backing_id, self.first.audio_id)
        self.hear("0")
        self.assertIsNone(self.take(noise(2, -41)).backing_id)

    def test_one_at_a_time_and_only_what_is_recorded(self):
        other = Layer.objects.create(owner=self.voice.owner, part=self.voice, kind="octave")
        self.hear()
        self.assertEqual(self.act("take:layer", None, other.pk, heard="1").status_code, 422)
        self.assertTrue(Layer.objects.get(pk=self.layer.pk).in_headphones)
        other.take = self.first
        other.save()
        self.act("take:layer", None, other.pk, heard="1")
        self.assertEqual([one.pk for one in Layer.objects.filter(in_headphones=True)], [other.pk])

    def test_its_leak_is_found_and_lays_the_take_beside_it(self):
        self.hear()
        second = self.take(leaked(clean_take("words", 7), self.lead_sound, -20))
        self.assertIn("bleed", [one.kind for one in second.to_core().findings])
        self.act("comp:place", None, self.first.number, offset="2")
        part = Part.objects.whole().get(pk=self.voice.pk)
        lead, laid = offsets_of(part, takes_on_sheet(part))
        self.assertEqual((lead.offset_s, laid.source), (2.0, "leak"))
        self.assertAlmostEqual(laid.offset_s, 2.0 - LATE_S, delta=0.001)
        self.assertEqual(laid.band_ms, lead.band_ms + 5.0)
        alone = [one for one in takes_on_sheet(part) if one.pk == second.pk]
        self.assertEqual(offsets_of(part, alone), [laid])

    def test_a_take_that_is_put_away_is_heard_no_more(self):
        self.hear()
        self.act("take:delete", None, self.first.number)
        self.assertIsNone(self.take(noise(2, -42)).backing_id)
