"""What a choice changes in a chain: a cable, a setting of a device, or what is plugged where."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Any, Final

from pneumen.core.hookup.additions import ADDITIONS, BOX, on_mains, with_speaker_end
from pneumen.core.hookup.chain import Chain
from pneumen.core.hookup.device import Device
from pneumen.core.hookup.kinds import DI_BOXES

OTHER_OUTLET: Final = "another outlet"
OUTLET: Final = Device(id="outlet", kind="mains-outlet")


def of_cable(chain: Chain, ends_at: str, **facts: Any) -> Chain:
    """Return a chain with the cable that ends at a port changed."""
    return replace(
        chain, cables=tuple(replace(one, **facts) if one.ends_at == ends_at else one for one in chain.cables)
    )


def of_device(chain: Chain, device_id: str, **facts: Any) -> Chain:
    """Return a chain with a device changed; as it is where there is none of that name."""
    return replace(chain, devices=tuple(replace(one, **facts) if one.id == device_id else one for one in chain.devices))


def _device_and_port(chain: Chain, at: str) -> tuple[Device | None, str]:
    device_id, _, port = at.partition(".")
    return chain.by_id.get(device_id), port


def _input(chain: Chain, at: str, value: str) -> Chain:
    device, port = _device_and_port(chain, at)
    return of_device(chain, device.id, inputs={**device.inputs, port: value}) if device else chain


def _phantom(chain: Chain, at: str, value: str) -> Chain:
    device, port = _device_and_port(chain, at)
    return of_device(chain, device.id, phantom={**device.phantom, port: value == "on"}) if device else chain


def _track(chain: Chain, at: str, value: str) -> Chain:
    device, port = _device_and_port(chain, at)
    return of_device(chain, device.id, tracks={**device.tracks, port: value}) if device else chain


def _lift(chain: Chain, at: str, value: str) -> Chain:
    """Lift the ground of a box, or of one of its channels, where each has a switch."""
    device, port = _device_and_port(chain, at)
    if device is None or not port:
        return of_device(chain, at, ground_lift=value == "on")
    return of_device(chain, device.id, lifts={**device.lifts, port: value == "on"})


def _box(chain: Chain, at: str, value: str) -> Chain:
    device = chain.by_id.get(at)
    is_box = device is not None and device.kind in DI_BOXES and value != "none"
    return of_device(chain, at, kind=f"{value}-di", gain_db=None) if is_box else chain


def _also(chain: Chain, at: str, value: str) -> Chain:
    return ADDITIONS[at](chain) if value == "on" and at in ADDITIONS else chain


def _speaker(chain: Chain, at: str, value: str) -> Chain:
    return with_speaker_end(chain, at, value) if at in chain.by_id else chain


def _plugged(chain: Chain, at: str, value: str) -> Chain:
    return replace(chain, cables=tuple(one for one in chain.cables if value == "in" or one.ends_at != at))


def _ears(chain: Chain, at: str, value: str) -> Chain:
    """Plug the headphones into the computer's own socket, or into what records."""
    sockets = (
        chain.of_kind("computer") if value == "computer" else chain.of_kind("interface", "recorder", "usb-microphone")
    )
    there = next(iter(sockets), None)
    if there is None:
        return chain
    connector = "trs" if there.phones == "6.35 mm" else "trs-3.5"
    elsewhere = of_cable(chain, f"{at}.in", from_device=there.id, from_port="phones", connector=connector)
    return of_device(elsewhere, at, plug=there.phones or "3.5 mm")


def _monitor(chain: Chain, at: str, value: str) -> Chain:
    """Take a passive monitor for an active one, or the other way; a passive one has no plug for the mains."""
    if value == "active" or at not in chain.by_id:
        return of_device(chain, at, kind="active-monitor")
    unfed = tuple(one for one in chain.cables if not (one.to_device == at and one.connector == "mains"))
    return of_device(replace(chain, cables=unfed), at, kind="passive-monitor", max_input_dbu=None)


def _returns(chain: Chain, at: str, value: str) -> Chain:
    """Lay the output of an insert's preamp back into the insert itself, as one does by mistake."""
    if value != "itself" or BOX not in chain.by_id:
        return chain
    return replace(
        chain,
        cables=tuple(
            replace(one, to_device=BOX, to_port=one.from_port.replace("out", "in")) if one.from_device == at else one
            for one in chain.cables
        ),
    )


def _supply(chain: Chain, at: str, value: str) -> Chain:
    """Feed an interface by its own mains supply, or by the computer."""
    device = chain.by_id.get(at)
    if device is None:
        return chain
    fed = [one for one in chain.cables if one.to_device == at and one.connector == "mains"]
    if value == "mains":
        if fed:
            return chain
        wall = chain if chain.of_kind("mains-outlet") else replace(chain, devices=(*chain.devices, OUTLET))
        return replace(wall, cables=(*wall.cables, *on_mains(wall, at)))
    return replace(chain, cables=tuple(one for one in chain.cables if one not in fed))


def _outlet(chain: Chain, at: str, value: str) -> Chain:
    """Move a mains plug to an outlet of its own, or to where the others are."""
    outlets = [one.id for one in chain.of_kind("mains-outlet")]
    plugs = [one for one in chain.cables if one.connector == "mains"]
    if not any(one.to_device == at for one in plugs):
        return chain
    others = [one.from_device for one in plugs if one.to_device != at] or outlets
    wall = max(others, key=others.count) if value == "strip" else OTHER_OUTLET
    added = () if wall in outlets else (Device(id=wall, kind="mains-outlet"),)
    cables = tuple(
        replace(one, from_device=wall) if one in plugs and one.to_device == at else one for one in chain.cables
    )
    return Chain(devices=(*chain.devices, *added), cables=cables)


Change = Callable[[Chain, str, str], Chain]
CHANGES: Final[Mapping[str, Change]] = MappingProxyType(
    {
        "also": _also,
        "speaker": _speaker,
        "box": _box,
        "monitor": _monitor,
        "returns": _returns,
        "supply": _supply,
        "ears": _ears,
        "length": lambda chain, at, value: of_cable(chain, at, length_m=float(value)),
        "balanced": lambda chain, at, value: of_cable(chain, at, balanced=value == "balanced"),
        "lead": lambda chain, at, value: of_cable(chain, at, connector=value, balanced=None),
        "input": _input,
        "phantom": _phantom,
        "switch": lambda chain, at, value: of_device(chain, at, phantom_shared=value == "all", switch_known=True),
        "track": _track,
        "lifts": lambda chain, at, value: of_device(chain, at, lift_shared=value == "all"),
        "lift": _lift,
        "plug": lambda chain, at, value: of_device(chain, at, plug=value),
        "rate": lambda chain, at, value: of_device(chain, at, rate_hz=int(value)),
        "system": lambda chain, at, value: of_device(chain, at, system=value),
        "watt": lambda chain, at, value: of_device(chain, at, power_w=float(value)),
        "current": lambda chain, at, value: of_device(chain, at, current_ma=float(value)),
        "power": lambda chain, at, value: of_device(chain, at, switched_off=value == "off"),
        "outlet": _outlet,
        "plugged": _plugged,
    }
)
"""By what a choice is about, in the order in which they are made: what decides which joints there are comes first."""
