"""What is asked of a kit beside its figures: sessions, tone, software, monitors, delay, and what no decibel counts."""

import unittest
from dataclasses import replace

from pneumen.core.delay import round_trip_ms
from pneumen.core.errors import UnknownName
from pneumen.core.kit import (
    TABLED_BUFFERS,
    Item,
    Needs,
    OwnedGear,
    RoomNeed,
    built_in_catalogue,
    findings_of_kit,
    frontier_of,
    item_named,
    monitor_lacks,
    owned_item,
    part_need,
    software_lacks,
    swaps_of,
)
from pneumen.core.kit.accessories import Shelf
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.listening import lowest_mode_hz, monitor_peak_db
from pneumen.core.kit.things import devices_of, pieces_of

ROOM = RoomNeed(noise_dba=28, rt60_s=0.4, volume_m3=30)
CATALOGUE = built_in_catalogue()
NOTHING = OwnedGear()


def needs(*sources, sessions=None, **more):
    numbers = sessions or range(1, len(sources) + 1)
    parts = tuple(part_need(one, ROOM, session=number) for one, number in zip(sources, numbers, strict=True))
    return Needs(parts=parts, room=ROOM, **({"budget": 600} | more))


class Sessions(unittest.TestCase):
    def test_parts_say_who_is_recorded_with_whom(self):
        asked = needs("voice-pop", "clarinet", "lever-harp", sessions=(1, 2, 1))
        self.assertEqual(asked.sessions, ((0, 2), (1,)))
        self.assertEqual(asked.most_at_once, 2)
        for kit in frontier_of(asked, OwnedGear(), CATALOGUE).kits():
            self.assertGreaterEqual(kit.hub.mic_inputs, 2)
            self.assertGreaterEqual([line.kind for line in kit.lines].count("microphone"), 2)

    def test_without_sessions_the_number_at_once_decides_in_order(self):
        parts = tuple(part_need(one, ROOM) for one in ("voice-pop", "clarinet", "lever-harp"))
        asked = Needs(parts=parts, room=ROOM, inputs_at_once=2)
        self.assertEqual(asked.sessions, ((0, 1), (2,)))

    def test_a_plug_beside_a_voice_needs_one_microphone_input_and_one_of_its_own(self):
        asked = needs("voice-pop", "bass-direct-passive", sessions=(1, 1))
        for kit in frontier_of(asked, OwnedGear(), CATALOGUE).kits():
            boxed = kit.voices[1].box is not None
            self.assertTrue(boxed or kit.hub.instrument_inputs)
            self.assertGreaterEqual(kit.hub.inputs, 2)


class Lent(unittest.TestCase):
    def test_what_others_handle_is_sturdy_unless_it_is_there(self):
        kits = frontier_of(needs("voice-pop", lent=True), OwnedGear(), CATALOGUE).kits()
        self.assertTrue(kits)
        self.assertTrue(all(kit.microphone.sturdy >= 4 or kit.microphone.kind == "recorder" for kit in kits))
        mine = OwnedGear(items=(owned_item(item_named("meadowsweet-one")),))
        kits = frontier_of(needs("voice-pop", lent=True), mine, CATALOGUE).kits()
        self.assertIn("meadowsweet-one", {kit.microphone.id for kit in kits})


class Headphones(unittest.TestCase):
    def counted(self, sessions, owned=NOTHING):
        asked = needs("voice-pop", "clarinet", sessions=sessions)
        kit = frontier_of(asked, owned, CATALOGUE).kits()[-1]
        return [(line.price, line.found_in) for line in kit.lines if line.kind == "headphones"]

    def test_two_people_at_once_get_two_and_one_after_the_other_share(self):
        self.assertEqual((len(self.counted((1, 1))), len(self.counted((1, 2)))), (2, 1))

    def test_of_ones_own_one_serves_and_the_other_is_bought(self):
        prices = [price for price, _ in self.counted((1, 1), OwnedGear(kinds=("headphones",)))]
        self.assertEqual(min(prices), 0)
        self.assertGreater(max(prices), 0)

    def test_with_plenty_none_is_bought(self):
        item = owned_item(item_named("hollyhock-s"))
        for owned in (OwnedGear(kinds=("headphones",), plenty=True), OwnedGear(items=(item,), plenty=True)):
            self.assertEqual([price for price, _ in self.counted((1, 1), owned)], [0, 0])


