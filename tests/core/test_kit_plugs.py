"""Inputs for what is plugged in, what is owned to record with, and the order to buy in."""

import unittest

from pneumen.core.kit import (
    Item,
    KitLine,
    Needs,
    OwnedGear,
    RoomNeed,
    affordable,
    built_in_catalogue,
    buying_order,
    chain_of,
    part_need,
    plan_kits,
    plugged_chain_of,
)
from pneumen.core.kit.catalogue import socket_of
from pneumen.core.kit.offers import ways_to_plug

ROOM = RoomNeed(noise_dba=34, rt60_s=0.5, volume_m3=30)


def interface(**facts):
    usual = {"max_input_dbu": 9, "gain_min_db": 0, "gain_max_db": 56, "ein_dbu": -128}
    return Item(id="box", kind="interface", name="Box", price=100, family="numbered", **usual | facts)


def needs(*sources, together):
    parts = tuple(part_need(source, ROOM) for source in sources)
    return Needs(parts=parts, room=ROOM, inputs_at_once=together)


class Sockets(unittest.TestCase):
    def test_an_active_output_takes_a_line_input_a_pickup_never(self):
        hub = interface(mic_inputs=2, instrument_inputs=1, line_inputs=2, line_max_input_dbu=20)
        self.assertEqual(socket_of(hub, passive=False).kind, "line")
        self.assertEqual(socket_of(hub, passive=True).kind, "instrument")
        self.assertIsNone(socket_of(interface(mic_inputs=2, instrument_inputs=0, line_inputs=2), passive=True))

    def test_a_line_input_takes_more_and_hisses_as_much_more(self):
        hub = interface(mic_inputs=1, line_inputs=1, line_max_input_dbu=20)
        line = plugged_chain_of(hub, passive=False).interface
        self.assertEqual((line.max_input_dbu, line.ein_dbu), (20, -128 + 11))

    def test_two_passive_guitars_at_once_need_two_instrument_inputs_or_a_box(self):
        two = needs("guitar-direct", "guitar-direct", together=2)
        one_input = interface(mic_inputs=2, instrument_inputs=1, line_inputs=2)
        self.assertEqual(set(ways_to_plug(two, one_input)), {(False, True), (True, False), (True, True)})
        both = interface(mic_inputs=2, instrument_inputs=2)
        self.assertIn((False, False), set(ways_to_plug(two, both)))
        alone = needs("guitar-direct", "guitar-direct", together=1)
        self.assertIn((False, False), set(ways_to_plug(alone, one_input)))

    def test_no_kit_lets_two_share_one_instrument_input(self):
        two = needs("guitar-direct", "bass-direct-passive", together=2)
        for kit in plan_kits(two, OwnedGear(), built_in_catalogue()).kits:
            straight = sum(voice.box is None for voice in kit.voices)
            self.assertLessEqual(straight, kit.hub.instrument_inputs)

    def test_a_keyboard_is_sold_no_box_where_a_line_input_takes_it(self):
        plan = plan_kits(needs("keyboard", together=1), OwnedGear(), built_in_catalogue())
        self.assertIsNone(plan.kits[plan.recommended].voices[0].box)


class Recorders(unittest.TestCase):
    def test_a_recorder_known_by_its_kind_alone_makes_a_chain(self):
        recorder = Item(
            id="mine", kind="recorder", name="Mine", price=0, full_scale_db_spl=122, self_noise_dba=20, owned=True
        )
        chain = chain_of(recorder, None)
        self.assertEqual((chain.gain_marking, chain.microphone.full_scale_db_spl), ("bare", 122))


class BuyingOrder(unittest.TestCase):
    def line(self, kind, price):
        return KitLine(kind=kind, item=None, price=price, found_in="shop")

    def test_sound_first_then_what_cannot_be_mended_then_comfort(self):
        lines = [
            self.line(kind, price)
            for kind, price in (("monitor", 80), ("boom-stand", 24), ("headphones", 19), ("covering", 25), ("pole", 8))
        ]
        lines += [self.line("pop-filter", 9), self.line("microphone", 39), self.line("software", 0)]
        order = buying_order(lines)
        self.assertEqual([one.brings for one in order], ["sound", "air", "ears", "room", "stand", "finesse"])
        self.assertEqual([one.total for one in order], [39, 48, 67, 100, 124, 204])
        self.assertEqual([affordable(order, money) for money in (0, 39, 66, 204)], [0, 1, 2, 6])
        self.assertEqual({line.kind for line in order[0].lines}, {"microphone", "software"})

    def test_what_is_owned_is_no_step(self):
        self.assertEqual(buying_order([self.line("microphone", 0), self.line("pop-filter", 9)])[0].brings, "air")


if __name__ == "__main__":
    unittest.main()
