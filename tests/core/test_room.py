"""The room's physics: against pyroomacoustics, against closed forms, and against the laws it must obey."""

import json
import math
import unittest
import warnings
from itertools import pairwise
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from pneumen.core.errors import BadDocument, Contradiction, OutOfRange, UnknownName
from pneumen.core.room import (
    FURNITURE,
    MATERIALS,
    WALLS,
    Box,
    Covering,
    coincidences_of,
    comb_of,
    critical_distance_m,
    echoes_of,
    images_up_to,
    modes_of,
    report_of,
    reverberation_time_eyring_s,
    reverberation_times_eyring_s,
    reverberation_times_sabine_s,
    room_from_json,
    room_sound,
    schroeder_frequency_hz,
    standing,
)
from tests.signals import as_json, changed

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import pyroomacoustics

SIZE = (4.2, 3.1, 2.4)
ROOM = {
    "size_m": [4.2, 3.1, 2.4],
    "surfaces": dict.fromkeys(("floor", "ceiling", "north", "south", "east", "west"), "plaster"),
    "coverings": [{"on": "north", "material": "duvet", "area_m2": 3.0}],
    "objects": [{"absorption_m2": [0.3, 0.5, 0.8, 1.0, 1.1, 1.1]}],
    "source_m": [2.1, 1.5, 1.5],
    "microphone_m": [2.3, 1.7, 1.4],
    "pattern": "cardioid",
}


def box(size=SIZE, absorption=0.2, **more):
    walls = absorption if isinstance(absorption, dict) else dict.fromkeys(WALLS, absorption)
    return Box(size_m=size, surfaces={wall: (value,) * 6 for wall, value in walls.items()}, **more)


def reference(size, absorption, source, microphone, order):
    """The same room in pyroomacoustics, frequency-flat and without air absorption."""
    made = {wall: pyroomacoustics.Material(absorption[wall]) for wall in WALLS}
    room = pyroomacoustics.ShoeBox(size, fs=48_000, materials=made, max_order=order, air_absorption=False)
    room.set_sound_speed(343.0)
    room.add_source(source)
    room.add_microphone(microphone)
    room.image_source_model()
    return room


def random_rooms(count, seed=0):
    rng = np.random.default_rng(seed)
    for _ in range(count):
        size = rng.uniform([2.5, 2.2, 2.2], [6.0, 5.0, 3.2])
        absorption = dict(zip(WALLS, rng.uniform(0.05, 0.7, 6), strict=True))
        source, microphone = (rng.uniform(0.4, size - 0.4) for _ in range(2))
        yield tuple(map(float, size)), absorption, tuple(map(float, source)), tuple(map(float, microphone))


