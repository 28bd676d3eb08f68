"""Furniture as patches of floor and walls, windows and doors, tables as mirrors."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName
from pneumen.core.room import (
    FURNITURE,
    MATERIALS,
    OPENINGS,
    TURNS,
    WALLS,
    Box,
    Covering,
    Opening,
    Placed,
    free_place,
    furnishing_of,
    hears,
    patch_under,
    require_places,
    room_sound,
    standing,
    stood_in,
    table_echo,
    usual_slots,
)

SIZE = (4.2, 3.1, 2.4)
PLASTER = dict.fromkeys(WALLS, MATERIALS["plaster"].absorption)


def box(*pieces, openings=(), **surfaces):
    coverings, objects = furnishing_of(SIZE, pieces)
    opened = tuple(one.covering(SIZE) for one in openings)
    named = {wall: MATERIALS[slug].absorption for wall, slug in surfaces.items()}
    return Box(size_m=SIZE, surfaces=PLASTER | named, coverings=(*opened, *coverings), objects_m2=objects)


class Patches(unittest.TestCase):
    def test_low_things_cover_the_floor_tall_ones_the_wall_they_stand_against(self):
        bed = Placed(kind="bed", x_m=2, y_m=1)
        on, patch = patch_under(SIZE, bed)
        self.assertEqual(on, "floor")
        np.testing.assert_allclose(patch, (1.0, 3.0, 0.3, 1.7))
        for x_m, y_m, turned, wall in (
            (2, 2.9, 0, "north"),
            (2, 0.2, 180, "south"),
            (0.2, 2, 90, "west"),
            (4.0, 2, 270, "east"),
        ):
            on, (low, high, foot, top) = patch_under(
                SIZE, Placed(kind="bookshelf", x_m=x_m, y_m=y_m, turned_deg=turned)
            )
            self.assertEqual((on, foot, top), (wall, 0.0, 2.0))
            self.assertAlmostEqual(high - low, 0.9)
        self.assertIsNone(patch_under(SIZE, Placed(kind="bookshelf", x_m=2, y_m=1.5)))
        self.assertIsNone(patch_under(SIZE, Placed(kind="person", x_m=2, y_m=0.2)))

    def test_no_absorption_is_lost_or_won_but_what_the_patch_covers(self):
        for kind, furniture in FURNITURE.items():
            piece = free_place(SIZE, (), kind)
            gained = box(piece).absorption_m2 - box().absorption_m2
            under = patch_under(SIZE, piece)
            covered = 0.0
            if under:
                low, high, foot, top = under[1]
                covered = (high - low) * (top - foot) * np.array(PLASTER[under[0]])
            np.testing.assert_allclose(gained, np.array(furniture.absorption_m2) - covered, atol=1e-9, err_msg=kind)

    def test_a_wardrobe_of_clothes_behind_the_singer_quietens_the_wall_behind(self):
        # The figure-8's back looks away from the singer: what stands there counts, what stands beside does not.
        place = standing((2.1, 2.0, 1.2), (2.1, 1.8, 1.2), pattern="cardioid")
        behind = box(Placed(kind="wardrobe-open", x_m=2.1, y_m=2.8))
        beside = box(Placed(kind="wardrobe-open", x_m=3.9, y_m=0.8, turned_deg=90))
        self.assertGreater(room_sound(behind, place).lead_db[0], room_sound(beside, place).lead_db[0] + 0.3)

    @given(st.sampled_from(sorted(FURNITURE)), st.sampled_from(TURNS))
    def test_turned_half_round_it_stands_in_the_same_place(self, kind, turned):
        one, other = (Placed(kind=kind, x_m=2, y_m=1.5, turned_deg=turn % 360) for turn in (turned, turned + 180))
        self.assertEqual(one.footprint, other.footprint)

    def test_free_places_are_free(self):
        pieces = []
        for kind in ("bed", "sofa", "desk", "bookshelf", "person", "clothes-rail"):
            pieces.append(free_place(SIZE, pieces, kind))
            require_places(SIZE, pieces)
        middle = (SIZE[0] / 2, SIZE[1] / 2)
        self.assertFalse(any(piece.stands_on(*middle) for piece in pieces))
        with self.assertRaisesRegex(Contradiction, "finds no free place"):
            free_place((1.2, 1.2, 2.2), (), "bed")

    def test_in_a_wall_or_in_each_other_is_told(self):
        with self.assertRaisesRegex(
            Contradiction, r"Bed with mattress and duvet \(2 m by 1.4 m\) would stand in a wall"
        ):
            require_places(SIZE, [Placed(kind="bed", x_m=0.5, y_m=1)])
        with self.assertRaisesRegex(Contradiction, "Desk would stand in Bed"):
            require_places(SIZE, [Placed(kind="bed", x_m=2, y_m=1), Placed(kind="desk", x_m=2, y_m=1.5)])
        for fields, told in (
            ({"kind": "throne"}, "furniture must be one of"),
            ({"turned_deg": 45}, "turned must be one of"),
        ):
            with self.assertRaisesRegex(UnknownName, told):
                Placed(**({"kind": "bed", "x_m": 1, "y_m": 1} | fields))

    def test_one_stands_in_a_wardrobe_but_on_a_bed(self):
        pieces = [Placed(kind="wardrobe-shut", x_m=1, y_m=2.8), Placed(kind="bed", x_m=3, y_m=1)]
        self.assertEqual(stood_in(pieces, (1.0, 2.7, 1.5)), pieces[0])
        self.assertIsNone(stood_in(pieces, (3.0, 1.0, 1.5)))

    def test_a_wardrobe_stands_with_its_back_to_the_wall(self):
        piece = free_place(SIZE, (), "wardrobe-shut")
        on, (low, high, *_) = patch_under(SIZE, piece)
        self.assertNotEqual(on, "floor")
        self.assertAlmostEqual(high - low, 1.5)

    def test_nothing_is_offered_behind_a_wardrobe(self):
        blocked = [patch_under(SIZE, Placed(kind="wardrobe-shut", x_m=0.8, y_m=2.8))]
        slots = usual_slots(box(), blocked=blocked)
        self.assertEqual([slot.label for slot in slots if slot.on == "north"], ["north wall, east end"])
        self.assertEqual(len(usual_slots(box())) - len(slots), 1)


class Openings(unittest.TestCase):
    window = Opening(kind="open", on="north", along_m=2, width_m=1.0, low_m=0.9, high_m=2.1)

    def test_an_open_window_takes_all_that_meets_it(self):
        # Sabine: an open window of S m2 absorbs S m2 (Sabine, 1922; the unit of absorption itself).
        gained = box(openings=[self.window]).absorption_m2 - box().absorption_m2
        np.testing.assert_allclose(gained, 1.2 * (1 - np.array(PLASTER["north"])))

    def test_a_duvet_over_it_takes_its_place(self):
        duvet = Covering(on="north", absorption=MATERIALS["duvet"].absorption, area_m2=1.2, patch=self.window.patch)
        both = Box(size_m=SIZE, surfaces=PLASTER, coverings=(self.window.covering(SIZE), duvet))
        alone = Box(size_m=SIZE, surfaces=PLASTER, coverings=(duvet,))
        np.testing.assert_allclose(both.absorption_m2, alone.absorption_m2)
        half = Covering(on="north", absorption=MATERIALS["duvet"].absorption, area_m2=0.6, patch=(1.5, 2.0, 0.9, 2.1))
        mixed = Box(size_m=SIZE, surfaces=PLASTER, coverings=(self.window.covering(SIZE), half))
        open_half, duvet_half = 0.6 * 1.0, 0.6 * np.array(MATERIALS["duvet"].absorption)
        rest = (4.2 * 2.4 - 1.2) * np.array(PLASTER["north"])
        np.testing.assert_allclose(
            mixed.wall_absorption[WALLS.index("north")] * 4.2 * 2.4, open_half + duvet_half + rest
        )

    def test_beyond_the_wall_or_no_opening_is_told(self):
        with self.assertRaisesRegex(Contradiction, "reach beyond the north wall, 4.2 m by 2.4 m"):
            Opening(kind="door", on="north", along_m=4.1, width_m=0.8, low_m=0, high_m=2).covering(SIZE)
        with self.assertRaisesRegex(UnknownName, "opening must be one of window"):
            Opening(kind="duvet", on="north", along_m=1, width_m=1, low_m=0, high_m=1)
        with self.assertRaisesRegex(UnknownName, "wall must be one of west, east, south, north"):
            Opening(kind="door", on="floor", along_m=1, width_m=1, low_m=0, high_m=1)
        with self.assertRaisesRegex(Contradiction, "end above where it begins"):
            Opening(kind="door", on="north", along_m=1, width_m=1, low_m=1, high_m=1)
        with self.assertRaisesRegex(OutOfRange, "width must be between"):
            Opening(kind="door", on="north", along_m=1, width_m=0, low_m=0, high_m=1)
        self.assertIn("door", OPENINGS)


class Tables(unittest.TestCase):
    desk = Placed(kind="desk", x_m=2, y_m=1.5)

    def test_the_echo_of_a_table_top_by_hand(self):
        # Mouth and capsule 30 cm over the top, 40 cm apart: the path over the top is a 6-8-10 triangle twice, 72.1 cm.
        found = table_echo(self.desk, (1.8, 1.5, 1.05), (2.2, 1.5, 1.05))
        path = 2 * math.hypot(0.2, 0.3)
        self.assertAlmostEqual(found.delay_s, (path - 0.4) / 343)
        self.assertAlmostEqual(found.gain, 0.4 / path * math.sqrt(0.95))
        self.assertEqual(found.at_m, (2.0, 1.5))

    def test_none_beside_under_or_off_something_soft(self):
        self.assertIsNone(table_echo(self.desk, (3.0, 1.5, 1.05), (3.4, 1.5, 1.05)))
        self.assertIsNone(table_echo(self.desk, (1.8, 1.5, 0.7), (2.2, 1.5, 1.05)))
        self.assertIsNone(table_echo(Placed(kind="bed", x_m=2, y_m=1.5), (1.8, 1.5, 1.05), (2.2, 1.5, 1.05)))

    def test_what_a_pattern_passes(self):
        # First-order patterns: a + b cos; a cardioid at 90 degrees 0.5, behind 0; an omni all.
        for pattern, from_m, wanted in (
            ("cardioid", (0, 1, 0), 0.5),
            ("cardioid", (-1, 0, 0), 0),
            ("omni", (-1, 0, 0), 1),
        ):
            self.assertAlmostEqual(hears(pattern, (0, 0, 0), (1, 0, 0), from_m), wanted)
