"""The best path through phrases and takes, against trying every one; phrases by vote; takes laid against each other."""

import itertools
import random
import unittest

import numpy as np

from pneumen.core.comp import (
    HOP_S,
    REASONS,
    Candidate,
    Span,
    kept_of,
    lay_bars,
    lay_lines,
    levels_in_song,
    path_cost,
    phrases_by_vote,
    propose,
    punch_list,
    sounding,
    take_offset,
    warp_between,
    weight_of,
)
from pneumen.core.errors import Contradiction, UnknownName
from pneumen.core.performance import CHROMA_PER_S, chroma_of
from pneumen.core.take import PeakTrace
from tests.signals import RATE, noise


def drawn(rng, lines, takes):
    """Draw a small case: candidates of each line, and where changes would be heard."""

    def marks():
        return {name: rng.choice(("good", "", "weak")) for name in ("rhythm", "feeling", "pitch")}

    found = [
        [
            Candidate(take=take, faults=rng.choice((0, 0, 0, 1)), others=rng.choice((0, 0, 1, 2)), marks=marks())
            for take in range(1, takes + 1)
            if rng.random() < 0.8
        ]
        for _ in range(lines)
    ]
    rough = {
        (line, one, other)
        for line in range(lines)
        for one, other in itertools.permutations(range(1, takes + 1), 2)
        if rng.random() < 0.4
    }
    return found, rough


class BestPath(unittest.TestCase):
    def test_it_costs_no_more_than_any_other(self):
        """Against trying everything on 120 small cases."""
        rng = random.Random(1)
        for number in range(120):
            lines, rough = drawn(rng, rng.randint(1, 6), rng.randint(1, 3))
            judging = rng.choice(("rhythm", "feeling"))
            found = [one.take for one in propose(lines, judging=judging, rough=rough)]
            every = itertools.product(*[[one.take for one in line] or [None] for line in lines])
            least = min(path_cost(lines, path, judging=judging, rough=rough) for path in every)
            with self.subTest(number):
                self.assertEqual(path_cost(lines, found, judging=judging, rough=rough), least)

    def test_a_fault_outweighs_all_marks_and_marks_all_findings(self):
        good = {"rhythm": "good", "feeling": "good", "pitch": "good"}
        lines = [[Candidate(take=1, faults=1, marks=good), Candidate(take=2, others=9)]]
        self.assertEqual(self.chosen(lines), [(2, "faults", False)])
        lines = [[Candidate(take=1, others=9, marks={"rhythm": "good"}), Candidate(take=2)]]
        self.assertEqual(self.chosen(lines), [(1, "first-mark", False)])

    def test_the_school_orders_the_marks(self):
        lines = [[Candidate(take=1, marks={"rhythm": "good"}), Candidate(take=2, marks={"feeling": "good"})]]
        self.assertEqual([propose(lines, judging=one)[0].take for one in ("rhythm", "feeling")], [1, 2])

    def test_equal_takes_are_asked_about_and_one_take_goes_on(self):
        lines = [[Candidate(take=1), Candidate(take=2)], [Candidate(take=2)], [Candidate(take=1), Candidate(take=2)]]
        found = propose(lines, judging="rhythm")
        self.assertEqual([one.take for one in found], [2, 2, 2])
        self.assertEqual(
            [(one.why, one.close) for one in found], [("changes", True), ("only", False), ("changes", True)]
        )

    def test_a_rough_seam_is_gone_round(self):
        lines = [[Candidate(take=1)], [Candidate(take=2, others=0), Candidate(take=3, others=0)]]
        found = propose(lines, judging="rhythm", rough={(0, 1, 2)})
        self.assertEqual((found[1].take, found[1].why, found[1].close), (3, "seams", True))

    def test_what_was_chosen_stays(self):
        lines = [[Candidate(take=1, faults=3), Candidate(take=2)]]
        self.assertEqual(propose(lines, judging="rhythm", fixed={0: 1})[0].take, 1)

    def test_lines_no_take_does_well_are_to_be_sung_again(self):
        lines = [
            [Candidate(take=1)],
            [],
            [Candidate(take=1, faults=1)],
            [Candidate(take=number, marks={"rhythm": "weak"}) for number in range(10)],
        ]
        found = punch_list(propose(lines, judging="rhythm"), lines)
        told = [(one.line, one.why, one.takes, one.rest) for one in found]
        self.assertEqual(told, [(1, "none", 0, False), (2, "faults", 1, False), (3, "weak", 10, True)])
        never = punch_list(propose(lines, judging="rhythm"), lines, rest_after=None)
        self.assertFalse(any(one.rest for one in never))

    def test_an_unknown_school(self):
        with self.assertRaises(UnknownName):
            propose([], judging="loudest")

    def chosen(self, lines):
        found = propose(lines, judging="rhythm")
        self.assertTrue(all(one.why in (*REASONS, "only", "none", "equal") for one in found))
        return [(one.take, one.why, one.close) for one in found]


