"""Chains of devices: each code is brought about by one joint and cured by its remedy; orders that hurt nothing."""

import json
import math
import unittest

import numpy as np

from pneumen.core.errors import BadDocument, OutOfRange, RefusedField
from pneumen.core.hookup import (
    ADDITIONS,
    KINDS,
    OF_A_PART,
    Choice,
    can_be_added,
    chain_from_json,
    cure_of,
    faults_of,
    lead_resonance_hz,
    lead_response_db,
    phantom_voltage,
    plugging_acts,
    unplugging_acts,
    with_choices,
)
from pneumen.core.hookup.kinds import PHONO
from tests.chains import (
    BOX,
    CONDENSER,
    DYNAMIC,
    FED,
    GUITAR,
    OTHER_WALL,
    RIBBON,
    SOUND,
    WALL,
    WRONG,
    cable,
    chain,
    codes,
    device,
)


def needs_a_part(cure):
    """Tell whether a cure changes gear of a part, or its session: the chain by itself does not know them."""
    return cure.what in OF_A_PART or (cure.what == "box" and "." in cure.at)


class Codes(unittest.TestCase):
    def test_sound_chains_have_nothing_wrong(self):
        for number, (devices, cables) in enumerate(SOUND):
            with self.subTest(number):
                self.assertEqual(codes(devices, cables), set())

    def test_every_code_can_be_brought_about(self):
        for code, (devices, cables) in WRONG.items():
            with self.subTest(code):
                self.assertIn(code, codes(devices, cables))

    def test_the_gravest_stands_first(self):
        found = faults_of(chain(*WRONG["phantom-shared-ribbon"]))
        gravities = [fault.verdict.gravity for fault in found]
        self.assertEqual(gravities, sorted(gravities, reverse=True))
        self.assertEqual({fault.at for fault in found if fault.verdict == "stop"}, {"box.in1"})

    def test_a_switch_for_all_inputs_reaches_the_one_that_is_not_asked(self):
        told = device("box", "interface", phantom={"in1": False, "in2": True}, phantom_shared=True)
        self.assertIn("ribbon-phantom", codes([RIBBON, told], [cable("ribbon.out", "box.in1")]))
        self.assertNotIn(
            "ribbon-phantom", codes([RIBBON, told | {"phantom_shared": False}], [cable("ribbon.out", "box.in1")])
        )

    def test_a_booster_keeps_phantom_from_the_microphone_behind_it(self):
        booster = device("boost", "inline-booster")
        joined = [cable("cond.out", "boost.in"), cable("boost.out", "box.in1")]
        self.assertEqual(codes([CONDENSER, booster, FED], joined), {"condenser-no-phantom"})

    def test_an_input_set_to_line_or_instrument_gives_none(self):
        told = device("box", "interface", phantom={"in1": True}, inputs={"in1": "line"})
        self.assertIn("condenser-no-phantom", codes([CONDENSER, told], [cable("cond.out", "box.in1")]))

    def test_what_a_device_tells_of_itself_beats_its_kind(self):
        active = device("ribbon", "ribbon-microphone", needs_phantom=True, hurt_by_phantom=False)
        self.assertEqual(codes([active, FED], [cable("ribbon.out", "box.in1")]), set())
        self.assertIn("condenser-no-phantom", codes([active, BOX], [cable("ribbon.out", "box.in1")]))

    def test_the_pad_that_cures_an_overload(self):
        loud = device("mic", "dynamic-microphone", output_dbu=22)
        fault = next(
            one for one in faults_of(chain([loud, BOX], [cable("mic.out", "box.in1")])) if one.code == "overload"
        )
        # 22 dBu into 3 kohm out of 200 ohm: 20 log10(3000 / 3200) = -0.56 dB (divider); 9 dBu is what it takes.
        self.assertAlmostEqual(fault.figures["over_db"], 22 - 0.56 - 9, delta=0.01)
        self.assertEqual(fault.figures["pad_db"], 20)

    def test_a_box_passes_its_sources_level_on(self):
        keys = device("keys", "keyboard", output_dbu=30)
        softer = [cable("keys.out", "di.in", "ts"), cable("di.out", "box.in1")]
        self.assertEqual(
            codes([keys, device("di", "passive-di"), BOX], softer), set()
        )  # 30 dBu less 22 dB are 8, under 9
        thru = [cable("keys.out", "di.in", "ts"), cable("di.thru", "box.in2", "ts")]
        self.assertIn("overload", codes([keys, device("di", "passive-di"), BOX], thru))

    def test_ground_loops_are_cured_by_one_outlet_or_by_a_lifted_box(self):
        devices, cables = WRONG["ground-loop"]
        same = [one | {"from": "wall.out"} if one["to"] == "left.mains" else one for one in cables]
        self.assertNotIn("ground-loop", codes(devices, same))
        amp = [device("amp", "guitar-amp"), WALL, OTHER_WALL]
        box = device("di", "passive-di")
        joined = [
            cable("amp.line", "di.in", "ts"),
            cable("di.out", "box.in1"),
            cable("wall.out", "amp.mains", "mains"),
            cable("box.mains", "other.out", "mains"),  # told the other way round: power has one way
        ]
        found = [one for one in faults_of(chain([*amp, box, BOX], joined)) if one.code == "ground-loop"]
        self.assertEqual([one.at for one in found], ["di.out"])
        self.assertNotIn("ground-loop", codes([*amp, box | {"ground_lift": True}, BOX], joined))

    def test_headphones_there_make_open_monitors_a_thing_to_watch(self):
        devices, cables = WRONG["open-speakers"]
        ears = [device("ears", "headphones")]
        found = {one.code: one.verdict for one in faults_of(chain([*devices, *ears], cables))}
        self.assertEqual(found["open-speakers"], "watch")

    def test_an_interface_that_reaches_no_computer_leads_nowhere(self):
        devices, joined = [DYNAMIC, BOX, device("pc", "computer")], [cable("mic.out", "box.in1")]
        self.assertEqual(
            {(one.code, one.at) for one in faults_of(chain(devices, joined))}, {("no-signal-path", "box.usb")}
        )
        self.assertEqual(codes(devices, [*joined, cable("pc.usb", "box.usb", "usb")]), set())

    def test_too_many_sources(self):
        third = device("third", "dynamic-microphone")
        joined = [cable("mic.out", "box.in1"), cable("cond.out", "box.in2")]
        self.assertIn("not-enough-inputs", codes([DYNAMIC, CONDENSER, third, FED], joined))
        four = device("box", "interface", inputs={f"in{n}": "mic" for n in range(1, 5)})
        self.assertNotIn(
            "not-enough-inputs", codes([DYNAMIC, CONDENSER, third, four], [*joined, cable("third.out", "box.in3")])
        )


