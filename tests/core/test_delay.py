"""Delay: sample arithmetic, dropouts by closed form and simulation, what was seen, the comb, who bears what."""

import itertools
import unittest

import numpy as np

from pneumen.core.delay import (
    BEARABLE,
    BUFFERS,
    COMPUTERS,
    LIKELY,
    UNKNOWN,
    UNLIKELY,
    Computer,
    DeviceDelay,
    Seen,
    bearable_for,
    buffer_of_ms,
    chances,
    comb_of,
    dropouts_per_minute,
    journey,
    plan_delay,
    smallest_safe,
    total_ms,
    verdict_of_delay,
)
from pneumen.core.errors import OutOfRange, UnknownName
from pneumen.core.verdict import Verdict

HELD = (Seen(buffer=64, crackled=False, minutes=60),)


class Plan(unittest.TestCase):
    DEVICE = DeviceDelay()

    def test_what_crackled_is_graver_than_a_guess(self):
        guessed = plan_delay(self.DEVICE, "old-laptop", 48_000, buffer=32)
        self.assertEqual((guessed.chance.word, guessed.verdict_of("direct")), (LIKELY, Verdict.WATCH))
        crackled = plan_delay(self.DEVICE, "desktop", 48_000, buffer=256, seen=[Seen(buffer=256, crackled=True)])
        self.assertEqual(crackled.verdict_of("direct"), Verdict.BAKED_IN)

    def test_the_way_one_hears_oneself_counts_with_the_buffer(self):
        safe = plan_delay(self.DEVICE, "desktop", 48_000, buffer=1024, seen=HELD)
        heard = {own: safe.verdict_of(own) for own in ("direct", "none", "computer", "both")}
        late = Verdict.MENDABLE  # 1024 samples twice are over 40 ms
        self.assertEqual(heard, {"direct": Verdict.CLEAR, "none": Verdict.CLEAR, "computer": late, "both": late})
        quick = plan_delay(self.DEVICE, "desktop", 96_000, buffer=64, seen=HELD)
        self.assertEqual((quick.verdict_of("computer"), quick.verdict_of("both")), (Verdict.CLEAR, Verdict.WATCH))

    def test_a_measured_way_round_takes_the_place_of_what_was_worked_out(self):
        plan = plan_delay(self.DEVICE, "laptop", 48_000)
        self.assertAlmostEqual(plan.round_trip_ms, total_ms(plan.way))
        self.assertEqual(plan.with_measured(31.0).round_trip_ms, 31.0)
        self.assertEqual(plan.with_measured(31.0).verdict, Verdict.MENDABLE)


class Journey(unittest.TestCase):
    def test_samples_are_time(self):
        # 128 samples at 48 kHz are 2.667 ms (arithmetic); 343 m/s: 2.915 ms a metre (ISO 9613-1 at 20 C, from memory).
        self.assertAlmostEqual(buffer_of_ms(128, 48_000), 8 / 3)
        way = {one.name: one.ms for one in journey(128, 48_000, speaker_m=1.0)}
        self.assertAlmostEqual(way["air"], 2.915, 3)
        self.assertAlmostEqual(sum(way.values()), 2 * 8 / 3 + 2 * 32 / 48 + 1.2 + 2.915, 2)

    def test_segments_add_up_and_go_in_order(self):
        way = journey(100, 44_100, plugin_samples=64, speaker_m=2)
        names = [one.name for one in way]
        into, back = ["converter-in", "safety-in", "input-buffer"], ["output-buffer", "safety-out", "converter-out"]
        self.assertEqual(names, [*into, "plug-ins", *back, "air"])

    def test_a_sheets_measured_figure_is_the_whole(self):
        way = journey(128, 48_000, measured_ms=9.3)
        self.assertAlmostEqual(total_ms(way), 9.3)
        self.assertEqual([one.name for one in way], ["input-buffer", "output-buffer", "driver-and-converters"])

    def test_what_no_device_does_is_refused(self):
        for wrong in (
            {"samples": 0},
            {"samples": 65_537},
            {"converters_ms": -1},
            {"speaker_m": 101},
            {"plugin_samples": -1},
        ):
            with self.subTest(wrong), self.assertRaises(OutOfRange):
                journey(**({"samples": 128, "sample_rate_hz": 48_000} | wrong))
        with self.assertRaises(OutOfRange):
            journey(128, 0)


