"""Pictures as frozen objects with ready coordinates: the strip, the thread, the bracket's words."""

import re
import unittest
from dataclasses import replace
from itertools import pairwise

import numpy as np

from pneumen.core.gain import SCHOOLS
from pneumen.core.take import Finding, Outline, measure, open_recording
from pneumen.web.frame import FIRST_KNOT_Y, KNOT_HEIGHT
from pneumen.web.steps import STEPS
from pneumen.web.take.picture import draw_strip
from tests.signals import RATE, audio_file, phrases, sine
from tests.web.base import DemoCase


def strip(samples, width=766, findings=()):
    with audio_file(samples) as path, open_recording(path) as recording:
        outline = Outline(RATE)
        measurement = measure(recording, outline=outline)
    measurement = replace(measurement, findings=(*measurement.findings, *findings))
    return draw_strip(measurement, outline.trace(), SCHOOLS[0], width=width)


def finding(kind, start_s, end_s):
    where = {"start_s": start_s, "end_s": end_s}
    return Finding(kind=kind, value=3, unit="samples", verdict="baked-in", **where)


def points(path):
    return [tuple(map(float, point.split())) for point in re.findall(r"[ML]([\d.]+ [\d.]+)", path)]


class Strips(unittest.TestCase):
    def test_time_runs_from_left_to_right_and_louder_is_higher(self):
        drawn = strip(phrases(-6, -70))
        outline = points(drawn.outline)
        self.assertEqual([x for x, _ in outline], sorted(x for x, _ in outline))
        loud = min(y for x, y in outline if x > drawn.left + 1.2 * drawn.px_per_s)
        quiet = min(y for x, y in outline[2:] if x < drawn.left + 0.8 * drawn.px_per_s)
        self.assertLess(loud, quiet - 50)

    def test_the_outline_meets_the_level_it_shows(self):
        drawn = strip(sine(440, 4, -20))
        tops = [y for _, y in points(drawn.outline)[5:-5]]
        twenty = next(tick.at for tick in drawn.levels if tick.label == "\N{MINUS SIGN}20")
        self.assertAlmostEqual(min(tops), twenty, delta=1)

    def test_marks_stay_on_the_paper(self):
        for width in (766, 342):
            drawn = strip(phrases(-6, -70), width)
            for x, y in points(drawn.outline):
                self.assertTrue(drawn.left <= x <= drawn.right)
                self.assertTrue(drawn.top <= y <= drawn.base)
            self.assertTrue(all(drawn.left <= tick.at <= width for tick in drawn.seconds))
            self.assertLessEqual(len(drawn.seconds), 12)

    def test_findings_stand_at_their_time(self):
        drawn = strip(phrases(), findings=[finding("clipping", 3.5, 3.7)])
        flag = drawn.flags[0]
        self.assertAlmostEqual(flag.x, drawn.left + 3.5 * drawn.px_per_s, 3)
        self.assertAlmostEqual(flag.width, 0.2 * drawn.px_per_s, 3)

    def test_words_of_crowded_findings_do_not_run_into_each_other(self):
        crowd = [finding("clipping", 3 + 0.1 * n, 3.05 + 0.1 * n) for n in range(20)]
        shown = [flag for flag in strip(phrases(), findings=crowd).flags if flag.shown]
        self.assertLess(len(shown), 6)
        gaps = [b.text_x - a.text_x for a, b in pairwise(shown)]
        self.assertGreater(min(gaps), 50)

    def test_a_word_at_the_end_turns_inwards(self):
        flag = strip(phrases(), findings=[finding("clipping", 6.95, 7.0)]).flags[0]
        self.assertEqual(flag.anchor, "end")

    def test_the_description_tells_the_finding(self):
        self.assertIn("nothing found wrong", strip(phrases()).description)
        self.assertIn("clipping at 0:03.5", strip(phrases(), findings=[finding("clipping", 3.5, 3.6)]).description)

    def test_silence_can_be_drawn(self):
        drawn = strip(0 * sine(440, 1))
        self.assertIsNone(drawn.floor_y)
        self.assertIn("Silent", drawn.description)


class Threads(DemoCase):
    def test_knots_lie_on_the_thread_that_is_drawn(self):
        page = self.page("gain:page").content.decode()
        drawn = points(re.search(r'<svg class="thread".*?<path d="([^"]+)"', page, re.DOTALL)[1])
        knots = [float(x) for x in re.findall(r'translate\(([\d.]+) 9\)"><circle class="knot-mask"', page)]
        self.assertEqual(len(knots), len(STEPS))
        xs, ys = zip(*drawn, strict=True)
        for number, x in enumerate(knots):
            self.assertAlmostEqual(x, np.interp(FIRST_KNOT_Y + number * KNOT_HEIGHT, ys, xs), delta=0.3)

        self.assertTrue(all(18 < x < 36 for x in xs), "it sways within its strip")
