"""The log: what a take is, how often each section was recorded, what to do next, and what differs between two takes."""

import unittest

from pneumen.core.errors import UnknownName
from pneumen.core.take import (
    ADVICES,
    Logged,
    Reading,
    TakeSettings,
    advice_on,
    changes_between,
    counts_in,
    fit_of,
    kinds_in,
    noise_by_hour,
)
from pneumen.wording.log import advice_told, changes_told

SECTIONS = ("Verse", "Chorus")


def take(number, duration_s=180.0, **said):
    return Logged(number=number, duration_s=duration_s, **said)


def kinds(takes, sections=SECTIONS, **how):
    return [one.kind for one in advice_on(takes, sections, **how)]


class Kinds(unittest.TestCase):
    def test_by_length_and_section_unless_said(self):
        takes = [take(1, 14), take(2), take(3, 20, section="Chorus"), take(4, 14, kind="pass"), take(5, 100)]
        self.assertEqual(kinds_in(takes), {1: "test", 2: "pass", 3: "punch", 4: "pass", 5: "pass"})

    def test_the_only_take_is_a_full_pass(self):
        self.assertEqual(kinds_in([take(1, 9)]), {1: "pass"})
        self.assertEqual(kinds_in([]), {})

    def test_unknown_words_are_refused_by_name(self):
        for said in ({"kind": "solo"}, {"rhythm": "fine"}, {"pitch": "9"}):
            with self.assertRaisesRegex(UnknownName, next(iter(said))):
                take(1, **said)


class Counts(unittest.TestCase):
    def test_passes_count_for_every_section_punches_for_theirs(self):
        takes = [take(1), take(2, rhythm="weak"), take(3, 12, section="Chorus", feeling="good"), take(4, 10)]
        verse, chorus = counts_in(takes, SECTIONS)
        self.assertEqual((verse.passes, verse.punches, verse.usable, verse.takes), (2, 0, 1, 2))
        self.assertEqual((chorus.passes, chorus.punches, chorus.usable, chorus.takes), (2, 1, 2, 3))

    def test_one_mark_is_enough_and_none_is_neutral(self):
        self.assertTrue(take(1).is_usable)
        self.assertTrue(take(1, feeling="good").is_usable)
        self.assertFalse(take(1, feeling="good", pitch="weak").is_usable)
        self.assertFalse(take(1, ruined=True).is_usable)

    def test_what_was_put_away_is_no_material(self):
        (whole,) = counts_in([take(1), take(2, kept=False)], ())
        self.assertEqual((whole.section, whole.passes), ("", 1))


class Advice(unittest.TestCase):
    def test_three_full_passes_come_first(self):
        for passes in (0, 1, 2):
            self.assertEqual(kinds([take(n) for n in range(passes)]), ["more-passes"])
        self.assertEqual(kinds([take(n) for n in range(3)]), ["listen"])
        self.assertEqual(kinds([take(n, rhythm="good") for n in range(3)]), [])

    def test_a_section_without_a_usable_take_is_punched_in(self):
        ruined = [take(n, rhythm="weak") for n in range(3)]
        (advice,) = advice_on([*ruined, take(4, 20, section="Verse")], SECTIONS)
        self.assertEqual((advice.kind, advice.section, advice.count), ("punch-in", "Chorus", 3))

    def test_where_all_is_weak_the_sections_are_not_counted_up(self):
        (advice,) = advice_on([take(n, feeling="weak") for n in range(3)], SECTIONS)
        self.assertEqual((advice.kind, advice.section), ("punch-in", ""))
        self.assertIn("phrases that are weak", advice_told(advice))

    def test_rest_after_ten_is_one_school_and_counts_what_was_put_away(self):
        ten = [take(n, rhythm="good", kept=n > 2) for n in range(10)]
        self.assertEqual(kinds(ten), ["rest"])
        self.assertEqual(kinds(ten[:9]), [])
        self.assertEqual(kinds(ten, rest="as-many"), [])
        yesterday = [take(n, rhythm="good", here=False) for n in range(10)]
        self.assertEqual(kinds(yesterday), [])

    def test_ten_takes_of_one_section_are_enough(self):
        takes = [take(n, rhythm="good", here=False) for n in range(3)]
        takes += [take(n + 3, 20, section="Chorus", here=False) for n in range(7)]
        self.assertEqual([(one.kind, one.section) for one in advice_on(takes, SECTIONS)], [("section-rest", "Chorus")])
        self.assertEqual(kinds(takes, rest="as-many"), [])

    def test_pain_comes_before_everything(self):
        self.assertEqual(kinds([take(1)], hurt=True, rest="as-many"), ["hurt"])

    def test_every_advice_has_its_sentence(self):
        for kind in ADVICES:
            told = advice_told(type(advice_on([take(1)], ())[0])(kind=kind, section="Chorus", count=2))
            self.assertNotIn("{", told)
        with self.assertRaisesRegex(UnknownName, "rest"):
            advice_on([], (), rest="never")


class Changes(unittest.TestCase):
    def test_only_what_one_sets_and_both_tell(self):
        before = TakeSettings(gear="A", distance_m=0.18, gain_db=22.0, pop_screen=True, buffer=None)
        after = TakeSettings(gear="A", distance_m=0.181, gain_db=28.0, pop_screen=False, buffer=256)
        self.assertEqual([one.what for one in changes_between(before, after)], ["pop_screen", "gain_db"])

    def test_nothing_differs_from_itself(self):
        same = TakeSettings(gear="A", distance_m=0.2, section="Verse")
        self.assertEqual(changes_between(same, same), ())
        self.assertIn("Set up as take 4", changes_told(4, ()))

    def test_each_change_is_told_with_its_unit(self):
        before = TakeSettings(gear="A", distance_m=0.18, aside_deg=0, low_cut_hz=0.0, gain_db=22, buffer=128)
        after = TakeSettings(
            gear="B", distance_m=0.30, aside_deg=25, low_cut_hz=80, gain_db=25, buffer=256, section="X"
        )
        told = changes_told(4, changes_between(before, after))
        for piece in (
            "18 cm → 30 cm",
            "0° → 25°",
            "off → 80 Hz",
            "22.0 dB → 25.0 dB",
            "128 samples → 256",
            "all of it → X",
        ):
            self.assertIn(piece, told)


class Fits(unittest.TestCase):
    def test_mean_spread_and_share(self):
        readings = [
            Reading(number=n, predicted_db=-9, band_db=2, measured_db=-9 + off) for n, off in enumerate((1, 2, 3))
        ]
        fit = fit_of(readings)
        self.assertEqual((fit.count, fit.mean_db, fit.spread_db, fit.within), (3, 2, 1, 2))
        self.assertIsNone(fit_of(readings[:1]).spread_db)
        self.assertIsNone(fit_of([]))

    def test_noise_of_an_hour_is_its_energy_mean(self):
        """Two equal powers and one ten times as strong: 10 lg((1 + 10) / 2) = 7.40 dB over the weaker."""
        hours = noise_by_hour([(22, 30.0), (9, 25.0), (22, 40.0)])
        self.assertEqual([(one.hour, one.count) for one in hours], [(9, 1), (22, 2)])
        self.assertAlmostEqual(hours[0].noise_dba, 25.0)
        self.assertAlmostEqual(hours[1].noise_dba, 37.40, places=2)
