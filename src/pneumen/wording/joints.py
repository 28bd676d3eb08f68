"""The words at a joint: plugs and ports, what can be chosen there, and what a button says that cures a fault."""

from typing import Final

from pneumen.core.hookup import FIXED_PADS, PHONO, VALUES
from pneumen.wording.language import _
from pneumen.wording.lengths import far

CONNECTOR_WORDS: Final = {
    "xlr": _("XLR"),
    "ts": _("jack (TS)"),
    "trs": _("jack (TRS)"),
    "ts-3.5": _("small jack (TS)"),
    "trs-3.5": _("small jack (TRS)"),
    PHONO: _("phono plug"),
    "speaker": _("speaker cable"),
    "usb": _("USB"),
    "mains": _("mains"),
}
ADDITIONS: Final = {
    "pedal": _("a pedal between the instrument and its input"),
    "mixer": _("a small mixer before the interface: its own gains set the level, and what was two tracks is one"),
    "amplifier": _("a valve amplifier at the DI box’s thru output"),
    "reamp": _("a file sent back through a reamp box to a valve amplifier"),
    "insert": _("an insert on playback: out through a DI box and a preamp, and in again"),
    "other-microphone": _("another microphone on the computer, such as a webcam’s"),
    "headset": _("a wireless headset"),
}
SPEAKER_ENDS: Final = {
    "cabinet": _("its speaker cabinet"),
    "load box": _("a load box, its line recorded"),
    "nothing": _("nothing"),
    "interface": _("an input of the interface"),
}
ABOUT: Final = {
    "balanced": _("Cable"),
    "input": _("Input set to"),
    "phantom": _("48 V"),
    "switch": _("48 V switch"),
    "plugged": _("Plugged"),
    "box": _("DI box"),
    "lift": _("Ground lift"),
    "lifts": _("Ground lift switch"),
    "speaker": _("On its speaker output"),
    "plug": _("Plug"),
    "outlet": _("Mains"),
    "also": _("Also there"),
    "length": _("Length"),
    "rate": _("Sample rate"),
    "track": _("Recorded to a track"),
    "power": _("While recording"),
    "current": _("Draws of 48 V"),
    "watt": _("Power"),
    "lead": _("Lead to it"),
    "monitor": _("Kind"),
    "returns": _("Its output goes to"),
    "ears": _("Plugged into"),
    "supply": _("Fed by"),
    "system": _("System"),
    "pad": _("Pad before the input"),
    "pad-db": _("Its control at"),
    "booster": _("Inline booster"),
    "apart": _("Recorded"),
}
"""What a choice is about."""
DECIBELS: Final = _("{db} dB")
OPTIONS: Final = {
    ("input", "mic"): _("microphone"),
    ("input", "instrument"): _("instrument (Hi-Z)"),
    ("rate", "44100"): _("44.1 kHz"),
    ("rate", "48000"): _("48 kHz"),
    ("rate", "88200"): _("88.2 kHz"),
    ("rate", "96000"): _("96 kHz"),
    ("lead", "speaker"): _("a speaker cable"),
    ("lead", "ts"): _("an instrument lead"),
    ("monitor", "active"): _("active, with its own mains plug"),
    ("monitor", "passive"): _("passive"),
    ("returns", "interface"): _("the interface"),
    ("returns", "itself"): _("its own input"),
    ("ears", "interface"): _("what records"),
    ("ears", "computer"): _("the computer’s own socket"),
    ("supply", "computer"): _("the computer"),
    ("supply", "mains"): _("its own mains supply"),
    ("system", "windows"): _("Windows"),
    ("system", "mac"): _("macOS"),
    ("system", "linux"): _("Linux"),
    ("system", "tablet"): _("a tablet"),
    **{("current", draws): _("{draws} mA").format(draws=draws) for draws in VALUES["current"]},
    **{("watt", watt): _("{watt} W").format(watt=watt) for watt in VALUES["watt"]},
    **{("pad", pad): DECIBELS.format(db=pad) for pad in FIXED_PADS},
    ("pad", "stepped"): _("with steps"),
    ("pad", "variable"): _("with a control that turns freely"),
    ("lifts", "all"): _("one for all channels"),
    ("lifts", "each"): _("one for each channel"),
    ("switch", "each"): _("one for each input"),
    ("switch", "all"): _("one for all inputs"),
    ("outlet", "strip"): _("on the strip"),
    ("outlet", "other"): _("another outlet"),
    **{("speaker", end): told for end, told in SPEAKER_ENDS.items()},
}
"""What can be chosen, where its own word does not say it."""
MAINS_PLUGS: Final = _("Mains plugs")
ALSO: Final = _("Also plugged in")
CURES: Final = {
    ("phantom", "on"): _("48 V on here"),
    ("phantom", "off"): _("48 V off here"),
    ("balanced", "balanced"): _("Use a balanced cable"),
    ("input", "mic"): _("Set the input to microphone"),
    ("input", "line"): _("Set the input to line"),
    ("input", "instrument"): _("Set the input to instrument"),
    ("lift", "on"): _("Lift the ground here"),
    ("outlet", "strip"): _("Plug it into the strip"),
    ("length", ""): _("Use a shorter lead"),
    ("box", "active"): _("Use an active DI box"),
    ("box", "passive"): _("Use a passive DI box"),
    ("speaker", "cabinet"): _("Connect its speaker"),
    ("speaker", "load box"): _("Use a load box"),
    ("plug", ""): _("Put the adapter on"),
    ("also", "off"): _("Leave it out"),
    ("switch", "each"): _("Each input has its own switch"),
    ("pad", ""): _("Put a pad of {value} dB before it"),
    ("pad-db", ""): _("Set the pad to {value} dB"),
    ("booster", "on"): _("Put an inline booster before it"),
    ("apart", "on"): _("Record it by itself"),
    ("rate", ""): _("Set it to the project’s rate"),
    ("track", "mono"): _("Record to a mono track"),
    ("power", "off"): _("Keep it off while recording"),
    ("monitor", "active"): _("Use an active monitor"),
    ("supply", "mains"): _("Use its own mains supply"),
    ("lead", "speaker"): _("Use a speaker cable"),
    ("returns", "interface"): _("Take its output to the interface"),
    ("ears", "interface"): _("Plug them into what records"),
    ("plugged", "in"): _("Plug it in"),
}
"""What the button beside a fault says, by what it changes."""
LOAD: Final = _("load {loss} dB")
"""What an input's impedance takes of a level."""
PORTS: Final = {
    "in": _("input"),
    "out": _("output"),
    "thru": _("thru output"),
    "speaker": _("speaker output"),
    "line": _("line output"),
    "phones": _("headphone output"),
    "usb": _("USB"),
    "mains": _("mains"),
}


def length_told(length_m: float) -> str:
    """Write a cable's length as shops do: whole metres, or one decimal."""
    return far(length_m, 0 if length_m == round(length_m) else 1)


def port_told(port: str) -> str:
    """Name a port as people do: in2 is input 2."""
    name = port.rstrip("0123456789")
    return f"{PORTS.get(name, name)} {port[len(name) :]}".strip()
