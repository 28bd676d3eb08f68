"""What one can change at the joints and devices of a chain, and what was changed."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.hookup import BOX, BUS_W, VALUES, Cable, Chain, Choice, Device, can_be_added
from pneumen.core.kit import settings_of_pad
from pneumen.web.hookup.gear import now_of
from pneumen.web.hookup.services import Connection, part_at
from pneumen.web.part.models import Part
from pneumen.wording.joints import (
    ABOUT,
    ADDITIONS,
    ALSO,
    CONNECTOR_WORDS,
    DECIBELS,
    MAINS_PLUGS,
    OPTIONS,
    length_told,
    port_told,
)
from pneumen.wording.language import _
from pneumen.wording.lengths import far_field

USUAL_MA: Final = 4.0
"""What a condenser microphone draws, where its sheet is not at hand (common practice, no source)."""
INTERFACE_W: Final = ("2.5", "5")
AMPLIFIER_W: Final = ("15", "30", "60", "100")


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


def joints_of(connection: Connection, chain: Chain) -> tuple[JointTold, ...]:
    """Return what can be changed at each joint of a chain as it was chosen."""
    return tuple(_joint_told(connection, chain, cable) for cable in chain.cables if _can_be_changed(chain, cable))


def devices_of(connection: Connection, chain: Chain, choices: Sequence[Choice]) -> tuple[JointTold, ...]:
    """Return what can be changed at each device of a chain as it was chosen, and what may be there too."""
    told = [
        JointTold(at=name, name=name, note="", length_told="", picks=tuple(picks))
        for name, picks in _device_picks(connection, chain)
        if picks
    ]
    return (*told, _additions_told(connection.chain, chain, choices))


def place_told(at: str) -> str:
    """Name a device and its port as people do."""
    device, _rest, port = at.partition(".")
    return f"{device}, {port_told(port)}" if port else device


def _can_be_changed(chain: Chain, cable: Cable) -> bool:
    source, device = chain.both_ends(cable)
    return cable.connector not in ("usb", "mains") and device.kind != "headphones" and source.kind != "interface"


def _joint_told(connection: Connection, chain: Chain, cable: Cable) -> JointTold:
    device, at = chain.by_id[cable.to_device], cable.ends_at
    picks = [_pick("balanced", at, "balanced" if cable.is_balanced else "unbalanced")]
    if device.facts.feeds_phantom:
        mode = device.mode(cable.to_port)
        picks.append(_pick("input", at, mode, among=device.modes))
        if mode == "mic":
            picks.append(_pick("phantom", at, "on" if device.phantom_on(cable.to_port) else "off"))
    if device.kind == "interface":
        picks.append(_pick("track", at, device.tracks.get(cable.to_port, "mono")))
        picks += _gear_picks(part_at(connection, at), at)
    picks.append(_pick("plugged", at, "in"))
    return JointTold(
        at=at,
        name=_("{from_device} to {id}, {to_port}").format(
            from_device=cable.from_device, id=device.id, to_port=port_told(cable.to_port)
        ),
        note=CONNECTOR_WORDS[cable.connector],
        length_told=far_field(cable.length_m),
        picks=tuple(picks),
    )


def _gear_picks(part: Part | None, at: str) -> list[Pick]:
    """What may stand before an input and belongs to the gear of its part."""
    if part is None:
        return []
    picks = [_pick("pad", at, now_of(part, "pad")), *_pad_settings(part, at)]
    if part.is_plugged:
        picks.append(_pick("box", at, now_of(part, "box")))
    elif part.microphone is not None and not part.microphone.microphone_family.needs_phantom:
        picks.append(_pick("booster", at, now_of(part, "booster")))
    return picks


def _pad_settings(part: Part, at: str) -> Iterator[Pick]:
    """What a pad with a control can be set to."""
    if part.pad_as_sold and part.strongest_pad_db is not None:
        options = tuple((f"{one:g}", DECIBELS.format(db=f"{one:g}")) for one in settings_of_pad(part.pad_as_sold))
        yield Pick(what="pad-db", at=at, label=ABOUT["pad-db"], options=options, now=now_of(part, "pad-db"))


def _pick(what: str, at: str, now: str, label: str = "", among: Sequence[str] = ()) -> Pick:
    options = tuple((value, OPTIONS.get((what, value), value)) for value in among or VALUES[what])
    return Pick(what=what, at=at, label=label or ABOUT[what], options=options, now=now)


def _device_picks(connection: Connection, chain: Chain) -> Iterator[tuple[str, list[Pick]]]:
    """What is chosen at a device, by its name."""
    for device in chain.devices:
        yield device.id, list(_picks_at(connection, chain, device))
    plugs = [one for one in chain.cables if one.connector == "mains"]
    if len(plugs) > 1:
        walls = {one.to_device: "other" if one.from_device != plugs[0].from_device else "strip" for one in plugs}
        yield MAINS_PLUGS, [_pick("outlet", device, now, device) for device, now in walls.items()]


def _picks_at(connection: Connection, chain: Chain, device: Device) -> Iterator[Pick]:
    match device.kind:
        case "active-di" | "passive-di":
            if part_at(connection, device.id) is None:  # a part's own is chosen at its joint
                yield _pick("box", device.id, device.kind.removesuffix("-di"), among=("active", "passive"))
            yield from _lift_picks(chain, device)
        case "tube-amp":
            yield from _amplifier_picks(chain, device)
        case "headphones":
            if device.plug in VALUES["plug"]:
                yield _pick("plug", device.id, device.plug)
            yield from _ears_picks(chain, device)
        case "active-monitor" | "passive-monitor" if not _is_on_an_amplifier(chain, device):
            yield _pick("power", device.id, "off" if device.switched_off else "on")
            yield _pick("monitor", device.id, device.kind.removesuffix("-monitor"))
        case "condenser-microphone":
            yield _pick("current", device.id, f"{device.current_ma or USUAL_MA:g}")
        case "preamp":
            back = any(one.to_device == BOX for one in chain.out_of(device.id))
            yield _pick("returns", device.id, "itself" if back else "interface")
        case "interface":
            yield from _interface_picks(chain, device)
        case "computer":
            if any(one.systems for one in chain.devices):
                yield _pick("system", device.id, device.system or VALUES["system"][0])


def _lift_picks(chain: Chain, box: Device) -> Iterator[Pick]:
    """The ground lift of a box: one switch, or one for each of several channels."""
    outputs = sorted({one.from_port for one in chain.out_of(box.id) if one.from_port != "thru"})
    if len(outputs) > 1:
        yield _pick("lifts", box.id, "all" if box.lift_shared else "each")
    if box.lift_shared:
        yield _pick("lift", box.id, "on" if box.ground_lift else "off")
        return
    for port in outputs:
        label = f"{ABOUT['lift']}, {port_told(port)}"
        yield _pick("lift", f"{box.id}.{port}", "on" if box.lifts.get(port) else "off", label)


def _amplifier_picks(chain: Chain, amp: Device) -> Iterator[Pick]:
    yield _pick("speaker", amp.id, _end_of(chain, amp.id))
    yield _pick("watt", amp.id, f"{amp.watts:g}", among=AMPLIFIER_W)
    for cable in chain.out_of(amp.id):
        if cable.from_port == "speaker" and cable.connector in VALUES["lead"]:
            yield _pick("lead", cable.ends_at, cable.connector)


def _ears_picks(chain: Chain, ears: Device) -> Iterator[Pick]:
    plugged = next(iter(chain.into(ears.id)), None)
    if plugged is not None and chain.of_kind("computer"):
        at_computer = chain.by_id[plugged.from_device].kind == "computer"
        yield _pick("ears", ears.id, "computer" if at_computer else "interface")


def _interface_picks(chain: Chain, interface: Device) -> Iterator[Pick]:
    yield _pick("switch", interface.id, "all" if interface.phantom_shared else "each")
    if interface.rate_hz is not None:
        yield _pick("rate", interface.id, f"{interface.rate_hz}")
    on_mains = any(one.connector == "mains" for one in chain.into(interface.id))
    yield _pick("supply", interface.id, "mains" if on_mains else "computer")
    if not on_mains:
        yield _pick("watt", interface.id, f"{interface.power_w or BUS_W:g}", among=INTERFACE_W)


def _is_on_an_amplifier(chain: Chain, speaker: Device) -> bool:
    return any(chain.by_id[one.from_device].kind == "tube-amp" for one in chain.into(speaker.id))


def _end_of(chain: Chain, amp: str) -> str:
    """Return what hangs on an amplifier's speaker output."""
    driven = next((one for one in chain.out_of(amp) if one.from_port == "speaker"), None)
    if driven is None:
        return "nothing"
    kind = chain.by_id[driven.to_device].kind
    return {"passive-monitor": _("cabinet"), "load-box": _("load box")}.get(kind, "interface")


