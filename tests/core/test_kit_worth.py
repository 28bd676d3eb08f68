"""Which kits are worth buying, and which is enough: the recommendation, overload, and the frontier."""

import math
import unittest
from dataclasses import replace

import numpy as np

from pneumen.core.errors import Contradiction, NothingFits, UnknownName
from pneumen.core.forecast import judge_kit
from pneumen.core.kit import (
    Enough,
    Needs,
    OwnedGear,
    RoomNeed,
    findings_of_kit,
    money_story,
    owned_gear,
    part_need,
    plan_kits,
)
from pneumen.core.kit.frontier import Staircase, unbeaten
from pneumen.core.part import SOURCES, guessed_levels
from tests.kits import CATALOGUE, needs, plan


class Choice(unittest.TestCase):
    def test_no_kit_beats_another_and_dearest_comes_first(self):
        kits = plan("voice-pop", "clarinet", budget=500).kits
        self.assertEqual([kit.total for kit in kits], sorted((kit.total for kit in kits), reverse=True))
        figures = [(kit.total, kit.clean_range_db, kit.direct_to_reverberant_db) for kit in kits]
        for a in figures:
            for b in figures:
                no_worse = a[0] <= b[0] and a[1] >= b[1] and a[2] >= b[2]
                self.assertFalse(no_worse and (a[0] < b[0] or a[1] - b[1] >= 0.5 or a[2] - b[2] >= 0.5))

    def test_recommended_is_the_cheapest_that_is_enough_whatever_the_money(self):
        found = set()
        for budget in (150, 250, 400, 800):
            made = plan(budget=budget)
            enough = [k for k in made.kits if k.clean_range_db >= 50 and k.direct_to_reverberant_db >= 10]
            found.add(made.kits[made.recommended].total)
            self.assertEqual(found, {min(k.total for k in enough if not k.overloads)})
            self.assertTrue(made.is_enough)

    def test_where_nothing_is_enough_the_least_short_is_taken(self):
        asked = Enough(clean_range_db=90, direct_to_reverberant_db=30)
        made = plan(budget=400, enough=asked)
        short = [max(90 - k.clean_range_db, 30 - k.direct_to_reverberant_db) for k in made.kits]
        self.assertFalse(made.is_enough)
        near = [k.total for k, one in zip(made.kits, short, strict=True) if one <= min(short) + 0.1]
        self.assertEqual(made.kits[made.recommended].total, min(near))

    def test_a_belted_voice_is_not_given_what_it_may_clip(self):
        loud = replace(needs().parts[0], levels=guessed_levels("voice-pop", "loud").levels)
        asked = replace(needs(budget=400), parts=(loud,))
        made = plan_kits(asked, OwnedGear(), CATALOGUE)
        taken = made.kits[made.recommended]
        self.assertEqual((taken.overloads, "dynamic" in taken.microphone.family), ((), True))
        cheaper = [kit for kit in made.kits if kit.total < taken.total]
        self.assertTrue(cheaper and all(kit.overloads for kit in cheaper))
        clipping = {finding.kind: finding.verdict for finding in findings_of_kit(asked, cheaper[-1])}
        self.assertIn(clipping["overload"], ("watch", "baked-in"))

    def test_a_peak_that_stays_low_is_told_and_no_reason_to_refuse(self):
        soft = replace(needs().parts[0], levels=guessed_levels("voice-pop", "soft").levels)
        asked = replace(needs(route="usb"), parts=(soft,))
        owned = owned_gear(("speedwell-u",), CATALOGUE, plenty=True)
        found = next(kit for kit in plan_kits(asked, owned, CATALOGUE).kits if kit.microphone.id == "speedwell-u")
        low = next(one for one in findings_of_kit(asked, found) if one.kind == "level-low")
        self.assertAlmostEqual(low.short_db, -9 - found.levels.peak_dbfs, 9)

    def test_what_is_plugged_in_is_compared_by_price_and_clean_range_alone(self):
        figures = [(kit.total, kit.clean_range_db) for kit in plan("keyboard", budget=600).kits]
        for a in figures:
            for b in figures:
                self.assertFalse(a[0] < b[0] and a[1] >= b[1])

    def test_what_is_owned_costs_nothing(self):
        small = ("xlr-cable", "headphones", "phones-adapter", "boom-stand", "pop-filter")
        free = plan(budget=0, owned=("meadowsweet-one", "hornbeam-2", *small))
        self.assertEqual(free.kits[free.recommended].total, 0)
        self.assertEqual(free.kits[free.recommended].microphone.id, "meadowsweet-one")

    def test_owning_by_kind_is_owning_a_plain_one(self):
        gear = owned_gear(("microphone", "interface", "headphones"), CATALOGUE)
        self.assertEqual({item.family for item in gear.items}, {"dynamic", "bare-knob"})
        with self.assertRaises(UnknownName):
            owned_gear(("teapot",), CATALOGUE)

    def test_must_and_never(self):
        self.assertTrue(
            all(kit.microphone.id == "burdock-d" for kit in plan(budget=450, must=frozenset({"burdock-d"})).kits)
        )
        taken = plan(budget=450).kits
        banned = frozenset({taken[0].microphone.id})
        self.assertTrue(all(kit.microphone.id not in banned for kit in plan(budget=450, never=banned).kits))
        with self.assertRaises(Contradiction):
            needs(must=frozenset({"burdock-d"}), never=frozenset({"burdock-d"}))

    def test_nothing_fits_says_what_would_lift_it(self):
        with self.assertRaises(NothingFits) as caught:
            plan(budget=30)
        cheapest = caught.exception.cheapest_total
        self.assertEqual(plan(budget=cheapest).kits[0].total, cheapest)
        with self.assertRaises(NothingFits) as caught:
            plan(budget=150, monitors=True)
        self.assertIn("monitors", caught.exception.lifts)
        with self.assertRaises(NothingFits) as caught:
            plan(budget=900, inputs_at_once=30)
        self.assertIn("inputs_at_once", caught.exception.lifts)

    def test_a_bundle_is_taken_where_it_is_cheaper(self):
        asked = {"budget": 450, "must": frozenset({"burdock-d"})}
        with_it = plan(**asked).kits[-1]
        without = plan(**asked, never=frozenset({"bundle-burdock-speech"})).kits[-1]
        self.assertIn("bundle", {line.kind for line in with_it.lines})
        self.assertLess(with_it.total, without.total)

    def test_one_microphone_serves_a_soft_part_with_a_booster_and_a_loud_one_without(self):
        room = RoomNeed(noise_dba=28, rt60_s=0.4, volume_m3=30)
        soft, loud = part_need("voice-soft", room, loudness="soft"), part_need("guitar-amp", room, loudness="loud")
        asked = Needs(parts=(soft, loud), room=room, budget=300)
        made = plan_kits(asked, OwnedGear(), CATALOGUE)
        taken = made.kits[made.recommended]
        self.assertTrue(made.is_enough)
        self.assertEqual([voice.booster is not None for voice in taken.voices], [True, False])
        self.assertEqual([line.kind for line in taken.lines].count("microphone"), 1)
        twice = replace(asked, inputs_at_once=2)  # together, each has its own
        taken = (found := plan_kits(twice, OwnedGear(), CATALOGUE)).kits[found.recommended]
        self.assertEqual([line.kind for line in taken.lines].count("microphone"), 2)

    def test_each_source_of_the_library_finds_a_kit(self):
        for source in SOURCES:
            with self.subTest(source):
                self.assertTrue(plan(source, budget=900).kits)


