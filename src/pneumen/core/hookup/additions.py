"""What may hang on a chain beside what a kit plans: a pedal, a mixer, an amplifier, a reamp, an insert, a headset."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Final

from pneumen.core.hookup.chain import Cable, Chain
from pneumen.core.hookup.device import Device
from pneumen.core.hookup.kinds import DI_BOXES, LINE, MIC

AMP, CABINET, LOAD = "Valve amplifier", "Speaker cabinet", "Load box"
REAMP, BOX, PREAMP = "Reamp box", "Insert box", "Insert preamp"
PEDAL, MIXER = "Pedal", "Small mixer"
BEFORE_PEDALS: Final = ("passive-pickup", "active-pickup", "reamp-box")
HEADSET, OTHER_MICROPHONE = "Wireless headset", "Webcam microphone"
SPEAKER_ENDS: Final = ("cabinet", "load box", "nothing", "interface")
"""What hangs on an amplifier's speaker output; the last two are how it is destroyed."""


def _with(chain: Chain, devices: Iterable[Device], cables: Iterable[Cable]) -> Chain:
    return Chain(devices=(*chain.devices, *devices), cables=(*chain.cables, *cables))


def lead(begin: str, end: str, connector: str, length_m: float = 3.0) -> Cable:
    from_device, _, from_port = begin.rpartition(".")
    to_device, _, to_port = end.rpartition(".")
    return Cable(
        from_device=from_device,
        from_port=from_port,
        to_device=to_device,
        to_port=to_port,
        connector=connector,
        length_m=length_m,
    )


def _interface(chain: Chain) -> Device | None:
    return next(iter(chain.of_kind("interface")), None)


def free_port(chain: Chain, device: str, socket: str) -> str:
    """Return the first port of a socket that no cable is in."""
    return next(free_ports(chain, device, socket))


def free_ports(chain: Chain, device: str, socket: str) -> Iterator[str]:
    """Yield the ports of a socket that no cable is in."""
    used = {one.to_port for one in chain.into(device)} | {one.from_port for one in chain.out_of(device)}
    return (f"{socket}{number}" for number in range(1, 99) if f"{socket}{number}" not in used)


def on_mains(chain: Chain, device: str) -> list[Cable]:
    outlets = chain.of_kind("mains-outlet")
    return [lead(f"{outlets[0].id}.out", f"{device}.mains", "mains", 2.0)] if outlets else []


def with_headset(chain: Chain) -> Chain:
    """Add a wireless headset that the system may choose."""
    return _with(chain, [Device(id=HEADSET, kind="wireless-headset")], [])


def with_other_microphone(chain: Chain) -> Chain:
    """Add a microphone of its own on the computer, such as a webcam's."""
    computer = next(iter(chain.of_kind("computer")), None)
    if computer is None:
        return chain
    usb = lead(f"{OTHER_MICROPHONE}.usb", f"{computer.id}.{free_port(chain, computer.id, 'usb')}", "usb")
    return _with(chain, [Device(id=OTHER_MICROPHONE, kind="usb-microphone")], [usb])


def with_pedal(chain: Chain) -> Chain:
    """Put a pedal behind an instrument, or behind the box through which a file is played into an amplifier."""
    found = next((one for one in chain.cables if chain.by_id[one.from_device].kind in BEFORE_PEDALS), None)
    if found is None:
        return chain
    cables = (replace(found, to_device=PEDAL, to_port="in"), replace(found, from_device=PEDAL, from_port="out"))
    kept = tuple(one for one in chain.cables if one is not found)
    return _with(replace(chain, cables=kept), [Device(id=PEDAL, kind="pedal")], cables)


def with_mixer(chain: Chain) -> Chain:
    """Put a small mixer before the interface: the microphones into it, its output into a line input."""
    hub = _interface(chain)
    heard = [one for one in chain.into(hub.id) if hub.carries(one.to_port) == MIC] if hub else []
    if hub is None or not heard or LINE not in hub.modes:
        return chain
    phantom = {f"in{number}": hub.phantom_on(one.to_port) for number, one in enumerate(heard, 1)}
    mixer = Device(id=MIXER, kind="mixer", phantom=phantom)
    moved = [replace(one, to_device=MIXER, to_port=f"in{number}") for number, one in enumerate(heard, 1)]
    port = heard[0].to_port
    set_to_line = replace(
        hub, inputs={**hub.inputs, port: LINE}, phantom=dict.fromkeys(hub.phantom, False), max_input_dbu=None
    )
    devices = tuple(set_to_line if one.id == hub.id else one for one in chain.devices)
    kept = tuple(one for one in chain.cables if one not in heard)
    onward = lead(f"{MIXER}.out1", f"{hub.id}.{port}", "trs")
    return _with(Chain(devices=devices, cables=kept), [mixer], [*moved, onward, *on_mains(chain, MIXER)])


