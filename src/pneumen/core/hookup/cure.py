"""What one press changes at a joint so that a fault is gone, where a choice can do it."""

import math
from collections.abc import Callable
from typing import Final

import networkx as nx

from pneumen.core.hookup.additions import HEADSET, OTHER_MICROPHONE, PREAMP
from pneumen.core.hookup.chain import Chain
from pneumen.core.hookup.choices import FIXED_PADS, Choice
from pneumen.core.hookup.finding import Fault
from pneumen.core.hookup.kinds import DI_BOXES, INSTRUMENT, LINE

PLUGS: Final = ("passive-pickup", "active-pickup", "keyboard")
AT_THE_JOINT: Final = {
    "ribbon-phantom": ("phantom", "off"),
    "phantom-unbalanced": ("balanced", "balanced"),
    "mic-into-line": ("input", "mic"),
    "mono-on-stereo": ("track", "mono"),
    "not-enough-inputs": ("apart", "on"),
    "two-interfaces": ("apart", "on"),
}
"""What is chosen where the fault is."""
AT_ANOTHER: Final = {
    "amp-no-load": ("speaker", "amp", "cabinet"),
    "speaker-into-input": ("speaker", "source", "load box"),
    "load-too-small": ("speaker", "amp", "cabinet"),
    "open-speakers": ("power", "monitor", "off"),
    "not-driven": ("monitor", "device", "active"),
    "bus-power": ("supply", "device", "mains"),
}
"""What is chosen, at which of the devices the fault names, and how."""
TAKEN_OUT: Final = {
    "wireless-headset": ("headset", HEADSET),
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


def put_back(planned: Chain, chain: Chain, fault: Fault) -> Choice | None:
    """Return what plugs in again what was pulled, where a device that belongs on the way is not plugged in."""
    if fault.code != "no-signal-path":
        return None
    there = {one.ends_at for one in chain.cables}
    begins = fault.at.partition(".")[0]
    ahead = {begins} | (nx.descendants(planned.signal_graph(), begins) if begins in planned.by_id else set())
    pulled = next((one for one in planned.cables if one.from_device in ahead and one.ends_at not in there), None)
    return Choice(what="plugged", at=pulled.ends_at, value="in") if pulled else None


def _phantom_on(chain: Chain, fault: Fault) -> Choice | None:
    if "held_by" in fault.words:
        return None
    device = chain.by_id[fault.at.partition(".")[0]]
    feared = any(chain.origin_of(one)[1].fears_phantom for one in chain.into(device.id))
    return None if device.phantom_shared and feared else Choice(what="phantom", at=fault.at, value="on")


def _other_box(chain: Chain, fault: Fault) -> Choice | None:
    kinds = {"dulls": "active", "not-needed": "passive"}
    kind = kinds.get(fault.words["case"])
    return Choice(what="box", at=fault.words["box"], value=kind) if kind else None


def _apart_or_told(chain: Chain, fault: Fault) -> Choice:
    """Record the ribbon by itself; where nobody said how 48 V are switched, say that each input has its own."""
    if fault.words.get("case") == "unknown":
        return Choice(what="switch", at=fault.words["device"], value="each")
    return Choice(what="apart", at=fault.at, value="on")


def _box_near_it(chain: Chain, fault: Fault) -> Choice:
    """Put a DI box near an instrument that is far from its input, else use a shorter lead."""
    joint = next(one for one in chain.cables if one.ends_at == fault.at)
    source, device = chain.both_ends(joint)
    if device.kind == "interface" and source.kind in PLUGS:
        return Choice(what="box", at=fault.at, value="active" if source.kind == "passive-pickup" else "passive")
    return Choice(what="length", at=fault.at, value="3")


def _more_load(chain: Chain, fault: Fault) -> Choice:
    """Set the input to instrument where it can be, else put an active DI box before it."""
    device = chain.by_id[fault.at.partition(".")[0]]
    if INSTRUMENT in device.modes:
        return Choice(what="input", at=fault.at, value=INSTRUMENT)
    return Choice(what="box", at=fault.at, value="active")


def _less_level(chain: Chain, fault: Fault) -> Choice | None:
    """Set the input to line where it can be, else put a DI box before it."""
    device = chain.by_id[fault.at.partition(".")[0]]
    if LINE in device.modes:
        return Choice(what="input", at=fault.at, value=LINE)
    return Choice(what="box", at=fault.at, value="passive")


def _pad(chain: Chain, fault: Fault) -> Choice | None:
    """Put a pad before the input, turn it up where it has a control, or take a stronger one.

    A box that is overloaded itself gives way to a passive one.
    """
    device_id, _, _ = fault.at.partition(".")
    device = chain.by_id[device_id]
    if device.kind in DI_BOXES:
        return Choice(what="box", at=device_id, value="passive") if device.kind == "active-di" else None
    there = next(chain.by_id[one.from_device] for one in chain.cables if one.ends_at == fault.at)
    wanted_db = fault.figures["over_db"] - (there.adds_db if there.kind == "inline-pad" else 0.0)
    if there.strongest_db is not None and wanted_db <= -there.strongest_db:
        return Choice(what="pad-db", at=fault.at, value=f"{math.ceil(wanted_db - 1e-9)}")
    pad = next((one for one in FIXED_PADS if float(one) >= wanted_db), None)
    return Choice(what="pad", at=fault.at, value=pad) if pad else None


def _booster(chain: Chain, fault: Fault) -> Choice | None:
    """Put a booster behind a microphone that needs no 48 V."""
    joint = next(one for one in chain.cables if one.ends_at == fault.at)
    _, source = chain.origin_of(joint)
    fits = source.facts.microphone and not source.wants_phantom
    return Choice(what="booster", at=fault.at, value="on") if fits else None


def _one_of_two(chain: Chain, fault: Fault) -> Choice:
    """Leave out the microphone that was added, or record the part of the other by itself."""
    if OTHER_MICROPHONE in chain.by_id:
        return Choice(what="also", at="other-microphone", value="off")
    return Choice(what="apart", at=fault.at, value="on")


def _one_rate(chain: Chain, fault: Fault) -> Choice:
    """Set the device to the rate of the computer's project."""
    ends = [chain.by_id[fault.words[name]] for name in ("device", "other")]
    project, device = sorted(ends, key=lambda one: one.kind != "computer")
    return Choice(what="rate", at=device.id, value=f"{project.rate_hz}")


def _thick_lead(chain: Chain, fault: Fault) -> Choice:
    return Choice(what="lead", at=fault.at, value="speaker")


def _straight_on(chain: Chain, fault: Fault) -> Choice | None:
    """Take an insert's preamp back to the interface."""
    return Choice(what="returns", at=PREAMP, value="interface") if PREAMP in chain.by_id else None


def _own_ears(chain: Chain, fault: Fault) -> Choice | None:
    """Plug the headphones into what records; monitors have no such plug."""
    cable = next(one for one in chain.cables if one.begins_at == fault.at)
    is_ears = chain.by_id[cable.to_device].kind == "headphones"
    return Choice(what="ears", at=cable.to_device, value="interface") if is_ears else None


def _adapter(chain: Chain, fault: Fault) -> Choice | None:
    ears = next(one.id for one in chain.of_kind("headphones") if one.plug == fault.words["plug"])
    socket = fault.words["socket"]
    return Choice(what="plug", at=ears, value=socket) if socket in ("3.5 mm", "6.35 mm") else None


def _no_loop(chain: Chain, fault: Fault) -> Choice | None:
    """Lift the ground at the box, or else move the lonelier of two mains plugs to where the others are."""
    if fault.words.get("box"):
        shared = chain.by_id[fault.words["box"]].lift_shared
        return Choice(what="lift", at=fault.words["box"] if shared else fault.at, value="on")
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
    "phantom-shared-ribbon": _apart_or_told,
    "long-unbalanced": _box_near_it,
    "pickup-loading": _more_load,
    "line-into-mic": _less_level,
    "overload": _pad,
    "low-gain": _booster,
    "loading": _booster,
    "usb-mic-and-interface": _one_of_two,
    "rate-mismatch": _one_rate,
    "speaker-lead": _thick_lead,
    "signal-loop": _straight_on,
    "two-clocks": _own_ears,
    "ground-loop": _no_loop,
}
