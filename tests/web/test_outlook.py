"""What is expected of a part: guesses before a take, knowledge after, and how sure each is."""

from pneumen.core.setup import SourceLevels
from pneumen.web.gain.services import apply_action
from pneumen.web.song.models import Part, Room
from pneumen.web.song.outlook import outlook_of
from pneumen.web.take import services
from tests.signals import phrases
from tests.web.base import DemoCase, answers

KNOWN = {"peak_db_spl": 100.0, "typical_db_spl": 88.0, "quiet_db_spl": 76.0, "at_m": 1.0}


class Outlooks(DemoCase):
    def teach(self, part, *, absolute=True, chain=None):
        Part.objects.filter(pk=part.pk).update(
            known_levels=KNOWN,
            known_band_db=1.5,
            known_source_band_db=2.7,
            known_absolute=absolute,
            known_chain=part.chain_name if chain is None else chain,
            known_gain_db=part.gain_db,
            known_room_dba=25,
            known_room_band_db=1.5,
        )
        return Part.objects.select_related("song__room").get(pk=part.pk)

    def test_before_a_take_the_guess_and_the_sheets_are_in_doubt(self):
        outlook = outlook_of(self.voice)
        self.assertFalse(outlook.from_take)
        self.assertEqual((outlook.source_band_db, outlook.gain_band_db), (5, 0))
        self.assertAlmostEqual(outlook.sheet_band_db, (2**2 + 1**2) ** 0.5)

    def test_not_knowing_how_loud_widens_the_band(self):
        unknown = outlook_of(self.harp).source_band_db
        self.assertGreater(unknown, outlook_of(self.voice).source_band_db)

    def test_with_the_same_chain_the_sheets_no_longer_count(self):
        outlook = outlook_of(self.teach(self.voice))
        self.assertEqual(outlook.source, SourceLevels(**KNOWN))
        self.assertEqual((outlook.source_band_db, outlook.sheet_band_db), (1.5, 0))
        self.assertEqual(outlook.room.noise_dba, 25)
        self.assertAlmostEqual(outlook.prediction.signal_band_db, 1.5)

    def test_with_another_chain_an_absolute_level_still_serves_with_more_doubt(self):
        outlook = outlook_of(self.teach(self.voice, chain="another"))
        self.assertTrue(outlook.from_take)
        self.assertEqual(outlook.source_band_db, 2.7)
        self.assertGreater(outlook.sheet_band_db, 2)
        self.assertNotEqual(outlook.room.noise_dba, 25)  # as that other chain heard it: not this one's

    def test_a_relative_level_is_worth_nothing_with_another_chain(self):
        outlook = outlook_of(self.teach(self.harp, absolute=False, chain="another"))
        self.assertFalse(outlook.from_take)
        self.assertNotEqual(outlook.source, SourceLevels(**KNOWN))

    def test_a_bare_knob_is_in_doubt_only_by_its_turn_since_the_take(self):
        before = outlook_of(self.harp).gain_band_db
        part = self.teach(self.harp, absolute=False)
        self.assertEqual(outlook_of(part).gain_band_db, 0)
        turned = outlook_of(part, gain_db=part.gain_db - 5).gain_band_db
        self.assertTrue(0 < turned < before)

    def test_a_quieter_room_is_quieter_for_every_part_in_it(self):
        voice, harp = self.teach(self.voice), self.teach(self.harp, absolute=False)
        now = outlook_of(voice)
        apply_action(voice, distance_m=now.distance_m, gain_db=now.gain_db, room_noise_dba=now.room.noise_dba - 5)
        voice, harp = (Part.objects.select_related("song__room").get(pk=part.pk) for part in (voice, harp))
        self.assertEqual((outlook_of(voice).room.noise_dba, outlook_of(harp).room.noise_dba), (20, 20))
        self.assertEqual(Room.objects.get().told_change_db, -5)

    def test_the_simulated_room_grows_quieter_too(self):
        def floor():
            self.act("take:simulated")
            services.work_on_next()
            return self.voice.takes.first().measurement["noise"]["floor_dbfs_a"]

        before = floor()
        part = Part.objects.select_related("song__room").get(pk=self.voice.pk)
        room_noise_dba = outlook_of(part).room.noise_dba
        apply_action(part, distance_m=part.distance_m, gain_db=part.gain_db, room_noise_dba=room_noise_dba - 6)
        self.assertAlmostEqual(floor() - before, -6, delta=1)

    def test_other_words_for_the_noise_begin_anew(self):
        self.measured_take(phrases(-10, -80))
        self.assertIsNotNone(Part.objects.get(pk=self.voice.pk).known_room_dba)
        gear = {"microphone": f"own:{self.voice.own_microphone_id}", "interface": f"own:{self.voice.own_interface_id}"}
        sent = answers(self.voice, noise="noisy", **gear)
        self.client.post(f"/parts/{self.voice.pk}/start/", sent)
        self.assertIsNone(Part.objects.get(pk=self.voice.pk).known_room_dba)
        self.assertIsNone(Room.objects.get().measured_noise_dba)
