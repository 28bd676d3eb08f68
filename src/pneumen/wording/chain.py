"""A chain's faults in sentences, why and what to do; and what is done at each step of plugging and unplugging."""

from typing import Final

from pneumen.core.hookup import PHONO, Act, Fault
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far

WHY_AND_DO: Final = {
    "ribbon-phantom": (
        _("48 V are on at an input into which {source} is plugged, and may destroy it"),
        _("switch 48 V off, wait a minute, then unplug; plug a ribbon only with 48 V off"),
    ),
    "phantom-shared-ribbon": (
        _("one switch gives 48 V to all inputs: {other} needs them, {source} must never get them"),
        _("record the two one after the other, or put an inline booster or another preamp before {source}"),
    ),
    "condenser-no-phantom": (
        _("{source} is silent without 48 V, and gets none here"),
        _("switch 48 V on for this input after the plug is in, and wait a few seconds"),
    ),
    "phantom-missing": (
        _("{source} works on 48 V, and gets none here"),
        _("switch 48 V on for this input after the plug is in, or give {source} its battery"),
    ),
    "phantom-unbalanced": (
        _("48 V stand on an unbalanced cable: one leg is shorted, {source} may hum or be hurt"),
        _("switch 48 V off, or use a balanced cable"),
    ),
    "pickup-loading": (
        _("a load of {load_ohm} ohm weighs on a passive pickup: its treble is gone; it wants {least_ohm} ohm and more"),
        _("use an instrument (Hi-Z) input, or an active DI box before this input"),
    ),
    "loading": (
        _("a load of {load_ohm} ohm on a source of {source_ohm} ohm costs {loss_db} dB and changes its sound"),
        _("use an input with ten times the impedance of {source}"),
    ),
    "long-unbalanced": (
        _("{length_m} of unbalanced cable pick up hum and lose treble; {longest_m} are the most"),
        _("use a shorter lead, or a DI box near the source and a balanced cable from there"),
    ),
    "line-into-mic": (
        _("{source} gives line level, a microphone input is made for a hundredth of it and overloads"),
        _("use a line input, or a DI box or a pad before the microphone input"),
    ),
    "mic-into-line": (
        _("{source} gives microphone level; an input set to {takes} has not the gain for it, and noise takes over"),
        _("set the input to microphone, or use a microphone input"),
    ),
    "overload": (
        _("peaks of {peak_dbu} dBu meet an input that takes {most_dbu}: {over_db} dB too many, at any gain"),
        _("a pad of {pad_db} dB before it, or {source} turned down by as much"),
    ),
    "speaker-into-input": (
        _("{source} drives a loudspeaker with tens of volts; that destroys an input"),
        _("take it off now; record the amplifier's line output, a load box's, or a microphone before the speaker"),
    ),
    "not-driven": (
        _("{source} cannot drive a loudspeaker or a load"),
        _("connect it to an active monitor's or an amplifier's input"),
    ),
    "amp-no-load": (
        _("a valve amplifier without a speaker or a load on its speaker output destroys its output stage"),
        _("connect the speaker or a rated load box before the mains is switched on"),
    ),
    "load-too-small": (
        _("{amp} gives up to {amp_w} W, {load} bears {load_w} W"),
        _("use a load rated for the amplifier; what is written on both decides"),
    ),
    "speaker-lead": (
        _("an instrument lead is too thin for what {amp} gives to its load: it overheats and shorts"),
        _("use a speaker cable, two thick wires without a shield"),
    ),
    "ground-loop": (
        _("{path} are joined by a shield and by two outlets ({outlets}): a loop that hums"),
        _("plug both into one outlet strip; never defeat a mains earth"),
    ),
    "signal-loop": (
        _("sound goes round through {devices} without an end: it howls"),
        _("take one of these cables out; volumes down first"),
    ),
    "no-signal-path": (
        _("nothing leads from {source} to what records"),
        _("follow it from its output, cable by cable, to an input of the interface or the recorder"),
    ),
    "open-speakers": (
        _("{monitor} plays into {microphone} while it records"),
        _("monitors off while a microphone is open, and closed headphones instead"),
    ),
    "headphone-adapter": (
        _("a plug of {plug} does not go into a socket of {socket}"),
        _("put an adapter from {plug} to {socket} on the packing list"),
    ),
    "usb-mic-and-interface": (
        _("{microphone} and {interface} are two audio devices with two clocks: programs take one, and two drift apart"),
        _("record with one of them; for both at once an XLR microphone into the interface"),
    ),
    "two-interfaces": (
        _("{interface} and {other} on one computer: programs take one of them, and two clocks drift apart"),
        _("one interface with inputs enough, the same one told on Start of both parts; or one part after the other"),
    ),
    "two-clocks": (
        _("you hear {heard} and record {recorded}: two devices, two clocks, which drift apart and add their delays"),
        _("plug the headphones into {recorded}, and choose it for input and output"),
    ),
    "not-enough-inputs": (
        _("{wanted} sources want an input at once, there are {inputs}"),
        _("record them one after the other, or with an interface that has more inputs"),
    ),
    "wireless-headset": (
        _("{headset} is late by a tenth of a second and more, and its microphone may bring all sound to call quality"),
        _("wired closed headphones; switch the headset off, so that the system does not choose it"),
    ),
    "bus-power": (
        _("{device} wants {wants_w} W of a USB port that gives {gives_w} W"),
        _("use its own mains supply, or a powered hub"),
    ),
}
CASES: Final = {
    ("wrong-di", "dulls"): (
        _("a passive DI box weighs on the passive pickup of {source}: its treble is gone"),
        _("use an active DI box, or an instrument (Hi-Z) input"),
    ),
    ("wrong-di", "not-needed"): (
        _("{source} is active: an active DI box adds nothing and overloads sooner"),
        _("a passive DI box serves it better, or a line input"),
    ),
    ("wrong-di", "microphone"): (
        _("{source} is a microphone: a DI box is for instruments and dulls it"),
        _("plug it into a microphone input"),
    ),
    ("not-enough-inputs", "twice"): (
        _("{source} and {other} cannot both be plugged into one input"),
        _("give each its own input, or record them one after the other"),
    ),
}
HELD_BY: Final = (
    _("{held_by} keeps 48 V from {source}, which is silent without them"),
    _("take {held_by} out: a condenser microphone needs neither booster nor DI box"),
)
LIFT: Final = _("lift the ground at {box}, there only, or plug both into one outlet strip; never defeat a mains earth")
NOTHING_IN: Final = _("no source leads into {device}")
LENGTHS: Final = ("length_m", "longest_m")

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
    "plugged": _("Plugged"),
    "box": _("DI box"),
    "lift": _("Ground lift"),
    "speaker": _("On its speaker output"),
    "plug": _("Plug"),
    "outlet": _("Mains"),
    "also": _("Also there"),
    "length": _("Length"),
}
"""What a choice is about."""
OPTIONS: Final = {
    ("input", "mic"): _("microphone"),
    ("input", "instrument"): _("instrument (Hi-Z)"),
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
}
"""What the button beside a fault says, by what it changes."""
SOFTWARE: Final = {
    "driver": _("The maker’s driver is installed, where there is one."),
    "seen": _("The system’s sound settings list the device; its own sounds play elsewhere, so that none is recorded."),
    "device": _(
        "In {software}, audio device: {device}, for input and output. The words differ: look for audio, device, driver."
    ),
    "backing": _("The backing is imported first, from zero, on a track of its own that is never armed."),
    "track": _("A mono track for a mono source; its input: {input}. Name it before recording."),
    "arm": _("Arm that track alone; monitor through the interface, or through the program, not both."),
    "meter": _("Its meter moves when you play, and rests when you do not: only then record."),
    "folder": _("One project, one folder, with room left on the disk."),
}
"""The side of the recording software, in terms that fit any program (common practice, no source)."""
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
ACTS: Final = {
    "card": _("Put the card in; see that hours of room are left on it, and the battery full."),
    "menu": _("Auto level off, low-cut off; a limiter may stay on as a net. WAV, 24-bit."),
    "set-up": _("Set {device} on its stand, its microphones towards the sound, nothing on the table."),
    "down": _("Gain, volumes and headphones all the way down; monitors and amplifiers off."),
    "place": _("Set {device} where it is to stand, its cable free of feet."),
    "phantom-off": _("See that 48 V are off at {device}."),
    "load": _("Connect {device} to {other} with a speaker cable, before the mains."),
    "usb": _("Connect {device} and {other} by USB; the maker's driver first, where there is one."),
    "patch": _("Connect {device}, {port}, to {other}, {other_port}."),
    "phones": _("Plug {other} into {device}, volume down."),
    "set-line": _("Set {port} of {device} to line."),
    "set-instrument": _("Set {port} of {device} to instrument (Hi-Z), where it has a switch."),
    "own-line": _("Set the volume of {device} itself to 70 to 80 %, and do the rest at the input."),
    "own-tone": _("Turn the volume of {device} itself all the way up: there it is tone, not level."),
    "power": _("Switch {device} on."),
    "phantom-on": _("Switch 48 V on at {device}, only where they are needed."),
    "wait": _("Wait a few seconds."),
    "gain": _("Raise the gain slowly during the loudest passage, then the headphones from silence."),
    "monitors": _("Switch {device} on last, and only while no microphone is open."),
    "monitors-off": _("Switch {device} off first."),
    "gain-down": _("Gain and volumes all the way down."),
    "wait-off": _("Wait half a minute."),
    "power-off": _("Switch {device} off."),
    "unplug": _("Unplug {device}, {port}, from {other}, {other_port}."),
}