class Stereo(unittest.TestCase):
    def stereo(self, source, budget=600, owned=NOTHING, **more):
        asked = Needs(parts=(part_need(source, ROOM, stereo=True),), room=ROOM, budget=budget, **more)
        return asked, frontier_of(asked, owned, CATALOGUE)

    def test_two_of_one_model_or_a_recorder_never_one_usb_microphone(self):
        _, frontier = self.stereo("grand-piano")
        for kit in frontier.kits():
            microphones = [line.item.id for line in kit.lines if line.kind == "microphone"]
            self.assertTrue(kit.hub.kind == "recorder" or (len(microphones) == 2 and len(set(microphones)) == 1))
            if kit.hub.kind == "interface":
                self.assertGreaterEqual(kit.hub.mic_inputs, 2)
                self.assertEqual([line.kind for line in kit.lines].count("xlr-cable"), 2)

    def test_a_keyboard_takes_two_leads_and_two_inputs_of_one_kind(self):
        _, frontier = self.stereo("keyboard")
        for kit in frontier.kits():
            self.assertEqual([line.kind for line in kit.lines].count("instrument-cable"), 2)
            boxed = kit.voices[0].box is not None
            inputs = kit.hub.mic_inputs if boxed else kit.hub.line_inputs or kit.hub.instrument_inputs
            self.assertGreaterEqual(inputs, 2)

    def test_the_second_of_a_pair_is_delivered_too(self):
        for owned, expected in ((False, [46, 46]), (True, [0, 46])):
            item = replace(item_named("knapweed-d"), price=39, delivery=7, owned=owned)
            shelf = Shelf(needs("voice-pop"), NOTHING, CATALOGUE)
            self.assertEqual([price for _, price in devices_of(shelf, Voice(microphone=item), 2)], expected)

    def test_a_recorder_brings_both_and_counts_where_the_hub_does(self):
        shelf = Shelf(needs("voice-pop"), NOTHING, CATALOGUE)
        voice = Voice(microphone=item_named("clover-pocket"))
        self.assertEqual((pieces_of(voice, 2), devices_of(shelf, voice, 2)), (1, []))

    def test_where_the_money_is_short_of_two_one_is_planned_and_told(self):
        asked, frontier = self.stereo("lever-harp", budget=110)
        kit = frontier.kit(frontier.recommended())
        self.assertLessEqual(kit.total, 110)
        self.assertIn("mono-only", {finding.kind for finding in findings_of_kit(frontier.needs, kit)})
        self.assertNotIn("mono-only", {finding.kind for finding in findings_of_kit(asked, kit)})

    def test_of_a_microphone_of_ones_own_there_is_one(self):
        own = Item(id="mine", kind="microphone", name="Mine", family="dynamic", price=0, owned=True)
        mine = OwnedGear(items=(own,))
        _, frontier = self.stereo("lever-harp", owned=mine, route="interface")
        self.assertNotIn("mine", {kit.microphone.id for kit in frontier.kits()})
        plenty = replace(mine, plenty=True)
        _, frontier = self.stereo("lever-harp", owned=plenty, route="interface")
        self.assertIn("mine", {kit.microphone.id for kit in frontier.kits()})


class InstrumentPrice(unittest.TestCase):
    def test_a_box_is_worth_a_fifth_of_what_the_instrument_cost(self):
        room = {"must": frozenset({"sedge-1"})}
        for price, worth in ((None, 60), (2000, 400)):
            part = part_need("guitar-direct", ROOM, instrument_price=price)
            asked = Needs(parts=(part,), room=ROOM, budget=900, **room)
            found = [
                finding.worth
                for kit in frontier_of(asked, OwnedGear(), CATALOGUE).kits()
                for finding in findings_of_kit(asked, kit)
                if finding.kind == "di-box"
            ]
            self.assertTrue(all(one == worth for one in found), found)


class Tone(unittest.TestCase):
    def test_it_leaves_out_what_is_of_another_tone_and_asks_nothing_of_the_rest(self):
        kits = frontier_of(needs("voice-pop", tone="dark"), OwnedGear(), CATALOGUE).kits()
        self.assertTrue(kits)
        self.assertTrue(all(kit.microphone.tone in ("dark", "") for kit in kits))
        with self.assertRaises(UnknownName):
            needs("voice-pop", tone="purple")

    def test_what_must_be_in_the_kit_may_sound_as_it_does(self):
        bright = next(item for item in CATALOGUE if item.kind == "microphone" and item.tone == "bright")
        asked = needs("voice-pop", tone="dark", must=frozenset({bright.id}))
        self.assertEqual({kit.microphone.id for kit in frontier_of(asked, OwnedGear(), CATALOGUE).kits()}, {bright.id})