def trace(*spans, length_s=12.0, loud=-10.0, floor=-75.0):
    """Return the peaks of a take that sounds in some spans."""
    peaks = np.full(round(length_s * 400), 2 * (floor + 120), np.uint8)
    for start_s, end_s in spans:
        peaks[round(start_s * 400) : round(end_s * 400)] = 2 * (loud + 120)
    return PeakTrace(seconds_per_column=1 / 400, peaks=peaks.tobytes())


def heard(one, offset_s=0.0, length_s=12.0):
    return sounding(levels_in_song(one, offset_s=offset_s, length_s=length_s))


class Phrases(unittest.TestCase):
    SPANS = ((1.0, 3.0), (3.6, 6.0), (6.5, 9.0))

    def test_most_takes_agree_and_offsets_count(self):
        late = tuple((start + 0.5, end + 0.5) for start, end in self.SPANS)
        takes = [heard(trace(*self.SPANS)), heard(trace(*late), -0.5), heard(trace((1.0, 9.0)))]
        found = phrases_by_vote(takes)
        self.assertEqual(len(found), 3)
        for span, (start, end) in zip(found, self.SPANS, strict=True):
            self.assertAlmostEqual(span.end_s, end + 0.1, delta=0.04)
            self.assertLess(span.start_s, start)
        self.assertEqual(found[1].start_s, found[0].end_s)  # a breath belongs to the phrase after it

    def test_short_gaps_are_inside_a_phrase_and_what_a_take_does_not_hold_has_no_vote(self):
        punched = [heard(trace((1.0, 2.0), (2.1, 3.0))), heard(trace((0.1, 0.3), length_s=0.5), 8.0)]
        self.assertEqual(len(phrases_by_vote(punched)), 2)
        self.assertEqual(phrases_by_vote([]), ())

    def test_lines_take_whole_phrases_by_their_length(self):
        phrases = [Span(start_s=start, end_s=end) for start, end in ((0, 1), (1, 2), (2, 4), (4, 8))]
        found = lay_lines([2, 2, 4], phrases, np.zeros(400))
        self.assertEqual([(one.start_s, one.end_s) for one in found], [(0, 2), (2, 4), (4, 8)])

    def test_lines_share_a_phrase_cut_where_it_is_softest(self):
        levels = np.full(400, -10.0)
        levels[round(2.3 / HOP_S)] = -30.0
        found = lay_lines([1, 1, 2], [Span(start_s=0, end_s=4), Span(start_s=4, end_s=8)], levels)
        self.assertAlmostEqual(found[0].end_s, 2.3, 2)
        self.assertEqual((found[2].start_s, found[2].end_s), (4, 8))

    def test_bars_where_nothing_pauses(self):
        found = lay_bars([4, 2], bar_s=1.875, first_s=1.0)
        self.assertEqual([(one.start_s, one.end_s) for one in found], [(1.0, 8.5), (8.5, 12.25)])

    def test_nothing_to_lay(self):
        with self.assertRaisesRegex(Contradiction, "paste the words"):
            lay_lines([], [Span(start_s=0, end_s=1)], np.zeros(50))
        with self.assertRaisesRegex(Contradiction, "nothing sounds"):
            lay_lines([1], [], np.zeros(50))

    def test_syllables_in_any_script(self):
        self.assertEqual(weight_of("Turn, lamplighter, turn"), 5)
        self.assertEqual(weight_of("声の歌"), 3)
        self.assertEqual(weight_of("…"), 1)