class AgainstPyroomacoustics(unittest.TestCase):
    """The general-purpose library computes image sources of boxes too: times must agree exactly, levels to 0.5 dB."""

    def test_images_of_order_three(self):
        for size, absorption, source, microphone in random_rooms(12):
            theirs = reference(size, absorption, source, microphone, 3).sources[0]
            distance = np.linalg.norm(theirs.images - np.array(microphone)[:, None], axis=0)
            level = 20 * np.log10(theirs.damping[0] / distance)
            expected = sorted(zip(distance / 343.0, level, strict=True))
            ours = echoes_of(box(size, absorption), source, microphone, order=3)
            first_s = math.dist(source, microphone) / 343.0
            direct_db = -20 * math.log10(math.dist(source, microphone))
            found = sorted(zip(ours.delay_s + first_s, 10 * np.log10(ours.share[:, 0]) + direct_db, strict=True))
            self.assertEqual(len(found), len(expected))
            for (our_s, our_db), (their_s, their_db) in zip(found, expected, strict=True):
                self.assertAlmostEqual(our_s, their_s, 7)  # theirs are kept in single precision
                self.assertAlmostEqual(our_db, their_db, delta=0.01)

    def test_ring_times_by_both_formulas(self):
        for size, absorption, source, microphone in random_rooms(6, seed=1):
            even = dict.fromkeys(WALLS, absorption["floor"])  # its Eyring goes wall by wall, as Millington's does
            for walls, formula, times in (
                (absorption, "sabine", reverberation_times_sabine_s),
                (even, "sabine", reverberation_times_sabine_s),
                (even, "eyring", reverberation_times_eyring_s),
            ):
                theirs = reference(size, walls, source, microphone, 1).rt60_theory(formula=formula)
                self.assertAlmostEqual(times(box(size, walls))[0] / theirs, 1, delta=0.002)  # 0.161 is rounded

    def test_the_published_absorption_is_carried_over_whole(self):
        data = json.loads((Path(pyroomacoustics.__file__).parent / "data" / "materials.json").read_text())
        rows = {name: row["coeffs"] for group in data["absorption"].values() for name, row in group.items()}
        published = [one for one in MATERIALS.values() if one.origin == "published"]
        self.assertGreaterEqual(len(published), 30)
        for one in published:
            self.assertEqual(list(one.absorption), rows[one.row][:6], one.slug)
        for one in MATERIALS.values():
            self.assertTrue(one.origin == "published" or one.origin.startswith(("estimate", "by definition")), one.slug)

    def test_room_sound_is_what_thirty_orders_of_images_add_up_to(self):
        off = []
        for size, absorption, source, _ in random_rooms(10, seed=2):
            even = dict.fromkeys(WALLS, float(np.mean(list(absorption.values()))))  # a diffuse room has even walls
            microphone = tuple(min(max(at + 0.25, 0.3), side - 0.3) for at, side in zip(source, size, strict=True))
            theirs = reference(size, even, source, microphone, 30).sources[0]
            distance = np.linalg.norm(theirs.images - np.array(microphone)[:, None], axis=0)
            energy = np.square(theirs.damping[0] / distance)
            whole_db = 10 * np.log10((energy.sum() - energy.max()) / energy.max())
            ours = room_sound(box(size, even), standing(source, microphone, pattern="omni"))
            off.append(float(-ours.lead_by_band_db[0, 0] - whole_db))
        self.assertLess(np.abs(off).max(), 0.5)
        self.assertLess(abs(np.mean(off)), 0.2)


class Statistics(unittest.TestCase):
    def test_a_worked_room(self):
        # By hand: V 60, S 94, all walls 0.1: A = 9.4; Sabine 0.161 * 60 / 9.4 = 1.0277; Eyring: -ln 0.9 = 0.10536,
        # 9.66 / (94 * 0.10536) = 0.9754.
        room = box((5.0, 4.0, 3.0), 0.1)
        self.assertAlmostEqual(reverberation_times_sabine_s(room)[0], 1.0277, 4)
        self.assertAlmostEqual(reverberation_times_eyring_s(room)[0], 0.9754, 4)

    def test_eyring_meets_sabine_where_little_is_absorbed_and_falls_short_of_it_in_damped_rooms(self):
        live, damped = box(absorption=0.01), box(absorption=0.5)
        self.assertAlmostEqual(reverberation_times_sabine_s(live)[0] / reverberation_times_eyring_s(live)[0], 1.005, 3)
        self.assertAlmostEqual(
            reverberation_times_sabine_s(damped)[0] / reverberation_times_eyring_s(damped)[0], 1.386, 3
        )  # 2 ln 2

    def test_all_or_nothing_has_no_reverberation_time(self):
        self.assertEqual(reverberation_times_eyring_s(box(absorption=1.0)), (None,) * 6)
        self.assertEqual(reverberation_times_eyring_s(box(absorption=0.0)), (None,) * 6)
        self.assertEqual(reverberation_times_sabine_s(box(absorption=0.0)), (None,) * 6)

    def test_coverings_take_the_walls_place_and_objects_add(self):
        hung = box(coverings=(Covering(on="north", absorption=(0.7,) * 6, area_m2=2.0),))
        self.assertAlmostEqual(float((hung.absorption_m2 - box().absorption_m2)[3]), 2.0 * 0.5, 9)
        stood = box(objects_m2=((0.5,) * 6,))
        self.assertAlmostEqual(float((stood.absorption_m2 - box().absorption_m2)[3]), 0.5, 9)

    def test_critical_distance_and_schroeder(self):
        # 0.057 sqrt(60 / 1) = 0.4415; a cardioid reaches sqrt 3 farther; 2000 sqrt(1 / 60) = 258.2.
        self.assertAlmostEqual(critical_distance_m(60, 1.0), 0.4415, 4)
        self.assertAlmostEqual(critical_distance_m(60, 1.0, "cardioid") / critical_distance_m(60, 1.0), 3**0.5, 6)
        self.assertAlmostEqual(schroeder_frequency_hz(60, 1.0), 258.2, 1)

    @given(st.floats(1, 500), st.floats(10, 400), st.floats(0.01, 0.95))
    def test_more_absorption_never_rings_longer(self, volume, surface, mean):
        more = min(mean + 0.02, 0.98)
        self.assertGreater(
            reverberation_time_eyring_s(volume, surface, mean), reverberation_time_eyring_s(volume, surface, more)
        )


