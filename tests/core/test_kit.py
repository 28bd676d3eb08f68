"""Kits: the rules of completeness and choice, hanging, the frontier, what money buys, and direct instruments."""

import math
import unittest
from dataclasses import replace

import numpy as np

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName
from pneumen.core.gear import LOWEST_EIN_DBU_A
from pneumen.core.kit import (
    Item,
    OwnedGear,
    findings_of_kit,
    headphone_level_db,
    item_named,
    levels_of_part,
    plan_kits,
    rt60_with,
)
from pneumen.core.kit.accessories import Shelf
from pneumen.core.kit.evaluate import CANNOT
from pneumen.core.kit.offers import offers_of
from pneumen.core.levels import safe_hours
from pneumen.core.part import MIKED_SOURCES, SOURCES
from tests.kits import BOOSTERS, CATALOGUE, ROOM, needs, plan


class Catalogue(unittest.TestCase):
    def test_it_is_large_and_holds_every_family_and_route(self):
        self.assertGreaterEqual(len(CATALOGUE), 150)
        microphones = [item for item in CATALOGUE if item.kind == "microphone"]
        self.assertEqual({item.microphone_family.plug for item in microphones}, {"xlr", "usb"})
        self.assertTrue({"large-condenser", "small-condenser", "dynamic", "ribbon"} <= {m.family for m in microphones})
        kinds = {item.kind for item in CATALOGUE}
        self.assertTrue({"interface", "recorder", "di-box", "bundle", "covering", "software", "monitor"} <= kinds)

    def test_figures_lie_where_real_sheets_do(self):
        # Ranges of the task's trade description: common practice, no source.
        for item in CATALOGUE:
            if item.sensitivity_mv_per_pa:
                self.assertTrue(0.6 <= item.sensitivity_mv_per_pa <= 35, item.id)
            if item.kind == "microphone":
                self.assertTrue(4 <= item.self_noise_dba <= 24, item.id)
            if item.ein_dbu:
                # Johnson-Nyquist: 150 ohm make -133.0 dBu (A).
                self.assertTrue(LOWEST_EIN_DBU_A <= item.ein_dbu <= -122, item.id)

    def test_bundles_cost_less_than_their_contents(self):
        for bundle in (item for item in CATALOGUE if item.kind == "bundle"):
            self.assertLess(bundle.price, sum(item_named(part).price for part in bundle.in_box), bundle.id)

    def test_an_item_refuses_what_cannot_be(self):
        good = {"id": "a", "kind": "boom-stand", "name": "A", "price": 1, "reach_m": 2}
        cases = (
            ({"price": -1}, OutOfRange),
            ({"price": math.nan}, OutOfRange),
            ({"kind": "wombat"}, UnknownName),
            ({"id": "A b"}, Contradiction),
            ({"name": " "}, Contradiction),
            ({"reach_m": None}, Contradiction),
            ({"reach_m": 40}, OutOfRange),
            ({"ein_dbu": -128}, Contradiction),
        )
        Item(**good)
        for change, error in cases:
            with self.subTest(change), self.assertRaises(error):
                Item(**(good | change))


