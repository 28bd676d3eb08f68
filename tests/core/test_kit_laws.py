"""Laws any planner must keep, whatever the catalogue: money, order, scale, what is added, left out, owned."""

import math
import unittest
from dataclasses import replace

import numpy as np

from pneumen.core.gear import MICROPHONE_FAMILIES, microphone_from_sheet
from pneumen.core.kit import Needs, OwnedGear, RoomNeed, built_in_catalogue, owned_gear, part_need, plan_kits
from pneumen.core.levels import a_weighting_of_white_noise_db
from pneumen.core.room import MATERIALS
from tests.gear import random_catalogue

ROOM = RoomNeed(noise_dba=24, rt60_s=0.5, volume_m3=30)
SEEDS = range(40, 52)
SOURCES = ("voice-pop", "lever-harp")
NOTHING_OWNED = OwnedGear()


def needs(budget=2000.0, room=ROOM, sources=SOURCES, **more):
    return Needs(parts=tuple(part_need(one, room) for one in sources), room=room, budget=budget, **more)


def figures(kits):
    return [(round(kit.total, 2), kit.clean_range_db, kit.direct_to_reverberant_db) for kit in kits]


def plan(items, asked=None, owned=NOTHING_OWNED):
    return plan_kits(asked or needs(), owned, items).kits


class Laws(unittest.TestCase):
    def setUp(self):
        self.random = np.random.default_rng(3)

    def assert_same(self, one, other, case):
        self.assertEqual(len(one), len(other), case)
        np.testing.assert_allclose(one, other, rtol=1e-9, err_msg=str(case))

    def test_the_order_of_the_catalogue_does_not_matter(self):
        for seed in SEEDS:
            items = list(random_catalogue(seed, 40))
            before = figures(plan(tuple(items)))
            self.random.shuffle(items)
            self.assert_same(before, figures(plan(tuple(items))), seed)

    def test_less_money_leaves_just_the_kits_one_can_pay(self):
        for seed in SEEDS:
            items = random_catalogue(seed, 40)
            every = figures(plan(items))
            budget = float(np.median([total for total, _, _ in every]))
            within = [one for one in every if one[0] <= budget]
            self.assert_same(within, figures(plan(items, needs(budget))), seed)

    def test_in_another_currency_the_same_kits_are_chosen(self):
        for seed in SEEDS:
            items = random_catalogue(seed, 40)
            dearer = tuple(replace(item, price=8 * item.price) for item in items)
            before = figures(plan(items))
            after = [(total / 8, *rest) for total, *rest in figures(plan(dearer, needs(16_000)))]
            self.assert_same(before, after, seed)

    def test_what_no_kit_uses_can_go_and_nothing_changes(self):
        for seed in SEEDS:
            items = random_catalogue(seed, 40)
            kits = plan(items)
            used = {line.item.id for kit in kits for line in kit.lines if line.item}
            idle = [item.id for item in items if item.id not in used]
            self.assertTrue(idle, seed)
            left = tuple(item for item in items if item.id not in idle)
            self.assert_same(figures(kits), figures(plan(left)), seed)

    def test_one_thing_more_to_choose_from_never_makes_it_worse(self):
        for seed in SEEDS:
            items = random_catalogue(seed, 40)
            microphones = [item for item in items if item.kind == "microphone"]
            lost = microphones[int(self.random.integers(len(microphones)))].id
            fewer = figures(plan(tuple(item for item in items if item.id != lost)))
            more = np.array(figures(plan(items)))
            for total, clean, lead in fewer:
                as_good = (more[:, 0] <= total + 0.01) & (more[:, 1] >= clean - 1e-9) & (more[:, 2] >= lead - 1e-9)
                self.assertTrue(as_good.any(), (seed, total))

    def test_a_quieter_room_never_lessens_and_a_longer_ring_never_helps(self):
        items = random_catalogue(5, 40)

        def best(**changes):
            room = replace(ROOM, **changes)
            asked = needs(room=room)
            still = tuple(
                part_need(one.source.slug, room, distance_m=0.25) for one in asked.parts
            )  # else the room moves it
            return np.max(np.array(figures(plan(items, replace(asked, parts=still))))[:, 1:], axis=0)

        here = best()
        self.assertGreater(best(noise_dba=18)[0], here[0])
        self.assertLess(best(rt60_s=0.9)[1], here[1])

    def test_the_lines_add_up_to_the_total(self):
        for seed in SEEDS:
            for kit in plan(random_catalogue(seed, 40)):
                self.assertAlmostEqual(sum(line.price for line in kit.lines), kit.total, 6)


