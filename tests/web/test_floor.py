"""The floor's change between two takes tells how far a bare knob was turned, and sections get their corrections."""

import unittest

import numpy as np

from pneumen.core.errors import OutOfRange
from pneumen.core.take import gain_change_by_floor
from pneumen.web.take.floor import floor_of
from pneumen.web.take.models import Take
from tests.signals import RATE
from tests.web.base import DemoCase, answers


class Rule(unittest.TestCase):
    def test_the_floor_follows_the_gain_where_the_room_sets_it(self):
        found = gain_change_by_floor(-70.0, -63.0, room_leads_db=(12, 9))
        self.assertEqual(found.gain_db, 7)
        # A room 6 dB over the rest: turned up by 10 dB, the floor rises by no less than 9 (sum of powers).
        still, moved = 10 ** (-6 / 10), 10 ** (10 / 10)
        self.assertGreater(10 * np.log10((moved + still) / (1 + still)), 10 - found.band_db)

    def test_elsewhere_it_tells_nothing(self):
        self.assertIsNone(gain_change_by_floor(-70.0, -63.0, room_leads_db=(12, 2)))
        with self.assertRaises(OutOfRange):
            gain_change_by_floor(-70.0, -63.0, room_leads_db=(12, float("nan")))


class TwoTakes(DemoCase):
    def setUp(self):
        super().setUp()
        self.act("start:page", **answers(self.voice, microphone="large-condenser", interface="bare-knob"))

    def recorded(self, by_db):
        """Send a take of one room and one phrase, with the knob turned by so much."""
        draw = np.random.default_rng(4)
        time_s = np.arange(4 * RATE) / RATE
        song = 0.1 * np.sin(2 * np.pi * 330 * time_s) * (time_s % 2 < 1.2)
        samples = song + 3e-4 * draw.standard_normal(len(time_s))
        self.upload(samples * 10 ** (by_db / 20))
        self.work()
        return Take.objects.filter(part=self.voice).first()

    def test_a_knob_that_was_turned_is_found_out(self):
        self.recorded(0)
        self.assertEqual(
            floor_of(self.recorded(6)),
            "The room’s noise rose by 6 ±1.5 dB since take 1: so much the gain was turned up.",
        )
        self.assertIn("turned down", floor_of(self.recorded(2)))
        self.assertIn("was not moved", floor_of(self.recorded(2)))
        self.assertContains(self.page("take:page"), "What the floor tells of the gain")

    def test_the_first_take_and_marked_gains_tell_nothing(self):
        self.assertEqual(floor_of(self.recorded(0)), "")
        self.act("start:page", **answers(self.voice, microphone="large-condenser", interface="numbered"))
        self.recorded(0)
        self.assertEqual(floor_of(self.recorded(6)), "")


class BySection(DemoCase):
    def test_a_take_that_taught_corrects_each_section(self):
        self.act("take:simulated")
        self.work()
        page = self.page("take:page")
        self.assertContains(page, "By section")
        rows = {row.name: row for row in page.context["screen"].after.by_section.rows}
        gain = {row.name: row for row in self.page("gain:page").context["screen"].by_section.rows}
        self.assertEqual(
            {name: row.setting for name, row in rows.items()}, {name: row.setting for name, row in gain.items()}
        )
