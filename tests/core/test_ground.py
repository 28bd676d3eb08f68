"""Takes laid into the song, and what each holds of each line: constructed takes whose answers are known."""

import unittest

import numpy as np

from pneumen.core.comp import Span, TakeFile, lay_takes, line_figures
from pneumen.core.performance import Note, Study, chroma_of
from pneumen.core.take import Finding
from pneumen.core.verdict import Verdict
from tests.core.test_proposal import TUNE, melody, trace
from tests.signals import RATE

LINES = (Span(start_s=0.4, end_s=5.5), Span(start_s=5.5, end_s=10.5))


def take(*, late_s=0.0, second_late_s=0.0, findings=(), cents=0.0, level=-10.0, length_s=11.0):
    """Return a take of the tune: begun later, its second line later still, out of tune, louder or softer."""
    tune, onsets = melody(TUNE)
    samples = np.concatenate([np.zeros(round(late_s * RATE)), tune])
    at = np.array(onsets) + late_s + np.where(np.array(onsets) >= 5.5, second_late_s, 0.0)
    notes = tuple(
        Note(
            start_s=start,
            end_s=start + 0.45,
            hertz=220 * 2 ** (step / 12 + cents / 1200 * (start >= 5.5 + late_s)),
            sure=0.9,
        )
        for start, step in zip(at.tolist(), TUNE, strict=True)
    )
    return TakeFile(
        duration_s=length_s + late_s,
        trace=trace((0.5 + late_s, 10.5 + late_s), length_s=length_s + late_s, loud=level),
        study=Study(onsets_s=tuple(at.tolist()), notes=notes),
        chroma=chroma_of(samples, RATE),
        findings=tuple(findings),
    )


def finding(kind, start_s, end_s):
    return Finding(kind=kind, start_s=start_s, end_s=end_s, value=1, unit="", verdict=Verdict.BAKED_IN)


class Figures(unittest.TestCase):
    def figures(self, *takes, offsets_s=None, spans=LINES, to_backing=()):
        laid = lay_takes(takes, offsets_s or [0.0] * len(takes), 12.0, to_backing=to_backing)
        return line_figures(laid, spans)

    def test_a_fault_counts_in_its_own_line_only_and_what_holds_for_all_in_each(self):
        faulty = take(findings=[finding("clipping", 7.0, 7.1), finding("hum", 0.0, 11.0), finding("click", 1.0, 1.0)])
        first, second = (row[0] for row in self.figures(faulty))
        self.assertEqual((first.faults, first.others, first.kinds), (0, 2, ("hum", "click")))
        self.assertEqual((second.faults, second.others, second.kinds), (1, 1, ("clipping", "hum")))

    def test_lateness_is_told_beside_what_most_takes_do(self):
        rows = self.figures(take(), take(), take(second_late_s=0.05))
        self.assertAlmostEqual(rows[0][2].offset_ms, 0, delta=1)
        self.assertAlmostEqual(rows[1][2].offset_ms, 50, delta=1)
        self.assertAlmostEqual(rows[1][0].offset_ms, 0, delta=1)

    def test_tuning_and_level_of_a_line(self):
        rows = self.figures(take(), take(cents=20, level=-6))
        self.assertAlmostEqual(rows[1][1].cents - rows[0][1].cents, 20, delta=1)
        self.assertAlmostEqual(rows[0][1].level_db - rows[0][0].level_db, 4, delta=0.5)

    def test_a_take_without_a_clock_is_laid_by_its_lag_and_one_to_the_backing_keeps_its_timing(self):
        late = take(late_s=0.2, length_s=10.5)
        free = self.figures(take(), late)
        self.assertAlmostEqual(free[0][1].lag_s, 0.2, delta=0.03)
        self.assertAlmostEqual(free[0][1].offset_ms, 0, delta=30)
        timed = self.figures(take(), late, to_backing=[True, True])
        self.assertEqual(timed[0][1].lag_s, 0.0)

    def test_what_a_take_does_not_hold(self):
        short = TakeFile(
            duration_s=4.0,
            trace=trace((0.5, 4.0), length_s=4.0),
            study=None,
            chroma=np.zeros((0, 12), np.uint8),
            findings=(),
        )
        rows = self.figures(take(), short)
        self.assertEqual([row[1].holds for row in rows], [False, False])
        self.assertEqual([row[0].holds for row in rows], [True, True])
        unlaid = self.figures(take(), spans=(None,))
        self.assertFalse(unlaid[0][0].holds)

    def test_edges_that_sound_are_told(self):
        rows = self.figures(take())
        self.assertEqual((rows[0][0].sounds_in, rows[0][0].sounds_out), (False, True))
        self.assertEqual((rows[1][0].sounds_in, rows[1][0].sounds_out), (True, False))


if __name__ == "__main__":
    unittest.main()
