"""Chains with pads, with digital gear, and with what stands around the way: mixers, pedals, inserts."""

import unittest

from pneumen.core.errors import BadDocument
from pneumen.core.hookup import (
    Choice,
    can_be_added,
    cure_of,
    faults_of,
    plugging_acts,
    put_back,
    with_choices,
)
from tests.chains import (
    BOX,
    COMPUTER,
    CONDENSER,
    DYNAMIC,
    FED,
    OTHER_WALL,
    RIBBON,
    WALL,
    WRONG,
    cable,
    chain,
    codes,
    device,
)


class Pads(unittest.TestCase):
    PAD = device("pad", "inline-pad", gain_db=-20)
    LOUD = device("mic", "dynamic-microphone", output_dbu=12)

    def padded(self, source, box, **more):
        return chain(
            [source, {**self.PAD, **more}, box], [cable(f"{source['id']}.out", "pad.in"), cable("pad.out", "box.in1")]
        )

    def test_a_pad_takes_what_is_too_loud_down(self):
        self.assertEqual(faults_of(self.padded(self.LOUD, BOX)), ())
        weak = faults_of(self.padded(self.LOUD | {"output_dbu": 32}, BOX))
        self.assertEqual([one.code for one in weak], ["overload"])
        whole = self.padded(self.LOUD | {"output_dbu": 32}, BOX)
        self.assertEqual(cure_of(whole, weak[0]), Choice(what="pad", at="box.in1", value="30"))  # with what is there

    def test_48_v_pass_a_pad(self):
        self.assertEqual(faults_of(self.padded(CONDENSER, FED)), ())
        self.assertEqual([one.code for one in faults_of(self.padded(CONDENSER, BOX))], ["condenser-no-phantom"])
        self.assertIn("ribbon-phantom", [one.code for one in faults_of(self.padded(RIBBON, FED))])

    def test_a_line_through_a_pad_is_no_line_into_a_microphone_input(self):
        self.assertEqual(faults_of(self.padded(device("keys", "keyboard"), BOX)), ())


class Digital(unittest.TestCase):
    USB = cable("box.usb", "pc.usb", "usb")

    def test_the_device_follows_the_project(self):
        whole = chain(*WRONG["rate-mismatch"])
        fault = next(one for one in faults_of(whole) if one.code == "rate-mismatch")
        self.assertEqual(cure_of(whole, fault), Choice(what="rate", at="box", value="48000"))
        self.assertNotIn("rate-mismatch", codes([device("box", "interface", rate_hz=48000), COMPUTER], [self.USB]))

    def test_a_stereo_pair_belongs_on_a_stereo_track_and_two_sources_do_not(self):
        both = device("box", "interface", tracks={"in1": "stereo", "in2": "stereo"})
        joined = [cable("mic.out", "box.in1"), cable("two.out", "box.in2")]
        self.assertEqual(codes([DYNAMIC, device("two", "dynamic-microphone"), both], joined), set())
        shared = device("box", "interface", tracks={"in2": "stereo"})
        found = faults_of(chain([DYNAMIC, device("two", "dynamic-microphone"), shared], joined))
        self.assertEqual([(one.code, one.words["case"]) for one in found], [("mono-on-stereo", "shared")])

    def test_a_system_that_is_not_told_is_none_that_does_not_fit(self):
        box = device("box", "interface", systems=["mac"])
        for computer in (COMPUTER, COMPUTER | {"system": "mac"}):
            self.assertNotIn("no-driver", codes([box, computer], [self.USB]))

    def test_gain_that_is_just_enough_says_nothing(self):
        for peak_dbu, told in ((-54.9, set()), (-55.1, {"low-gain"})):  # 9 dBu at the input, 40 dB of gain: -24 dBFS
            box = device("box", "interface", gain_range_db=40, input_impedance_ohm=1e9)
            mic = device("mic", "dynamic-microphone", output_dbu=peak_dbu)
            self.assertEqual(codes([mic, box], [cable("mic.out", "box.in1")]), told)

    def test_what_is_told_wrong_of_a_device_is_refused(self):
        for wrong in (
            {"tracks": {"in1": "quad"}},
            {"modes": ["optical"]},
            {"rate_hz": 7},
            {"gain_range_db": -1},
            {"tracks": {"out1": "mono"}},
        ):
            with self.subTest(wrong), self.assertRaises(BadDocument):
                chain([device("box", "interface", **wrong)])


