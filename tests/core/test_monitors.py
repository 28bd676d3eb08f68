"""Monitors: the boundary notch, mirrors by hand and by pyroomacoustics, what is told."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from pneumen.core.errors import Contradiction, OutOfRange
from pneumen.core.room import MonitorPlace, boundary_notch_hz, monitor_report, usual_place

SIZE = (4.0, 5.0, 2.5)


def stands(**changes):
    usual = {"middle_m": 2.0, "behind_m": 0.6, "spacing_m": 1.2, "listen_m": 1.04, "height_m": 1.2, "ear_m": 1.2}
    return MonitorPlace(**({"size_m": SIZE} | usual | changes))


def bounce(report, surface):
    return next(one for one in report.bounces if one.surface == surface)


class Notches(unittest.TestCase):
    def test_a_quarter_wave_from_the_wall_behind(self):
        # c/(4d): 0.5 m is 171.5 Hz, 1 m is 85.75 Hz (Everest, from memory).
        self.assertAlmostEqual(boundary_notch_hz(0.5), 171.5)
        self.assertAlmostEqual(boundary_notch_hz(1.0), 85.75)
        straight = monitor_report(stands(spacing_m=0.3, behind_m=0.6, listen_m=3.5))
        self.assertAlmostEqual(bounce(straight, "wall behind").notch_hz, boundary_notch_hz(0.6), delta=1)

    def test_mirrors_are_those_of_a_reference(self):
        import pyroomacoustics

        place = stands(middle_m=1.8)
        room = pyroomacoustics.ShoeBox(SIZE, fs=48_000, max_order=1, materials=pyroomacoustics.Material(0.1))
        room.add_source(list(place.monitor(1)))
        room.add_microphone(list(place.listener))
        room.image_source_model()
        away = np.linalg.norm(room.sources[0].images.T - np.array(place.listener), axis=1)
        direct = math.dist(place.monitor(1), place.listener)
        theirs = sorted((away - direct) * 1000 / 343)
        ours = [
            bounce(monitor_report(place), one).delay_ms for one in ("wall behind", "right wall", "floor", "ceiling")
        ]
        for delay in ours:
            self.assertLess(min(abs(delay - one) for one in theirs), 1e-6)

    def test_a_desk_by_hand(self):
        # Tweeter and ear 40 cm over the top, 1.2 m apart in a line: sqrt(1.2^2 + 0.8^2) = 1.442 m, 0.242 m later.
        report = monitor_report(stands(spacing_m=0.3, listen_m=math.sqrt(1.2**2 - 0.15**2), desk_m=0.8))
        desk = bounce(report, "desk")
        self.assertAlmostEqual(desk.notch_hz, 343 / (2 * (math.hypot(1.2, 0.8) - 1.2)), 1)
        self.assertIn("desk", [kind for _, kind, _ in report.findings])
        self.assertTrue(1.9 < desk.at_m[0] < 2.2 and 0.6 < desk.at_m[1] < 1.9)

    def test_side_walls_mirror_where_the_angles_are_equal(self):
        report = monitor_report(stands())
        x, y = bounce(report, "right wall").at_m
        monitor, ear = stands().monitor(1), stands().listener
        self.assertAlmostEqual(x, 4.0)
        self.assertAlmostEqual((y - monitor[1]) / (4 - monitor[0]), (ear[1] - y) / (4 - ear[0]))


class Told(unittest.TestCase):
    def verdicts(self, **changes):
        return {kind: verdict for verdict, kind, _ in monitor_report(stands(**changes)).findings}

    def test_each_fault_has_its_finding(self):
        good = self.verdicts(behind_m=0.15, listen_m=1.04)
        self.assertEqual(set(good.values()), {"clear"})
        for kind, changes in (
            ("triangle", {"listen_m": 2.5, "behind_m": 0.15}),
            ("even", {"middle_m": 1.2}),
            ("height", {"height_m": 1.8}),
            ("middle", {"behind_m": 1.46}),
            ("behind", {"behind_m": 0.6}),
        ):
            self.assertEqual(self.verdicts(**changes)[kind], "watch", kind)

    @given(st.floats(1.6, 10), st.floats(1.8, 10), st.floats(1.6, 4))
    def test_the_usual_place_fits_any_room(self, across, deep, high):
        place = usual_place((across, deep, high))
        report = monitor_report(place)
        self.assertAlmostEqual(report.angle_deg, 60, delta=0.5)
        self.assertEqual(report.uneven_m, 0)

    def test_what_cannot_be_is_told(self):
        for changes, error, told in (
            ({"spacing_m": 4.5}, Contradiction, "would stand in a side wall"),
            ({"listen_m": 4.5}, Contradiction, "would sit in the wall at the back"),
            ({"desk_m": 1.3}, Contradiction, "desk must lie under monitors and ears"),
            ({"height_m": 3.0}, OutOfRange, "height_m must be between"),
        ):
            with self.assertRaisesRegex(error, told):
                stands(**changes)