class Modes(unittest.TestCase):
    def test_axial_modes_lie_where_half_waves_fit(self):
        # 343 / (2 * 4.2) = 40.83 Hz, and its multiples.
        along_x = [mode.hz for mode in modes_of(SIZE) if mode.order[1:] == (0, 0)]
        np.testing.assert_allclose(along_x, 343 / 8.4 * np.arange(1, 5), rtol=1e-12)

    def test_counted_and_sorted(self):
        # Kuttruff, Room Acoustics (from memory): N = 4 pi V f3 / 3 c3 + pi S f2 / 4 c2 + L f / 8 c, L all edges.
        for size in (SIZE, (5.0, 4.0, 3.0), (7.1, 5.3, 2.9)):
            x, y, z = size
            volume, surface, edges = x * y * z, 2 * (x * y + y * z + x * z), 4 * (x + y + z)
            k = 200 / 343
            expected = 4 * math.pi * volume * k**3 / 3 + math.pi * surface * k**2 / 4 + edges * k / 8
            found = modes_of(size)
            self.assertAlmostEqual(len(found) / expected, 1, delta=0.12)
            self.assertTrue(all(low.hz <= high.hz for low, high in pairwise(found)))

    def test_a_cube_coincides_and_the_centre_is_silent_for_odd_ones(self):
        self.assertTrue(coincidences_of(modes_of((3.0, 3.0, 3.0))))
        self.assertEqual(coincidences_of(modes_of((5.0, 3.93, 2.9), 110)), ())
        first, second = (next(m for m in modes_of(SIZE) if m.order == order) for order in ((1, 0, 0), (2, 0, 0)))
        centre, corner = tuple(side / 2 for side in SIZE), (0.0, 0.0, 0.0)
        self.assertAlmostEqual(first.pressure_at(centre, SIZE), 0, 12)
        self.assertAlmostEqual(abs(second.pressure_at(centre, SIZE)), 1, 12)
        self.assertEqual(first.pressure_at(corner, SIZE), 1)


