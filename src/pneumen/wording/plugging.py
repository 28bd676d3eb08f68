"""What is done at each step of plugging and unplugging, and in the recording software."""

from typing import Final

from pneumen.core.hookup import Act
from pneumen.wording.joints import port_told
from pneumen.wording.language import _

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


def act_told(act: Act) -> str:
    """Say what is done in a step."""
    ports = {"port": port_told(act.port), "other_port": port_told(act.other_port)}
    words = {"device": act.device, "other": act.other, **ports}
    return ACTS[act.act].format(**words)


def software_steps(*, software: str, device: str, port: str) -> tuple[tuple[str, str], ...]:
    """Return the steps in the recording software, each with its slug."""
    words = {"software": software or _("the recording software"), "device": device, "input": port}
    return tuple((slug, told.format(**words)) for slug, told in SOFTWARE.items())
