"""The chain of devices that a kit and the parts recorded together make: built by itself, joint by joint."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Final

from pneumen.core.errors import given
from pneumen.core.gear import MicrophoneFamily, interface_from_sheet
from pneumen.core.hookup import Cable, Chain, Device
from pneumen.core.kit.catalogue import socket_of
from pneumen.core.kit.item import Item
from pneumen.core.kit.leads import CABLE_M, LINE_CABLE_M
from pneumen.core.part import Source

BOOSTER_LEAD_M: Final = 0.5
BOX_LEAD_M: Final = 2.0
PAD_LEAD_M: Final = 0.5
USUAL_PLUG: Final = "3.5 mm"
"""What most closed headphones end in (common practice, no source)."""
COMPUTER, HEADPHONES, STRIP = "Computer", "Headphones", "Outlet strip"


@dataclass(frozen=True, slots=True, kw_only=True)
class Recorded:
    """A part and what it is recorded with.

    output_dbu is the loudest its microphone or plug gives, where known. pad is as it is set; strongest_pad_db what it
    adds at the strongest setting of its control, None without one.
    """

    name: str
    source: Source
    microphone: Item | None
    hub: Item | None
    booster: Item | None = None
    box: Item | None = None
    pad: Item | None = None
    strongest_pad_db: float | None = None
    channels: int = 1
    output_dbu: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Connected:
    """A chain, and for each part the devices its sound passes, from where it begins to where it is recorded."""

    chain: Chain
    ways: tuple[tuple[str, ...], ...]


@dataclass(slots=True, kw_only=True)
class _Builder:
    devices: dict[str, Device] = field(default_factory=dict)
    cables: list[Cable] = field(default_factory=list)
    hubs: dict[str, str] = field(default_factory=dict)
    taken: dict[str, int] = field(default_factory=dict)
    system: str = ""
    rate_hz: int | None = None
    cable_m: float = CABLE_M
    computer: str = ""
    strip: str = ""

    def add(self, name: str, kind: str, **facts: object) -> str:
        """Add a device under a name of its own."""
        plain, number = name.replace(".", " ").strip() or kind, 1
        unique = plain
        while unique in self.devices:
            number += 1
            unique = f"{plain} {number}"
        self.devices[unique] = Device(id=unique, kind=kind, **facts)  # type: ignore[arg-type]
        return unique

    def join(self, begin: str, end: str, connector: str, length_m: float | None = None, *, port: str = "out") -> None:
        """Lay a cable from a device's port to another's, "device.port"; where no length is told, to the desk."""
        device, _, to_port = end.partition(".")
        self.cables.append(
            Cable(
                from_device=begin,
                from_port=port,
                to_device=device,
                to_port=to_port,
                connector=connector,
                length_m=self.cable_m if length_m is None else length_m,
            )
        )

    def next_input(self, hub: str, mode: str, *, phantom: bool, stereo: bool = False) -> str:
        """Take the next free input of a hub, set for what is plugged in."""
        self.taken[hub] = number = self.taken.get(hub, 0) + 1
        port, device = f"in{number}", self.devices[hub]
        facts: dict[str, object] = {
            "inputs": {**device.inputs, port: mode},
            "phantom": {**device.phantom, port: phantom},
        }
        if mode != "mic":  # what the sheet says holds for microphone inputs: a line input has a pad before it
            facts |= {"max_input_dbu": None, "input_impedance_ohm": None}
        if stereo:
            facts["tracks"] = {**device.tracks, port: "stereo"}
        self.devices[hub] = replace(device, **facts)  # type: ignore[arg-type]
        return f"{hub}.{port}"


def connected(
    parts: Sequence[Recorded],
    *,
    monitors: bool = False,
    system: str = "",
    rate_hz: int | None = None,
    cable_m: float = CABLE_M,
) -> Connected:
    """Return the chain of parts that are recorded together, every lead, adapter and switch as it ought to be.

    Args:
        monitors: whether two loudspeakers hang on the interface.
        system: what the computer runs, "" where it is not told.
        rate_hz: the rate the project is recorded at.
        cable_m: how long the cables from the stands and instruments to the desk are.
    """
    build = _Builder(system=system, rate_hz=rate_hz, cable_m=cable_m)
    ways = tuple(_way(build, part) for part in parts)
    _listening(build, monitors=monitors)
    _unshared(build)
    return Connected(chain=Chain(devices=tuple(build.devices.values()), cables=tuple(build.cables)), ways=ways)


def _way(build: _Builder, part: Recorded) -> tuple[str, ...]:
    if part.microphone is None:
        return _plugged(build, part)
    if part.microphone.kind == "recorder":
        return (_hub(build, part.microphone),)
    family = part.microphone.microphone_family
    if family.plug == "usb":
        name = build.add(part.microphone.name, "usb-microphone")
        build.join(name, f"{_computer(build)}.{_usb_port(build)}", "usb", LINE_CABLE_M, port="usb")
        return name, build.computer
    hub, names = _hub(build, given("interface", part.hub)), []
    for _ in range(part.channels):
        name = build.add(part.microphone.name, _microphone_kind(family), **_microphone_facts(part))
        names.append(name)
        fed = family.needs_phantom
        if part.booster is not None:
            booster = build.add(part.booster.name, "inline-booster", gain_db=part.booster.gain_db)
            build.join(name, f"{booster}.in", "xlr", BOOSTER_LEAD_M)
            names.append(booster)
            name, fed = booster, True
        port = build.next_input(hub, "mic", phantom=fed, stereo=part.channels > 1)
        names += _into(build, part, name, port, "xlr")
    return (*names, hub, *_behind(build, hub))


def _into(
    build: _Builder, part: Recorded, name: str, end: str, connector: str, *, port: str = "out"
) -> tuple[str, ...]:
    """Lay the last lead to an input, through the part's pad where it has one; return what stands on the way."""
    if part.pad is None:
        build.join(name, end, connector, port=port)
        return ()
    pad = build.add(part.pad.name, "inline-pad", gain_db=part.pad.gain_db, strongest_db=part.strongest_pad_db)
    build.join(name, f"{pad}.in", connector, port=port)
    build.join(pad, end, connector, PAD_LEAD_M)
    return (pad,)


