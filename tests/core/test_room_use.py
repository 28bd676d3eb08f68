"""Using a room: noises and the null turned to them, where to stand, boxiness of small spaces."""

import math
import unittest

import numpy as np

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName
from pneumen.core.room import (
    MATERIALS,
    SPECTRA,
    Box,
    Noise,
    best_aim,
    best_spots,
    boxiness_of,
    critical_distance_m,
    heard_of,
    noise_at,
    noise_everywhere,
    quietest_hours,
    reverberation_times_eyring_s,
    room_map,
    room_score_db,
    room_sound,
    standing,
)
from pneumen.core.room.box import WALLS

HERE = (2.1, 1.7, 1.5)


def box(material="plaster", size=(4.2, 3.1, 2.4), **walls):
    names = dict.fromkeys(WALLS, material) | walls
    return Box(size_m=size, surfaces={wall: MATERIALS[name].absorption for wall, name in names.items()})


def noise(**changes):
    return Noise(**({"name": "fan", "place_m": (0.4, 1.7, 1.5), "level_dba": 45.0} | changes))


class Noises(unittest.TestCase):
    def test_direct_by_distance_and_pattern(self):
        # In the open 45 dBA at 1 m are 45 - 20 log10(1.7) = 40.39 at 1.7 m; a cardioid's side takes 6.02.
        for axis, pattern, expected in (
            ((0, -1, 0), "omni", 40.39),
            ((0, -1, 0), "cardioid", 34.37),
            ((-1, 0, 0), "cardioid", 40.39),
        ):
            heard = heard_of(box(), [noise()], HERE, axis, pattern)[0]
            self.assertAlmostEqual(heard.direct_dba, expected, 2)
        self.assertLess(heard_of(box(), [noise()], HERE, (1, 0, 0), "cardioid")[0].direct_dba, 0)  # its null

    def test_by_way_of_the_room_it_is_as_loud_as_directly_at_the_critical_distance(self):
        room = box()
        for band, rt60_by_band_s in enumerate(reverberation_times_eyring_s(room)):
            critical = critical_distance_m(room.volume_m3, rt60_by_band_s)
            heard = heard_of(room, [noise(place_m=(HERE[0] + critical, *HERE[1:]))], HERE, (0, -1, 0), "omni")[0]
            self.assertAlmostEqual(heard.direct_bands_dba[band], heard.room_bands_dba[band], 6)

    def test_a_spectrum_adds_up_to_its_level_and_hiss_dies_in_curtains(self):
        for spectrum in SPECTRA:
            one = noise(spectrum=spectrum)
            self.assertAlmostEqual(10 * np.log10((10 ** (one.bands_dba / 10)).sum()), 45, 9)
        # A-weighting (IEC 61672-1, Table 3) makes little of rumble: its highest octave is not its strongest.
        self.assertGreater(int(noise(spectrum="rumble").bands_dba.argmax()), 0)
        self.assertEqual(int(noise(spectrum="hiss").bands_dba.argmax()), 4)
        bare, hung = box(), box(north="curtain-velvet", east="curtain-velvet", south="curtain-velvet")
        falls = []
        for spectrum in ("rumble", "hiss"):
            there = [
                heard_of(one, [noise(spectrum=spectrum)], HERE, (0, 1, 0), "omni")[0].room_dba for one in (bare, hung)
            ]
            falls.append(there[0] - there[1])
        self.assertGreater(falls[1], falls[0] + 2)
        with self.assertRaisesRegex(UnknownName, "spectrum must be one of even"):
            noise(spectrum="pink")

    def test_everywhere_is_what_an_omni_far_off_hears_and_half_the_ring_time_is_half_the_noise(self):
        lively = box(size=(8.0, 6.0, 3.0))
        fan, rt60_by_band_s = noise(place_m=(0.5, 0.5, 0.5)), np.array(reverberation_times_eyring_s(lively))
        told = noise_everywhere([fan], 144.0, rt60_by_band_s, hour=12, background_dba=-20)
        far = noise_at(lively, [fan], (7.5, 5.5, 2.0), (0, 1, 0), "omni", hour=12, background_dba=-20)
        self.assertAlmostEqual(told, far, delta=0.3)
        halved = noise_everywhere([fan], 144.0, rt60_by_band_s / 2, hour=12, background_dba=-20)
        self.assertAlmostEqual(told - halved, 3.01, 2)
        self.assertEqual(noise_everywhere([noise(to_hour=6)], 144.0, rt60_by_band_s, hour=12, background_dba=33), 33)

    def test_the_hour_decides_what_sounds(self):
        ovens = noise(from_hour=4, to_hour=7)
        at = [
            noise_at(box(), [ovens], HERE, (0, -1, 0), "cardioid", hour=hour, background_dba=28) for hour in (3, 5, 7)
        ]
        self.assertAlmostEqual(at[0], 28 - 4.77, 2)
        self.assertAlmostEqual(at[0], at[2], 6)
        self.assertGreater(at[1], at[0] + 10)

    def test_the_null_is_turned_to_the_noise(self):
        # In a room that gives nothing back only the direct sound counts: the supercardioid's null lies at 125.3.
        dead = Box(size_m=(6.0, 5.0, 3.0), surfaces=dict.fromkeys(WALLS, (1.0,) * 6))
        mouth, microphone = (3.0, 2.0, 1.5), (3.0, 2.3, 1.5)
        angle = math.radians(-90 + 125.3 + 14)
        fan = noise(place_m=(3.0 + math.cos(angle), 2.3 + math.sin(angle), 1.5))
        aim = best_aim(dead, [fan], microphone, mouth, "supercardioid", hour=1, background_dba=5)
        self.assertAlmostEqual(aim.turned_deg, 14, delta=2)
        self.assertGreater(aim.saves_db, 5)
        held = best_aim(dead, [fan], microphone, mouth, "supercardioid", hour=1, background_dba=5, most_deg=4)
        self.assertLessEqual(abs(held.turned_deg), 4)

    def test_bad_noises(self):
        for changes, error in (
            ({"name": " "}, Contradiction),
            ({"level_dba": 200}, OutOfRange),
            ({"from_hour": 25}, OutOfRange),
            ({"to_hour": -1}, OutOfRange),
        ):
            with self.assertRaises(error):
                noise(**changes)


