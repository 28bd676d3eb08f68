"""A chain's faults in sentences: why, and what to do."""

from typing import Final

from pneumen.core.hookup import Fault
from pneumen.wording.figures import figure, kilohertz
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
    "phantom-sag": (
        _("{source} draws {draws_ma} mA of 48 V, {most_ma} mA are what an input has to give: it distorts early"),
        _("its own supply, or an input whose sheet says that it gives more"),
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
        _("one interface with inputs enough, told on Start of both parts; or one part after the other"),
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
    "low-gain": (
        _("with the gain all the way up the loudest reaches {reaches_dbfs} dBFS: lifted later, so is its noise"),
        _("move closer, or put an inline booster before this input; a louder source helps too"),
    ),
    "rate-mismatch": (
        _("{slower} runs at {slower_hz}, {faster} at {faster_hz}: what one records, the other plays at another pitch"),
        _("set both to the rate of the project, before anything is recorded"),
    ),
    "no-driver": (
        _("{device} works with {systems}, this computer runs {system}: it may not be seen at all"),
        _("see whether it works without a driver; else another interface, or another computer"),
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
    ("phantom-shared-ribbon", "unknown"): (
        _("{other} needs 48 V, {source} must never get them: does each input have a switch of its own?"),
        _("look at the interface: one lamp or switch for each input; if one serves both, record one after the other"),
    ),
    ("mono-on-stereo", "alone"): (
        _("{source} alone is recorded to a stereo track: it will sit in one ear, in a file of twice the size"),
        _("record it to a mono track; its place in the stereo picture is chosen when mixing"),
    ),
    ("mono-on-stereo", "shared"): (
        _("{source} is recorded to a stereo track together with {other}: two sources in one file"),
        _("record each to a mono track of its own"),
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
RATES: Final = ("slower_hz", "faster_hz")


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
    if name in RATES:
        return kilohertz(value)
    return figure(value, 0 if value == round(value) else 1)