class Choices(unittest.TestCase):
    def test_a_cure_is_gone_with_the_fault_it_cures(self):
        cured = 0
        for code, (devices, cables) in WRONG.items():
            whole = chain(devices, cables)
            for fault in faults_of(whole):
                cure = cure_of(whole, fault)
                if fault.code == code and cure is not None and not needs_a_part(cure):
                    after = faults_of(with_choices(whole, [cure]))
                    self.assertNotIn((code, fault.at), [(one.code, one.at) for one in after])
                    cured += 1
        self.assertGreaterEqual(cured, 18)

    def test_what_is_added_is_sound_and_each_way_to_end_an_amplifier_is_judged(self):
        box = device("di", "active-di")
        joined = [cable("guitar.out", "di.in", "ts"), cable("di.out", "box.in1")]
        whole = chain([GUITAR, box, FED, device("pc", "computer"), WALL], [*joined, cable("box.usb", "pc.usb", "usb")])
        self.assertEqual(set(can_be_added(whole)), set(ADDITIONS))
        for name in ("pedal", "amplifier", "reamp", "insert"):
            with self.subTest(name):
                also = with_choices(whole, [Choice(what="also", at=name, value="on")])
                self.assertEqual(faults_of(also), ())
        amp = [Choice(what="also", at="amplifier", value="on")]
        for end, code in (("nothing", "amp-no-load"), ("interface", "speaker-into-input"), ("load box", None)):
            told = with_choices(whole, [*amp, Choice(what="speaker", at="Valve amplifier", value=end)])
            found = {one.code for one in faults_of(told)}
            self.assertEqual(code in found, code is not None, end)
            self.assertEqual("amp-no-load" in found, end in ("nothing", "interface"))
        for name, code in (("headset", "wireless-headset"), ("other-microphone", "usb-mic-and-interface")):
            also = with_choices(whole, [Choice(what="also", at=name, value="on")])
            self.assertEqual({one.code for one in faults_of(also)}, {code})

    def test_nothing_is_added_where_it_has_no_place(self):
        self.assertEqual(can_be_added(chain(*SOUND[9])), ("other-microphone", "headset"))

    def test_no_switch_is_pressed_that_reaches_a_ribbon(self):
        whole = chain(*WRONG["phantom-shared-ribbon"])
        cures = [cure_of(whole, one) for one in faults_of(whole)]
        self.assertEqual({(one.what, one.value) for one in cures if one}, {("phantom", "off"), ("apart", "on")})

    def test_what_is_about_nothing_there_changes_nothing(self):
        whole = chain(*SOUND[0])
        for choice in (Choice(what="length", at="gone.in1", value="9"), Choice(what="outlet", at="box", value="other")):
            self.assertEqual(with_choices(whole, [choice]), whole)

    def test_what_cannot_be_chosen(self):
        for what, value in (("colour", "red"), ("phantom", "half"), ("length", "far"), ("length", "-1")):
            with self.subTest(what, value=value), self.assertRaises(RefusedField):
                Choice(what=what, at="box.in1", value=value)

    def test_an_outlet_of_its_own_makes_a_loop_and_the_strip_cures_it(self):
        devices, cables = WRONG["ground-loop"]
        same = chain(devices, [one | {"from": "wall.out"} if one["to"] == "left.mains" else one for one in cables])
        apart = with_choices(same, [Choice(what="outlet", at="left", value="other")])
        self.assertIn("ground-loop", {one.code for one in faults_of(apart)})
        again = with_choices(apart, [Choice(what="outlet", at="left", value="strip")])
        self.assertNotIn("ground-loop", {one.code for one in faults_of(again)})