class Complete(unittest.TestCase):
    def test_nothing_is_missing(self):
        for kit in plan(budget=450).kits:
            present = {line.kind for line in kit.lines}
            boxes = {kind for line in kit.lines if line.item for kind in line.item.in_box}
            self.assertTrue({"boom-stand", "headphones", "software"} <= present)
            self.assertTrue({"pop-filter", "foam-windscreen"} & (present | boxes))
            self.assertTrue({"stand-clip", "shock-mount", "desk-stand"} & (present | boxes))
            self.assertEqual("xlr-cable" in present, kit.interface is not None)
            self.assertAlmostEqual(kit.total, sum(line.price for line in kit.lines), 6)
            if kit.hub and kit.hub.kind == "recorder":
                self.assertIn("memory-card", present)

    def test_the_stand_reaches_a_standing_mouth(self):
        for kit in plan(budget=450).kits:
            stand = next(line.item for line in kit.lines if line.kind == "boom-stand")
            self.assertGreaterEqual(stand.reach_m, 1.6)

    def test_whoever_sits_and_speaks_may_use_a_desk_stand(self):
        seated = plan("spoken-word", budget=450, standing=False).kits
        self.assertTrue(all("boom-stand" not in {line.kind for line in kit.lines} for kit in seated))

    def test_what_is_recorded_together_finds_inputs(self):
        for kit in plan("voice-pop", "lever-harp", budget=900, inputs_at_once=2).kits:
            self.assertGreaterEqual(kit.hub.mic_inputs, 2)
            self.assertEqual([line.kind for line in kit.lines].count("microphone"), 2)
            self.assertEqual([line.kind for line in kit.lines].count("boom-stand"), 2)

    def test_of_an_owned_microphone_there_is_one_only(self):
        asked = {"budget": 900, "inputs_at_once": 2, "owned": ("meadowsweet-one", "hornbeam-2")}
        for kit in plan("voice-pop", "lever-harp", **asked).kits:
            ids = [voice.microphone.id for voice in kit.voices]
            self.assertLess(ids.count("meadowsweet-one"), 2)

    def test_parts_one_after_the_other_share_a_microphone_where_it_pays(self):
        cheapest = plan("voice-pop", "lever-harp", budget=900).kits[-1]
        self.assertEqual([line.kind for line in cheapest.lines].count("microphone"), 1)

    def test_a_thick_socket_gets_its_adapter(self):
        for kit in plan(budget=450, must=frozenset({"marram-2"})).kits:
            phones = next(line.item for line in kit.lines if line.kind == "headphones")
            adapted = any(line.kind == "phones-adapter" for line in kit.lines)
            self.assertTrue(adapted or phones.phones_plug == "6.35 mm" or "phones-adapter" in phones.in_box)

    def test_monitors_come_in_pairs_with_cables_and_outputs(self):
        kinds = [line.kind for line in plan(budget=600, monitors=True).kits[-1].lines]
        self.assertEqual((kinds.count("monitor"), kinds.count("line-cable")), (2, 2))

    def test_each_computer_gets_what_works_with_it(self):
        for kit in plan(budget=450, computer="tablet").kits:
            software = next(line.item for line in kit.lines if line.kind == "software")
            self.assertIn("tablet", software.systems)
        self.assertEqual({kit.hub.kind for kit in plan(budget=450, computer="none").kits}, {"recorder"})

    def test_phantom_power_is_there_for_condensers(self):
        dead = replace(item_named("rowan-2"), id="dead", phantom="none", price=1.0)
        catalogue = (*CATALOGUE, dead)
        for kit in plan_kits(needs(budget=450), OwnedGear(), catalogue).kits:
            if kit.hub is dead:
                self.assertFalse(kit.microphone.microphone_family.needs_phantom)

    def test_a_passive_bass_is_never_loaded_down(self):
        for kit in plan("bass-direct-passive", budget=450).kits:
            load = kit.voices[0].box.input_impedance_ohm if kit.voices[0].box else kit.hub.instrument_impedance_ohm
            self.assertGreaterEqual(load, 470_000)
            self.assertTrue(math.isinf(kit.direct_to_reverberant_db))


class Evaluation(unittest.TestCase):
    def test_arrays_say_what_line_says(self):
        asked = needs("voice-pop", "clarinet", "bass-direct-active", "guitar-direct", inputs_at_once=1)
        shelf = Shelf(asked, OwnedGear(), CATALOGUE)
        rng = np.random.default_rng(3)
        compared = 0
        for offer in offers_of(asked, shelf):
            for _ in range(300):
                hub, part, voice = (int(rng.integers(size)) for size in offer.clean_db.shape)
                found = offer.clean_db[hub, part, voice]
                if found > CANNOT:
                    levels = levels_of_part(asked, asked.parts[part], offer.hubs[hub], offer.voices[voice]).levels
                    self.assertAlmostEqual(found, levels.clean_range_db, 6)
                    compared += 1
        self.assertGreater(compared, 50)

    def test_kits_carry_the_levels_of_line(self):
        for kit in plan(budget=400).kits[:20]:
            self.assertAlmostEqual(kit.clean_range_db, kit.levels.clean_range_db, 9)
            self.assertEqual(kit.overloads == (), kit.parts[0].spare_db >= 5)


