"""The rules of the trade: room, place, delay, gain, hookup, kit and what a take teaches."""

import math
import unittest
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from pneumen.core.delay import COMPUTERS, round_trip_ms, verdict_of_delay
from pneumen.core.errors import OutOfRange
from pneumen.core.forecast import advise, outcome, recommend, with_planned_gain
from pneumen.core.gain import SCHOOLS, judge, school_named
from pneumen.core.gear import MICROPHONE_FAMILIES, Knob
from pneumen.core.hookup import phantom_rule
from pneumen.core.line import levels_of
from pneumen.core.place import sway_db
from pneumen.core.room import critical_distance_m, direct_to_reverberant_db, reverberation_time_eyring_s
from pneumen.core.setup import setup_from_json
from pneumen.core.take import correction_from
from tests import parts
from tests.signals import SETUP, as_json, changed, measured, phrases


def situation(gain_db=20.0, distance_m=0.2, microphone="meadowsweet-one", interface="hornbeam-2", noise_dba=30.0):
    space = parts.statistics(rt60_s=0.4, volume_m3=30, noise_dba=noise_dba)
    chain = parts.chain(microphone, interface)
    return parts.part(space=space, chain=chain, gain_db=gain_db, distance_m=distance_m)


class RoomAndPlace(unittest.TestCase):
    def test_eyring_against_a_worked_value(self):
        # Eyring for V 100 m3, S 140 m2, mean coefficient 0.3: 0.161 * 100 / (140 * 0.35667) = 0.322 s (closed form).
        self.assertAlmostEqual(reverberation_time_eyring_s(100, 140, 0.3), 0.322, 3)
        with self.assertRaises(OutOfRange):
            reverberation_time_eyring_s(0, 140, 0.3)

    def test_critical_distance(self):
        # Kuttruff's rule (from memory): 0.057 sqrt(V/T); a cardioid reaches sqrt(3) as far.
        self.assertAlmostEqual(critical_distance_m(100, 1.0), 0.57, 3)
        self.assertAlmostEqual(critical_distance_m(100, 1.0, "cardioid") / critical_distance_m(100, 1.0), 3**0.5, 6)
        self.assertEqual(direct_to_reverberant_db(0.57, 0.57), 0)

    def test_sway(self):
        # Common practice, no source: 5 cm to and fro is 12.7 dB at 8 cm, 6 at 15, 2.9 at 30.
        for distance_m, swing_db in ((0.08, 12.7), (0.15, 6.0), (0.30, 2.9)):
            self.assertAlmostEqual(float(sway_db(distance_m)), swing_db, 1)

    def test_a_bare_room_draws_the_microphone_closer(self):
        bare = recommend(parts.part(space=parts.room("closet", "bare"), chain="omni"))
        soft = recommend(parts.part(space=parts.room("large", "soft")))
        self.assertLess(bare.distance_m, soft.distance_m)
        self.assertEqual((bare.decided_by, soft.decided_by), ("room", "habit"))


class Delay(unittest.TestCase):
    def test_round_trip(self):
        self.assertAlmostEqual(round_trip_ms(128, 48_000, converters_ms=0, safety_samples=0), 2 * 2.667, 2)
        self.assertEqual([verdict_of_delay(ms) for ms in (5.9, 6, 12, 12.1)], ["clear", "watch", "watch", "mendable"])

    def test_slower_computers_get_larger_buffers(self):
        sizes = [COMPUTERS[computer].usual for computer in ("desktop", "laptop", "old-laptop")]
        self.assertEqual(sizes, sorted(sizes))


