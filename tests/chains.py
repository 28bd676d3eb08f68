"""Chains of devices as documents: sound ones, and for each code one that has it."""

import json

from pneumen.core.hookup import chain_from_json, faults_of


def device(name, kind, **more):
    return {"id": name, "kind": kind, **more}


def cable(begin, end, connector="xlr", **more):
    return {"from": begin, "to": end, "connector": connector, **more}


def chain(devices, cables=()):
    return chain_from_json(json.dumps({"devices": devices, "cables": list(cables)}).encode())[0]


def codes(devices, cables=()):
    return {fault.code for fault in faults_of(chain(devices, cables))}


BOX = device("box", "interface", phantom={"in1": False, "in2": False})
FED = device("box", "interface", phantom={"in1": True, "in2": False})
SHARED = device("box", "interface", phantom={"in1": True, "in2": True}, phantom_shared=True)
DYNAMIC, CONDENSER = device("mic", "dynamic-microphone"), device("cond", "condenser-microphone")
RIBBON, GUITAR = device("ribbon", "ribbon-microphone"), device("guitar", "passive-pickup")
HIGH = device("box", "interface", inputs={"in1": "instrument", "in2": "mic"})
LINE = device("box", "interface", inputs={"in1": "line", "in2": "line"})
INSERTED = device("box", "interface", inputs={"in1": "instrument", "in3": "line"})
COMPUTER = device("pc", "computer")
WALL, OTHER_WALL = device("wall", "mains-outlet"), device("other", "mains-outlet")

SOUND = (
    ([DYNAMIC, BOX], [cable("mic.out", "box.in1")]),
    ([CONDENSER, FED], [cable("cond.out", "box.in1")]),
    ([RIBBON, BOX], [cable("ribbon.out", "box.in1")]),
    ([RIBBON, CONDENSER, FED], [cable("ribbon.out", "box.in2"), cable("cond.out", "box.in1")]),
    ([GUITAR, HIGH], [cable("guitar.out", "box.in1", "ts", length_m=3)]),
    (
        [GUITAR, device("di", "active-di"), FED],
        [cable("guitar.out", "di.in", "ts", length_m=2), cable("di.out", "box.in1", length_m=15)],
    ),
    ([device("keys", "keyboard"), LINE], [cable("keys.out1", "box.in1", "trs"), cable("keys.out2", "box.in2", "trs")]),
    (
        [device("keys", "keyboard"), device("di", "passive-di"), BOX],
        [cable("keys.out", "di.in", "ts"), cable("di.out", "box.in1")],
    ),
    (
        [RIBBON, device("boost", "inline-booster"), FED],
        [cable("ribbon.out", "boost.in", length_m=1), cable("boost.out", "box.in1")],
    ),
    ([device("usb", "usb-microphone"), COMPUTER], [cable("usb.usb", "pc.usb", "usb")]),
    (  # an insert on playback: out of the interface, through boxes and preamps, and in again
        [GUITAR, INSERTED, device("di", "passive-di"), device("pre", "preamp", max_input_dbu=20)],
        [
            cable("guitar.out", "box.in1", "ts"),
            cable("box.out3", "di.in", "trs"),
            cable("di.out", "pre.in"),
            cable("pre.out", "box.in3", "trs"),
        ],
    ),
    (  # reamping: a file back to an amplifier, which a microphone hears
        [BOX, device("re", "reamp-box"), device("amp", "tube-amp"), device("cab", "passive-monitor"), DYNAMIC],
        [
            cable("box.out1", "re.in", "trs"),
            cable("re.out", "amp.in", "ts"),
            cable("amp.speaker", "cab.in", "speaker"),
            cable("mic.out", "box.in1"),
        ],
    ),
)
"""Chains with nothing wrong."""

