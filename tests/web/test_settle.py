"""Rows made into a part in its setup: guesses before a take, knowledge after, planned values, and those set by hand."""

from pneumen.core.setup import SourceLevels
from pneumen.web.gain.services import apply_action
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.settle import outcome_of, settle
from pneumen.web.take.models import Lesson
from tests.signals import phrases
from tests.web.base import DemoCase, answers

KNOWN = {"peak_db_spl": 100.0, "typical_db_spl": 88.0, "quiet_db_spl": 76.0, "at_m": 1.0}


class Settled(DemoCase):
    def teach(self, part, *, absolute=True, chain=None):
        there = settle(part).placement.distance_m
        shared = {
            "owner": part.owner,
            "part": part,
            "band_db": 1.5,
            "other_chain_band_db": 2.7,
            "absolute": absolute,
            "chain": part.chain_name if chain is None else chain,
        }
        Lesson.objects.create(**shared, what="level", levels=KNOWN, gain_db=settle(part).gain_db, distance_m=there)
        Lesson.objects.create(**shared, what="noise", noise_change_db=-7, noise_dba=25)
        return Part.objects.whole().get(pk=part.pk)

    def test_before_a_take_the_guess_and_the_sheets_are_in_doubt(self):
        found = outcome_of(self.voice)
        self.assertFalse(found.setup.performance.from_take)
        self.assertEqual((found.setup.performance.band_db, found.gain_band_db), (5, 0))
        self.assertAlmostEqual(found.sheet_band_db, (2**2 + 1**2) ** 0.5)

    def test_not_knowing_how_loud_widens_the_band(self):
        harp, voice = (settle(part).performance.band_db for part in (self.harp, self.voice))
        self.assertGreater(harp, voice)

    def test_with_the_same_chain_the_sheets_no_longer_count(self):
        before = outcome_of(self.voice).air.noise_dba
        found = outcome_of(self.teach(self.voice))
        spectrum = self.voice.source_facts.octave_spectrum_db
        self.assertEqual(found.setup.performance.levels, SourceLevels(**KNOWN, octaves_db=spectrum))
        self.assertEqual((found.setup.performance.band_db, found.sheet_band_db), (1.5, 0))
        self.assertAlmostEqual(found.air.noise_dba - before, -7)
        self.assertAlmostEqual(found.signal_band_db, 1.5)

    def test_with_another_chain_an_absolute_level_still_serves_with_more_doubt(self):
        before = outcome_of(self.voice).air.noise_dba
        found = outcome_of(self.teach(self.voice, chain="another"))
        self.assertTrue(found.setup.performance.from_take)
        self.assertEqual(found.setup.performance.band_db, 2.7)
        self.assertGreater(found.sheet_band_db, 2)
        self.assertAlmostEqual(found.air.noise_dba, before, delta=0.1)  # as that other chain heard it: not this one's

    def test_a_relative_level_is_worth_nothing_with_another_chain(self):
        performance = settle(self.teach(self.harp, absolute=False, chain="another")).performance
        self.assertFalse(performance.from_take)
        self.assertNotEqual(performance.levels, SourceLevels(**KNOWN))

    def test_a_bare_knob_is_in_doubt_only_by_its_turn_since_the_take(self):
        before = outcome_of(self.harp).gain_band_db
        part = self.teach(self.harp, absolute=False)
        gain_db = part.learnt.gain_db
        self.assertEqual(outcome_of(part, gain_db=gain_db).gain_band_db, 0)
        self.assertTrue(0 < outcome_of(part, gain_db=gain_db - 5).gain_band_db < before)

    def test_a_quieter_room_is_quieter_for_every_part_in_it_once(self):
        voice, harp = self.teach(self.voice), self.teach(self.harp, absolute=False)
        before = [outcome_of(part).air.noise_dba for part in (voice, harp)]
        for _ in range(2):
            apply_action(voice, noise_change_db=settle(voice).space.noise_change_db - 5)
        voice, harp = (Part.objects.whole().get(pk=part.pk) for part in (voice, harp))
        for part, noise_dba in zip((voice, harp), before, strict=True):
            self.assertAlmostEqual(outcome_of(part).air.noise_dba, noise_dba - 5, delta=0.2)
        self.assertEqual(Room.objects.get().told_change_db, -5)

    def test_a_take_freezes_what_it_was_recorded_with(self):
        self.act("take:simulated")
        part = Part.objects.get(pk=self.voice.pk)
        self.assertEqual((part.place_origin, part.stand_origin, part.gain_origin), ("take", "yours", "take"))
        self.assertAlmostEqual(part.distance_m, 0.18)
        self.act("gain:planned", what="gain")
        self.assertIsNone(Part.objects.get(pk=self.voice.pk).gain_db)

    def test_what_another_source_cannot_use_goes_back_to_planned(self):
        self.act("gain:keep", distance="40", gain="22")
        self.client.post(f"/parts/{self.voice.pk}/start/", answers(self.voice, source="drum-kit"))
        part = Part.objects.whole().get(pk=self.voice.pk)
        self.assertEqual((part.distance_m, part.gain_db), (None, None))
        self.assertGreaterEqual(settle(part).placement.distance_m, 0.5)

    def test_a_gain_belongs_to_the_chain_it_was_set_for(self):
        self.act("gain:keep", gain="22")
        self.client.post(
            f"/parts/{self.voice.pk}/start/", answers(self.voice, microphone="ribbon", interface="numbered")
        )
        part = Part.objects.whole().get(pk=self.voice.pk)
        self.assertGreater(settle(part).gain_db, 30)  # a ribbon wants more

    def test_the_simulated_room_grows_quieter_too(self):
        def floor():
            self.act("take:simulated")
            self.work()
            return self.voice.takes.first().measurement["noise"]["floor_dbfs_a"]

        before = floor()
        part = Part.objects.whole().get(pk=self.voice.pk)
        apply_action(part, noise_change_db=settle(part).space.noise_change_db - 6)
        self.assertAlmostEqual(floor() - before, -6, delta=1)

    def test_other_words_for_the_noise_begin_anew(self):
        self.learnt_take(phrases(-10, -80))
        self.assertTrue(Lesson.objects.filter(part=self.voice, what="noise").exists())
        gear = {"microphone": f"own:{self.voice.own_microphone_id}", "interface": f"own:{self.voice.own_interface_id}"}
        sent = answers(self.voice, noise="noisy", **gear)
        self.client.post(f"/parts/{self.voice.pk}/start/", sent)
        self.assertEqual([lesson.what for lesson in Lesson.objects.filter(part=self.voice)], ["level"])
        self.assertEqual(Room.objects.get().noise_change_db, 0)
