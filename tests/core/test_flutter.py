"""Flutter where its echoes come evenly: what they may mean, and which of the drawn walls they run between.

Geometry (mirror images on a line between two walls L apart): heard where it was clapped, x from one wall, echoes come
after 2nL/c and (2nL - 2x)/c. Midway that is an even train of L/c, close to a wall one of 2L/c, at a third 2L/3c.
"""

import unittest

from pneumen.core.rig.clap import simulate_clap
from pneumen.core.room import MATERIALS, Box, clap_of, likely_walls
from tests.core.test_decay import RATE, SOFT, WALLS

BARE = dict.fromkeys(WALLS, SOFT) | dict.fromkeys(("west", "east"), MATERIALS["plaster"].absorption)


def clapped(length_m, at, seed=0):
    """Return what a clap tells between bare walls, a share of the way from the west one, the ear 6 cm beside."""
    box = Box(size_m=(length_m, 3.45, 2.75), surfaces=BARE)
    made = simulate_clap(box, (at * length_m, 1.2, 1.4), (at * length_m + 0.06, 1.5, 1.5), seed=seed)
    return clap_of(made, RATE)


class WhichWalls(unittest.TestCase):
    def named(self, found, length_m):
        self.assertTrue(found.flutter.found)
        walls = {"west and east": length_m, "south and north": 3.45, "floor and ceiling": 2.75}
        return likely_walls(found.flutter.spacing_m, found.flutter_or_m, walls)

    def test_a_third_of_the_way_the_pair_is_named(self):
        for length_m in (3.6, 4.65, 5.9):
            for seed in range(3):
                found = clapped(length_m, 1 / 3, seed)
                self.assertEqual(self.named(found, length_m), ("west and east", length_m), found)

    def test_close_to_a_wall_of_a_narrow_hall_too(self):
        for length_m in (1.5, 1.9, 2.1):
            found = clapped(length_m, 0.06)
            self.assertEqual(self.named(found, length_m), ("west and east", length_m), found)

    def test_midway_in_a_wide_room_too(self):
        for length_m in (4.9, 6.2):
            found = clapped(length_m, 0.5)
            self.assertEqual(self.named(found, length_m), ("west and east", length_m), found)

    def test_off_the_middle_nothing_else_is_meant(self):
        found = clapped(4.2, 0.22)
        self.assertAlmostEqual(found.flutter.spacing_m, 4.2, delta=0.06)
        self.assertEqual(found.flutter_or_m, ())

    def test_what_fits_no_pair_is_named_none(self):
        self.assertIsNone(likely_walls(3.0, (1.5, 4.5), {"west and east": 2.2, "south and north": 6.0}))
        self.assertEqual(likely_walls(3.0, (1.5, 4.5), {"west and east": 4.4}), ("west and east", 4.4))

    def test_the_reading_itself_comes_first(self):
        walls = {"west and east": 4.5, "south and north": 3.1}
        self.assertEqual(likely_walls(3.0, (4.5,), walls), ("south and north", 3.1))