class Software(unittest.TestCase):
    GOOD = Item(
        id="p",
        kind="software",
        name="P",
        price=12,
        systems=("windows",),
        tracks=3,
        takes=True,
        latency_compensation=True,
    )

    def lacks(self, asked, **changes):
        return software_lacks(asked, replace(self.GOOD, **changes))

    def test_each_need_is_told_by_name(self):
        one, two = needs("voice-pop", computer="windows"), needs("voice-pop", "clarinet", computer="windows")
        self.assertEqual(self.lacks(two), ())
        self.assertEqual(self.lacks(one, systems=("mac",)), ("system",))
        self.assertEqual(self.lacks(two, tracks=2), ("tracks",))
        self.assertEqual(self.lacks(one, latency_compensation=False), ())  # nothing is sung over anything
        self.assertTrue(self.lacks(two, latency_compensation=False))
        self.assertTrue(self.lacks(replace(one, take_handling=True), takes=False))
        self.assertTrue(self.lacks(replace(one, monthly_fees=False), price_model="monthly"))

    def test_by_the_month_a_year_is_counted(self):
        self.assertEqual(replace(self.GOOD, price_model="monthly").cost, 144)
        self.assertEqual(self.GOOD.cost, 12)

    def test_the_kit_takes_the_cheapest_that_serves(self):
        asked = needs("voice-pop", computer="tablet", take_handling=True, route="usb")
        for kit in frontier_of(asked, OwnedGear(), CATALOGUE).kits():
            software = next(line.item for line in kit.lines if line.kind == "software")
            self.assertEqual(software.id, "spore-pad")  # the free one for tablets keeps no takes


class Monitors(unittest.TestCase):
    def test_levels_by_room(self):
        # ATSC A/85, reference levels by room volume (from memory): 76 dB to 1500 ft3 (42 m3), 78 to 5000 ft3 (142 m3).
        self.assertAlmostEqual(monitor_peak_db(100) - monitor_peak_db(30), 2)
        # 20 dB of headroom (common practice), and 20 log10(1.2) for the distance.
        self.assertAlmostEqual(monitor_peak_db(30), 76 + 20 + 1.58, 2)

    def test_the_lowest_mode_of_a_box(self):
        # 27 m3 at 1.27 times its cube's edge: 3.81 m, and 343 / 7.62.
        self.assertAlmostEqual(lowest_mode_hz(27), 45.0, 1)

    def test_a_kit_has_a_pair_that_is_loud_enough(self):
        asked = needs("voice-pop", monitors=True, budget=900)
        for kit in frontier_of(asked, OwnedGear(), CATALOGUE).kits():
            pair = [line.item for line in kit.lines if line.kind == "monitor"]
            self.assertEqual(len(pair), 2)
            self.assertTrue(all(not monitor_lacks(asked, one) for one in pair))
        self.assertIn("active", monitor_lacks(asked, item_named("delphin-p")))


class Delay(unittest.TestCase):
    def test_a_sheet_that_tells_the_round_trip_is_believed(self):
        table = (3.0, 4.0, 7.0, 12.5, 23.0, 44.0)
        items = tuple(replace(item, round_trip_ms=table if item.id == "rowan-2" else ()) for item in CATALOGUE)
        for name, wanted in (("rowan-2", table[TABLED_BUFFERS.index(256)]), ("hornbeam-2", None)):
            asked = needs("voice-pop", must=frozenset({name}), computer_speed="laptop")
            kit = frontier_of(asked, OwnedGear(), items).kits()[0]
            hub = kit.hub
            worked_out = round_trip_ms(256, 48_000, converters_ms=hub.converters_ms, safety_samples=hub.safety_samples)
            self.assertAlmostEqual(kit.round_trip_ms, wanted or worked_out)


class Swaps(unittest.TestCase):
    def test_each_is_the_cheapest_that_brings_it_and_makes_nothing_noisier(self):
        frontier = frontier_of(needs("voice-pop", computer="windows", route="interface"), OwnedGear(), CATALOGUE)
        number = len(frontier.points) - 1  # the cheapest kit
        kit = frontier.kit(number)
        swaps = {swap.brings: swap for swap in swaps_of(frontier, number, kit)}
        self.assertIn("inputs", swaps)
        for swap in swaps.values():
            self.assertTrue(0 < swap.costs_more <= 100)
            self.assertGreaterEqual(swap.clean_change_db, -0.5)
        wider = swaps["inputs"]
        self.assertGreater(wider.taken.mic_inputs, kit.hub.mic_inputs)
        cheaper = [
            item
            for item in CATALOGUE
            if item.kind == "interface"
            and item.mic_inputs > kit.hub.mic_inputs
            and kit.hub.price < item.price < wider.taken.price
            and item.works_with("windows")
        ]
        self.assertEqual(cheaper, [])  # all have the same small things in their boxes

    def test_a_ribbon_never_comes_to_stand_behind_a_shared_switch(self):
        asked = needs("voice-pop", "clarinet", sessions=(1, 1), must=frozenset({"foxtail-r"}), budget=900)
        frontier = frontier_of(asked, OwnedGear(), CATALOGUE)
        for number in range(0, len(frontier.points), 7):
            for swap in swaps_of(frontier, number, frontier.kit(number)):
                if swap.taken.kind == "interface" and not any(v.booster for v in frontier.kit(number).voices):
                    self.assertEqual(swap.taken.phantom, "per-channel")


if __name__ == "__main__":
    unittest.main()
