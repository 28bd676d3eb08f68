"""The rule for the 48 V switch, in sentences."""

from typing import Final

from pneumen.core.hookup import PhantomRule
from pneumen.wording.language import _

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


def phantom_told(rule: PhantomRule) -> str:
    """Say whether 48 V goes on, and why."""
    return RULES[rule.rule]
