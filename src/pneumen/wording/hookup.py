"""The order of plugging in sentences, and the rule for the 48 V switch."""

from typing import Final

from pneumen.core.hookup import PhantomRule, PlugStep
from pneumen.wording.language import _
from pneumen.wording.lengths import far

LONGEST_LEAD_M: Final = 5.0
"""An instrument lead any longer dulls a passive pickup (common practice, no source)."""

RULES: Final = {
    "instrument-input": _("48 V off: an instrument input has none, and an instrument needs none."),
    "passive-box": _("48 V off: a passive DI box does not need it, and its transformer keeps it out."),
    "active-box": _(
        "48 V on for an active DI box without a battery: plug first, then switch it on, then wait a few seconds."
    ),
    "recorder": _("A recorder's own microphones are fed from inside: leave 48 V off."),
    "usb": _("A USB microphone feeds itself from the computer: there is no phantom power to switch."),
    "booster": _(
        "48 V on: the booster needs it and keeps it from the microphone. Never plug this microphone in without the "
        "booster while 48 V is on."
    ),
    "hurts": _(
        "48 V off, always: phantom power may destroy this ribbon. Check the switch before you plug, also a shared one."
    ),
    "needed": _(
        "48 V on: this microphone is silent without it. Plug first, then switch it on, then wait a few seconds."
    ),
    "not-needed": _(
        "48 V off: this microphone does not need it. A balanced cable would keep it from harm if it were on."
    ),
}
ACTS: Final = {
    "down": _("Turn gain and headphones all the way down; monitors off."),
    "dial-down": _("Turn the dial and the headphones all the way down."),
    "card": _("Put the card in; see that hours of room are left on it, and the battery full."),
    "recorder-stand": _("Set the recorder on its stand, its microphones towards the sound, nothing on the table."),
    "menu": _("Auto level off, low-cut off; a limiter may stay on as a net. WAV, 24-bit."),
    "recorder-phones": _("Plug closed headphones into the recorder."),
    "dial-gain": _("Set the dial to where the plan says; play the loudest passage, lower until nothing clips."),
    "usb-stand": _("Set the microphone on its stand; the cable falls free, away from feet."),
    "usb": _("Plug the microphone into the computer, straight, without a hub."),
    "usb-phones": _("Plug closed headphones into the microphone, or into the computer."),
    "driver": _("Install the maker's driver if there is one, then plug the interface into the computer."),
    "before": _("Make sure 48 V is off before anything is plugged."),
    "xlr": _("Microphone on its stand, XLR cable to input 1."),
    "xlr-boosted": _(
        "Microphone on its stand, XLR cable to input 1 with the booster between them, close to the microphone."
    ),
    "phantom-on": _("Switch 48 V on and wait a few seconds."),
    "phantom-off": _("Leave 48 V off; look twice."),
    "phones": _("Plug closed headphones into the interface."),
    "lead": _("Instrument lead, under {longest}, into the instrument input (not line, not mic)."),
    "switch": _("Switch the input to instrument, or Hi-Z, if it has a switch."),
    "lead-to-box": _("Instrument into the DI box, with the short lead; box near the instrument."),
    "xlr-from-box": _("XLR cable from the DI box to a microphone input."),
    "lift": _("If it hums, lift the ground at the DI box, there only; never a mains earth."),
    "own": _(
        "A keyboard's own volume at 70 to 80 %; a guitar's or bass's all the way up: there it is tone, not level."
    ),
    "device": _("In {software}, choose this device for input and output, not the built-in one."),
    "track": _("Add a mono track, pick the input, name it, arm it, and watch its meter move."),
    "gain": _("Raise the gain slowly during the loudest passage; then the headphones, from silence."),
}


def phantom_told(rule: PhantomRule) -> str:
    """Say whether 48 V goes on, and why."""
    return RULES[rule.rule]


def step_told(step: PlugStep, software: str = "") -> str:
    """Say what is done in a step; software names the recording software where it is known."""
    software = software or _("the recording software")
    return ACTS[step.act].format(software=software, longest=far(LONGEST_LEAD_M, 0))