class Frontiers(unittest.TestCase):
    def test_the_staircase_answers_like_a_search(self):
        rng = np.random.default_rng(4)
        stairs, points = Staircase(), []
        for clean, ratio in rng.integers(0, 20, (200, 2)).astype(float):
            best = max((c for c, r in points if r >= ratio), default=-math.inf)
            self.assertEqual(stairs.best_clean(ratio), best)
            stairs.add(clean, ratio)
            points.append((clean, ratio))

    def test_unbeaten_by_trying_all_pairs(self):
        rng = np.random.default_rng(5)
        for _ in range(60):
            points = [tuple(map(float, row)) for row in rng.integers(0, 6, (40, 3)) * (1, 0.3, 0.3)]

            def beats(a, b):
                no_worse = a[0] <= b[0] and a[1] >= b[1] - 1e-9 and a[2] >= b[2] - 1e-9
                return no_worse and (a[0] < b[0] or max(a[1] - b[1], a[2] - b[2]) >= 0.5 - 1e-9)

            expected = {b for b in points if not any(beats(a, b) for a in points)}
            self.assertEqual({points[number] for number in unbeaten(points)}, expected)

    def test_what_money_buys(self):
        points = ((300.0, 60.0, 12.0), (100.0, 59.8, 12.0), (60.0, 50.0, 8.0))
        story = money_story(points, 60.0)
        self.assertEqual([round(bought.clean_db, 1) for bought in story.next_sums], [0.0, 9.8, 9.8])
        self.assertEqual(story.cleanest_from, 100.0)
        self.assertIsNone(money_story(points, 10.0))

    def test_verdicts(self):
        self.assertEqual(judge_kit(60, math.inf, clean_enough_db=50), "clear")
        self.assertEqual(judge_kit(29.9, 20, clean_enough_db=50), "mendable")


if __name__ == "__main__":
    unittest.main()
