"""Zones of instruments, a start by taste and room, and what a low-cut costs."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy import signal

from pneumen.core.errors import OutOfRange, UnknownName
from pneumen.core.forecast import recommend
from pneumen.core.line import low_cut_db
from pneumen.core.part import MIKED_SOURCES, SOURCES
from pneumen.core.place import (
    BODIES,
    LOW_CUTS_HZ,
    TASTES,
    body_of,
    curved_m,
    low_cut_of,
    off_axis_deg,
)
from pneumen.core.room import recorded_factor
from tests import parts

RINGING = parts.statistics(rt60_s=1.2, volume_m3=24)
SOFT = parts.statistics(rt60_s=0.25, volume_m3=75)


def here(source, room=SOFT, taste="balanced", pattern="cardioid"):
    return parts.zones(source, room, taste, pattern)


class Table(unittest.TestCase):
    def test_each_body_stands_for_sources_there_are_and_its_zones_lie_on_the_drawing(self):
        seen = set()
        for body in BODIES.values():
            self.assertGreaterEqual(len(body.zones), 3, body.slug)
            for source in body.sources:
                self.assertIn(source, MIKED_SOURCES)
                self.assertNotIn(source, seen)
                seen.add(source)
            for zone in body.zones:
                self.assertTrue(zone.caution and zone.sound, zone.label)
                for at, side in zip(zone.at_m, body.size_m, strict=True):
                    self.assertTrue(0 <= at <= side, (body.slug, zone.slug))

    def test_what_the_trade_says_of_them(self):
        # Common practice, no source: towards the bridge boomy, up the neck thin; a cone's edge darker than its middle.
        guitar, amp = BODIES["guitar"], BODIES["amp"]
        self.assertLess(guitar.zone("bridge").bright, guitar.zone("neck-joint").bright)
        self.assertGreater(guitar.zone("neck").bright, guitar.zone("neck-joint").bright)
        self.assertAlmostEqual(guitar.zone("neck-joint").usual_m, 0.2, delta=0.03)  # a spread hand
        self.assertLess(amp.zone("edge").bright, amp.zone("cone").bright)
        horn = BODIES["horn"].zones[0]
        self.assertTrue(horn.near_m >= 0.3 and horn.usual_m == 1.0 and horn.above_m > 0)
        self.assertIn("never into it", BODIES["horn"].zone("beside").label)

    def test_a_zone_there_is_not(self):
        with self.assertRaisesRegex(UnknownName, "zone must be one of neck-joint"):
            BODIES["guitar"].zone("strap")


class Start(unittest.TestCase):
    def test_taste_moves_from_dark_to_bright(self):
        for body in BODIES.values():
            best = [here(body.sources[0], taste=taste)[0].bright for taste in ("warm", "balanced", "bright")]
            self.assertEqual(best, sorted(best), body.slug)

    def test_the_usual_spots_for_a_balanced_sound_in_a_good_room(self):
        # Common practice, no source.
        for source, zone in (("acoustic-guitar", "neck-joint"), ("horn", "front-high"), ("guitar-amp", "between")):
            self.assertEqual(here(source)[0].zone.slug, zone)

    def test_a_ringing_room_draws_it_in(self):
        for source in ("lever-harp", "horn", "grand-piano"):
            far, close = here(source)[0], here(source, RINGING)[0]
            self.assertLess(close.distance_m, far.distance_m)
            self.assertEqual(close.decided_by, "room")

    def test_warmth_comes_closer_but_an_omni_has_no_build_up(self):
        def front(**wished):
            return next(one for one in here("lever-harp", **wished) if one.zone.slug == "front")

        self.assertLess(front(taste="warm").distance_m, front().distance_m)
        omni = front(taste="warm", pattern="omni")
        self.assertEqual((omni.distance_m, omni.bass_db), (front(pattern="omni").distance_m, 0.0))

    @given(st.sampled_from(sorted(BODIES)), st.sampled_from(sorted(TASTES)), st.sampled_from([RINGING, SOFT]))
    def test_distances_keep_to_zone_and_source(self, slug, taste, room):
        for source in BODIES[slug].sources:
            for one in here(source, room, taste):
                facts = SOURCES[source]
                self.assertLessEqual(max(one.zone.near_m, facts.nearest_m) - 0.006, one.distance_m)
                self.assertLessEqual(one.distance_m, min(one.zone.far_m, facts.farthest_m) + 0.006)

    def test_a_taste_there_is_not(self):
        with self.assertRaisesRegex(UnknownName, "taste must be one of bright"):
            here("horn", taste="salty")


class Angles(unittest.TestCase):
    def test_height_and_side_together(self):
        # A capsule 10 cm up at 20 cm lies 30 degrees off; 30 and 40 degrees at right angles: cos = cos 30 cos 40.
        self.assertAlmostEqual(float(off_axis_deg(0, 0.1, 0.2)), 30)
        self.assertAlmostEqual(float(off_axis_deg(30, 0.2 * np.sin(np.radians(40)), 0.2)), 48.44, 2)
        self.assertAlmostEqual(float(off_axis_deg(0, 9.0, 0.2)), 90)

    def test_a_lead_sits_near_a_backing_voice_far(self):
        lead, backing = (recommend(parts.part(space=SOFT, role=role)).distance_m for role in ("lead", "backing"))
        self.assertAlmostEqual(backing / lead, 1.5, 1)


class LowCuts(unittest.TestCase):
    def test_against_a_butterworth_of_scipy(self):
        hertz = np.array([30.0, 63, 80, 125, 500])
        for cut_hz in (40, 80, 120):
            b, a = signal.butter(2, 2 * np.pi * cut_hz, "highpass", analog=True)
            _, response = signal.freqs(b, a, 2 * np.pi * hertz)
            np.testing.assert_allclose(low_cut_db(hertz, cut_hz), 20 * np.log10(abs(response)), atol=1e-9)

    def test_off_costs_nothing(self):
        for source in MIKED_SOURCES.values():
            self.assertEqual((low_cut_of(source, 0).verdict, low_cut_of(source, 0).lost_db), ("clear", 0.0))

    def test_eighty_hertz_spares_a_violin_and_bakes_into_a_double_bass(self):
        self.assertEqual(low_cut_of(SOURCES["violin"], 80).verdict, "watch")
        bass = low_cut_of(SOURCES["double-bass"], 80)
        self.assertEqual((bass.verdict, bass.lowest_note_hz), ("baked-in", 41))
        # Second order: 80 Hz takes 10 log10(1 + (80/41)^4) = 11.9 dB off an E at 41 Hz.
        self.assertAlmostEqual(bass.lowest_note_db, -11.9, delta=0.05)
        # Worked by hand from the octaves 63 to 500 Hz at -5, 0, -3, -8 dB: 1.63 of 2.00 is left.
        self.assertAlmostEqual(bass.lost_db, -0.89, delta=0.03)

    def test_more_than_eighty_is_never_just_watched(self):
        for source in MIKED_SOURCES.values():
            losses = [low_cut_of(source, cut).lost_db for cut in LOW_CUTS_HZ]
            self.assertEqual(losses, sorted(losses, reverse=True))
            self.assertEqual(low_cut_of(source, 120).verdict, "baked-in")

    def test_no_filter_there_is(self):
        with self.assertRaisesRegex(OutOfRange, "low_cut_hz must be between 0 and 400"):
            low_cut_of(SOURCES["violin"], 999)


class Rise(unittest.TestCase):
    def test_no_zone_rises_more_than_its_distance_allows_and_what_rises_is_not_aside(self):
        for source in filter(body_of, SOURCES):
            for start in here(source):
                self.assertLessEqual(abs(start.above_m), 0.9 * start.distance_m)
                self.assertLessEqual(abs(start.above_m), abs(start.zone.above_m))
                self.assertFalse(start.zone.above_m and start.aside_deg)


class LargeAndStill(unittest.TestCase):
    """What is wide bends the wave less, what stands does not sway, what beams away lets the room come forward."""

    def ladder(self, source, **changes):
        return parts.ladder(parts.part(replace(SOURCES[source], **changes), space=SOFT))

    def test_an_amplifier_does_not_sway_and_a_guitarist_does(self):
        self.assertNotIn("sway", self.ladder("guitar-amp").values)
        self.assertIn("sway", self.ladder("acoustic-guitar").values)

    def test_width_counts_like_distance_for_the_bass(self):
        # 8 cm before something 12 cm to each side bends the wave like a point 14.4 cm off: +6.7 dB at 100 Hz.
        amp, point = self.ladder("guitar-amp"), self.ladder("guitar-amp", extent_m=0.0)
        at = int(np.abs(amp.distance_m - 0.08).argmin())
        self.assertLess(amp.values["bass"][at], point.values["bass"][at] - 3)
        self.assertAlmostEqual(float(curved_m(0.08, 0.12)), 0.1442, 4)
        far = -1
        self.assertAlmostEqual(amp.values["bass"][far], point.values["bass"][far], delta=0.15)

    def test_a_bell_that_points_away_lets_the_room_come_forward(self):
        away, ahead = self.ladder("horn"), self.ladder("horn", radiates_back=False)
        self.assertGreater(away.values["room"][0], ahead.values["room"][0] + 3)
        # A first-order pattern of factor 1.5 is (1 + sqrt 5)/4 + (1 - that) cos: behind it 0.618 of its front.
        self.assertAlmostEqual(recorded_factor(1.5, backwards=True), 1.5 * 0.618**2, 3)
