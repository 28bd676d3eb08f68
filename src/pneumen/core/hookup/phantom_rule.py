"""Whether the 48 V switch goes on for a part, by what is plugged in. Common practice of the trade, no source."""

from dataclasses import dataclass

from pneumen.core.gear import MicrophoneFamily
from pneumen.core.verdict import Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class PhantomRule:
    """Whether the 48 V switch goes on for this chain, and by which rule; verdict is clear, watch or stop."""

    rule: str
    switch_on: bool
    verdict: Verdict = Verdict.CLEAR


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