def _microphone_kind(family: MicrophoneFamily) -> str:
    if family.hurt_by_phantom:
        return "ribbon-microphone"
    return "condenser-microphone" if family.needs_phantom else "dynamic-microphone"


def _microphone_facts(part: Recorded) -> dict[str, object]:
    item = given("microphone", part.microphone)
    family = item.microphone_family
    facts: dict[str, object] = {"needs_phantom": family.needs_phantom, "hurt_by_phantom": family.hurt_by_phantom}
    return facts | {"output_impedance_ohm": item.impedance_ohm, "output_dbu": part.output_dbu}


def _plugged(build: _Builder, part: Recorded) -> tuple[str, ...]:
    passive, hub_item = part.source.is_passive, given("interface", part.hub)
    kind = "keyboard" if part.source.slug == "keyboard" else "passive-pickup" if passive else "active-pickup"
    hub = _hub(build, hub_item)
    name = build.add(part.name, kind, output_dbu=part.output_dbu)
    names = [name]
    for channel in range(part.channels):
        out = "out" if part.channels == 1 else f"out{channel + 1}"
        if part.box is not None:
            active = part.box.active is True
            kind = "active-di" if active else "passive-di"
            box = build.add(part.box.name, kind, gain_db=part.box.gain_db)
            build.join(name, f"{box}.in", "ts", BOX_LEAD_M, port=out)
            port = build.next_input(hub, "mic", phantom=active, stereo=part.channels > 1)
            names += [box, *_into(build, part, box, port, "xlr")]
            continue
        mode = _mode_for(build, hub, hub_item, passive=passive)
        port = build.next_input(hub, mode, phantom=False, stereo=part.channels > 1)
        names += _into(build, part, name, port, "ts", port=out)
    return (*names, hub, *_behind(build, hub))