class Owning(unittest.TestCase):
    CATALOGUE = built_in_catalogue()

    def test_to_own_a_kits_interface_saves_its_price_and_no_more_than_what_is_in_its_box(self):
        asked = needs(900, sources=("voice-pop",))
        kits = plan(self.CATALOGUE, asked)
        for kit in (kits[0], kits[len(kits) // 2], kits[-1]):
            if kit.interface is None:
                continue
            mine = owned_gear((kit.interface.id,), self.CATALOGUE)
            with_it = plan(self.CATALOGUE, asked, mine)
            as_good = [
                one.total
                for one in with_it
                if one.clean_range_db >= kit.clean_range_db - 1e-9
                and one.direct_to_reverberant_db >= kit.direct_to_reverberant_db - 1e-9
            ]
            self.assertLessEqual(min(as_good), kit.total - kit.interface.price + 1e-6, kit.interface.id)

    def test_more_owned_never_costs_more(self):
        asked = needs(900)
        steps = ((), ("headphones",), ("headphones", "xlr-cable"), ("headphones", "xlr-cable", "boom-stand"))
        cheapest = [plan(self.CATALOGUE, asked, owned_gear(owned, self.CATALOGUE))[-1].total for owned in steps]
        self.assertEqual(cheapest, sorted(cheapest, reverse=True))
        self.assertLess(cheapest[-1], cheapest[0])


class DataSheets(unittest.TestCase):
    """No microphone is quieter than the heat of its own coil or ribbon (Johnson and Nyquist; physics: 300 ohm and
    1.8 mV/Pa read 16.7 dBA): a data sheet below it is wrong."""

    def thermal_dba(self, impedance_ohm, sensitivity_mv_per_pa):
        volt = math.sqrt(4 * 1.380649e-23 * 293 * impedance_ohm * 20_000)
        a_weighted_dbv = 20 * math.log10(volt) + a_weighting_of_white_noise_db()
        return a_weighted_dbv - 20 * math.log10(sensitivity_mv_per_pa / 1000) + 94

    def test_the_worked_example(self):
        self.assertAlmostEqual(self.thermal_dba(300, 1.8), 16.7, 1)

    def test_no_sheet_of_the_catalogue_nor_of_a_family_lies_below(self):
        sheets = [(item.id, item.family, item.sheet) for item in built_in_catalogue() if item.kind == "microphone"]
        sheets += [(family, family, {}) for family in MICROPHONE_FAMILIES]
        for name, family, sheet in sheets:
            microphone = microphone_from_sheet(family, sheet)[0]
            if MICROPHONE_FAMILIES[family].plug == "xlr":
                heat = self.thermal_dba(microphone.impedance_ohm, microphone.sensitivity_mv_per_pa)
                self.assertGreaterEqual(microphone.self_noise_dba, heat, name)

    def test_a_duvet_of_the_catalogue_is_the_duvet_of_the_room(self):
        for item in built_in_catalogue():
            if item.id.startswith("eider-duvet"):
                for area_m2, share in zip(item.absorption_m2, MATERIALS["duvet"].absorption, strict=True):
                    self.assertAlmostEqual(area_m2 / item.area_m2, share, 2)
