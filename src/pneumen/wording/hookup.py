"""The rule for the 48 V switch, a way that is sound, and what a lead does, in sentences."""

from collections.abc import Mapping, Sequence
from typing import Final

from pneumen.core.hookup import PhantomRule
from pneumen.wording.figures import figure
from pneumen.wording.joints import length_told
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


LEFT: Final = _("Of 48 V a microphone gets {left} (IEC 61938); its sheet says what it draws and needs.")
UNDER: Final = _("{volt} V under {current} mA")
AND: Final = _("and")
WAY: Final = _("{name} reaches the file through {stations}; nothing is wrong on the way out and back.")
LEAD: Final = _(
    "{length} of lead into {load} ohm: it rings at {rings} kHz, by {peak} dB at most; above, the treble falls away."
)


def phantom_left_told(volts: Mapping[float, float]) -> str:
    """Say what is left of 48 V, by the current in mA that a microphone draws."""
    told = [UNDER.format(volt=figure(volt, 1), current=figure(current)) for current, volt in volts.items()]
    return LEFT.format(left=_listed(told))


def way_told(name: str, stations: Sequence[str]) -> str:
    """Say by which devices a sound reaches its file, where nothing is wrong."""
    return WAY.format(name=name, stations=_listed(stations))


def lead_told(length_m: float, load_ohm: float, rings_hz: float, peak_db: float) -> str:
    """Say what a lead does to a passive pickup."""
    rings, peak = figure(rings_hz / 1000, 1), figure(peak_db, 1, sign=True)
    return LEAD.format(length=length_told(length_m), load=f"{load_ohm:,.0f}", rings=rings, peak=peak)


def _listed(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} {AND} {words[-1]}"