class Gain(unittest.TestCase):
    def test_every_school_has_its_window(self):
        for school in SCHOOLS:
            self.assertLess(school.low_dbfs, school.high_dbfs)
            self.assertTrue(school.low_dbfs < school.aim_dbfs < school.high_dbfs < 0)
        self.assertEqual((school_named("ten-under").low_dbfs, school_named("ten-under").high_dbfs), (-12, -8))

    def test_verdicts_by_rule(self):
        levels, school = outcome(situation()).levels, SCHOOLS[0]
        cases = (
            ({"headroom_db": -1.0}, "baked-in", "clips"),
            ({"clean_range_db": 25.0}, "mendable", "noisy"),
            ({"peak_dbfs": -33.0}, "mendable", "too-quiet"),
            ({"peak_dbfs": -2.0, "headroom_db": 2.0}, "watch", "near-ceiling"),
            ({"peak_dbfs": -4.0, "headroom_db": 4.0}, "watch", "above"),
            ({"peak_dbfs": -14.0}, "watch", "below"),
            ({"peak_dbfs": -9.0, "headroom_db": 9.0}, "clear", "in-window"),
        )
        for values, verdict, reason in cases:
            result = judge(replace(levels, **values), school)
            self.assertEqual((result.verdict, result.reason), (verdict, reason))

    def test_knob_shares(self):
        knob = Knob(low_db=10, high_db=60)
        self.assertAlmostEqual(knob.share_at(knob.gain_at(0.3)), 0.3)
        self.assertEqual(Knob(low_db=0, high_db=50).share_at(99), 1.0)

    @given(st.integers(0, 62), st.floats(0.06, 0.6))
    @settings(max_examples=30)
    def test_the_first_advice_never_makes_it_worse(self, gain_db, distance_m):
        advice = advise(situation(float(gain_db), distance_m))
        now = advice.before.levels
        for action in advice.actions[:1]:
            after = action.after.levels
            self.assertLessEqual(abs(after.peak_dbfs + 9), max(abs(now.peak_dbfs + 9), 0.51))

    @given(st.integers(0, 62), st.floats(0.06, 0.6))
    @settings(max_examples=30)
    def test_a_gain_that_reaches_comes_before_any_move(self, gain_db, distance_m):
        kinds = [action.kind for action in advise(situation(float(gain_db), distance_m)).actions]
        self.assertEqual(kinds, sorted(kinds, key=lambda kind: kind != "gain"))

    def test_a_move_beyond_the_calm_comes_last(self):
        """Belted eight decibels louder than guessed in a bare room: going back trades overload for room sound."""
        usb = parts.chain("speedwell-u", None)
        now = parts.louder(parts.part("voice-belted", space=parts.room(furnishing="bare"), chain=usb), 8)
        advice = advise(now.moved(pop_screen=False))
        self.assertEqual(advice.actions[-1].kind, "distance")
        calm_m = advice.actions[-1].after.in_air.calm_m
        self.assertTrue(calm_m is None or advice.actions[-1].after.distance_m > calm_m[1])

    def test_without_a_gain_control_the_answer_is_distance(self):
        kinds = [action.kind for action in advise(situation(0.0, 0.05, "speedwell-u", None)).actions]
        self.assertIn("distance", kinds)
        self.assertNotIn("gain", kinds)

    def test_an_overloaded_capsule_is_cured_by_distance_not_gain(self):
        now = parts.louder(situation(0.0, 0.05), 30)
        self.assertEqual(outcome(now).levels.clips_first, "microphone")
        self.assertEqual(advise(now).actions[0].kind, "distance")

    def test_a_noisy_room_asks_for_nearness(self):
        now = situation(10.0, 0.5, noise_dba=70)
        nearer = next(action for action in advise(now).actions if action.kind == "distance")
        self.assertLess(nearer.after.distance_m, 0.3)

    def test_a_drawn_room_is_tidied_once(self):
        noisy = parts.part("lever-harp", space=parts.room(noise="noisy"), chain=parts.chain())
        noisy = with_planned_gain(noisy.moved(distance_m=recommend(noisy).distance_m))
        self.assertIn("quieter-room", [action.kind for action in advise(noisy).actions])
        tidy = replace(noisy, space=replace(noisy.space, quietened=True))
        self.assertNotIn("quieter-room", [action.kind for action in advise(tidy).actions])


class Hookup(unittest.TestCase):
    def test_phantom_rules(self):
        rules = {name: phantom_rule(family) for name, family in MICROPHONE_FAMILIES.items()}
        self.assertTrue(rules["large-condenser"].switch_on and rules["active-ribbon"].switch_on)
        self.assertFalse(rules["ribbon"].switch_on or rules["dynamic"].switch_on or rules["usb-condenser"].switch_on)
        self.assertEqual(rules["ribbon"].verdict, "stop")