class Figures(unittest.TestCase):
    def test_phantom_under_load(self):
        """IEC 61938 (from memory): 48 V behind two times 6.8 kohm; 4 mA leave 34.4 V, nothing drawn leaves all."""
        self.assertAlmostEqual(phantom_voltage(4), 34.4)
        self.assertEqual(phantom_voltage(0), 48)
        with self.assertRaises(OutOfRange):
            phantom_voltage(20)

    def test_the_resonance_of_a_pickup_and_its_lead(self):
        """1 / (2 pi sqrt(LC)); four times the lead halves it. At it the response stands over both its sides."""
        self.assertAlmostEqual(lead_resonance_hz(4.0), lead_resonance_hz(1.0) / 2)
        self.assertAlmostEqual(lead_resonance_hz(5, pf_per_m=100), 1 / (2 * math.pi * math.sqrt(2.5 * 500e-12)))
        at_hz = lead_resonance_hz(3.0)
        low, here, high = lead_response_db(np.array([at_hz / 4, at_hz, at_hz * 4]), 3.0, 1e6)
        self.assertGreater(here, low)
        self.assertLess(high, -20)
        # At resonance the coil and the lead cancel: Q is about the load over sqrt(L/C), 200 kohm over 83 kohm, 7.6 dB.
        self.assertAlmostEqual(float(here), 20 * math.log10(200e3 / math.sqrt(2.5 / 360e-12)), delta=2.0)

    def test_a_low_load_takes_the_peak_and_the_level(self):
        """A divider at low frequencies: 7 kohm into 10 kohm is 20 log10(10 / 17) = -4.61 dB."""
        frequency_hz = np.array([20.0, lead_resonance_hz(3.0)])
        dull = lead_response_db(frequency_hz, 3.0, 10_000.0, controls_ohm=math.inf)
        self.assertAlmostEqual(float(dull[0]), -4.61, 1)
        self.assertLess(float(dull[1]), float(lead_response_db(frequency_hz, 3.0, 1e6)[1]) - 12)