def _hub(build: _Builder, item: Item) -> str:
    """Return the device everything of one interface or recorder is plugged into."""
    if item.id in build.hubs:
        return build.hubs[item.id]
    if item.kind == "recorder":
        name = build.add(item.name, "recorder", phones=item.phones_plug or USUAL_PLUG)
        build.hubs[item.id] = name
        return name
    sheet = interface_from_sheet(item.family, item.sheet)[0]
    name = build.add(
        item.name,
        "interface",
        phantom_shared=item.phantom == "shared",
        switch_known=bool(item.phantom),
        phones=item.phones_plug,
        max_input_dbu=sheet.max_input_dbu,
        input_impedance_ohm=sheet.input_impedance_ohm,
        modes=_modes(item),
        input_count=item.inputs,
        gain_range_db=sheet.gain_max_db - sheet.gain_min_db,
        rate_hz=build.rate_hz,
        systems=item.systems,
    )
    build.hubs[item.id] = name
    build.join(name, f"{_computer(build)}.{_usb_port(build)}", "usb", LINE_CABLE_M, port="usb")
    if item.bus_powered is False:
        build.join(_strip(build), f"{name}.mains", "mains", LINE_CABLE_M)
    return name


def _mode_for(build: _Builder, hub: str, item: Item, *, passive: bool) -> str:
    """Return what an instrument's input is set to; where those of its kind are taken, what else there is."""
    socket, modes = socket_of(item, passive=passive), _modes(item)
    if socket is None:
        return modes[-1]
    taken = sum(mode == socket.kind for mode in build.devices[hub].inputs.values())
    rest = [mode for mode in modes if mode != "instrument"]
    return socket.kind if taken < item.inputs_of(socket.kind) else rest[-1]


def _modes(item: Item) -> tuple[str, ...]:
    """Return what the inputs of an interface can be set to."""
    there = {"mic": True, "line": bool(item.line_inputs), "instrument": bool(item.instrument_inputs)}
    return tuple(mode for mode, has in there.items() if has)


def _behind(build: _Builder, hub: str) -> tuple[str, ...]:
    return (build.computer,) if build.devices[hub].kind == "interface" else ()


def _computer(build: _Builder) -> str:
    if not build.computer:
        build.computer = build.add(COMPUTER, "computer", system=build.system, rate_hz=build.rate_hz)
        build.join(_strip(build), f"{build.computer}.mains", "mains", LINE_CABLE_M)
    return build.computer


def _usb_port(build: _Builder) -> str:
    used = sum(one.connector == "usb" for one in build.cables)
    return "usb" if not used else f"usb{used + 1}"


def _strip(build: _Builder) -> str:
    build.strip = build.strip or build.add(STRIP, "mains-outlet")
    return build.strip


def _listening(build: _Builder, *, monitors: bool) -> None:
    """Plug in what one hears with: where the sound comes back from the computer, without a way round."""
    ears = next(
        (one for one in build.devices.values() if one.kind in ("interface", "recorder", "usb-microphone")), None
    )
    if ears is not None:
        name = build.add(HEADPHONES, "headphones", plug=ears.phones)
        build.join(ears.id, f"{name}.in", "trs" if ears.phones == "6.35 mm" else "trs-3.5", CABLE_M, port="phones")
    hub = next((one for one in build.devices.values() if one.kind == "interface"), None)
    if monitors and hub is not None:
        for number, side in enumerate(("Left monitor", "Right monitor"), 1):
            name = build.add(side, "active-monitor")
            build.join(hub.id, f"{name}.in", "trs", LINE_CABLE_M, port=f"out{number}")
            build.join(_strip(build), f"{name}.mains", "mains", LINE_CABLE_M)


def _unshared(build: _Builder) -> None:
    """Leave 48 V off where one switch would bring them to what they destroy: that is told, and must not be planned."""
    for name, device in build.devices.items():
        if not device.phantom_shared:
            continue
        chain = Chain(devices=tuple(build.devices.values()), cables=tuple(build.cables))
        feared = any(chain.origin_of(one)[1].fears_phantom for one in chain.into(name))
        if feared:
            build.devices[name] = replace(device, phantom=dict.fromkeys(device.phantom, False))