def why_of(fault: Fault) -> str:
    """Say what is wrong, with its figures."""
    if fault.code == "no-signal-path" and "device" in fault.words:
        return NOTHING_IN.format(**fault.words)
    return _texts(fault)[0].format(**_told(fault))


def remedy_of(fault: Fault) -> str:
    """Say what to do."""
    if fault.code == "ground-loop" and fault.words.get("box"):
        return LIFT.format(**fault.words)
    return _texts(fault)[1].format(**_told(fault))


def act_told(act: Act) -> str:
    """Say what is done in a step."""
    ports = {"port": port_told(act.port), "other_port": port_told(act.other_port)}
    words = {"device": act.device, "other": act.other, **ports}
    return ACTS[act.act].format(**words)


def software_steps(*, software: str, device: str, port: str) -> tuple[tuple[str, str], ...]:
    """Return the steps in the recording software, each with its slug."""
    words = {"software": software or _("the recording software"), "device": device, "input": port}
    return tuple((slug, told.format(**words)) for slug, told in SOFTWARE.items())


def length_told(length_m: float) -> str:
    """Write a cable's length as shops do: whole metres, or one decimal."""
    return far(length_m, 0 if length_m == round(length_m) else 1)


def port_told(port: str) -> str:
    """Name a port as people do: in2 is input 2."""
    name = port.rstrip("0123456789")
    return f"{PORTS.get(name, name)} {port[len(name) :]}".strip()


def _texts(fault: Fault) -> tuple[str, str]:
    if "held_by" in fault.words:
        return HELD_BY
    return CASES.get((fault.code, fault.words.get("case", ""))) or WHY_AND_DO[fault.code]


def _told(fault: Fault) -> dict[str, str]:
    figures = {
        name: far(value, 0) if name in LENGTHS else _figure(name, value) for name, value in fault.figures.items()
    }
    return {**fault.words, **figures}


def _figure(name: str, value: float) -> str:
    if name.endswith("_ohm"):
        return f"{value:,.0f}"
    return figure(value, 0 if value == round(value) else 1)