class Spots(unittest.TestCase):
    HOW = {"microphone_m": 1.5, "distance_m": 0.25, "pattern": "cardioid", "source_factor": 1.5}  # noqa: RUF012

    def test_a_cell_of_the_map_is_what_is_heard_there(self):
        room = box(floor="carpet")
        heard = room_map(room, mouth_m=1.5, facing=(0.0, 1.0), **self.HOW)
        self.assertEqual(heard.lead_db.shape, (32, 32))
        for row, column in ((5, 8), (20, 20), (25, 3)):
            x, y = float(heard.x_m[column]), float(heard.y_m[row])
            alone = room_sound(room, standing((x, y, 1.5), (x, y + 0.25, 1.5), pattern="cardioid", source_factor=1.5))
            self.assertAlmostEqual(float(heard.lead_db[row, column]), float(alone.lead_db[0]), 9)
        self.assertTrue(np.isnan(heard.lead_db[-1]).all())  # there the microphone would stand in the north wall

    def test_the_best_spot_is_better_than_a_corner_and_has_the_soft_side_behind(self):
        room = box(floor="carpet", west="clothes")
        spots = best_spots(room, (0.4, 2.6, 1.5), facing=(0.0, -1.0), **self.HOW)
        self.assertEqual(len(spots), 3)
        best = spots[0]
        self.assertGreater(best.gain_db, 2)
        self.assertEqual(best.facing, (1.0, 0.0))  # the back to the clothes in the west
        self.assertIn("softest-wall-behind", best.reasons)
        self.assertGreaterEqual(min(best.x_m, 4.2 - best.x_m, best.y_m, 3.1 - best.y_m), 0.55)

    def test_a_closet_still_has_a_spot(self):
        spots = best_spots(box(size=(1.2, 0.9, 2.2)), (0.6, 0.45, 1.5), facing=(1.0, 0.0), **self.HOW)
        self.assertTrue(spots)


class Choosing(unittest.TestCase):
    def test_lead_and_quiet_count_alike_up_to_where_more_is_not_heard(self):
        usual = room_score_db(12, 32, boxed_in=False)
        self.assertAlmostEqual(room_score_db(15, 35, boxed_in=False), usual)
        self.assertLess(room_score_db(12, 32, boxed_in=True), usual)
        self.assertEqual(room_score_db(40, 0, boxed_in=False), room_score_db(25, 15, boxed_in=False))

    def test_the_quiet_hours_of_a_day(self):
        self.assertEqual(quietest_hours([30.0] * 24), (30, ((0, 24),)))
        self.assertEqual(quietest_hours([44.0] * 6 + [30.2] + [44.0] * 10 + [30.0] * 7), (30, ((6, 7), (17, 24))))
        with self.assertRaises(Contradiction):
            quietest_hours([])


class Boxed(unittest.TestCase):
    def test_a_closet_is_boxed_in_and_a_furnished_room_is_not(self):
        closet = box("clothes", (1.2, 0.9, 2.2), floor="wood-floor", ceiling="plaster")
        found = boxiness_of(closet, (0.6, 0.4, 1.5), (0.6, 0.6, 1.5), "cardioid")
        self.assertEqual(found.faults[0], "few-modes")
        self.assertNotEqual(found.verdict, "clear")
        room = box("plasterboard", (5.2, 4.1, 2.6), floor="boards-over-air")
        self.assertEqual(boxiness_of(room, (2.3, 2.0, 1.5), (2.3, 2.2, 1.5), "cardioid").verdict, "clear")

    def test_a_hard_wall_close_by_colours(self):
        near = boxiness_of(box(), (2.1, 0.25, 1.5), (2.1, 0.45, 1.5), "omni")
        far = boxiness_of(box(), (2.1, 1.6, 1.2), (2.1, 1.8, 1.2), "omni")
        self.assertGreater(near.early_db, far.early_db + 6)
        self.assertTrue("early-reflections" in near.faults)


if __name__ == "__main__":
    unittest.main()