class Orders(unittest.TestCase):
    def acts(self, devices, cables):
        return plugging_acts(chain(devices, cables))

    def place(self, acts, name, **more):
        return next(
            n for n, one in enumerate(acts) if one.act == name and all(getattr(one, k) == v for k, v in more.items())
        )

    def test_phantom_comes_after_the_last_plug_and_before_the_gain(self):
        acts = self.acts([CONDENSER, DYNAMIC, FED], [cable("cond.out", "box.in1"), cable("mic.out", "box.in2")])
        self.assertEqual(acts[0].act, "down")
        on = self.place(acts, "phantom-on")
        self.assertGreater(on, max(n for n, one in enumerate(acts) if one.act == "patch"))
        self.assertLess(self.place(acts, "wait"), self.place(acts, "gain"))
        self.assertLess(self.place(acts, "place", device="cond"), self.place(acts, "patch", device="cond"))

    def test_no_phantom_where_a_shared_switch_reaches_a_ribbon(self):
        acts = self.acts(*WRONG["phantom-shared-ribbon"])
        self.assertNotIn("phantom-on", {one.act for one in acts})

    def test_a_valve_amplifiers_load_comes_before_its_mains_and_monitors_last(self):
        devices = [device("amp", "tube-amp"), device("cab", "passive-monitor"), WALL]
        devices += [DYNAMIC, BOX, device("left", "active-monitor")]
        joined = [
            cable("wall.out", "amp.mains", "mains"),
            cable("wall.out", "left.mains", "mains"),
            cable("amp.speaker", "cab.in", "speaker"),
            cable("mic.out", "box.in1"),
            cable("box.out1", "left.in", "trs"),
        ]
        acts = self.acts(devices, joined)
        self.assertLess(self.place(acts, "load"), self.place(acts, "power", device="amp"))
        self.assertEqual(acts[-1].act, "monitors")
        back = unplugging_acts(chain(devices, joined))
        self.assertEqual(back[0].act, "monitors-off")
        unplugged = next(n for n, one in enumerate(back) if one.act == "unplug" and one.device == "amp")
        self.assertLess(self.place(back, "power-off", device="amp"), unplugged)

    def test_taking_apart_waits_for_phantom_to_fade(self):
        back = [one.act for one in unplugging_acts(chain(*SOUND[1]))]
        self.assertLess(back.index("gain-down"), back.index("phantom-off"))
        self.assertLess(back.index("phantom-off"), back.index("wait-off"))
        self.assertLess(back.index("wait-off"), back.index("unplug"))

    def test_every_chain_has_an_order_with_all_its_cables(self):
        for devices, cables in (*SOUND, *WRONG.values()):
            acts = self.acts(devices, cables)
            joined = [one for one in acts if one.act in ("patch", "load", "usb", "phones", "power", "monitors")]
            self.assertEqual(len(joined), len(cables))
            self.assertEqual(len(set(acts)), len(acts))


class Connectors(unittest.TestCase):
    def test_a_phono_plug_is_read_and_carries_a_line(self):
        told = chain([device("keys", "keyboard"), BOX], [cable("keys.out", "box.in1", PHONO)])
        self.assertEqual(told.cables[0].connector, "phono")
        self.assertFalse(told.cables[0].is_balanced)


class BadChains(unittest.TestCase):
    def test_each_fault_is_told_by_its_place(self):
        for devices, cables, told in (
            ([device("a", "theremin")], [], "devices.0.*kind must be one of"),
            ([device("a", "interface"), device("a", "computer")], [], "given twice"),
            ([device("a.b", "interface")], [], "without a full stop"),
            ([DYNAMIC, BOX], [cable("mic.out", "box.in1", "din")], "connector must be one of"),
            ([DYNAMIC, BOX], [cable("mic.out", "desk.in1")], "device must be one of"),
            ([DYNAMIC, BOX], [cable("mic.outs", "box.in1")], "mic: port must be one of"),
            ([DYNAMIC, BOX], [cable("box.in1", "mic.out")], "turn this cable round"),
            ([DYNAMIC, BOX], [cable("mic", "box.in1")], "as in box.in1"),
            ([DYNAMIC, BOX], [cable("mic.out", "box.in1", length_m=0)], "length_m must be greater than 0"),
            ([DYNAMIC, BOX], [cable("mic.out", "box.in1", length_m=5000)], "up to 1000"),
            ([DYNAMIC, BOX], [cable("mic.out", "box.in1", "usb")], "takes no usb plug"),
            ([device("w", "mains-outlet"), BOX], [cable("w.out", "box.in1", "mains")], "takes no mains plug"),
            ([device("box", "interface", inputs={"in1": "loud"})], [], "must be one of mic, line, instrument"),
            ([device("box", "interface", phantom={"out1": True})], [], "is no input"),
            ([device("mic", "dynamic-microphone", output_dbu=500)], [], "output_dbu must be between"),
            ([device("amp", "tube-amp", power_w=-1)], [], "power_w must be between"),
        ):
            with self.subTest(told), self.assertRaisesRegex(BadDocument, told):
                chain(devices, cables)

    def test_a_slip_of_the_pen_is_told(self):
        document = {"devices": [device("mic", "dynamic-microphone", colour="black")], "cabels": []}
        _, ignored = chain_from_json(json.dumps(document).encode())
        self.assertEqual(set(ignored), {"devices[0].colour", "cabels"})

    def test_every_kind_stands_alone(self):
        for kind in KINDS:
            faults_of(chain([device("one", kind)]))