WRONG = {
    "ribbon-phantom": ([RIBBON, FED], [cable("ribbon.out", "box.in1")]),
    "phantom-shared-ribbon": (
        [RIBBON, CONDENSER, SHARED],
        [cable("ribbon.out", "box.in1"), cable("cond.out", "box.in2")],
    ),
    "condenser-no-phantom": ([CONDENSER, BOX], [cable("cond.out", "box.in1")]),
    "phantom-missing": (
        [GUITAR, device("di", "active-di"), BOX],
        [cable("guitar.out", "di.in", "ts"), cable("di.out", "box.in1")],
    ),
    "phantom-sag": ([CONDENSER | {"current_ma": 14}, FED], [cable("cond.out", "box.in1")]),
    "phantom-unbalanced": ([DYNAMIC, FED], [cable("mic.out", "box.in1", balanced=False)]),
    "pickup-loading": ([GUITAR, BOX], [cable("guitar.out", "box.in1", "ts")]),
    "loading": ([device("mic", "dynamic-microphone", output_impedance_ohm=4000), BOX], [cable("mic.out", "box.in1")]),
    "long-unbalanced": ([GUITAR, HIGH], [cable("guitar.out", "box.in1", "ts", length_m=8)]),
    "line-into-mic": ([device("keys", "keyboard"), BOX], [cable("keys.out", "box.in1", "trs")]),
    "mic-into-line": ([DYNAMIC, LINE], [cable("mic.out", "box.in1")]),
    "overload": ([device("mic", "dynamic-microphone", output_dbu=12), BOX], [cable("mic.out", "box.in1")]),
    "wrong-di": (
        [GUITAR, device("di", "passive-di"), BOX],
        [cable("guitar.out", "di.in", "ts"), cable("di.out", "box.in1")],
    ),
    "amp-no-load": ([GUITAR, device("amp", "tube-amp")], [cable("guitar.out", "amp.in", "ts")]),
    "load-too-small": (
        [device("amp", "tube-amp", power_w=50), device("load", "load-box", power_w=30), LINE],
        [cable("amp.speaker", "load.in", "speaker"), cable("load.out", "box.in1", "trs")],
    ),
    "speaker-lead": (
        [device("amp", "tube-amp"), device("load", "load-box"), LINE],
        [cable("amp.speaker", "load.in", "ts"), cable("load.out", "box.in1", "trs")],
    ),
    "speaker-into-input": ([device("amp", "guitar-amp"), BOX], [cable("amp.speaker", "box.in1", "ts")]),
    "not-driven": ([device("box", "interface"), device("cab", "passive-monitor")], [cable("box.out1", "cab.in", "ts")]),
    "signal-loop": (
        [DYNAMIC, device("one", "preamp"), device("two", "preamp", inputs={"in1": "line"})],
        [cable("mic.out", "one.in2"), cable("one.out", "two.in1", "trs"), cable("two.out", "one.in1", "trs")],
    ),
    "no-signal-path": ([DYNAMIC, BOX], []),
    "open-speakers": (
        [DYNAMIC, BOX, device("left", "active-monitor")],
        [cable("mic.out", "box.in1"), cable("box.out1", "left.in", "trs")],
    ),
    "headphone-adapter": (
        [device("box", "interface", phones="6.35 mm"), device("ears", "headphones", plug="3.5 mm")],
        [cable("box.phones", "ears.in", "trs-3.5")],
    ),
    "usb-mic-and-interface": ([device("usb", "usb-microphone"), BOX, COMPUTER], []),
    "not-enough-inputs": (
        [DYNAMIC, CONDENSER, FED],
        [cable("mic.out", "box.in1"), cable("cond.out", "box.in1")],
    ),
    "two-interfaces": (
        [DYNAMIC, CONDENSER, FED, device("other", "interface"), COMPUTER],
        [
            cable("cond.out", "box.in1"),
            cable("mic.out", "other.in1"),
            cable("box.usb", "pc.usb", "usb"),
            cable("other.usb", "pc.usb2", "usb"),
        ],
    ),
    "two-clocks": (
        [DYNAMIC, BOX, COMPUTER, device("ears", "headphones")],
        [cable("mic.out", "box.in1"), cable("box.usb", "pc.usb", "usb"), cable("pc.phones", "ears.in", "trs-3.5")],
    ),
    "wireless-headset": ([device("headset", "wireless-headset"), BOX], []),
    "low-gain": (
        [device("mic", "dynamic-microphone", output_dbu=-60), device("box", "interface", gain_range_db=40)],
        [cable("mic.out", "box.in1")],
    ),
    "rate-mismatch": (
        [device("box", "interface", rate_hz=44100), device("pc", "computer", rate_hz=48000)],
        [cable("box.usb", "pc.usb", "usb")],
    ),
    "no-driver": (
        [device("box", "interface", systems=["windows", "mac"]), device("pc", "computer", system="linux")],
        [cable("box.usb", "pc.usb", "usb")],
    ),
    "mono-on-stereo": (
        [DYNAMIC, device("box", "interface", tracks={"in1": "stereo"})],
        [cable("mic.out", "box.in1")],
    ),
    "bus-power": (
        [device("box", "interface", power_w=6), COMPUTER],
        [cable("box.usb", "pc.usb", "usb")],
    ),
    "ground-loop": (
        [COMPUTER, BOX, device("left", "active-monitor"), WALL, OTHER_WALL],
        [
            cable("box.usb", "pc.usb", "usb"),
            cable("box.out1", "left.in", "trs"),
            cable("wall.out", "pc.mains", "mains"),
            cable("other.out", "left.mains", "mains"),
        ],
    ),
}
"""For each code a chain that has it."""