def with_amplifier(chain: Chain) -> Chain:
    """Split an instrument behind its DI box: one way to the file, the thru output to a valve amplifier."""
    box = next(iter(chain.of_kind(*DI_BOXES)), None)
    if box is None:
        return chain
    amp, cabinet = Device(id=AMP, kind="tube-amp"), Device(id=CABINET, kind="passive-monitor")
    joined = [lead(f"{box.id}.thru", f"{AMP}.in", "ts"), lead(f"{AMP}.speaker", f"{CABINET}.in", "speaker", 1.0)]
    return _with(chain, [amp, cabinet], [*joined, *on_mains(chain, AMP)])


def with_reamp(chain: Chain) -> Chain:
    """Send a file back out through a reamp box to an amplifier."""
    hub = _interface(chain)
    if hub is None or AMP in chain.by_id:
        return chain
    devices = [Device(id=REAMP, kind="reamp-box"), Device(id=AMP, kind="tube-amp")]
    cabinet = Device(id=CABINET, kind="passive-monitor")
    joined = [
        lead(f"{hub.id}.{free_port(chain, hub.id, 'out')}", f"{REAMP}.in", "trs"),
        lead(f"{REAMP}.out", f"{AMP}.in", "ts"),
        lead(f"{AMP}.speaker", f"{CABINET}.in", "speaker", 1.0),
    ]
    return _with(chain, [*devices, cabinet], [*joined, *on_mains(chain, AMP)])


def with_insert(chain: Chain) -> Chain:
    """Take a playback out through a DI box into a preamp and in again, left and right where both go in."""
    hub = _interface(chain)
    if hub is None:
        return chain
    taken = {one.to_port for one in chain.into(hub.id) if one.connector not in ("usb", "mains")}
    outs, ins = free_ports(chain, hub.id, "out"), free_ports(chain, hub.id, "in")
    both = hub.input_count is None or hub.input_count >= len(taken) + 2
    joined, inputs = list[Cable](), dict(hub.inputs)
    for number in (1, 2) if both else (1,):
        out, port = next(outs), next(ins)
        inputs[port] = LINE
        joined += [
            lead(f"{hub.id}.{out}", f"{BOX}.in{number}", "trs"),
            lead(f"{BOX}.out{number}", f"{PREAMP}.in{number}", "xlr"),
            lead(f"{PREAMP}.out{number}", f"{hub.id}.{port}", "trs"),
        ]
    devices = tuple(replace(hub, inputs=inputs) if one.id == hub.id else one for one in chain.devices)
    added = [Device(id=BOX, kind="passive-di"), Device(id=PREAMP, kind="preamp", output_dbu=4.0, max_input_dbu=10.0)]
    return _with(replace(chain, devices=devices), added, [*joined, *on_mains(chain, PREAMP)])


ADDITIONS: Final[Mapping[str, Callable[[Chain], Chain]]] = MappingProxyType(
    {
        "mixer": with_mixer,
        "amplifier": with_amplifier,
        "reamp": with_reamp,
        "insert": with_insert,
        "pedal": with_pedal,
        "other-microphone": with_other_microphone,
        "headset": with_headset,
    }
)


BRINGS: Final[Mapping[str, str]] = MappingProxyType(
    {
        "mixer": MIXER,
        "amplifier": AMP,
        "reamp": REAMP,
        "insert": BOX,
        "pedal": PEDAL,
        "other-microphone": OTHER_MICROPHONE,
        "headset": HEADSET,
    }
)
"""A device that tells whether something was added already."""


def can_be_added(chain: Chain) -> tuple[str, ...]:
    """Return what may be added to a chain."""
    return tuple(name for name, add in ADDITIONS.items() if BRINGS[name] not in chain.by_id and add(chain) is not chain)


def with_speaker_end(chain: Chain, amp: str, end: str) -> Chain:
    """Hang something else on an amplifier's speaker output: a cabinet, a recorded load box, or nothing."""
    hub, ends = _interface(chain), (CABINET, LOAD)
    kept = [
        one
        for one in chain.cables
        if (one.from_device, one.from_port) != (amp, "speaker") and not {one.from_device, one.to_device} & {*ends}
    ]
    bare = Chain(devices=tuple(one for one in chain.devices if one.id not in ends), cables=tuple(kept))
    if end == "cabinet":
        cabinet = Device(id=CABINET, kind="passive-monitor")
        return _with(bare, [cabinet], [lead(f"{amp}.speaker", f"{CABINET}.in", "speaker", 1.0)])
    if end == "nothing" or hub is None:
        return bare
    port = free_port(bare, hub.id, "in")
    if end == "interface":
        return _with(bare, [], [lead(f"{amp}.speaker", f"{hub.id}.{port}", "ts")])
    set_to_line = replace(hub, inputs={**hub.inputs, port: "line"})
    lined = tuple(set_to_line if one.id == hub.id else one for one in bare.devices)
    joined = [lead(f"{amp}.speaker", f"{LOAD}.in", "speaker", 1.0), lead(f"{LOAD}.out", f"{hub.id}.{port}", "trs")]
    return _with(replace(bare, devices=lined), [Device(id=LOAD, kind="load-box", power_w=50.0)], joined)
