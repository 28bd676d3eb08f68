"""The small things and the hangings: the cheapest that serves, and the best for each sum, by trying everything."""

import itertools
import math
import unittest
from dataclasses import replace

import numpy as np

from pneumen.core.errors import OutOfRange
from pneumen.core.kit import (
    Entry,
    Item,
    Needs,
    OwnedGear,
    RoomNeed,
    built_in_catalogue,
    crowds_of,
    part_need,
    rt60_with,
)
from pneumen.core.kit.accessories import Missing, Shelf, for_hub, for_microphone, for_plug
from pneumen.core.kit.coverings import absorption_of, hangings_for
from pneumen.core.kit.things import served
from pneumen.core.room import Placed, lead_run_m

ROOM = RoomNeed(noise_dba=34, rt60_s=0.5, volume_m3=30)
CLAMPS, POLE = 9.0, 8.0
SMALL = (
    Item(id="stand-low", kind="boom-stand", name="Low", price=5, reach_m=0.8),
    Item(id="stand-sit", kind="boom-stand", name="Sitting", price=10, reach_m=1.3),
    Item(id="stand-tall", kind="boom-stand", name="Tall", price=20, reach_m=2.0),
    Item(id="cable-short", kind="xlr-cable", name="Short", price=3, length_m=1.0),
    Item(id="cable-odd", kind="xlr-cable", name="Odd", price=2, length_m=6.0, plug_from="xlr", plug_to="trs"),
    Item(id="cable", kind="xlr-cable", name="Right", price=9, length_m=5.0, plug_from="xlr", plug_to="xlr"),
    Item(id="clip", kind="stand-clip", name="Clip", price=4),
    Item(id="disc", kind="pop-filter", name="Disc", price=7),
    Item(id="lead", kind="instrument-cable", name="Lead", price=8, length_m=3.0),
    Item(id="open", kind="headphones", name="Open", price=1, closed=False, phones_plug="3.5 mm"),
    Item(id="thin", kind="headphones", name="Thin", price=30, closed=True, phones_plug="3.5 mm"),
    Item(id="thick", kind="headphones", name="Thick", price=33, closed=True, phones_plug="6.35 mm"),
    Item(id="adapter", kind="phones-adapter", name="Adapter", price=4),
    Item(id="usb", kind="usb-cable", name="USB", price=6, length_m=1.0),
    Item(id="card", kind="memory-card", name="Card", price=CLAMPS),
    Item(id="mac-only", kind="software", name="Mac", price=0, systems=("mac",), tracks=99),
    Item(id="two-tracks", kind="software", name="Two", price=0, systems=("windows",), tracks=1),
    Item(id="good", kind="software", name="Good", price=12, systems=("windows", "mac"), tracks=16),
    Item(id="clamps", kind="clamps", name="Clamps", price=CLAMPS),
    Item(id="pole", kind="pole", name="Pole", price=POLE),
)
MICROPHONE = Item(id="mic", kind="microphone", name="Mic", price=50, family="dynamic")
FACE = Item(id="face", kind="interface", name="Face", price=90, family="numbered", phones_plug="6.35 mm")


def needs(source="voice-pop", **more):
    return Needs(parts=(part_need(source, ROOM),), room=ROOM, **more)


NOTHING_OWNED = OwnedGear()


def shelf(asked, *, owned=NOTHING_OWNED, items=SMALL, bundle=None):
    return Shelf(asked, owned, items, bundle)


def ids(things):
    return [thing.item.id if thing.item else f"{thing.kind} ({thing.found_in})" for thing in things]