class Echoes(unittest.TestCase):
    def test_how_many_images_there_are(self):
        # The lattice points of an octahedron: (2n + 1)(2n2 + 2n + 3) / 3.
        for order in range(6):
            self.assertEqual(len(images_up_to(order).cells), (2 * order + 1) * (2 * order**2 + 2 * order + 3) // 3)

    def test_walls_met_are_as_many_as_the_order(self):
        images = images_up_to(4)
        np.testing.assert_array_equal(images.hits.sum(axis=1), np.abs(images.cells).sum(axis=1))
        beyond_east = next(n for n, cell in enumerate(images.cells) if tuple(cell) == (3, 0, 0))
        self.assertEqual(images.hits[beyond_east].tolist(), [1, 2, 0, 0, 0, 0])  # west once, east twice

    def test_a_pattern_does_not_hear_what_comes_from_its_null(self):
        # A cardioid aimed away from the wall behind it: that wall's echo comes from 180 degrees (published null).
        room, source, microphone = box(), (2.1, 2.0, 1.2), (2.1, 1.0, 1.2)
        heard = echoes_of(room, source, microphone, pattern="cardioid", order=1)
        behind = next(n for n in range(7) if heard.order[n] == 1 and heard.hits[n][WALLS.index("south")])
        self.assertLess(heard.share[behind, 0], 1e-20)
        open_ear = echoes_of(room, source, microphone, pattern="omni", order=1)
        self.assertGreater(open_ear.share[behind, 0], 1e-3)

    def test_places_in_walls_and_in_each_other_are_refused(self):
        for source, microphone, error in (
            ((0.0, 1.0, 1.0), (2.0, 1.0, 1.0), OutOfRange),
            ((1.0, 1.0, 1.0), (2.0, 1.0, 2.4), OutOfRange),
            ((1.0, 1.0, 1.0), (1.0, 1.0, 1.005), Contradiction),
        ):
            with self.assertRaises(error):
                echoes_of(box(), source, microphone)


class Sound(unittest.TestCase):
    def lead(self, room=None, **more):
        return float(room_sound(room or box(), standing((2.1, 1.6, 1.5), (2.1, 1.4, 1.5), **more)).lead_db[0])

    def test_a_cardioid_hears_less_of_the_room_than_an_omni(self):
        # 10 log10 3 in a diffuse field; walls near by change it a little.
        self.assertAlmostEqual(self.lead(pattern="cardioid") - self.lead(pattern="omni"), 4.8, delta=1.0)

    def test_a_source_that_beams_at_the_microphone_stands_out(self):
        self.assertGreater(self.lead(source_factor=2.0), self.lead(source_factor=1.0) + 1.0)

    def test_the_wall_behind_the_singer_counts_most_for_a_cardioid(self):
        # The singer stands north of the microphone, so the live side looks north: hanging there does more.
        duvet = MATERIALS["duvet"].absorption
        at = ((2.1, 2.3, 1.5), (2.1, 2.1, 1.5))

        def lead(wall):
            hung = box(coverings=(Covering(on=wall, absorption=duvet, area_m2=4.0),))
            return float(room_sound(hung, standing(*at, pattern="cardioid")).lead_db[0])

        self.assertGreater(lead("north"), lead("south"))

    @settings(max_examples=25)
    @given(st.floats(0.05, 0.6), st.sampled_from(WALLS))
    def test_more_absorption_anywhere_never_lets_the_room_be_heard_more(self, absorption, wall):
        before = box(absorption=absorption)
        after = box(absorption={**dict.fromkeys(WALLS, absorption), wall: min(absorption + 0.2, 1.0)})
        self.assertGreaterEqual(self.lead(after), self.lead(before) - 1e-9)

    def test_distance_costs_six_decibels_where_the_tail_rules(self):
        room = box((6.0, 5.0, 3.0), 0.15)
        near, far = (
            float(room_sound(room, standing((3.0, 2.5, 1.5), (3.0, 2.5 - d, 1.5), pattern="omni")).lead_db[0])
            for d in (0.1, 0.2)
        )
        self.assertAlmostEqual(near - far, 6.02, delta=0.3)

    def test_combs(self):
        # A table top 30 cm under mouth and microphone, 40 cm apart: path 72.1 cm, 0.936 ms later; g 0.4/0.721 = 0.555.
        comb = comb_of(0.3211 / 343, 0.555)
        self.assertAlmostEqual(comb.first_notch_hz, 534, 0)
        self.assertAlmostEqual(comb.ripple_db, 10.87, 2)


class Report(unittest.TestCase):
    def told(self, **pieces):
        room = room_from_json(as_json(changed(ROOM, **pieces)))
        return report_of(room.box, room.source_m, room.microphone_m, room.pattern)

    def test_first_reflections_by_hand(self):
        # Floor: heights 1.5 and 1.4 m, 0.283 m apart across: path sqrt(0.08 + 2.9^2) = 2.9138, direct sqrt(0.09) = 0.3;
        # 7.620 ms later, 20 log10(0.3 / 2.9138) = -19.75 dB, less 10 log10(1 - 0.03) = 0.13 at 1 kHz.
        floor = next(one for one in self.told().reflections if one.surface == "floor")
        self.assertAlmostEqual(floor.delay_ms, 7.620, 2)
        self.assertAlmostEqual(floor.level_db, -19.88, 2)
        self.assertAlmostEqual(floor.first_notch_hz, 500 / 7.620, 1)

    def test_a_covered_wall_is_weighted_by_area(self):
        # North is 4.2 x 2.4 = 10.08 m2: 3 m2 at 0.70, the rest at 0.03: 0.2294 at 1 kHz.
        bare, hung = (self.told(coverings=one).reflections[2] for one in ([], ROOM["coverings"]))
        self.assertAlmostEqual(bare.level_db - hung.level_db, 10 * math.log10(0.97 / (1 - 0.2294)), 3)

    def test_the_lead_goes_with_critical_distance(self):
        report = self.told()
        for critical, lead in zip(report.critical_distance_m, report.direct_to_reverberant_db, strict=True):
            self.assertAlmostEqual(lead, 20 * math.log10(critical / 0.3), 9)
        self.assertEqual(report.modes[-1].hz <= 200, True)

    def test_an_open_field_has_no_room(self):
        report = self.told(surfaces=dict.fromkeys(ROOM["surfaces"], "open"), objects=[], coverings=[])
        self.assertEqual(report.rt60_eyring_s, (None,) * 6)
        self.assertIsNone(report.schroeder_hz)
        self.assertTrue(all(one.level_db is None for one in report.reflections))

    def test_bad_rooms_are_told_by_name(self):
        for pieces, told in (
            ({"size_m": [0, 3, 2]}, "size_m must be between 0.5 m and 60 m"),
            ({"size_m": [400, 300, 40]}, "size_m"),
            ({"size_m": [4, 3]}, "size_m"),
            ({"surfaces": {"floor": "moss"}}, r"surfaces\.floor"),
            ({"surfaces": {"west": [0.1, 0.1]}}, r"surfaces\.west"),
            ({"surfaces": {"west": [1.2] * 6}}, r"surfaces\.west"),
            ({"coverings": [{"on": "north", "material": "duvet", "area_m2": 30}]}, "at most the 10.1 m2"),
            ({"coverings": [{"on": "roof", "material": "duvet", "area_m2": 1}]}, r"coverings\[0\]"),
            ({"coverings": [{"on": "north", "material": "duvet", "area_m2": -1}]}, r"coverings\[0\].*area_m2"),
            ({"objects": [{"absorption_m2": [1, 2]}]}, "absorption_m2"),
            ({"pattern": "banana"}, "pattern"),
        ):
            with self.subTest(pieces), self.assertRaisesRegex(BadDocument, told):
                room_from_json(as_json(changed(ROOM, **pieces)))
        with self.assertRaises(OutOfRange):
            self.told(source_m=[5, 1, 1])


class Furniture(unittest.TestCase):
    def test_more_clothes_absorb_more_and_nothing_absorbs_more_than_its_skin(self):
        self.assertGreater(FURNITURE["wardrobe-open"].absorption_m2[3], FURNITURE["wardrobe-shut"].absorption_m2[3])
        for one in FURNITURE.values():
            x, y, z = one.size_m
            self.assertLessEqual(max(one.absorption_m2), 2 * (x * y + y * z + x * z), one.slug)

    def test_unknown_materials_name_those_there_are(self):
        from pneumen.core.room import material_named

        with self.assertRaisesRegex(UnknownName, "duvet"):
            material_named("moss")


if __name__ == "__main__":
    unittest.main()
