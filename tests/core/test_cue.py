"""What a cue mix does: the leak, one's own delay, the dose; and the levels on the way that it is held against."""

import unittest
from dataclasses import replace

from pneumen.core.errors import OutOfRange, UnknownName
from pneumen.core.forecast import CueMix, cue_of, outcome
from pneumen.core.hookup import PHONO
from pneumen.core.kit import chain_of, item_named
from pneumen.core.line import way_of
from pneumen.core.verdict import Verdict
from pneumen.wording.joints import CONNECTOR_WORDS
from pneumen.wording.listening import cue_told, loudest_told
from tests import parts
from tests.chains import BOX, cable, codes, device


def voice(distance_m=0.2, **changes):
    return outcome(parts.part(chain=parts.chain(), distance_m=distance_m, **changes))


class Leak(unittest.TestCase):
    def test_a_closed_cup_at_80_db_leaves_50_to_55_at_20_cm_and_65_to_70_with_an_ear_off(self):
        """The trade's estimates (physics); 6.02 dB a doubling of distance, the backing counts decibel for decibel."""
        closed = cue_of(voice(), CueMix())
        self.assertTrue(50 <= closed.leak_db_spl <= 55)
        self.assertTrue(65 <= cue_of(voice(), CueMix(one_ear_off=True)).leak_db_spl <= 70)
        self.assertAlmostEqual(cue_of(voice(0.4), CueMix()).leak_db_spl, closed.leak_db_spl - 6.02, 2)
        self.assertAlmostEqual(cue_of(voice(), CueMix(backing_db_spl=90)).leak_db_spl, closed.leak_db_spl + 10)

    def test_the_verdict_follows_how_far_it_lies_under_the_sound_and_a_click_lasts(self):
        loud = CueMix(backing_db_spl=90, one_ear_off=True)
        self.assertEqual(cue_of(voice(), CueMix(backing_db_spl=70)).leak_verdict, Verdict.CLEAR)
        self.assertEqual(cue_of(voice(), loud).leak_verdict, Verdict.WATCH)
        self.assertEqual(cue_of(voice(), replace(loud, click=True)).leak_verdict, Verdict.BAKED_IN)

    def test_ones_own_sound_is_late_through_the_computer_only(self):
        found = voice(round_trip_ms=14.0)
        self.assertIsNone(cue_of(found, CueMix()).late_ms)
        late = cue_of(found, CueMix(own="computer"))
        self.assertEqual((late.late_ms, late.late_verdict), (14.0, Verdict.MENDABLE))

    def test_the_dose_is_niosh(self):
        """NIOSH 1998: 85 dBA 8 h, 3 dB exchange: 94 dBA 1 h, 91 dBA 2 h."""
        self.assertAlmostEqual(cue_of(voice(), CueMix(backing_db_spl=94)).safe_h, 1.0)
        self.assertEqual(cue_of(voice(), CueMix(backing_db_spl=91)).safe_verdict, Verdict.WATCH)
        self.assertEqual(cue_of(voice(), CueMix(backing_db_spl=85)).safe_verdict, Verdict.CLEAR)
        self.assertIn("safe for 60 minutes a day", loudest_told(94))
        self.assertIn("safe all day", cue_told(cue_of(voice(), CueMix(backing_db_spl=70)), CueMix())[-1][1])

    def test_what_cannot_be(self):
        with self.assertRaises(OutOfRange):
            CueMix(backing_db_spl=150)
        with self.assertRaises(UnknownName):
            CueMix(own="telepathy")


class Way(unittest.TestCase):
    def test_the_levels_on_the_way_end_at_the_files_peak(self):
        levels = voice().levels
        way = way_of(levels)
        self.assertEqual([one.place for one in way], ["capsule", "microphone", "input", "file"])
        self.assertAlmostEqual(way[-1].level, levels.peak_dbfs)
        self.assertEqual([one.unit for one in way], ["dB SPL", "dBu", "dBu", "dBFS"])

    def test_behind_a_usb_microphone_there_is_only_capsule_and_file(self):
        usb = outcome(parts.part(chain=chain_of(item_named("pimpernel-u"), None)))
        self.assertEqual([one.place for one in way_of(usb.levels)], ["capsule", "file"])

    def test_a_louder_source_is_louder_everywhere(self):
        louder = {one.place: one.level for one in way_of(voice(loudness="loud").levels)}
        for one in way_of(voice(loudness="medium").levels):
            if one.unit != "dBFS":
                self.assertGreater(louder[one.place], one.level, one.place)


class Plugs(unittest.TestCase):
    def test_every_plug_of_the_contract_is_read_and_has_a_word(self):
        keys = device("keys", "keyboard")
        line = BOX | {"inputs": {"in1": "line"}}
        self.assertEqual(codes([keys, line], [cable("keys.out", "box.in1", PHONO)]), set())
        self.assertIn("long-unbalanced", codes([keys, line], [cable("keys.out", "box.in1", PHONO, length_m=6)]))
        self.assertEqual(len(set(CONNECTOR_WORDS.values())), len(CONNECTOR_WORDS))


class InTheFile(unittest.TestCase):
    def test_the_leak_in_the_file_goes_the_way_the_room_goes(self):
        found = voice()
        cue = cue_of(found, CueMix())
        room = {step.name: step.value for step in found.levels.noise_steps["room"]}
        onward_db = found.levels.noise_by_stage_dbfs["room"] - room["room-noise"] - room["diffuse"]
        self.assertAlmostEqual(cue.leak_dbfs, cue.leak_db_spl + onward_db)
        self.assertAlmostEqual(cue.under_db, found.levels.typical_dbfs - cue.leak_dbfs)

    def test_where_nothing_plays_nothing_leaks_and_no_ear_is_hurt(self):
        cue = cue_of(voice(), CueMix(backing_db_spl=None))
        self.assertEqual((cue.leak_db_spl, cue.leak_dbfs, cue.under_db, cue.safe_h), (None, None, None, None))
        self.assertEqual({cue.leak_verdict, cue.safe_verdict}, {Verdict.CLEAR})
        self.assertEqual(cue_told(cue, CueMix(backing_db_spl=None)), ())
