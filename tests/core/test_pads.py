"""Pads: fixed, with steps, with a control that turns freely."""

from unittest import TestCase

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName
from pneumen.core.hookup import Choice, cure_of, faults_of
from pneumen.core.kit import (
    Item,
    built_in_catalogue,
    cheapest_of,
    kind_of_pad,
    owned_gear,
    pad_set_to,
    pads_like,
    settings_of_pad,
)
from tests.chains import cable, chain, device


def pad(gain_db=-30.0, **more):
    return Item(id="pad", kind="inline-pad", name="Pad", price=20, gain_db=gain_db, **more)


FIXED, STEPPED = pad(-20), pad(weakest_gain_db=-10, gain_step_db=10)
TURNING = pad(weakest_gain_db=-3)


class Pads(TestCase):
    def test_what_each_can_be_set_to(self):
        self.assertEqual(settings_of_pad(FIXED), (20,))
        self.assertEqual(settings_of_pad(STEPPED), (10, 20, 30))
        self.assertEqual(settings_of_pad(TURNING), tuple(range(3, 31)))
        uneven = pad(-25, weakest_gain_db=-10, gain_step_db=10)
        self.assertEqual(settings_of_pad(uneven), (10, 20, 25))  # the strongest is one of them, whatever the step

    def test_it_takes_at_least_as_much_as_asked(self):
        for asked_db, stepped_db, turned_db in ((None, 10, 3), (1, 10, 3), (10, 10, 10), (10.2, 20, 11), (40, 30, 30)):
            with self.subTest(asked_db):
                self.assertEqual(pad_set_to(STEPPED, asked_db).gain_db, -stepped_db)
                self.assertEqual(pad_set_to(TURNING, asked_db).gain_db, -turned_db)
                self.assertEqual(pad_set_to(FIXED, asked_db).gain_db, -20)

    def test_a_pad_as_set_is_fixed(self):
        self.assertEqual(kind_of_pad(pad_set_to(TURNING, 12)), "12")
        self.assertEqual([kind_of_pad(one) for one in (FIXED, STEPPED, TURNING)], ["20", "stepped", "variable"])

    def test_an_owned_control_goes_before_a_bought_pad(self):
        catalogue = built_in_catalogue()
        stepped = next(one for one in catalogue if one.kind == "inline-pad" and kind_of_pad(one) == "stepped")
        nothing, mine = owned_gear((), catalogue), owned_gear((stepped.id,), catalogue)
        self.assertEqual(kind_of_pad(cheapest_of("inline-pad", nothing, catalogue, pads_like("20"))), "20")
        self.assertEqual(cheapest_of("inline-pad", mine, catalogue, pads_like("20")).id, stepped.id)
        for kind in ("10", "20", "30", "stepped", "variable"):
            self.assertIsNotNone(cheapest_of("inline-pad", nothing, catalogue, pads_like(kind)), kind)

    def test_impossible_controls_are_refused_by_name(self):
        for sheet, name in (
            ({"gain_step_db": 10}, "gain_step_db"),
            ({"weakest_gain_db": -30}, "weakest_gain_db"),
            ({"gain_db": -10, "weakest_gain_db": -20}, "weakest_gain_db"),
        ):
            with self.subTest(sheet), self.assertRaisesRegex(Contradiction, name):
                pad(**sheet)
        with self.assertRaisesRegex(OutOfRange, "weakest_gain_db"):
            pad(weakest_gain_db=3)

    def test_a_setting_is_a_number_of_decibels(self):
        for value, error in (("much", UnknownName), ("0", OutOfRange), ("-3", OutOfRange), ("61", OutOfRange)):
            with self.subTest(value), self.assertRaises(error):
                Choice(what="pad-db", at="box.in1", value=value)


class TurnedUp(TestCase):
    """An input that is overloaded behind a pad with a control."""

    def cure(self, **control):
        source = device("synth", "keyboard", output_dbu=30)
        before = device("pad", "inline-pad", gain_db=-3, **control)
        box = device("box", "interface", inputs={"in1": "line"}, max_input_dbu=10)
        whole = chain([source, before, box], [cable("synth.out", "pad.in", "ts"), cable("pad.out", "box.in1", "ts")])
        fault = next(one for one in faults_of(whole) if one.code == "overload")
        return fault.figures["over_db"], cure_of(whole, fault)

    def test_the_control_is_turned_as_far_as_it_takes(self):
        over_db, cure = self.cure(strongest_db=-30)
        self.assertEqual((cure.what, cure.at), ("pad-db", "box.in1"))
        self.assertGreaterEqual(float(cure.value), over_db + 3)
        self.assertLess(float(cure.value), over_db + 4)

    def test_beyond_its_reach_a_stronger_pad_is_wanted(self):
        self.assertEqual(self.cure(strongest_db=-10)[1].what, "pad")
        self.assertEqual(self.cure()[1].what, "pad")