class Dropouts(unittest.TestCase):
    def test_a_computer_without_overhead_is_the_closed_form_of_its_tail(self):
        # With nothing to do, a buffer is lost where the jitter alone is longer: P(J > T) = (1 + T/scale)^-5 (Lomax).
        idle = Computer(label="idle", usual=64, overhead_ms=0.0, share=0.0, scale_ms=0.5)
        self.assertAlmostEqual(idle.lost_share(2.0), 5.0**-5)

    def test_the_closed_form_agrees_with_a_simulation_of_buffers(self):
        rng, count = np.random.default_rng(7), 2_000_000
        for name in COMPUTERS:
            computer, buffer_ms = COMPUTERS[name], buffer_of_ms(COMPUTERS[name].usual // 4, 48_000)
            work_ms = computer.overhead_ms + computer.share * buffer_ms + computer.scale_ms * rng.pareto(5.0, count)
            lost = int((work_ms > buffer_ms).sum())
            expected = count * computer.lost_share(buffer_ms)
            self.assertLess(abs(lost - expected), 5 * np.sqrt(expected) + 1, name)

    def test_larger_buffers_and_quicker_computers_lose_less(self):
        for slower, faster in (("old-laptop", "laptop"), ("laptop", "desktop")):
            for small, large in itertools.pairwise(BUFFERS):
                lost = dropouts_per_minute(slower, small, 48_000)
                self.assertGreater(lost, dropouts_per_minute(slower, large, 48_000))
                self.assertGreaterEqual(lost, dropouts_per_minute(faster, small, 48_000))
        self.assertGreater(dropouts_per_minute("laptop", 128, 96_000), dropouts_per_minute("laptop", 128, 48_000))
        self.assertGreater(
            dropouts_per_minute("laptop", 256, 48_000, load=3), dropouts_per_minute("laptop", 256, 48_000)
        )

    def test_the_buffer_to_start_with_is_not_expected_to_lose_anything(self):
        for name, computer in COMPUTERS.items():
            for rate_hz in (44_100, 48_000):
                guess = {one.buffer: one for one in chances(name, rate_hz)}
                self.assertEqual(guess[computer.usual].word, UNLIKELY)
                self.assertEqual(smallest_safe(chances(name, rate_hz)), computer.usual)

    def test_what_was_seen_has_the_last_word(self):
        seen = (Seen(buffer=64, crackled=True), Seen(buffer=128, crackled=False, minutes=10))
        found = {one.buffer: one for one in chances("old-laptop", 48_000, seen)}
        self.assertEqual([found[buffer].word for buffer in (32, 64, 128, 256)], [LIKELY, LIKELY, UNLIKELY, UNLIKELY])
        self.assertAlmostEqual(found[128].most_a_minute, 0.3)  # rule of three: 3 / 10
        self.assertEqual(smallest_safe(tuple(found.values())), 128)

    def test_two_minutes_prove_little_and_a_contradiction_nothing(self):
        found = chances("desktop", 48_000, (Seen(buffer=128, crackled=False, minutes=2),), buffers=(64, 128))
        self.assertEqual([(one.word, one.seen) for one in found], [(LIKELY, False), (UNKNOWN, True)])
        self.assertAlmostEqual(found[1].most_a_minute, 1.5)
        both = (Seen(buffer=256, crackled=True), Seen(buffer=64, crackled=False, minutes=30))
        self.assertEqual([one.word for one in chances("laptop", 48_000, both, buffers=(64, 128, 256))], [UNKNOWN] * 3)

    def test_an_unknown_computer_is_named(self):
        with self.assertRaises(UnknownName):
            dropouts_per_minute("abacus", 128, 48_000)


class OwnVoice(unittest.TestCase):
    def test_the_first_notch(self):
        # f = 1 / (2 t): 5 ms, 100 Hz (comb filter, any textbook of acoustics).
        self.assertAlmostEqual(comb_of(5.0).notch_hz, 100.0)
        self.assertIsNone(comb_of(1.0, 0.0).depth_db)
        # Two copies 6.02 dB apart: 20 log10(1.5 / 0.5) = 9.54 dB between peak and notch.
        self.assertAlmostEqual(comb_of(1.0, -6.0206).depth_db, 9.542, 3)

    def test_the_comb_agrees_with_two_impulses(self):
        impulses = np.zeros(48_000)
        impulses[0], impulses[240] = 1.0, 10 ** (-6 / 20)  # 5 ms later
        response = np.abs(np.fft.rfft(impulses))
        self.assertEqual(int(response[:200].argmin()), 100)
        self.assertAlmostEqual(20 * np.log10(response.max() / response.min()), comb_of(5.0, -6.0).depth_db, 2)

    def test_the_verdicts_and_who_bears_more(self):
        self.assertEqual(
            [verdict_of_delay(ms) for ms in (5.9, 6.0, 12.0, 12.1)], ["clear", "watch", "watch", "mendable"]
        )
        self.assertEqual(bearable_for(20.0, "keys"), "good")
        self.assertEqual(bearable_for(20.0, "voice"), "poor")
        self.assertEqual(bearable_for(5.0, "amp"), bearable_for(5.0, "plucked"))
        for one in BEARABLE.values():
            self.assertLess(one.good_ms, one.fair_ms)