class ForMicrophones(unittest.TestCase):
    def things(self, source="voice-pop", microphone=MICROPHONE, boosted=False, owned=NOTHING_OWNED, **more):
        asked = needs(source, **more)
        there = shelf(asked, owned=owned)
        return ids(for_microphone(there, asked, microphone, (0,), boosted=boosted, stock=list(there.pieces)))

    def test_a_standing_voice(self):
        self.assertEqual(self.things(), ["stand-tall", "clip", "disc", "cable"])

    def test_a_seated_player_needs_less_reach_and_no_filter(self):
        self.assertEqual(self.things("lever-harp", standing=False), ["stand-sit", "clip", "cable"])

    def test_what_lies_in_the_box_is_not_bought(self):
        boxed = replace(MICROPHONE, in_box=("stand-clip", "pop-filter", "xlr-cable", "boom-stand"))
        self.assertEqual(self.things(microphone=boxed), ["boom-stand (Mic)", "pop-filter (Mic)", "xlr-cable (Mic)"])

    def test_foam_does_not_stand_for_a_pop_screen(self):
        boxed = replace(MICROPHONE, in_box=("foam-windscreen",))
        self.assertIn("disc", self.things(microphone=boxed))

    def test_a_booster_brings_a_second_cable_of_any_length(self):
        self.assertEqual(self.things(boosted=True)[-2:], ["cable", "cable-short"])

    def test_one_owned_cable_serves_once(self):
        one, two = (OwnedGear(kinds=("xlr-cable",) * count) for count in (1, 2))
        self.assertEqual(self.things(boosted=True, owned=one)[-2:], ["xlr-cable (owned)", "cable-short"])
        self.assertEqual(self.things(boosted=True, owned=two)[-2:], ["xlr-cable (owned)"] * 2)

    def test_what_is_owned_and_does_not_serve_is_not_counted(self):
        mine = tuple(replace(item, owned=True) for item in SMALL if item.id in ("stand-low", "cable-short"))
        self.assertEqual(self.things(owned=OwnedGear(items=mine)), ["stand-tall", "clip", "disc", "cable"])

    def test_ones_own_microphone_has_its_clip(self):
        self.assertNotIn("clip", self.things(microphone=replace(MICROPHONE, owned=True)))

    def test_a_usb_microphone_needs_no_cable_of_ours(self):
        usb = Item(id="u", kind="microphone", name="U", price=50, family="usb-dynamic")
        self.assertEqual(self.things(microphone=usb), ["stand-tall", "clip", "disc"])

    def test_who_takes_turns_uses_again_what_is_there(self):
        """One stand and cable serve both in turn; at once each needs its own; what is bought is told as it is paid."""
        mine = OwnedGear(kinds=("boom-stand", "boom-stand", "xlr-cable", "xlr-cable"))
        for at_once, stands in ((1, 1), (2, 2)):
            asked = replace(needs("lever-harp"), inputs_at_once=at_once)
            there = shelf(asked, owned=mine)
            stocks = [list(there.pieces)] * 2 if at_once > 1 else [list(there.pieces), list(there.pieces)]
            things = [list(for_microphone(there, asked, MICROPHONE, (0,), stock=stock)) for stock in stocks]
            kinds = [thing.kind for thing in served(asked, things)]
            with self.subTest(at_once):
                self.assertEqual((kinds.count("boom-stand"), kinds.count("xlr-cable")), (stands, stands))
                self.assertEqual(kinds.count("stand-clip"), 2)

    def test_what_is_missing_is_named(self):
        asked = needs()
        bare = shelf(asked, items=tuple(item for item in SMALL if item.id != "stand-tall"))
        with self.assertRaises(Missing) as caught:
            list(for_microphone(bare, asked, MICROPHONE, (0,), stock=[]))
        self.assertIn("reaches 1.6 m", str(caught.exception))


class ForHubs(unittest.TestCase):
    def things(self, hub, **more):
        asked = needs(**more)
        return ids(for_hub(shelf(asked), asked, hub))

    def test_the_cheaper_way_into_a_thick_socket(self):
        # 33 for thick ones, 30 + 4 for thin ones with an adapter; open ones leak and never count.
        self.assertEqual(self.things(FACE, computer="windows"), ["thick", "good", "usb"])
        dear = tuple(replace(item, price=60) if item.id == "thick" else item for item in SMALL)
        asked = needs()
        self.assertEqual(ids(for_hub(shelf(asked, items=dear), asked, FACE))[:2], ["thin", "adapter"])

    def test_a_thin_socket_takes_thin_plugs(self):
        self.assertEqual(self.things(replace(FACE, phones_plug="3.5 mm"))[0], "thin")

    def test_software_fits_the_system_and_has_the_tracks(self):
        self.assertIn("mac-only", self.things(FACE, computer="mac"))
        self.assertIn("good", self.things(FACE, computer="windows"))

    def test_a_recorder_takes_a_card_and_no_software(self):
        recorder = Item(id="r", kind="recorder", name="R", price=90, full_scale_db_spl=120, self_noise_dba=20)
        self.assertEqual(self.things(recorder), ["thin", "card"])

    def test_owned_kinds_and_given_items_cost_nothing(self):
        asked = needs(computer="windows")
        kinds = OwnedGear(kinds=("headphones", "phones-adapter"))
        self.assertEqual(sum(t.price for t in for_hub(shelf(asked, owned=kinds), asked, FACE)), 12 + 6)
        bundle = Item(id="b", kind="bundle", name="B", price=9, in_box=("good", "cable"))
        given = shelf(asked, bundle=bundle)
        self.assertEqual(given.one("software", rule="any").price, 0)

    def test_a_plug_takes_a_lead_and_a_box_a_cable_more(self):
        self.assertEqual(ids(for_plug(shelf(needs()), needs(), boxed=False, stock=[])), ["lead"])
        self.assertEqual(ids(for_plug(shelf(needs()), needs(), boxed=True, stock=[])), ["lead", "cable"])


