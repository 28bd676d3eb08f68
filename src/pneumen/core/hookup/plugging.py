"""The order of plugging as a checklist. Common practice of the trade, no source."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gear import MicrophoneFamily
from pneumen.core.verdict import Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class PhantomRule:
    """Whether the 48 V switch goes on for this microphone; verdict is clear, watch or stop."""

    switch_on: bool
    verdict: Verdict
    rule: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PlugStep:
    """One step of the checklist; slug stays the same when the wording changes."""

    slug: str
    text: str
    caution: bool = False


PLUGGED_RULE: Final = PhantomRule(
    switch_on=False, verdict=Verdict.CLEAR, rule="48 V off: an instrument input has none, and an instrument needs none."
)
PASSIVE_BOX_RULE: Final = PhantomRule(
    switch_on=False,
    verdict=Verdict.CLEAR,
    rule="48 V off: a passive DI box does not need it, and its transformer keeps it out.",
)
ACTIVE_BOX_RULE: Final = PhantomRule(
    switch_on=True,
    verdict=Verdict.CLEAR,
    rule="48 V on for an active DI box without a battery: plug first, then switch it on, then wait a few seconds.",
)
RECORDER_ORDER: Final = (
    PlugStep(slug="down", text="Turn the dial and the headphones all the way down.", caution=True),
    PlugStep(slug="card", text="Put the card in; see that hours of room are left on it, and the battery full."),
    PlugStep(
        slug="stand", text="Set the recorder on its stand, its microphones towards the sound, nothing on the table."
    ),
    PlugStep(slug="menu", text="Auto level off, low-cut off; a limiter may stay on as a net. WAV, 24-bit."),
    PlugStep(slug="phones", text="Plug closed headphones into the recorder."),
    PlugStep(
        slug="gain",
        text="Set the dial to where the plan says; play the loudest passage, lower until nothing clips.",
        caution=True,
    ),
)


def phantom_rule(family: MicrophoneFamily, *, booster: bool = False) -> PhantomRule:
    """Return the phantom rule for a microphone, decided by what it needs and what hurts it, not by its looks."""
    if family.plug == "none":
        rule = "A recorder's own microphones are fed from inside: leave 48 V off."
        return PhantomRule(switch_on=False, verdict=Verdict.CLEAR, rule=rule)
    if family.plug == "usb":
        rule = "A USB microphone feeds itself from the computer: there is no phantom power to switch."
        return PhantomRule(switch_on=False, verdict=Verdict.CLEAR, rule=rule)
    if booster:
        rule = "48 V on: the booster needs it and keeps it from the microphone. Never plug this microphone in without the booster while 48 V is on."
        return PhantomRule(
            switch_on=True, verdict=Verdict.WATCH if not family.hurt_by_phantom else Verdict.STOP, rule=rule
        )
    if family.hurt_by_phantom:
        rule = "48 V off, always: phantom power may destroy this ribbon. Check the switch before you plug, also a shared one."
        return PhantomRule(switch_on=False, verdict=Verdict.STOP, rule=rule)
    if family.needs_phantom:
        rule = "48 V on: this microphone is silent without it. Plug first, then switch it on, then wait a few seconds."
        return PhantomRule(switch_on=True, verdict=Verdict.CLEAR, rule=rule)
    rule = "48 V off: this microphone does not need it. A balanced cable would keep it from harm if it were on."
    return PhantomRule(switch_on=False, verdict=Verdict.CLEAR, rule=rule)


def plugging_order(family: MicrophoneFamily, *, booster: bool = False, software: str = "") -> tuple[PlugStep, ...]:
    """Return the steps from silence to a moving meter, in the order that hurts neither ears nor gear."""
    if family.plug == "none":
        return RECORDER_ORDER
    phantom = phantom_rule(family, booster=booster)
    program = software or "the recording software"
    first = PlugStep(slug="down", text="Turn gain and headphones all the way down; monitors off.", caution=True)
    chain: tuple[PlugStep, ...]
    if family.plug == "usb":
        chain = (
            PlugStep(slug="stand", text="Set the microphone on its stand; the cable falls free, away from feet."),
            PlugStep(slug="usb", text="Plug the microphone into the computer, straight, without a hub."),
            PlugStep(slug="phones", text="Plug closed headphones into the microphone, or into the computer."),
        )
    else:
        booster_text = " with the booster between them, close to the microphone" if booster else ""
        switch_text = "Switch 48 V on and wait a few seconds." if phantom.switch_on else "Leave 48 V off; look twice."
        chain = (
            PlugStep(
                slug="driver",
                text="Install the maker's driver if there is one, then plug the interface into the computer.",
            ),
            PlugStep(
                slug="before", text="Make sure 48 V is off before anything is plugged.", caution=family.hurt_by_phantom
            ),
            PlugStep(slug="xlr", text=f"Microphone on its stand, XLR cable to input 1{booster_text}."),
            PlugStep(slug="phantom", text=switch_text, caution=family.hurt_by_phantom),
            PlugStep(slug="phones", text="Plug closed headphones into the interface."),
        )
    return (first, *chain, *_last_steps(program))


def plugged_phantom_rule(*, box: bool, active_box: bool = False) -> PhantomRule:
    """Return the phantom rule for an instrument that is plugged in, straight or through a DI box."""
    if not box:
        return PLUGGED_RULE
    return ACTIVE_BOX_RULE if active_box else PASSIVE_BOX_RULE


def plugged_order(*, box: bool, active_box: bool = False, software: str = "") -> tuple[PlugStep, ...]:
    """Return the steps for an instrument: plugged with everything down, its own volume set before the gain."""
    first = PlugStep(slug="down", text="Turn gain and headphones all the way down; monitors off.", caution=True)
    driver = PlugStep(
        slug="driver", text="Install the maker's driver if there is one, then plug the interface into the computer."
    )
    chain: tuple[PlugStep, ...]
    if box:
        chain = (
            PlugStep(slug="lead", text="Instrument into the DI box, with the short lead; box near the instrument."),
            PlugStep(slug="xlr", text="XLR cable from the DI box to a microphone input."),
            PlugStep(
                slug="phantom",
                text="Switch 48 V on and wait a few seconds." if active_box else "Leave 48 V off; look twice.",
            ),
            PlugStep(slug="lift", text="If it hums, lift the ground at the DI box, there only; never a mains earth."),
        )
    else:
        chain = (
            PlugStep(slug="lead", text="Instrument lead, under 5 m, into the instrument input (not line, not mic)."),
            PlugStep(slug="switch", text="Switch the input to instrument, or Hi-Z, if it has a switch."),
        )
    own = PlugStep(
        slug="own",
        text="A keyboard's own volume at 70 to 80 %; a guitar's or bass's all the way up: there it is tone, not level.",
    )
    phones = PlugStep(slug="phones", text="Plug closed headphones into the interface.")
    return (first, driver, *chain, own, phones, *_last_steps(software or "the recording software"))


def _last_steps(program: str) -> tuple[PlugStep, ...]:
    return (
        PlugStep(slug="device", text=f"In {program}, choose this device for input and output, not the built-in one."),
        PlugStep(slug="track", text="Add a mono track, pick the input, name it, arm it, and watch its meter move."),
        PlugStep(
            slug="gain",
            text="Raise the gain slowly during the loudest passage; then the headphones, from silence.",
            caution=True,
        ),
    )
