"""What is wrong where sound is numbers: clocks, rates, drivers, tracks, and what a port of the computer feeds."""

from collections.abc import Iterator
from typing import Final

from pneumen.core.hookup.chain import Cable, Chain
from pneumen.core.hookup.device import Device
from pneumen.core.hookup.finding import Fault
from pneumen.core.hookup.whole import MONITORS
from pneumen.core.verdict import Verdict

BUS_W: Final = 2.5
"""What a USB 2 port gives: 5 V, 500 mA (USB 2.0, from memory)."""


def digital_faults(chain: Chain) -> Iterator[Fault]:
    """Yield what is wrong between the devices that convert and the computer."""
    yield from _clocks(chain)
    for cable in chain.cables:
        if cable.connector == "usb":
            first, second = chain.both_ends(cable)
            yield from _rates(cable, first, second)
            computer, device = (first, second) if first.kind == "computer" else (second, first)
            if computer.kind == "computer":
                yield from _driver(computer, device)
                yield from _bus_power(chain, device)
    for device in chain.devices:
        yield from _tracks(chain, device)


def _rates(cable: Cable, first: Device, second: Device) -> Iterator[Fault]:
    """Two rates on one lead: what plays at the other's has another pitch and another length."""
    if first.rate_hz and second.rate_hz and first.rate_hz != second.rate_hz:
        slower, faster = sorted((first, second), key=lambda one: one.rate_hz or 0)
        figures = {"slower_hz": float(slower.rate_hz or 0), "faster_hz": float(faster.rate_hz or 0)}
        words = {"slower": slower.id, "faster": faster.id, "device": first.id, "other": second.id}
        yield Fault(code="rate-mismatch", verdict=Verdict.MENDABLE, at=cable.begins_at, figures=figures, words=words)


def _driver(computer: Device, device: Device) -> Iterator[Fault]:
    if computer.system and device.systems and computer.system not in device.systems:
        words = {"device": device.id, "system": computer.system, "systems": ", ".join(device.systems)}
        yield Fault(code="no-driver", verdict=Verdict.BAKED_IN, at=f"{device.id}.usb", words=words)


def _tracks(chain: Chain, device: Device) -> Iterator[Fault]:
    """A stereo track takes two inputs, odd and even: one source alone on it sits in one ear, two share a file."""
    fed = {one.to_port: one.from_device for one in chain.into(device.id)}
    for port, track in device.tracks.items():
        if track != "stereo" or port not in fed:
            continue
        number = int(port.removeprefix("in") or 1)
        mate = f"in{number + 1 if number % 2 else number - 1}"
        words = {"source": fed[port], "device": device.id, "port": port}
        if mate not in fed:
            words |= {"case": "alone"}
        elif device.tracks.get(mate) != "stereo":
            words |= {"case": "shared", "other": fed[mate]}
        else:
            continue
        yield Fault(code="mono-on-stereo", verdict=Verdict.MENDABLE, at=f"{device.id}.{port}", words=words)


def _clocks(chain: Chain) -> Iterator[Fault]:
    microphones, interfaces = chain.of_kind("usb-microphone"), chain.of_kind("interface")
    if microphones and interfaces:
        words = {"microphone": microphones[0].id, "interface": interfaces[0].id}
        yield Fault(code="usb-mic-and-interface", verdict=Verdict.WATCH, at=f"{microphones[0].id}.usb", words=words)
    for alike in (interfaces, microphones):
        if len(alike) > 1 and chain.of_kind("computer"):
            words = {"interface": alike[0].id, "other": alike[1].id}
            yield Fault(code="two-interfaces", verdict=Verdict.WATCH, at=f"{alike[1].id}.usb", words=words)
    inputs = (*interfaces, *microphones)
    for cable, source, device in chain.inputs:
        if inputs and source.kind == "computer" and device.kind in ("headphones", *MONITORS):
            words = {"heard": source.id, "recorded": inputs[0].id}
            yield Fault(code="two-clocks", verdict=Verdict.WATCH, at=cable.begins_at, words=words)


def _bus_power(chain: Chain, device: Device) -> Iterator[Fault]:
    """More on a computer's port than it feeds; what has its own mains plug draws nothing from it."""
    on_mains = {one.to_device for one in chain.cables if one.connector == "mains"}
    wants_w = device.power_w or 0.0
    if device.id not in on_mains and wants_w > BUS_W:
        figures, words = {"wants_w": wants_w, "gives_w": BUS_W}, {"device": device.id}
        yield Fault(code="bus-power", verdict=Verdict.WATCH, at=f"{device.id}.usb", figures=figures, words=words)
