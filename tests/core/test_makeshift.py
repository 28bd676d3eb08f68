"""Makeshift booths: more sides keep more of the room away, and never more than the room brings."""

import unittest
from dataclasses import replace

from pneumen.core.forecast import booths_for, outcome, standing_at
from pneumen.core.room import MAKESHIFTS, Box, Space, makeshift_gain_db, material_named, room_sound
from tests import parts


class Makeshifts(unittest.TestCase):
    def place(self, furnishing="bare", **where):
        space = parts.room("small", furnishing)
        return space.box, standing_at(parts.part("voice-pop", space=space, distance_m=0.2, **where))

    def gain(self, slug, furnishing="bare"):
        box, place = self.place(furnishing)
        return makeshift_gain_db(box, place, MAKESHIFTS[slug])

    def test_a_tent_keeps_more_away_than_a_v_and_a_v_more_than_a_screen(self):
        screen, table, tent = (self.gain(slug) for slug in ("screen", "table-v", "tent"))
        self.assertTrue(0 < screen < table < tent, (screen, table, tent))
        self.assertLess(tent, 10)

    def test_in_a_furnished_room_there_is_less_to_keep_away(self):
        self.assertLess(self.gain("tent", "furnished"), self.gain("tent", "bare"))

    def test_nothing_hung_is_nothing_gained(self):
        box, place = self.place()
        bare = replace(MAKESHIFTS["screen"], sides=())
        self.assertAlmostEqual(makeshift_gain_db(box, place, bare), 0, 9)

    def test_it_is_the_lead_of_the_same_room_with_patches_and_backs(self):
        box, place = self.place()
        kind = MAKESHIFTS["tent"]
        area_m2 = len(kind.sides) * kind.size_m[0] * kind.size_m[1]
        soaked = Box(
            size_m=box.size_m,
            surfaces=box.surfaces,
            coverings=box.coverings,
            objects_m2=(*box.objects_m2, tuple(area_m2 * one / 2 for one in material_named("duvet").absorption)),
        )
        backs = float(room_sound(soaked, place).lead_db[0]) - float(room_sound(box, place).lead_db[0])
        gain_db = makeshift_gain_db(box, place, kind)
        self.assertTrue(backs < gain_db < backs + 6, (backs, gain_db))  # what it soaks up, and what never comes back

    def test_a_space_can_be_as_small_as_a_closet(self):
        walls = dict.fromkeys(("floor", "ceiling", "north", "south", "east", "west"), (0.05,) * 6)
        space = Space(box=Box(size_m=(0.9, 1.0, 2.2), surfaces=walls), background_dba=25, noise_band_db=5)
        place = standing_at(parts.part("voice-pop", space=space, distance_m=0.15))
        for kind in MAKESHIFTS.values():
            self.assertGreater(makeshift_gain_db(space.box, place, kind), 0)


class WorthBuilding(unittest.TestCase):
    def slugs(self, source="voice-pop", size="small", furnishing="bare", distance_m=0.6):
        setup = parts.part(source, space=parts.room(size, furnishing), chain=parts.chain(), distance_m=distance_m)
        return [booth.slug for booth in booths_for(outcome(setup))]

    def test_a_mouth_in_a_bare_room_is_offered_all_and_each_with_what_it_brings(self):
        self.assertEqual(self.slugs(), ["baffle", "screen", "table-v", "tent"])

    def test_where_it_is_dry_enough_nothing_is_built_round_a_mouth(self):
        self.assertLessEqual(set(self.slugs(furnishing="furnished", distance_m=0.15)), {"baffle"})

    def test_a_choir_a_piano_and_a_drum_kit_fit_in_no_tent(self):
        for source in ("choir", "grand-piano", "drum-kit", "voice-pair"):
            self.assertLessEqual(set(self.slugs(source, distance_m=1.0)), {"baffle"}, source)

    def test_in_a_closet_there_is_no_room_for_a_baffle(self):
        self.assertNotIn("baffle", self.slugs(size="closet", distance_m=0.3))

    def test_a_plug_has_no_use_for_one(self):
        self.assertEqual(booths_for(replace(outcome(parts.part("voice-pop", chain=parts.chain())), air=None)), ())
