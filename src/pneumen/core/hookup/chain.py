"""A chain as a graph of devices with typed ports, joined by cables."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Final

import networkx as nx

from pneumen.core.errors import Contradiction, UnknownName, require_positive
from pneumen.core.hookup.device import Device
from pneumen.core.hookup.kinds import (
    BALANCED_PLUGS,
    CONNECTORS,
    DIGITAL,
    MAINS,
    socket_of_port,
)

LONGEST_M: Final = 1000.0
USUAL_INPUTS: Final = 2
GIVING: Final = ("out", "thru", "speaker", "line", "phones")
TAKING: Final = ("in", "mains")
"""Sockets a cable comes from and goes to; usb does both."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Cable:
    """A cable from a device's port to another's. balanced None: as its plugs usually are."""

    from_device: str
    from_port: str
    to_device: str
    to_port: str
    connector: str
    balanced: bool | None = None
    length_m: float = 3.0

    def __post_init__(self) -> None:
        if self.connector not in CONNECTORS:
            raise UnknownName("connector", self.connector, CONNECTORS)
        require_positive("length_m", self.length_m, LONGEST_M)

    @property
    def is_balanced(self) -> bool:
        return self.connector in BALANCED_PLUGS if self.balanced is None else self.balanced

    @property
    def begins_at(self) -> str:
        return f"{self.from_device}.{self.from_port}"

    @property
    def ends_at(self) -> str:
        return f"{self.to_device}.{self.to_port}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Chain:
    """Devices and the cables between them; every cable ends where its plugs can be put in."""

    devices: tuple[Device, ...]
    cables: tuple[Cable, ...] = ()
    by_id: Mapping[str, Device] = field(init=False, repr=False, hash=False, compare=False)

    def __post_init__(self) -> None:
        by_id = {device.id: device for device in self.devices}
        if len(by_id) < len(self.devices):
            twice = next(one.id for n, one in enumerate(self.devices) if one.id in {o.id for o in self.devices[:n]})
            raise Contradiction("id", f"{twice!r} is given twice: each device needs its own")
        object.__setattr__(self, "by_id", MappingProxyType(by_id))
        for cable in self.cables:
            self._require_ends(cable)

    def _require_ends(self, cable: Cable) -> None:
        for device_id, port, sockets in (
            (cable.from_device, cable.from_port, GIVING),
            (cable.to_device, cable.to_port, TAKING),
        ):
            if device_id not in self.by_id:
                raise UnknownName("device", device_id, tuple(self.by_id))
            device = self.by_id[device_id]
            socket = socket_of_port(device.facts, port)
            if socket is None:
                raise UnknownName(f"{device_id}: port", port, tuple(device.facts.sockets))
            if socket not in sockets and socket != "usb":
                way = "sends nothing out" if sockets is GIVING else "takes nothing in"
                raise Contradiction(f"{device_id}.{port}", f"{way}: turn this cable round")
        if cable.from_device == cable.to_device:
            raise Contradiction(cable.begins_at, "leads back into its own device")
        for end in (self.by_id[cable.from_device], cable.from_port), (self.by_id[cable.to_device], cable.to_port):
            self._require_plug(cable, *end)

    @staticmethod
    def _require_plug(cable: Cable, device: Device, port: str) -> None:
        """Refuse what cannot be plugged: data and mains have plugs of their own."""
        carries = device.carries(port)
        for domain, plug in ((DIGITAL, "usb"), (MAINS, "mains")):
            if (carries == domain) != (cable.connector == plug):
                raise Contradiction(f"{device.id}.{port}", f"takes no {cable.connector} plug")

    def into(self, device_id: str) -> tuple[Cable, ...]:
        """Return the cables that end at a device."""
        return tuple(one for one in self.cables if one.to_device == device_id)

    def out_of(self, device_id: str) -> tuple[Cable, ...]:
        """Return the cables that begin at a device."""
        return tuple(one for one in self.cables if one.from_device == device_id)

    def both_ends(self, cable: Cable) -> tuple[Device, Device]:
        return self.by_id[cable.from_device], self.by_id[cable.to_device]

    def of_kind(self, *kinds: str) -> tuple[Device, ...]:
        return tuple(one for one in self.devices if one.kind in kinds)

    def origin_of(self, cable: Cable) -> tuple[Cable, Device]:
        """Return what a cable brings its 48 V to, and the cable there: what lets them through is passed over."""
        seen = set[str]()
        while (source := self.by_id[cable.from_device]).facts.passes_phantom and source.id not in seen:
            seen.add(source.id)
            before = next(iter(self.into(source.id)), None)
            if before is None:
                break
            cable = before
        return cable, self.by_id[cable.from_device]

    @property
    def inputs(self) -> Iterator[tuple[Cable, Device, Device]]:
        """Every cable that brings an analogue signal somewhere, with both its ends."""
        for cable in self.cables:
            source, device = self.both_ends(cable)
            if cable.connector not in ("usb", "mains"):
                yield cable, source, device

    def signal_graph(self) -> "nx.MultiDiGraph[str]":
        """Return where sound can go: devices as nodes, cables as edges; data goes both ways."""
        graph: nx.MultiDiGraph[str] = nx.MultiDiGraph()
        graph.add_nodes_from(self.by_id)
        for cable in self.cables:
            if cable.connector == "mains":
                continue
            graph.add_edge(cable.from_device, cable.to_device, cable=cable)
            if cable.connector == "usb":
                graph.add_edge(cable.to_device, cable.from_device, cable=cable)
        return graph