class CleanUp(unittest.TestCase):
    def setUp(self):
        """A phrase in a pause of which a breath is heard from 2.3 to 2.7 s; it sings from 3 to 5 s."""
        breathing = np.full(round(8 / HOP_S), -75.0)
        breathing[round(2.3 / HOP_S) : round(2.7 / HOP_S)] = -44.0
        breathing[round(3 / HOP_S) : round(5 / HOP_S)] = -12.0
        self.levels, self.sounds = breathing, (breathing > -40).astype(float)
        self.span = Span(start_s=2.0, end_s=6.0)

    def kept(self, cleanup, breaths):
        found = kept_of(self.span, self.levels, self.sounds, cleanup=cleanup, breaths=breaths)
        return round(found.start_s, 2), round(found.end_s, 2)

    def test_the_rooms_tone_stays_or_pauses_are_silent_and_breaths_stay_or_go(self):
        self.assertEqual(self.kept("room", True), (2.0, 6.0))
        self.assertEqual(self.kept("room", False), (2.94, 6.0))
        self.assertEqual(self.kept("silence", True), (2.24, 5.25))
        self.assertEqual(self.kept("silence", False), (2.94, 5.25))

    def test_a_phrase_in_which_nothing_sounds_stays_whole(self):
        self.sounds[:] = 0
        self.assertEqual(self.kept("silence", False), (2.0, 6.0))


class Offsets(unittest.TestCase):
    def test_the_surest_source_counts(self):
        self.assertEqual(take_offset().source, "start")
        self.assertEqual(take_offset(recording_offset_s=0.012).offset_s, -0.012)
        self.assertEqual(take_offset(others_lag_s=0.1).source, "start")
        self.assertEqual(take_offset(others_lag_s=2.0, recording_offset_s=0.01).offset_s, -2.0)
        self.assertEqual(take_offset(time_reference_s=12.5, song_s=180).offset_s, 12.5)
        self.assertEqual(take_offset(time_reference_s=43_200.0, song_s=180).source, "start")
        leak = take_offset(leak_lag_s=0.25, zero_s=1.0, time_reference_s=3.0, song_s=180)
        self.assertEqual((leak.offset_s, leak.source), (-1.25, "leak"))
        self.assertEqual(take_offset(by_ear_s=-0.3, leak_lag_s=0.25).offset_s, -0.3)

    def test_a_leak_tells_its_own_band_and_only_where_it_counts(self):
        self.assertEqual(take_offset(leak_lag_s=0.25, leak_band_ms=5.0).band_ms, 5.0)
        self.assertEqual(take_offset(leak_lag_s=0.25).band_ms, 15.0)
        self.assertEqual(take_offset(by_ear_s=0.1, leak_lag_s=0.25, leak_band_ms=5.0).band_ms, 10.0)

    def test_a_clock_is_set_by_hand_or_else_as_the_leak_tells(self):
        told = [
            take_offset(),
            take_offset(leak_lag_s=0.25, leak_drift_ppm=40.0),
            take_offset(leak_lag_s=0.25, leak_drift_ppm=40.0, by_ear_s=0.0),
            take_offset(leak_lag_s=0.25, leak_drift_ppm=40.0, clock_by_ear_ppm=0.0),
        ]
        self.assertEqual(
            [(one.drift_ppm, one.clock) for one in told], [(None, ""), (40, "leak"), (40, "leak"), (0, "ear")]
        )