def _additions_told(planned: Chain, chain: Chain, choices: Sequence[Choice]) -> JointTold:
    """What may be there too: beside what is planned, or beside what was added already."""
    added = {one.at for one in choices if one.what == "also"}
    possible = dict.fromkeys((*can_be_added(planned), *can_be_added(chain), *added))
    picks = tuple(_pick("also", one, "on" if one in added else "off", _label(one)) for one in possible)
    return JointTold(at="also", name=ALSO, note="", length_told="", picks=picks)


def _label(addition: str) -> str:
    told = ADDITIONS[addition]
    return f"{told[0].upper()}{told[1:]}"


def change_told(choice: Choice, name: str = "") -> ChangeTold:
    """Say what was chosen.

    Args:
        name: whose it is, where it belongs to a part's gear.
    """
    if choice.what == "also":
        told = ADDITIONS[choice.at]
    elif choice.what == "length":
        told = f"{place_told(choice.at)}: {length_told(float(choice.value))}"
    else:
        number = DECIBELS.format(db=choice.value) if choice.what == "pad-db" else choice.value
        value = OPTIONS.get((choice.what, choice.value), number)
        told = f"{name or place_told(choice.at)}: {ABOUT[choice.what]}, {value}"
    return ChangeTold(what=choice.what, at=choice.at, told=told)
