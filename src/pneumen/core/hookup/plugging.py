"""The order of plugging as a checklist. Common practice of the trade, no source."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gear import MicrophoneFamily
from pneumen.core.verdict import Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class PhantomRule:
    """Whether the 48 V switch goes on for this chain, and by which rule; verdict is clear, watch or stop."""

    rule: str
    switch_on: bool
    verdict: Verdict = Verdict.CLEAR


@dataclass(frozen=True, slots=True, kw_only=True)
class PlugStep:
    """One step of the checklist: slug is its place in it, act what is done there with this gear."""

    slug: str
    act: str = ""
    caution: bool = False

    def __post_init__(self) -> None:
        if not self.act:
            object.__setattr__(self, "act", self.slug)


RECORDER_ORDER: Final = (
    PlugStep(slug="down", act="dial-down", caution=True),
    PlugStep(slug="card"),
    PlugStep(slug="stand", act="recorder-stand"),
    PlugStep(slug="menu"),
    PlugStep(slug="phones", act="recorder-phones"),
    PlugStep(slug="gain", act="dial-gain", caution=True),
)
LAST_STEPS: Final = (PlugStep(slug="device"), PlugStep(slug="track"), PlugStep(slug="gain", caution=True))
DOWN: Final = PlugStep(slug="down", caution=True)


def phantom_rule(family: MicrophoneFamily, *, booster: bool = False) -> PhantomRule:
    """Return the phantom rule for a microphone, decided by what it needs and what hurts it, not by its looks."""
    if family.plug == "none":
        return PhantomRule(rule="recorder", switch_on=False)
    if family.plug == "usb":
        return PhantomRule(rule="usb", switch_on=False)
    if booster:
        verdict = Verdict.STOP if family.hurt_by_phantom else Verdict.WATCH
        return PhantomRule(rule="booster", switch_on=True, verdict=verdict)
    if family.hurt_by_phantom:
        return PhantomRule(rule="hurts", switch_on=False, verdict=Verdict.STOP)
    return PhantomRule(rule="needed" if family.needs_phantom else "not-needed", switch_on=family.needs_phantom)


def plugged_phantom_rule(*, box: bool, active_box: bool = False) -> PhantomRule:
    """Return the phantom rule for an instrument that is plugged in, straight or through a DI box."""
    if not box:
        return PhantomRule(rule="instrument-input", switch_on=False)
    return PhantomRule(rule="active-box" if active_box else "passive-box", switch_on=active_box)


def plugging_order(family: MicrophoneFamily, *, booster: bool = False) -> tuple[PlugStep, ...]:
    """Return the steps from silence to a moving meter, in the order that hurts neither ears nor gear."""
    if family.plug == "none":
        return RECORDER_ORDER
    chain: tuple[PlugStep, ...]
    if family.plug == "usb":
        chain = (
            PlugStep(slug="stand", act="usb-stand"),
            PlugStep(slug="usb"),
            PlugStep(slug="phones", act="usb-phones"),
        )
    else:
        hurt = family.hurt_by_phantom
        chain = (
            PlugStep(slug="driver"),
            PlugStep(slug="before", caution=hurt),
            PlugStep(slug="xlr", act="xlr-boosted" if booster else "xlr"),
            _phantom_step(phantom_rule(family, booster=booster), caution=hurt),
            PlugStep(slug="phones"),
        )
    return (DOWN, *chain, *LAST_STEPS)


def plugged_order(*, box: bool, active_box: bool = False) -> tuple[PlugStep, ...]:
    """Return the steps for an instrument: plugged with everything down, its own volume set before the gain."""
    chain: tuple[PlugStep, ...]
    if box:
        phantom = _phantom_step(plugged_phantom_rule(box=True, active_box=active_box))
        chain = (PlugStep(slug="lead", act="lead-to-box"), PlugStep(slug="xlr", act="xlr-from-box"), phantom)
        chain = (*chain, PlugStep(slug="lift"))
    else:
        chain = (PlugStep(slug="lead"), PlugStep(slug="switch"))
    return (DOWN, PlugStep(slug="driver"), *chain, PlugStep(slug="own"), PlugStep(slug="phones"), *LAST_STEPS)


def _phantom_step(rule: PhantomRule, *, caution: bool = False) -> PlugStep:
    return PlugStep(slug="phantom", act="phantom-on" if rule.switch_on else "phantom-off", caution=caution)
