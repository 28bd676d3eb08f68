"""The distance ladder: each strip by its law, and where all of them are calm."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from pneumen.core.errors import OutOfRange
from pneumen.core.part import SOURCES
from pneumen.core.place import (
    DISTANCE_SCHOOLS,
    LIMITS,
    at_distance,
    beam_db,
    felt_most,
    judge_place,
    limit_of,
    low_cut_of,
    puff_speed_m_s,
    step_back_for,
    strengths_at,
    sway_db,
)
from tests import parts
from tests.parts import statistics as room

VOICE = SOURCES["voice-pop"]


def ladder(source=VOICE, where=None, pattern="cardioid", **placed):
    placed = {"pop_screen": False} | placed
    return parts.ladder(parts.part(source, space=where or room(), chain=pattern, **placed))


class Pops(unittest.TestCase):
    def test_the_jet_off_its_axis(self):
        # Pope, Turbulent Flows (from memory): half speed at 5.5 degrees, 17 % at 10, 6 % at 15.
        on_axis = float(puff_speed_m_s(np.array([0.2]), 0, pop_screen=False)[0])
        for degrees, share in ((5.5, 0.50), (10, 0.17), (15, 0.06)):
            off = float(puff_speed_m_s(np.array([0.2]), degrees, pop_screen=False)[0])
            self.assertAlmostEqual(off / on_axis, share, delta=0.01)

    def test_it_falls_as_six_diameters_over_distance(self):
        # 15 m/s from 15 mm: unchanged within 9 cm, then halved for each doubling.
        speeds = puff_speed_m_s(np.array([0.03, 0.09, 0.18, 0.27]), 0, pop_screen=False)
        np.testing.assert_allclose(speeds, [15, 15, 7.5, 5.0])

    def test_a_puff_is_short_beyond_thirty_centimetres_it_slows_with_the_cube(self):
        """Scorer on puffs (from memory): a cloud that keeps its momentum slows with the cube of its distance."""
        near, far = puff_speed_m_s(np.array([0.3, 0.6]), 0, pop_screen=False)
        self.assertAlmostEqual(near / far, 8)

    def test_inside_the_core_aside_is_still_in_the_stream(self):
        """The core is as wide as a mouth and the capsule no point: 15 degrees at 3 cm are 8 mm (physics)."""
        self.assertEqual(float(puff_speed_m_s(np.array([0.03]), 15, pop_screen=False)[0]), 15)
        self.assertLess(float(puff_speed_m_s(np.array([0.15]), 15, pop_screen=False)[0]), 1)

    def test_a_hard_s_shades_no_distance(self):
        self.assertEqual(float(ladder().strengths["sibilance"].max()), 0)
        np.testing.assert_allclose(puff_speed_m_s(np.array([0.18]), 0, pop_screen=True), [0.75])


class Strips(unittest.TestCase):
    def test_each_follows_its_law(self):
        here = at_distance(ladder(), 0.15)
        # Cardioid at 15 cm, 100 Hz against 1 kHz: 6.35 dB, less 0.14 that is left at 1 kHz.
        self.assertAlmostEqual(here["bass"], 6.2, 1)
        self.assertAlmostEqual(here["sway"], float(sway_db(0.15)), 1)
        near, far = at_distance(ladder(), 0.1), at_distance(ladder(), 0.2)
        self.assertAlmostEqual(far["room"] - near["room"], 6.02, 1)

    def test_an_omni_has_no_bass_build_up_and_hears_more_room(self):
        omni, cardioid = at_distance(ladder(pattern="omni"), 0.1), at_distance(ladder(), 0.1)
        self.assertAlmostEqual(omni["bass"], 0, 6)
        self.assertAlmostEqual(omni["room"] - cardioid["room"], 4.77, 2)

    def test_what_has_no_bass_is_not_told_of_any(self):
        shaker, voice = (ladder(source, pattern="figure-8") for source in (SOURCES["shaker"], VOICE))
        self.assertEqual(float(shaker.strengths["bass"].max()), 0)
        self.assertGreater(float(shaker.values["bass"].max()), 6)  # the rise at 100 Hz is there all the same
        self.assertGreater(float(voice.strengths["bass"].max()), 0)

    def test_two_angles_are_kept_apart(self):
        straight = at_distance(ladder(), 0.1)
        off_mouth, off_microphone = (at_distance(ladder(**{name: 30}), 0.1) for name in ("aside_deg", "turned_deg"))
        self.assertLess(off_mouth["pops"], 0.1 * straight["pops"])
        self.assertAlmostEqual(off_mouth["sibilance"] - straight["sibilance"], -3)
        self.assertEqual(off_mouth["bass"], straight["bass"])
        self.assertEqual(off_microphone["pops"], straight["pops"])
        self.assertLess(off_microphone["bass"], straight["bass"])
        self.assertGreater(off_microphone["room"], straight["room"])

    def test_what_has_no_pops_has_no_such_strip(self):
        self.assertEqual(list(ladder().values), list(LIMITS))
        self.assertNotIn("pops", ladder(SOURCES["lever-harp"]).values)
        horn = ladder(SOURCES["horn"])
        self.assertGreaterEqual(horn.distance_m[-1], 2.0)  # a horn's ruler goes to 2 m and more
        self.assertAlmostEqual(ladder().distance_m[0], 0.02)

    @given(st.floats(0, 90))
    def test_the_beam_only_falls(self, degrees):
        self.assertGreaterEqual(beam_db(degrees), beam_db(min(degrees + 5, 90)))


class Louder(unittest.TestCase):
    def test_six_decibels_are_twice_the_distance_and_cost_bass_and_room(self):
        found = step_back_for(ladder(), 0.15, 6.0206)
        self.assertAlmostEqual(found.distance_m, 0.30, 4)
        self.assertAlmostEqual(found.fall_db, 6.02, 2)
        # A cardioid at 100 Hz: 15 cm +6.4, 30 cm +2.6 dB; at 1 kHz +0.14 and +0.04 (Olson; Beranek, from memory).
        self.assertAlmostEqual(found.bass_change_db, -3.7, delta=0.1)
        self.assertAlmostEqual(found.room_change_db, 6.02, delta=0.05)

    def test_the_ruler_ends_the_step_and_nothing_louder_is_no_step(self):
        far = step_back_for(ladder(), 0.5, 12)
        self.assertAlmostEqual(far.distance_m, 0.6)
        self.assertAlmostEqual(far.fall_db, 1.58, 2)
        self.assertIsNone(step_back_for(ladder(), 0.5, 0))
        self.assertIsNone(step_back_for(ladder(), 0.59, 12))
        with self.assertRaisesRegex(OutOfRange, "rise_db"):
            step_back_for(ladder(), 0.5, -3)


class Calm(unittest.TestCase):
    def test_inside_the_calm_range_nothing_is_felt_and_outside_something_is(self):
        found = ladder(pop_screen=True)
        low, high = found.calm_m
        for name in ("bass", "pops", "room", "sway"):
            limit = LIMITS[name].calm
            self.assertLessEqual(at_distance(found, (low * high) ** 0.5)[name], limit + 0.1, name)
        self.assertTrue(0.14 < low < 0.2 and 0.3 < high < 0.6)
        outside = at_distance(found, high * 1.2)
        self.assertGreater(outside["room"], LIMITS["room"].calm)

    def test_a_ringing_room_leaves_none_and_says_what_is_in_the_way(self):
        found = ladder(where=room(rt60_s=2.5, volume_m3=20))
        self.assertIsNone(found.calm_m)
        self.assertIn(found.conflict, LIMITS)
        self.assertTrue(0.02 <= found.best_m <= 0.6)

    def test_a_drier_room_only_widens_it(self):
        widths = [ladder(where=room(rt60_s=t), pop_screen=True).calm_m[1] for t in (0.6, 0.4, 0.2)]
        self.assertEqual(widths, sorted(widths))

    def test_the_schools_are_those_of_the_trade_and_lie_on_the_ruler(self):
        self.assertEqual(len(DISTANCE_SCHOOLS), 5)
        for school in DISTANCE_SCHOOLS:
            self.assertTrue(0.02 <= school.low_m < school.high_m <= 0.6)

    def test_bad_angles(self):
        for placed in ({"aside_deg": -91}, {"aside_deg": 91}, {"turned_deg": 200}):
            with self.assertRaises(OutOfRange):
                ladder(**placed)


class WhereTheRoomBelongs(unittest.TestCase):
    def test_a_piano_may_stand_farther_into_the_room_than_a_voice(self):
        # Common practice, no source: 10 dB for a voice, some room (3 to 6 dB) for a piano.
        for source, calm in (("voice-pop", -10.0), ("grand-piano", -5.0), ("horn", -3.0)):
            self.assertEqual(limit_of("room", SOURCES[source]).calm, calm)


class Verdicts(unittest.TestCase):
    def test_calm_is_clear_and_a_pop_is_baked_in(self):
        screened, bare = ladder(pop_screen=True), ladder()
        self.assertEqual(judge_place(screened, screened.best_m), "clear")
        self.assertEqual(felt_most(bare, 0.05)[0], "pops")
        self.assertEqual(judge_place(bare, 0.05), "baked-in")

    def test_a_room_over_the_voice_is_baked_in_before_its_strip_is_harsh(self):
        hall = ladder(where=room(rt60_s=2.5, volume_m3=20), pop_screen=True)
        self.assertEqual(judge_place(hall, 0.6), "baked-in")

    def test_room_sound_is_never_mendable(self):
        """However strongly it is felt, it cannot be taken out again: watched, and baked in where the room leads."""
        seen = set()
        for rt60_s in (0.4, 0.6, 0.9, 1.3, 1.8, 2.5):
            found = ladder(where=room(rt60_s=rt60_s, volume_m3=40), pop_screen=True)
            for distance_m in (0.25, 0.35, 0.5, 0.7, 0.9):
                if felt_most(found, distance_m)[0] == "room" and strengths_at(found, distance_m)["bass"] < 0.5:
                    seen.add(judge_place(found, distance_m).value)
        self.assertEqual(seen, {"watch", "baked-in"})

    def test_a_bass_build_up_can_be_mended(self):
        near = ladder(pop_screen=True, pattern="figure-8")
        self.assertEqual((felt_most(near, 0.02)[0], judge_place(near, 0.1)), ("bass", "mendable"))

    def test_a_low_cut_in_the_sound_itself_stays(self):
        found = ladder(pop_screen=True)
        self.assertEqual(judge_place(found, found.best_m, low_cut_of(VOICE, 400)), "baked-in")
        self.assertEqual(judge_place(found, found.best_m, low_cut_of(VOICE, 0)), "clear")


if __name__ == "__main__":
    unittest.main()