class Around(unittest.TestCase):
    """A pedal, a mixer and an insert laid wrongly."""

    def test_a_mixer_takes_the_microphones_and_their_48_v(self):
        usb = cable("box.usb", "pc.usb", "usb")
        whole = chain([CONDENSER, FED, COMPUTER], [cable("cond.out", "box.in1"), usb])
        mixed = with_choices(whole, [Choice(what="also", at="mixer", value="on")])
        self.assertEqual(faults_of(mixed), ())
        self.assertEqual([one.to_device for one in mixed.out_of("cond")], ["Small mixer"])
        self.assertEqual(mixed.by_id["box"].inputs, {"in1": "line"})
        on = [one.device for one in plugging_acts(mixed) if one.act == "phantom-on"]
        self.assertEqual(on, ["Small mixer"])

    def test_an_insert_that_comes_back_into_itself_howls_and_is_taken_onward(self):
        usb = cable("box.usb", "pc.usb", "usb")
        whole = chain([DYNAMIC, BOX, COMPUTER], [cable("mic.out", "box.in1"), usb])
        added = Choice(what="also", at="insert", value="on")
        wrong = with_choices(whole, [added, Choice(what="returns", at="Insert preamp", value="itself")])
        loop = next(one for one in faults_of(wrong) if one.code == "signal-loop")
        self.assertEqual(cure_of(wrong, loop).value, "interface")
        self.assertEqual(faults_of(with_choices(whole, [added, cure_of(wrong, loop)])), ())

    def test_a_file_is_played_through_a_pedal_into_an_amplifier(self):
        usb = cable("box.usb", "pc.usb", "usb")
        whole = chain([DYNAMIC, BOX, COMPUTER], [cable("mic.out", "box.in1"), usb])
        self.assertNotIn("pedal", can_be_added(whole))
        both = [Choice(what="also", at=name, value="on") for name in ("pedal", "reamp")]
        played = with_choices(whole, both)
        self.assertEqual([one.to_device for one in played.out_of("Reamp box")], ["Pedal"])
        self.assertEqual([one.to_device for one in played.out_of("Pedal")], ["Valve amplifier"])
        self.assertEqual(faults_of(played), ())

    def test_a_pulled_plug_is_put_back(self):
        whole = chain([DYNAMIC, BOX], [cable("mic.out", "box.in1")])
        pulled = with_choices(whole, [Choice(what="plugged", at="box.in1", value="out")])
        cures = [put_back(whole, pulled, one) for one in faults_of(pulled)]
        self.assertIn(Choice(what="plugged", at="box.in1", value="in"), cures)


class LiftedByChannel(unittest.TestCase):
    """A playback through a two-channel DI box into a preamp on another outlet: each channel closes a loop."""

    def found(self, **lifted):
        devices = [
            device("box", "interface", inputs={"in1": "line", "in2": "line"}),
            device("di", "passive-di", **lifted),
            device("preamp", "preamp"),
            WALL,
            OTHER_WALL,
        ]
        joined = [
            *(cable(f"box.out{n}", f"di.in{n}", "trs") for n in (1, 2)),
            *(cable(f"di.out{n}", f"preamp.in{n}") for n in (1, 2)),
            cable("wall.out", "box.mains", "mains"),
            cable("other.out", "preamp.mains", "mains"),
        ]
        whole = chain(devices, joined)
        return whole, [one for one in faults_of(whole) if one.code == "ground-loop"]

    def test_one_switch_lifts_both(self):
        self.assertEqual(len(self.found()[1]), 1)
        self.assertEqual(self.found(ground_lift=True)[1], [])

    def test_each_channel_left_closed_is_a_loop_of_its_own(self):
        whole, loops = self.found(lift_shared=False, lifts={"out1": True})
        self.assertEqual([one.at for one in loops], ["di.out2"])
        self.assertEqual(cure_of(whole, loops[0]), Choice(what="lift", at="di.out2", value="on"))
        self.assertEqual(self.found(lift_shared=False, lifts={"out1": True, "out2": True})[1], [])

    def test_presses_cure_it_channel_by_channel(self):
        whole, loops = self.found(lift_shared=False)
        chosen = []
        while loops:
            chosen.append(cure_of(whole, loops[0]))
            loops = [one for one in faults_of(with_choices(whole, chosen)) if one.code == "ground-loop"]
        self.assertEqual(sorted(one.at for one in chosen), ["di.out1", "di.out2"])

    def test_a_lift_is_at_an_output(self):
        with self.assertRaisesRegex(BadDocument, "di.in1"):
            self.found(lift_shared=False, lifts={"in1": True})
