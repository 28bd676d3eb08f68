"""Takes laid into the song, and what each holds of each line: constructed takes whose answers are known."""

import unittest
from dataclasses import replace

import numpy as np

from pneumen.core.comp import LineFigures, Span, TakeFile, audible_changes, lay_takes, line_figures, usual_level_db
from pneumen.core.performance import TONE_PER_S, Note, Study, chroma_of, shape_of, tone_of, unlike_db
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
        tone=tone_of(samples, RATE),
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
            tone=np.zeros((0, 7), np.uint8),
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

    def test_a_duller_line_is_told_beside_the_other_takes(self):
        plain, dull = take(), take()
        half = round(5.5 * TONE_PER_S)
        duller = dull.tone.copy()
        duller[half:, 4:] = np.maximum(duller[half:, 4:].astype(int) - 12, 0)  # 6 dB less from 2 kHz on
        rows = self.figures(plain, replace(dull, tone=duller), take())
        self.assertEqual([unlike_db(rows[0][at].tone, rows[0][0].tone) for at in (1, 2)], [0, 0])
        self.assertEqual(unlike_db(rows[1][0].tone, rows[0][0].tone), 0, "the same pass goes on as it did")
        self.assertGreater(unlike_db(rows[1][1].tone, rows[0][0].tone), 1.5)

    def test_tone_needs_something_to_be_held_against(self):
        alone = self.figures(take())[0][0]
        self.assertEqual((alone.tone, unlike_db(alone.tone, alone.tone)), ((), None))
        unheard = replace(take(), tone=np.zeros((0, 7), np.uint8))
        self.assertEqual([one.tone for one in self.figures(take(), unheard)[0]], [(), ()])


def held(level_db, *, sounds_in=False, sounds_out=False, holds=True):
    return LineFigures(holds=holds, level_db=level_db, sounds_in=sounds_in, sounds_out=sounds_out)


class Changes(unittest.TestCase):
    """Where a change of takes is heard: a step of 3 dB (common practice, no source), or through a note."""

    def test_matching_takes_three_decibels_out_and_what_is_left_is_heard(self):
        soft, usual, loud = held(-30.0), held(-20.0), held(-18.0)
        lines = [{1: usual, 2: loud, 3: soft}, {1: usual, 2: loud, 3: soft}]
        self.assertEqual(audible_changes(lines), {(0, 1, 3), (0, 3, 1), (0, 2, 3), (0, 3, 2)})

    def test_a_note_that_goes_on_in_both_is_cut(self):
        lines = [
            {1: held(-20.0, sounds_out=True), 2: held(-20.0)},
            {1: held(-20.0, sounds_in=True), 2: held(-20.0, sounds_in=True)},
        ]
        self.assertEqual(audible_changes(lines), {(0, 1, 2)})

    def test_what_does_not_hold_a_line_counts_neither_for_its_level_nor_as_a_way(self):
        rows = {1: held(-20.0), 2: held(-26.0), 3: held(-60.0, holds=False)}
        self.assertEqual(usual_level_db(rows.values()), -23.0)
        self.assertIsNone(usual_level_db([held(-60.0, holds=False)]))
        self.assertNotIn((0, 1, 3), audible_changes([rows, rows]))


class Tone(unittest.TestCase):
    """Levels in octaves, as IEC 61260-1 divides them (from memory)."""

    def test_a_full_sine_reads_three_decibels_down_in_its_own_octave(self):
        time_s = np.arange(RATE) / RATE
        for octave, centre_hz in enumerate((125, 250, 500, 1000, 2000, 4000, 8000)):
            with self.subTest(centre_hz):
                found = tone_of(np.sin(2 * np.pi * centre_hz * time_s), RATE)
                self.assertEqual(found.shape, (TONE_PER_S, 7))
                levels = found[5] * 0.5 - 127.5
                self.assertAlmostEqual(levels[octave], 10 * np.log10(0.5), delta=0.25)
                self.assertLess(np.delete(levels, octave).max(), -40)

    def test_pink_noise_has_as_much_in_each_octave(self):
        """Pink noise holds equal power in each octave (its definition; IEC 60268-1, from memory)."""
        rng = np.random.default_rng(7)
        spectrum = np.fft.rfft(rng.standard_normal(30 * RATE))
        spectrum[1:] /= np.sqrt(np.arange(1, len(spectrum)))
        noise = np.fft.irfft(spectrum)
        shape = shape_of(tone_of(0.1 * noise / noise.std(), RATE))
        self.assertLess(np.ptp(shape), 1.0)
        self.assertAlmostEqual(float(np.mean(shape)), -10 * np.log10(7), delta=0.2)

    def test_silence_has_no_tone(self):
        self.assertIsNone(shape_of(tone_of(np.zeros(RATE), RATE)))
        self.assertEqual(tone_of(np.zeros(10), RATE).shape, (0, 7))


if __name__ == "__main__":
    unittest.main()
