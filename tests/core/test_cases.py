"""Sources that want the room their own way: a packed corner, a horn's wall, loud ears."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from pneumen.core.room import (
    MAKESHIFTS,
    MATERIALS,
    WALLS,
    Box,
    Piece,
    Slot,
    corner_lead,
    corners_of,
    critical_distance_m,
    level_at_ear_db,
    makeshift_gain_db,
    pick_under_db,
    room_sound,
    standing,
    wall_behind,
    with_hung,
)


def box(size=(4.2, 3.1, 2.4), **surfaces):
    named = dict.fromkeys(WALLS, "plaster") | surfaces
    return Box(size_m=size, surfaces={wall: MATERIALS[slug].absorption for wall, slug in named.items()})


BLANKET = MATERIALS["blanket-folded"].absorption
BEHIND = Slot(on="north", middle_m=(2.1, 0.95), label="behind")


class Corners(unittest.TestCase):
    def test_each_is_faced_from_its_own_place(self):
        for corner in corners_of(box()):
            x, y = corner.stand_m
            east, north = math.sin(math.radians(corner.bearing_deg)), math.cos(math.radians(corner.bearing_deg))
            self.assertEqual("east" in corner.name, x > 2.1)
            self.assertEqual("north" in corner.name, y > 1.55)
            self.assertTrue((east > 0) == ("east" in corner.name) and (north > 0) == ("north" in corner.name))

    @given(st.sampled_from(["cardioid", "figure-8", "omni"]), st.floats(0.05, 0.4))
    def test_pillows_always_help_and_a_microphone_close_by_most_hears_the_amplifier(self, pattern, distance_m):
        for corner in corners_of(box()):
            how = {"height_m": 0.5, "pattern": pattern, "source_factor": 3.0}
            lead = corner_lead(box(), corner, distance_m=distance_m, **how)
            self.assertGreater(lead.packed_db, lead.bare_db)
            farther = corner_lead(box(), corner, distance_m=1.3 * distance_m, **how)
            self.assertGreater(lead.packed_db, farther.packed_db)

    def test_a_closet_has_corners_too(self):
        for corner in corners_of(box(size=(0.9, 0.8, 2.0))):
            self.assertTrue(0 < corner.stand_m[0] < 0.9 and 0 < corner.stand_m[1] < 0.8)

    def test_the_pick_by_hand(self):
        # 90 dB at 1 m are 110 at 10 cm; strings of 55 dB at 1 m are 49 at 2 m: 61 dB between.
        self.assertAlmostEqual(pick_under_db(90, 0.1, 2.0), 61.02, 2)


class Bells(unittest.TestCase):
    def test_the_wall_behind_and_its_delay_by_hand(self):
        found = wall_behind(box(), (1.0, 1.5, 1.2), (2.0, 1.5, 1.2), 1.0)
        self.assertEqual((found.wall, found.distance_m), ("west", 1.0))
        self.assertAlmostEqual(found.delay_ms, 1000 * 2.0 / 343, 6)  # 3 m against 1 m
        plaster = 10 * math.log10(1 - MATERIALS["plaster"].absorption[3])
        self.assertAlmostEqual(found.level_db, 20 * math.log10(1 / 3) + plaster, 6)

    def test_each_way_to_face_has_its_wall(self):
        for ahead, wall in (((1, 0), "west"), ((-1, 0), "east"), ((0, 1), "south"), ((0, -1), "north")):
            microphone = (2.1 + 0.5 * ahead[0], 1.5 + 0.5 * ahead[1], 1.4)
            self.assertEqual(wall_behind(box(), (2.1, 1.5, 1.2), microphone, 2.0).wall, wall)

    def test_a_bell_that_beams_makes_more_of_the_wall_and_a_duvet_less(self):
        source, microphone = (1.0, 1.5, 1.2), (2.0, 1.5, 1.2)
        plain, beamed = (wall_behind(box(), source, microphone, factor).level_db for factor in (1.0, 2.0))
        self.assertGreater(beamed, plain + 6)
        self.assertLess(wall_behind(box(west="duvet"), source, microphone, 2.0).level_db, beamed - 2)


class Baffles(unittest.TestCase):
    def test_it_helps_most_where_the_wall_behind_is_bare_and_near(self):
        def gain(y_m, **surfaces):
            place = standing((2.1, y_m, 1.5), (2.1, y_m - 0.2, 1.5), pattern="cardioid")
            return makeshift_gain_db(box(**surfaces), place, MAKESHIFTS["baffle"])

        self.assertGreater(gain(2.4), 0.5)
        self.assertGreater(gain(2.4), gain(2.4, north="duvet"))

    def test_against_the_same_blanket_hung_on_that_wall(self):
        # Hung on the wall it has no back: the baffle's gain lies above the hanging's, and less than twice as high.
        place = standing((2.1, 2.0, 1.5), (2.1, 1.8, 1.5), pattern="cardioid")
        hung = with_hung(box(), [(Piece(label="b", absorption=BLANKET, width_m=1.5, height_m=1.9), BEHIND)])
        gain = float(room_sound(hung, place).lead_db[0] - room_sound(box(), place).lead_db[0])
        baffle_db = makeshift_gain_db(box(), place, MAKESHIFTS["baffle"])
        self.assertTrue(gain < baffle_db < 2 * gain)


class Ears(unittest.TestCase):
    def test_at_the_critical_distance_directly_and_by_the_room_are_alike(self):
        # Kuttruff (from memory): both alike there, together 3.01 dB more.
        critical = critical_distance_m(30, 0.5)
        at_ear = level_at_ear_db(90, critical, 30, 0.5, 1.0)
        self.assertAlmostEqual(at_ear, 90 - 20 * math.log10(critical) + 3.01, 2)

    def test_padding_does_not_soften_the_source_itself(self):
        loud, padded = level_at_ear_db(100, 0.5, 20, 0.6, 1.3), level_at_ear_db(100, 0.5, 20, 0.1, 1.3)
        self.assertGreater(padded, 100 - 20 * math.log10(0.5) - 1e-9)
        self.assertLess(loud - padded, 6)
