"""What to hang where: against trying everything, and against what must hold of any hanging."""

import itertools
import unittest

import numpy as np

from pneumen.core.errors import Contradiction, OutOfRange
from pneumen.core.room import (
    MATERIALS,
    WALLS,
    Box,
    Piece,
    Slot,
    best_arrangement,
    covering_of,
    room_sound,
    standing,
    usual_slots,
    with_hung,
)

DUVET = Piece(label="duvet", absorption=MATERIALS["duvet"].absorption, width_m=1.4, height_m=2.0)
BLANKET = Piece(label="blanket", absorption=MATERIALS["blanket"].absorption, width_m=1.5, height_m=1.8)
FOAM = Piece(label="foam", absorption=MATERIALS["foam-50"].absorption, width_m=0.5, height_m=0.5)
SIZE = (4.2, 3.1, 2.4)


def box(material="plaster", size=SIZE, **walls):
    names = dict.fromkeys(WALLS, material) | walls
    return Box(size_m=size, surfaces={wall: MATERIALS[name].absorption for wall, name in names.items()})


def place(seed=0):
    rng = np.random.default_rng(seed)
    source = rng.uniform([1.0, 0.9, 1.3], [3.2, 2.2, 1.6])
    turn = rng.uniform(0, 6.28)
    microphone = source + np.array([0.25 * np.cos(turn), 0.25 * np.sin(turn), 0.0])
    return standing(tuple(source), tuple(microphone), pattern="cardioid", source_factor=1.5)


class Exact(unittest.TestCase):
    def test_against_trying_every_arrangement_in_the_room_itself(self):
        # Not through the search's own tables: each arrangement is hung in a box, and that box is listened to.
        for seed in range(5):
            room, where = box(floor="carpet"), place(seed)
            slots = usual_slots(room)[seed % 2 :: 2]
            for pieces in ([DUVET], [DUVET, BLANKET], [DUVET, DUVET, FOAM]):
                found = best_arrangement(room, where, pieces, slots)
                leads = [
                    float(room_sound(with_hung(room, list(zip(pieces, chosen, strict=True))), where).lead_db[0])
                    for chosen in itertools.permutations(slots, len(pieces))
                ]
                self.assertAlmostEqual(found.lead_after_db, max(leads), 6)
                self.assertEqual(found.proven_within_db, 0)

    def test_more_pieces_than_can_be_tried_are_still_proven_or_said_how_far(self):
        room, where = box(size=(5.6, 4.4, 2.5)), place(3)
        pieces = [DUVET, DUVET, BLANKET, BLANKET, FOAM, FOAM, DUVET]
        found = best_arrangement(room, where, pieces, usual_slots(room))
        self.assertEqual(len(found.hung), 7)
        again = with_hung(room, [(one.piece, one.slot) for one in found.hung])
        self.assertAlmostEqual(float(room_sound(again, where).lead_db[0]), found.lead_after_db, 6)
        rng = np.random.default_rng(0)
        for _ in range(40):
            slots = [usual_slots(room)[n] for n in rng.permutation(len(usual_slots(room)))[:7]]
            tried = with_hung(room, list(zip(pieces, slots, strict=True)))
            lead = float(room_sound(tried, where).lead_db[0])
            self.assertLessEqual(lead, found.lead_after_db + found.proven_within_db + 1e-9)


class Sensible(unittest.TestCase):
    def test_effects_add_up_and_come_strongest_first(self):
        found = best_arrangement(box(), place(1), [DUVET, DUVET, BLANKET], usual_slots(box()))
        self.assertAlmostEqual(sum(one.brings_db for one in found.hung), found.lead_after_db - found.lead_before_db, 9)
        self.assertGreater(found.hung[0].brings_db, 0.3)
        self.assertEqual(len({one.slot for one in found.hung}), 3)

    def test_hanging_never_makes_a_bare_room_more_audible(self):
        for seed in range(6):
            found = best_arrangement(box(), place(seed), [BLANKET], usual_slots(box()))
            self.assertGreater(found.lead_after_db, found.lead_before_db)

    def test_a_piece_is_moved_and_cut_to_its_wall(self):
        low = box(size=(4.0, 1.2, 2.0))
        hung = covering_of(low, DUVET, Slot(on="west", middle_m=(0.0, 0.2), label="low"))
        self.assertEqual(hung.patch, (0.0, 1.2, 0.0, 2.0))
        self.assertAlmostEqual(hung.area_m2, 2.4)

    def test_a_wall_hung_whole_is_a_wall_of_that(self):
        whole = Piece(label="all", absorption=DUVET.absorption, width_m=4.2, height_m=2.4)
        slot = Slot(on="north", middle_m=(2.1, 1.2), label="all")
        hung = with_hung(box(), [(whole, slot)])
        made = box(north="duvet")
        np.testing.assert_allclose(room_sound(hung, place()).room, room_sound(made, place()).room, rtol=1e-9)
        np.testing.assert_allclose(room_sound(made, place()).room, room_sound(made, place()).room, rtol=1e-9)

    def test_bad_input(self):
        with self.assertRaises(Contradiction):
            best_arrangement(box(), place(), [DUVET], [])
        with self.assertRaises(Contradiction):
            best_arrangement(box(), place(), [FOAM] * 9, usual_slots(box()))
        heap, one = (with_hung(box(), [(DUVET, usual_slots(box())[0])] * count) for count in (5, 1))
        np.testing.assert_allclose(heap.absorption_m2, one.absorption_m2)  # behind the outermost nothing is heard
        with self.assertRaises(OutOfRange):
            Piece(label="x", absorption=DUVET.absorption, width_m=0, height_m=1)


if __name__ == "__main__":
    unittest.main()
