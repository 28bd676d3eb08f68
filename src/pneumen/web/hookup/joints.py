"""What one can change at the joints and devices of a chain, and what was changed."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from pneumen.core.hookup import VALUES, Cable, Chain, Choice, can_be_added
from pneumen.wording.chain import (
    ABOUT,
    ADDITIONS,
    ALSO,
    CONNECTOR_WORDS,
    MAINS_PLUGS,
    OPTIONS,
    length_told,
    port_told,
)
from pneumen.wording.lengths import far_field


@dataclass(frozen=True, slots=True, kw_only=True)
class Pick:
    """A choice one makes at a joint or a device: about what, where, and the options, one of which holds."""

    what: str
    at: str
    label: str
    options: tuple[tuple[str, str], ...]
    now: str


@dataclass(frozen=True, slots=True, kw_only=True)
class JointTold:
    """A joint or a device that can be changed; length_told is empty where no cable's length is asked."""

    at: str
    name: str
    note: str
    length_told: str
    picks: tuple[Pick, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeTold:
    """What was chosen here, so that it can be taken back."""

    what: str
    at: str
    told: str


def joints_of(chain: Chain) -> tuple[JointTold, ...]:
    """Return what can be changed at each joint."""
    return tuple(_joint_told(chain, cable) for cable in chain.cables if _can_be_changed(chain, cable))


def devices_of(planned: Chain, chain: Chain, choices: Sequence[Choice]) -> tuple[JointTold, ...]:
    """Return what can be changed at each device, and what may be there too.

    Args:
        planned: the chain as its gear makes it.
        chain: as it was chosen.
    """
    return (*_devices_told(chain), _additions_told(planned, choices))


def place_told(at: str) -> str:
    """Name a device and its port as people do."""
    device, _, port = at.partition(".")
    return f"{device}, {port_told(port)}" if port else device


def _can_be_changed(chain: Chain, cable: Cable) -> bool:
    source, device = chain.both_ends(cable)
    return cable.connector not in ("usb", "mains") and device.kind != "headphones" and source.kind != "interface"


def _joint_told(chain: Chain, cable: Cable) -> JointTold:
    device, at = chain.by_id[cable.to_device], cable.ends_at
    picks = [_pick("balanced", at, "balanced" if cable.is_balanced else "unbalanced")]
    if device.facts.feeds_phantom:
        mode = device.mode(cable.to_port)
        picks.append(_pick("input", at, mode))
        if mode == "mic":
            picks.append(_pick("phantom", at, "on" if device.phantom_on(cable.to_port) else "off"))
    picks.append(_pick("plugged", at, "in"))
    return JointTold(
        at=at,
        name=f"{cable.from_device} to {device.id}, {port_told(cable.to_port)}",
        note=CONNECTOR_WORDS[cable.connector],
        length_told=far_field(cable.length_m),
        picks=tuple(picks),
    )


def _pick(what: str, at: str, now: str, label: str = "") -> Pick:
    options = tuple((value, OPTIONS.get((what, value), value)) for value in VALUES[what])
    return Pick(what=what, at=at, label=label or ABOUT[what], options=options, now=now)


def _devices_told(chain: Chain) -> Iterator[JointTold]:
    """What is chosen at a device: a DI box's kind and lift, an amplifier's load, a headphone plug, the mains."""
    for box in chain.of_kind("active-di", "passive-di"):
        lifted = "on" if box.ground_lift else "off"
        yield _at_device(box.id, [_pick("box", box.id, box.kind.removesuffix("-di")), _pick("lift", box.id, lifted)])
    for amp in chain.of_kind("tube-amp"):
        yield _at_device(amp.id, [_pick("speaker", amp.id, _end_of(chain, amp.id))])
    for ears in chain.of_kind("headphones"):
        if ears.plug in VALUES["plug"]:
            yield _at_device(ears.id, [_pick("plug", ears.id, ears.plug)])
    plugs = [one for one in chain.cables if one.connector == "mains"]
    if len(plugs) > 1:
        walls = {one.to_device: "other" if one.from_device != plugs[0].from_device else "strip" for one in plugs}
        yield _at_device(MAINS_PLUGS, [_pick("outlet", device, now, device) for device, now in walls.items()])


def _at_device(name: str, picks: list[Pick]) -> JointTold:
    return JointTold(at=name, name=name, note="", length_told="", picks=tuple(picks))


def _end_of(chain: Chain, amp: str) -> str:
    """Return what hangs on an amplifier's speaker output."""
    driven = next((one for one in chain.out_of(amp) if one.from_port == "speaker"), None)
    if driven is None:
        return "nothing"
    kind = chain.by_id[driven.to_device].kind
    return {"passive-monitor": "cabinet", "load-box": "load box"}.get(kind, "interface")


def _additions_told(planned: Chain, choices: Sequence[Choice]) -> JointTold:
    added = {one.at for one in choices if one.what == "also"}
    picks = tuple(_pick("also", one, "on" if one in added else "off", _label(one)) for one in can_be_added(planned))
    return JointTold(at="also", name=ALSO, note="", length_told="", picks=picks)


def _label(addition: str) -> str:
    told = ADDITIONS[addition]
    return f"{told[0].upper()}{told[1:]}"


def change_told(choice: Choice) -> ChangeTold:
    """Say what was chosen."""
    if choice.what == "also":
        told = ADDITIONS[choice.at]
    elif choice.what == "length":
        told = f"{place_told(choice.at)}: {length_told(float(choice.value))}"
    else:
        value = OPTIONS.get((choice.what, choice.value), choice.value)
        told = f"{place_told(choice.at)}: {ABOUT[choice.what]}, {value}"
    return ChangeTold(what=choice.what, at=choice.at, told=told)
