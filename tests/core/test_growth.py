"""What a kit lets one do later, what there is to learn, and which family suits: rules of the trade, one by one."""

import unittest
from dataclasses import replace

from pneumen.core.forecast import outcome, recommend, with_planned_gain
from pneumen.core.gear import MICROPHONE_FAMILIES, OWN_FAMILIES
from pneumen.core.kit import (
    FAMILY_TRAITS,
    assumed_interface,
    burden_of,
    family_chain,
    family_here,
    frontier_of,
    growth_of,
    owned_gear,
)
from pneumen.core.part import SOURCES
from pneumen.core.verdict import Verdict
from tests import parts
from tests.kits import CATALOGUE, needs


def kits(route, *sources, **more):
    asked = needs(*sources, route=route, budget=900, **more)
    return asked, frontier_of(asked, owned_gear((), CATALOGUE), CATALOGUE).kits()


class Growth(unittest.TestCase):
    def kinds(self, asked, kit):
        return {one.kind: one.count for one in growth_of(asked, kit)}

    def test_one_cable_ends_where_it_begins(self):
        asked, found = kits("usb", "voice-pop")
        self.assertEqual({tuple(self.kinds(asked, kit)) for kit in found}, {("one-cable",)})

    def test_a_recorder_goes_anywhere(self):
        asked, found = kits("recorder", "clarinet")
        self.assertEqual({tuple(self.kinds(asked, kit)) for kit in found}, {("anywhere", "own-pair")})

    def test_an_interface_has_the_inputs_left_that_are_not_used(self):
        for at_once, used in ((1, 1), (2, 2)):
            asked, found = kits("interface", "voice-pop", "clarinet", inputs_at_once=at_once)
            for kit in found:
                told, free = self.kinds(asked, kit), (kit.hub.mic_inputs or 1) - used
                self.assertEqual(told.get("more-microphones", 0), free, kit.hub.id)
                self.assertEqual("no-more-microphones" in told, free == 0)
                self.assertEqual("no-condensers" in told, kit.hub.phantom == "none")
                self.assertEqual(told.get("instruments", 0), kit.hub.instrument_inputs or 0)


def burden(kit, source="clarinet"):
    return burden_of(kit, SOURCES[source])


class Burden(unittest.TestCase):
    def test_a_recorder_asks_for_no_software_and_the_fewest_steps(self):
        (_, recorders), (_, interfaces) = kits("recorder", "clarinet"), kits("interface", "clarinet")
        self.assertEqual({burden(kit).software for kit in recorders}, {0})
        self.assertTrue(all(1 <= burden(kit).software <= 4 for kit in interfaces))
        most = max(burden(kit).steps for kit in recorders)
        self.assertTrue(all(burden(kit).steps > most for kit in interfaces))

    def test_what_is_plugged_has_its_own_order(self):
        _, found = kits("interface", "guitar-direct")
        self.assertTrue(all(burden(kit, "guitar-direct").steps >= 5 for kit in found))


class Families(unittest.TestCase):
    def here(self, slug, source="voice-pop", **changes):
        setup = parts.part(source, chain=family_chain(slug, assumed_interface()), **changes)
        setup = with_planned_gain(setup.moved(distance_m=recommend(setup).distance_m))
        return family_here(slug, outcome(setup), CATALOGUE)

    def test_every_family_has_its_traits_and_a_chain(self):
        self.assertEqual(set(FAMILY_TRAITS), set(OWN_FAMILIES))
        for slug in OWN_FAMILIES:
            self.assertEqual(self.here(slug).family, OWN_FAMILIES[slug])

    def test_from_is_the_cheapest_of_the_catalogue(self):
        for slug in MICROPHONE_FAMILIES:
            prices = [item.price for item in CATALOGUE if item.kind == "microphone" and item.family == slug]
            self.assertEqual(self.here(slug).cheapest, min(prices))

    def test_the_verdict_is_that_of_the_gravest_fault(self):
        for slug in OWN_FAMILIES:
            found = self.here(slug, "snare-drum", loudness="loud")
            self.assertEqual(found.verdict is Verdict.CLEAR, not found.against)

    def test_a_ribbon_is_fragile_near_sticks_and_no_dynamic_is(self):
        self.assertIn("fragile", self.here("ribbon", "snare-drum").against)
        self.assertNotIn("fragile", self.here("dynamic", "snare-drum").against)
        self.assertNotIn("fragile", self.here("ribbon", "violin").against)

    def test_without_a_screen_what_pops_easily_is_told(self):
        self.assertIn("pops", self.here("small-condenser", pop_screen=False).against)
        self.assertNotIn("pops", self.here("small-condenser").against)
        self.assertNotIn("pops", self.here("dynamic", pop_screen=False).against)

    def test_a_loud_source_overloads_what_bears_least_first(self):
        setup = parts.part("trumpet", chain=family_chain("usb-condenser", assumed_interface()), distance_m=0.3)
        loud = outcome(with_planned_gain(parts.louder(replace(setup, gain_db=0.0), 12)))
        self.assertEqual(family_here("usb-condenser", loud, CATALOGUE).verdict, Verdict.BAKED_IN)
