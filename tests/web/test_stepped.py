"""A gain control with steps: what is planned, asked by schools and set by section is one of its positions."""

import unittest

import numpy as np

from pneumen.core.errors import OutOfRange
from pneumen.core.gain import fewest_settings
from pneumen.core.gear import interface_from_sheet
from pneumen.core.line import whole_gain_db
from pneumen.web.kit.services import frontier_of_song
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from tests.web.base import DemoCase, answers

LOW_DB, STEP_DB = 8.0, 6.0
POSITIONS = [LOW_DB + STEP_DB * number for number in range(9)]


class Rule(unittest.TestCase):
    def test_the_nearest_position_is_taken(self):
        for wanted in np.linspace(0, 70, 141):
            found = whole_gain_db(float(wanted), LOW_DB, 56.0, STEP_DB)
            nearest = min(POSITIONS, key=lambda one: abs(one - wanted))
            self.assertLessEqual(abs(found - wanted), abs(nearest - wanted) + 1e-9)
            self.assertIn(found, POSITIONS)

    def test_arrays_and_numbers_agree(self):
        wanted = np.linspace(-5, 70, 301)[:, None]
        low, high, step = np.array([[0.0], [8.0]]), np.array([[56.0], [56.0]]), np.array([[1.0], [6.0]])
        for row in range(2):
            together = whole_gain_db(wanted, low[row], high[row], step[row])[:, 0]
            single = [whole_gain_db(float(one), low[row, 0], high[row, 0], step[row, 0]) for one in wanted[:, 0]]
            np.testing.assert_allclose(together, single)

    def test_sections_share_positions(self):
        found = fewest_settings((-9.0, -14.0, -22.0), 20.0, (-12.0, -6.0), (LOW_DB, 56.0), step_db=STEP_DB)
        self.assertTrue(all(one.gain_db in POSITIONS for one in found))
        self.assertEqual(sorted(number for one in found for number in one.sections), [0, 1, 2])

    def test_impossible_steps_are_refused(self):
        for step_db in (0.0, 40.0):
            with self.assertRaisesRegex(OutOfRange, "gain_step_db"):
                interface_from_sheet("numbered", {"gain_step_db": step_db})


class Stepped(DemoCase):
    def setUp(self):
        super().setUp()
        self.act(
            "start:page",
            **answers(
                self.voice,
                microphone="dynamic",
                interface="numbered",
                gain_min="8",
                gain_max="56",
                gain_step="6",
                ein="-126",
                max_input="4",
            ),
        )

    def test_every_screen_speaks_of_positions(self):
        part = Part.objects.whole().get(pk=self.voice.pk)
        self.assertEqual(part.own_interface.gain_step_db, 6)
        self.assertIn(outcome_of(part).gain_db, POSITIONS)
        screen = self.page("gain:page").context["screen"]
        for row in screen.schools:
            self.assertIn(float(row.wants.removesuffix(" dB")), POSITIONS, row.school.label)
        for row in screen.by_section.rows:
            self.assertIn(float(row.gain), POSITIONS, row.name)

    def test_the_planner_counts_in_positions_too(self):
        kit = frontier_of_song(self.song).kit(0)
        self.assertTrue(kit.parts)
        page = self.page("start:page")
        self.assertContains(page, "Step of the control")

    def test_a_step_that_cannot_be_is_told(self):
        answer = self.act(
            "start:page", **answers(self.voice, microphone="dynamic", interface="numbered", gain_step="0")
        )
        self.assertContains(answer, "between 0.1 and 20", status_code=422)
