"""What is said of families of microphones: how they sound, what they bear, and what speaks against one."""

from typing import Final

from pneumen.core.gear import MicrophoneFamily
from pneumen.wording.language import _

ATTACKS: Final = {
    "fastest": _("the fastest: every pluck and tick"),
    "fast": _("fast, detailed"),
    "slow": _("softened a little"),
    "rounded": _("rounded"),
}
TONES: Final = {"bright": _("bright"), "neutral": _("neutral"), "dark": _("dark, tames what is harsh")}
KEEPS: Final = {
    "any-interface": _("with any interface, for decades"),
    "computer": _("with a computer only; the next interface has no use for it"),
    "itself": _("by itself, anywhere; without a computer"),
}
AGAINST: Final = {
    "overload": _("too loud for its capsule here"),
    "noise": _("its noise, or the room’s, comes near the quiet phrases"),
    "room": _("the room is heard"),
    "low": _("its level stays low with the gain at its stop"),
    "harsh": _("bright on a harsh source"),
    "attack": _("softens the attack that makes this sound"),
    "pops": _("pops easily: put a screen before it, or stand beside it"),
    "fragile": _("fragile near sticks, feet and loud amplifiers"),
}
"""What speaks against a family, by kind."""


def phantom_told(family: MicrophoneFamily) -> str:
    """Say whether a family takes 48 V."""
    if family.plug == "none":
        return _("nothing to plug")
    if family.plug == "usb":
        return _("none: USB feeds it")
    if family.hurt_by_phantom:
        return _("off: 48 V may destroy it")
    return _("48 V, needed") if family.needs_phantom else _("not needed")


def bears_told(sturdy: int, *, pops_easily: bool) -> str:
    """Say how a family bears hands, drops and air."""
    hands = {1: _("one drop or one blast ends it"), 2: _("delicate"), 3: _("with care"), 4: _("sturdy")}
    told = hands.get(sturdy, _("bears almost all"))
    return _("{told}; pops easily").format(told=told) if pops_easily else told