class Hangings(unittest.TestCase):
    def test_the_best_for_each_sum_by_trying_every_set(self):
        for seed in range(8):
            rng = np.random.default_rng(seed)
            offers = tuple(
                Item(
                    id=f"c{n}",
                    kind="covering",
                    name=f"C {n}",
                    price=float(rng.integers(5, 40)),
                    absorption_m2=tuple(float(x) for x in rng.uniform(0.2, 2.5, 6)),
                )
                for n in range(4)
            )
            asked = needs()
            found = hangings_for(asked, OwnedGear(), shelf(asked, items=(*SMALL, *offers)))
            best = {0.0: 0.0}
            for count in range(1, 7):
                for chosen in itertools.combinations_with_replacement(offers, count):
                    carried = count * POLE + math.ceil(count / 2) * CLAMPS
                    price = sum(item.price for item in chosen) + carried
                    best[price] = max(best.get(price, 0.0), sum(map(absorption_of, chosen)))
            for hanging in found:
                within = max(area for price, area in best.items() if price <= hanging.price)
                self.assertAlmostEqual(hanging.absorption_m2, within, 9)
                self.assertAlmostEqual(hanging.rt60_s, rt60_with(ROOM, hanging.absorption_m2), 9)
            areas = [hanging.absorption_m2 for hanging in found]
            self.assertEqual(areas, sorted(areas))
            self.assertAlmostEqual(areas[-1], max(best.values()), 9)

    def test_what_is_owned_hangs_in_all_of_them(self):
        mine = next(item for item in built_in_catalogue() if item.kind == "covering")
        asked = needs()
        found = hangings_for(asked, OwnedGear(items=(replace(mine, owned=True),)), shelf(asked))
        self.assertEqual((found[0].price, len(found[0].pieces)), (0, 1))
        self.assertGreater(found[0].gain_db, 0)


if __name__ == "__main__":
    unittest.main()


class Lengths(unittest.TestCase):
    def test_a_longer_run_asks_for_longer_cables_and_what_is_owned_serves_unless_it_is_known_to_be_short(self):
        long_one = Item(id="long", kind="xlr-cable", name="Long", price=30, length_m=10, plug_from="xlr", plug_to="xlr")
        asked, catalogue = needs(cable_m=10.0), (*SMALL, long_one)
        short = replace(next(one for one in SMALL if one.id == "cable"), owned=True)
        for owned, pieces, bought in (
            (OwnedGear(items=(short,)), [], True),
            (OwnedGear(kinds=("xlr-cable",)), ["xlr-cable"], False),
        ):
            there = shelf(asked, owned=owned, items=catalogue)
            self.assertEqual([piece.kind for piece in there.pieces], pieces)
            taken = list(for_microphone(there, asked, MICROPHONE, (0,), stock=list(there.pieces)))
            self.assertEqual("long" in [one.item.id for one in taken if one.item], bought)

    def test_what_no_shop_sells_is_refused(self):
        for wrong in (2.9, 20.1):
            with self.assertRaises(OutOfRange):
                needs(cable_m=wrong)


class Runs(unittest.TestCase):
    def test_a_run_goes_down_across_and_up(self):
        tables = (Placed(kind="desk", x_m=3.0, y_m=4.0), Placed(kind="bed", x_m=0.1, y_m=0.1))
        self.assertAlmostEqual(lead_run_m((0.0, 0.0, 1.5), tables), 1.5 + 5.0 + 0.75 + 0.5)
        self.assertIsNone(lead_run_m((0.0, 0.0, 1.5), tables[1:]))


class Crowds(unittest.TestCase):
    TWO = Item(id="two", kind="interface", name="Two", price=0, family="bare-knob", mic_inputs=2)
    POCKET = Item(id="pocket", kind="recorder", name="Pocket", price=0, full_scale_db_spl=120, self_noise_dba=22)

    def test_what_goes_in_at_once(self):
        for hubs, sessions, channels, crowd in (
            ((self.TWO,) * 3, (1, 1, 1), (1, 1, 1), {1: (3, 2)}),
            ((self.TWO,) * 3, (1, 2, 1), (1, 1, 1), {}),
            ((self.TWO,) * 2, (1, 1), (2, 1), {1: (3, 2)}),
            ((None, None), (1, 1), (1, 1), {1: (2, 1)}),  # two microphones with USB plugs
            ((None, None), (1, 2), (1, 1), {}),
            ((self.POCKET,), (1,), (2,), {}),  # its own pair hears in stereo
            ((self.POCKET,) * 2, (1, 1), (2, 1), {1: (3, 2)}),
        ):
            entries = [
                Entry(hub=hub, session=session, channels=count, socket=None if hub in (None, self.POCKET) else "mic")
                for hub, session, count in zip(hubs, sessions, channels, strict=True)
            ]
            found = {session: (one.wanted, one.there) for session, one in crowds_of(entries).items()}
            self.assertEqual(found, crowd)

    def test_two_pickups_never_share_one_instrument_input(self):
        one_jack = replace(self.TWO, instrument_inputs=1, line_inputs=1)
        for sockets, crowd in (
            (("instrument", "instrument"), ("instrument", 2, 1)),
            (("instrument", "mic"), None),  # the other through a DI box
            (("instrument", "line"), None),
            (("line", "line"), ("line", 2, 1)),
        ):
            with self.subTest(sockets):
                found = crowds_of([Entry(hub=one_jack, session=1, socket=socket) for socket in sockets]).get(1)
                self.assertEqual(found and (found.kind, found.wanted, found.there), crowd)
