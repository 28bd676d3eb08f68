"""What one press changes at a joint so that a fault is gone, where a choice can do it."""

from collections.abc import Callable
from typing import Final

from pneumen.core.hookup.additions import HEADSET, OTHER_MICROPHONE
from pneumen.core.hookup.chain import Chain
from pneumen.core.hookup.choices import Choice
from pneumen.core.hookup.finding import Fault

AT_THE_JOINT: Final = {
    "ribbon-phantom": ("phantom", "off"),
    "long-unbalanced": ("length", "3"),
    "phantom-unbalanced": ("balanced", "balanced"),
    "mic-into-line": ("input", "mic"),
    "pickup-loading": ("input", "instrument"),
    "line-into-mic": ("input", "line"),
}
"""What is chosen where the fault is."""
AT_ANOTHER: Final = {
    "amp-no-load": ("speaker", "amp", "cabinet"),
    "speaker-into-input": ("speaker", "source", "load box"),
    "speaker-lead": ("speaker", "amp", "cabinet"),
}
"""What is chosen, at which of the devices the fault names, and how."""
TAKEN_OUT: Final = {
    "wireless-headset": ("headset", HEADSET),
    "usb-mic-and-interface": ("other-microphone", OTHER_MICROPHONE),
}
"""What was added and can be left out again, and the device that tells so."""


def cure_of(chain: Chain, fault: Fault) -> Choice | None:
    """Return the choice that cures a fault; None where another device, or a person, has to."""
    if fault.code in AT_THE_JOINT:
        what, value = AT_THE_JOINT[fault.code]
        return Choice(what=what, at=fault.at, value=value)
    if fault.code in AT_ANOTHER:
        what, name, value = AT_ANOTHER[fault.code]
        return Choice(what=what, at=fault.words[name], value=value)
    if fault.code in TAKEN_OUT:
        name, device = TAKEN_OUT[fault.code]
        return Choice(what="also", at=name, value="off") if device in chain.by_id else None
    cure = LOOKED_FOR.get(fault.code)
    return cure(chain, fault) if cure else None


def _phantom_on(chain: Chain, fault: Fault) -> Choice | None:
    if "held_by" in fault.words:
        return None
    device = chain.by_id[fault.at.partition(".")[0]]
    feared = any(chain.by_id[one.from_device].fears_phantom for one in chain.into(device.id))
    return None if device.phantom_shared and feared else Choice(what="phantom", at=fault.at, value="on")


def _other_box(chain: Chain, fault: Fault) -> Choice | None:
    kinds = {"dulls": "active", "not-needed": "passive"}
    kind = kinds.get(fault.words["case"])
    return Choice(what="box", at=fault.words["box"], value=kind) if kind else None


def _adapter(chain: Chain, fault: Fault) -> Choice | None:
    ears = next(one.id for one in chain.of_kind("headphones") if one.plug == fault.words["plug"])
    socket = fault.words["socket"]
    return Choice(what="plug", at=ears, value=socket) if socket in ("3.5 mm", "6.35 mm") else None


def _no_loop(chain: Chain, fault: Fault) -> Choice | None:
    """Lift the ground at the box, or else move the lonelier of two mains plugs to where the others are."""
    if fault.words.get("box"):
        return Choice(what="lift", at=fault.words["box"], value="on")
    ends = fault.words["path"].split(", ")
    plugs = [one for one in chain.cables if one.connector == "mains"]
    here = [one for one in plugs if one.to_device in (ends[0], ends[-1])]
    walls = [one.from_device for one in plugs]
    lonely = min(here, key=lambda one: walls.count(one.from_device), default=None)
    return Choice(what="outlet", at=lonely.to_device, value="strip") if lonely else None


LOOKED_FOR: Final[dict[str, Callable[[Chain, Fault], Choice | None]]] = {
    "condenser-no-phantom": _phantom_on,
    "phantom-missing": _phantom_on,
    "wrong-di": _other_box,
    "headphone-adapter": _adapter,
    "ground-loop": _no_loop,
}
