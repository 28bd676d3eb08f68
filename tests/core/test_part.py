"""The shape of a song: what its sections make of a part's levels."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as some

from pneumen.core.errors import Contradiction, OutOfRange
from pneumen.core.part import SOURCES, Section, find_tempo, guessed_levels, levels_over, loudest_of, rise_of
from tests.signals import RATE

USUAL = guessed_levels("voice-pop", "medium").levels


def section(loudness_db=0.0, bars=8, name="Verse"):
    return Section(name=name, bars=bars, loudness_db=loudness_db)


class Levels(unittest.TestCase):
    def test_without_sections_nothing_changes(self):
        self.assertEqual(levels_over((), USUAL), USUAL)

    def test_a_section_at_the_usual_level_changes_nothing(self):
        self.assertEqual(levels_over([section()], USUAL), USUAL)

    def test_peak_typical_and_quiet_come_from_different_sections(self):
        over = levels_over([section(3), section(-9)], USUAL)
        self.assertAlmostEqual(over.peak_db_spl, USUAL.peak_db_spl + 3)
        self.assertAlmostEqual(over.quiet_db_spl, USUAL.quiet_db_spl - 9)
        # Energy mean of +3 and -9 dB over the same time: 10 log10((1.995 + 0.126) / 2) = 0.256.
        self.assertAlmostEqual(over.typical_db_spl, USUAL.typical_db_spl + 0.256, 2)

    def test_bars_weigh(self):
        # Three bars of four at +0, one at -20: 10 log10(0.7525) = -1.235.
        over = levels_over([section(0, 3), section(-20, 1)], USUAL)
        self.assertAlmostEqual(over.typical_db_spl, USUAL.typical_db_spl - 1.235, 2)

    @given(some.lists(some.tuples(some.floats(-30, 15), some.integers(1, 99)), min_size=1, max_size=12))
    def test_the_order_of_levels_always_holds(self, drawn):
        over = levels_over([section(db, bars) for db, bars in drawn], USUAL)
        self.assertLessEqual(over.quiet_db_spl, over.typical_db_spl)
        self.assertLessEqual(over.typical_db_spl, over.peak_db_spl)

    def test_the_loudest_is_the_first_of_equals(self):
        self.assertEqual(loudest_of([section(1), section(4), section(4)]), 1)
        self.assertIsNone(loudest_of([]))

    def test_bad_sections_name_their_field(self):
        for change, error, field in (
            ({"bars": 0}, OutOfRange, "bars"),
            ({"loudness_db": 40}, OutOfRange, "loudness"),
            ({"loudness_db": float("nan")}, OutOfRange, "loudness"),
            ({"name": "  "}, Contradiction, "name"),
        ):
            with self.subTest(change), self.assertRaises(error) as caught:
                section(**change)
            self.assertEqual(caught.exception.field, field)


def clicks(bpm, rate=RATE, start_s=0.35, seconds=30):
    """A click track: short bursts at an exact tempo, every fourth louder, over faint noise."""
    samples = 1e-4 * np.random.default_rng(1).standard_normal(rate * seconds)
    length = int(0.03 * rate)
    burst = np.sin(2 * np.pi * 1500 * np.arange(length) / rate) * np.exp(-np.arange(length) / (0.006 * rate))
    for beat in range(int((seconds - 1) * bpm / 60)):
        place = int((start_s + beat * 60 / bpm) * rate)
        samples[place : place + length] += burst * (1 if beat % 4 == 0 else 0.6)
    return samples


def pieces(samples, length=65_536):
    return [samples[start : start + length] for start in range(0, len(samples), length)]


class Rise(unittest.TestCase):
    def rise(self, *loudness):
        return rise_of([Section(name=f"{db:g}", bars=8, loudness_db=db) for db in loudness])

    def test_the_loudest_over_the_energy_of_the_softer(self):
        name, rise_db = self.rise(-6, 3, -6, 3)
        self.assertEqual(name, "3")
        self.assertAlmostEqual(rise_db, 9)
        self.assertAlmostEqual(self.rise(0, -3.0103, -300 / 10)[1], 6.01, 2)  # half the energy, and next to nothing

    def test_what_is_as_loud_throughout_has_none(self):
        for loudness in ((), (4,), (0, 0, -0.5), (0, -1.5)):
            self.assertIsNone(self.rise(*loudness), loudness)


class Tempo(unittest.TestCase):
    def test_constructed_click_tracks(self):
        for rate in (44_100, 48_000):
            for bpm in (60, 72, 92, 100.5, 120, 133.3, 138):
                found = find_tempo(pieces(clicks(bpm, rate)), rate)
                self.assertAlmostEqual(found.bpm, bpm, delta=0.003 * bpm)
                self.assertAlmostEqual(found.first_beat_s, 0.35, delta=0.02)

    def test_what_is_very_fast_is_told_at_half(self):
        self.assertAlmostEqual(find_tempo(pieces(clicks(160)), RATE).bpm, 80, delta=0.3)

    def test_block_lengths_do_not_matter(self):
        whole, cut = find_tempo([clicks(92)], RATE), find_tempo(pieces(clicks(92), 7001), RATE)
        self.assertAlmostEqual(whole.bpm, cut.bpm, 6)

    def test_no_beat_no_tempo(self):
        noise = 0.1 * np.random.default_rng(2).standard_normal(RATE * 20)
        for samples in (noise, np.zeros(RATE * 20), np.sin(np.arange(RATE * 20) * 0.05), clicks(100, seconds=5)):
            self.assertIsNone(find_tempo(pieces(samples), RATE))


if __name__ == "__main__":
    unittest.main()


class Floor(unittest.TestCase):
    """What a source and its player take up, against the floor of a room (estimates)."""

    def test_either_way_round_and_a_plug_anywhere(self):
        kit, wide = SOURCES["drum-kit"], (2.0, 1.8, 2.4)
        for size_m, fits in ((wide, True), ((1.8, 2.0, 2.4), True), ((1.9, 1.9, 2.4), False), ((3.0, 1.7, 2.4), False)):
            with self.subTest(size_m):
                self.assertIs(kit.fits(size_m), fits)
        self.assertTrue(SOURCES["keyboard"].fits((0.5, 0.5, 2.0)))

    def test_a_voice_fits_into_every_closet_and_everything_into_a_living_room(self):
        for source in SOURCES.values():
            self.assertTrue(source.fits((4.4, 3.7, 2.45)), source.slug)
            self.assertTrue(source.fits((1.9, 1.5, 2.3)) or max(source.floor_m) > 1.5, source.slug)