def melody(steps, length_s=0.5, stretch=1.0):
    """Return a tune of harmonic tones with a short gap after each, and when they begin."""
    pieces, onsets, now = [np.zeros(RATE // 2)], [], 0.5
    for step in steps:
        time_s = np.arange(round(length_s * stretch * RATE)) / RATE
        hertz = 220 * 2 ** (step / 12)
        tone = sum(np.sin(2 * np.pi * hertz * n * time_s) / n for n in (1, 2, 3, 4))
        tone *= np.minimum(1, time_s / 0.01) * np.minimum(1, time_s[::-1] / 0.05)
        pieces.append(0.1 * tone)
        onsets.append(now)
        now += length_s * stretch
    return np.concatenate(pieces) + noise(now, -80), onsets


TUNE = (0, 2, 4, 5, 7, 4, 0, 9, 7, 5, 4, 2, 0, 7, 4, 0, 5, 9, 2, 0)


class Warping(unittest.TestCase):
    def chroma(self, samples):
        return chroma_of(samples, RATE)

    def test_a_tone_stands_in_its_class(self):
        time_s = np.arange(2 * RATE) / RATE
        for step in (0, 3, 7, 11):
            found = self.chroma(0.3 * np.sin(2 * np.pi * 440 * 2 ** (step / 12) * time_s))
            self.assertEqual(int(found[10].argmax()), step)
        self.assertEqual(self.chroma(np.zeros(RATE)).max(), 0)
        self.assertEqual(len(self.chroma(np.zeros(2 * RATE))), 2 * CHROMA_PER_S)

    def test_a_shared_delay_is_found(self):
        one, onsets = melody(TUNE)
        other = np.concatenate([np.zeros(round(1.3 * RATE)), one])
        warp = warp_between(
            self.chroma(one), self.chroma(other), one_onsets_s=onsets, other_onsets_s=[1.3 + at for at in onsets]
        )
        self.assertAlmostEqual(warp.lag_between(2, 8), 1.3, delta=0.06)
        self.assertFalse(warp.is_another_tempo)

    def test_another_tempo_is_told(self):
        one, onsets = melody(TUNE)
        slow, late = melody(TUNE, stretch=1.08)
        warp = warp_between(self.chroma(one), self.chroma(slow), one_onsets_s=onsets, other_onsets_s=late)
        self.assertAlmostEqual(warp.tempo_off, 0.08, delta=0.02)
        self.assertTrue(warp.is_another_tempo)
        self.assertAlmostEqual(warp.lag_between(7.5, 8.5), 0.08 * 7.5, delta=0.15)

    def test_a_take_that_ends_early_lies_where_its_notes_do(self):
        one, onsets = melody(TUNE)
        for share in (0.3, 0.5, 0.8):
            short = one[: round(share * len(one))]
            held = [at for at in onsets if at < share * len(one) / RATE]
            for first, second, a, b in ((one, short, onsets, held), (short, one, held, onsets)):
                warp = warp_between(self.chroma(first), self.chroma(second), one_onsets_s=a, other_onsets_s=b)
                self.assertAlmostEqual(float(np.median(warp.lag_s)), 0.0, delta=0.06)
                self.assertLess(float(np.abs(warp.lag_s).max()), 0.35)

    def test_another_song_is_not_laid(self):
        one, onsets = melody(TUNE)
        rng = np.random.default_rng(3)
        other, others = melody(tuple(rng.permutation(12).tolist()) * 2, length_s=0.37)
        warp = warp_between(self.chroma(one), self.chroma(other), one_onsets_s=onsets, other_onsets_s=others)
        self.assertTrue(warp is None or warp.is_another_tempo)

    def test_too_little_to_say(self):
        self.assertIsNone(warp_between(np.zeros((5, 12), np.uint8), np.zeros((50, 12), np.uint8)))
        self.assertIsNone(warp_between(np.zeros((50, 12), np.uint8), np.zeros((50, 12), np.uint8)))


if __name__ == "__main__":
    unittest.main()