class WorthKnowing(unittest.TestCase):
    def kinds(self, *sources, number=None, **more):
        asked = needs(*sources, **more)
        made = plan_kits(asked, OwnedGear(), CATALOGUE)
        kit = made.kits[made.recommended if number is None else number]
        return {finding.kind: finding for finding in findings_of_kit(asked, kit)}

    def test_a_box_is_not_needed_where_the_interface_takes_the_plug(self):
        found = self.kinds(
            "bass-direct-passive", budget=450, never=frozenset(i.id for i in CATALOGUE if i.kind == "di-box")
        )
        self.assertIn("di-not-needed", found)

    def test_a_ribbon_brings_its_warning(self):
        found = self.kinds(budget=900, must=frozenset({"foxtail-r"}), never=BOOSTERS)
        self.assertEqual(found["ribbon-phantom"].verdict, "stop")

    def test_the_room_is_named_where_it_decides(self):
        self.assertIn("room-sets-noise", self.kinds(budget=450))
        self.assertIn("monitors-later", self.kinds(budget=450))

    def test_headphones_by_hand(self):
        # 1 V over 32 ohm is 31.25 mW, 14.9 dB over 1 mW; a 32 ohm source halves the voltage, 6.0 dB.
        self.assertAlmostEqual(headphone_level_db(1, 0, 32, 100), 114.9, 1)
        self.assertAlmostEqual(headphone_level_db(1, 32, 32, 100), 108.9, 1)

    def test_hours_after_niosh(self):
        # NIOSH 1998, Table 1-1: 85 dBA 8 h, 88 4 h, 94 1 h, 100 15 min.
        for level, hours in ((85, 8), (88, 4), (94, 1), (100, 0.25)):
            self.assertAlmostEqual(safe_hours(level), hours, 6)


class Hanging(unittest.TestCase):
    def test_ring_time_falls_as_eyring_says(self):
        # A box of the assumed shape: S = 2 (1.27*1.13 + 1.27*0.7 + 1.13*0.7) V^(2/3); Eyring by hand.
        surface = 6.2302 * 30 ** (2 / 3)
        mean = 1 - math.exp(-0.161 * 30 / (surface * 0.5))
        expected = 0.161 * 30 / (-surface * math.log(1 - mean - 5 / surface))
        self.assertAlmostEqual(rt60_with(ROOM, 5), expected, 2)
        self.assertAlmostEqual(rt60_with(ROOM, 0), 0.5, 9)

    def test_more_hung_is_never_worse_and_renters_glue_nothing(self):
        kits = plan(budget=600).kits
        self.assertTrue(any(kit.hanging.pieces for kit in kits))
        self.assertTrue(all("glued" not in piece.note for kit in kits for piece in kit.hanging.pieces))
        for kit in kits:
            if kit.hanging.pieces:
                self.assertTrue({"clamps", "pole"} <= {line.kind for line in kit.lines})
                self.assertLessEqual(len(kit.hanging.pieces), 6)


class Library(unittest.TestCase):
    def test_every_source_is_told_whole(self):
        self.assertGreaterEqual(len(SOURCES), 28)
        for slug, source in SOURCES.items():
            self.assertEqual(slug, source.slug)
            self.assertEqual(max(source.octave_spectrum_db), 0)
            self.assertTrue(source.origin)
            if source.direct is None:
                self.assertTrue(source.nearest_m < source.usual_m < source.farthest_m, slug)
                self.assertEqual(sorted(source.rms_at_1m_db), list(source.rms_at_1m_db))
        self.assertEqual(set(SOURCES) - set(MIKED_SOURCES), {s for s, one in SOURCES.items() if one.group == "direct"})


if __name__ == "__main__":
    unittest.main()