class Corrections(unittest.TestCase):
    def setup(self, **pieces):
        return setup_from_json(as_json(changed(SETUP, **pieces)))[0]

    def correct(self, measurement, setup=None, marking="db"):
        return correction_from(measurement, setup or self.setup(), gain_marking=marking, sheet_band_db=2.2)

    def test_a_known_gain_makes_the_file_a_sound_level_reading(self):
        setup = self.setup()
        taken = measured(phrases(-12, -80))
        found = self.correct(taken, setup)
        again = levels_of(replace(setup, source=found.source))
        self.assertAlmostEqual(again.peak_dbfs, taken.level.sample_peak_dbfs, 6)
        self.assertAlmostEqual(again.typical_dbfs, taken.level.active_rms_dbfs, 6)
        self.assertTrue(found.absolute)

    def test_the_room_is_what_the_electronics_leave_of_the_floor(self):
        setup = self.setup()
        taken = measured(phrases(-12, -70))
        found = self.correct(taken, setup)
        again = levels_of(replace(setup, room_noise_dba=found.room_noise_dba))
        self.assertAlmostEqual(again.noise_dbfs, taken.noise.floor_dbfs_a, 2)

    def test_where_the_electronics_hide_the_room_only_a_bound_is_told(self):
        setup = self.setup(microphone={"self_noise_dba": 40})
        found = self.correct(measured(phrases(-12, levels_of(setup).noise_by_stage_dbfs["microphone"] + 2.7)), setup)
        self.assertTrue(found.room_is_bound)

    def test_a_bare_knob_stays_relative(self):
        self.assertFalse(self.correct(measured(phrases()), marking="bare").absolute)

    def test_a_clipped_take_gives_a_lower_bound_with_more_doubt(self):
        clear, clipped = (self.correct(measured((phrases(level, -80)).clip(-1, 1))) for level in (-6, 6))
        self.assertTrue(clipped.lower_bound)
        self.assertIn("clipped", clipped.caveats)
        self.assertGreater(clipped.level_band_db, clear.level_band_db)

    def test_silence_teaches_nothing(self):
        self.assertIsNone(self.correct(measured(phrases(-120, -120))))

    def test_a_take_without_pauses_teaches_no_room(self):
        found = self.correct(measured(phrases(-12, -80)[24_000:40_000]))
        self.assertIsNone(found.room_noise_dba)
        self.assertIn("no-pause", found.caveats)

    def test_bands_add_by_root_sum_of_squares_and_narrow_after_a_take(self):
        setup = situation()
        before = outcome(setup)
        after = outcome(replace(setup, performance=replace(setup.performance, band_db=1.5, sheets_count=False)))
        doubts = 5.0, setup.chain.sheet_band_db, before.distance_band_db
        self.assertAlmostEqual(before.signal_band_db, math.hypot(*doubts), 6)
        self.assertTrue(4 <= before.signal_band_db <= 6)
        self.assertAlmostEqual(after.signal_band_db, math.hypot(1.5, before.distance_band_db), 6)

    def test_the_capsule_behind_the_grille_is_in_doubt_where_one_is_close(self):
        """2.5 cm between grille and capsule is 3.5 dB at 5 cm (spherical spreading, physics)."""
        near, usual = situation().moved(distance_m=0.05), situation().moved(distance_m=0.30)
        self.assertAlmostEqual(near.distance_band_db, 3.52, 2)
        self.assertLess(usual.distance_band_db, 0.7)
        known = replace(usual.performance, known_distance_m=0.30)
        there, moved = replace(usual, performance=known), replace(near, performance=known)
        self.assertEqual(there.distance_band_db, 0)
        self.assertAlmostEqual(moved.distance_band_db, near.distance_band_db - usual.distance_band_db, 9)
        self.assertEqual(replace(near, capsule_doubt_m=0.0).distance_band_db, 0)
