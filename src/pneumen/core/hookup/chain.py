"""A chain as a graph of devices with typed ports, joined by cables."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Final

import networkx as nx

from pneumen.core.errors import Contradiction, UnknownName, require_positive, require_within
from pneumen.core.hookup.kinds import (
    BALANCED_PLUGS,
    CONNECTORS,
    DIGITAL,
    INPUT_MODES,
    INPUT_OHM,
    KINDS,
    MAINS,
    MAX_INPUT_DBU,
    DeviceKind,
    kind_named,
    socket_of_port,
)

LONGEST_M: Final = 1000.0
USUAL_INPUTS: Final = 2
GIVING: Final = ("out", "thru", "speaker", "line", "phones")
TAKING: Final = ("in", "mains")
"""Sockets a cable comes from and goes to; usb does both."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Device:
    """A device: what it is, how its inputs are set, and what of its kind's defaults it says otherwise.

    phantom tells by port where 48 V is on, phantom_shared whether one switch serves all inputs; inputs what each is
    set to. ground_lift is a DI box's, or of whatever breaks the shield.
    """

    id: str
    kind: str
    phantom: Mapping[str, bool] = field(default_factory=dict, hash=False)
    phantom_shared: bool = False
    inputs: Mapping[str, str] = field(default_factory=dict, hash=False)
    phones: str = ""
    plug: str = ""
    ground_lift: bool = False
    needs_phantom: bool | None = None
    hurt_by_phantom: bool | None = None
    output_impedance_ohm: float | None = None
    input_impedance_ohm: float | None = None
    output_dbu: float | None = None
    max_input_dbu: float | None = None
    power_w: float | None = None

    def __post_init__(self) -> None:
        if not self.id.strip() or "." in self.id:
            raise Contradiction("id", "must be a word without a full stop")
        facts = kind_named(self.kind)
        for port in (*self.phantom, *self.inputs):
            if socket_of_port(facts, port) != "in":
                raise Contradiction(f"{self.id}.{port}", f"is no input of a {self.kind}")
        for port, mode in self.inputs.items():
            if mode not in INPUT_MODES:
                raise UnknownName(f"{self.id}.inputs.{port}", mode, INPUT_MODES)
        for name in ("output_impedance_ohm", "input_impedance_ohm"):
            if (value := getattr(self, name)) is not None:
                require_positive(f"{self.id}.{name}", value, 1e9)
        for name in ("output_dbu", "max_input_dbu"):
            if (value := getattr(self, name)) is not None:
                require_within(f"{self.id}.{name}", value, -120, 80)
        if self.power_w is not None:
            require_within(f"{self.id}.power_w", self.power_w, 0, 5000)

    @property
    def facts(self) -> DeviceKind:
        return KINDS[self.kind]

    @property
    def wants_phantom(self) -> bool:
        return self.facts.needs_phantom if self.needs_phantom is None else self.needs_phantom

    @property
    def fears_phantom(self) -> bool:
        return self.facts.hurt_by_phantom if self.hurt_by_phantom is None else self.hurt_by_phantom

    @property
    def output_ohm(self) -> float | None:
        return self.facts.output_impedance_ohm if self.output_impedance_ohm is None else self.output_impedance_ohm

    @property
    def watts(self) -> float | None:
        return self.facts.power_w if self.power_w is None else self.power_w

    def carries(self, port: str) -> str:
        """Return what a port carries; an input of an interface what it is set to."""
        socket = socket_of_port(self.facts, port) or ""
        return self.mode(port) if socket == "in" and self.facts.feeds_phantom else self.facts.sockets[socket]

    def mode(self, port: str) -> str:
        """Return what an input is set to."""
        return self.inputs.get(port, "mic")

    def takes_ohm(self, port: str) -> float | None:
        """Return the load an input is; None where it is not known."""
        if self.input_impedance_ohm is not None:
            return self.input_impedance_ohm
        return INPUT_OHM[self.mode(port)] if self.facts.feeds_phantom else self.facts.input_impedance_ohm

    def takes_dbu(self, port: str) -> float | None:
        """Return the highest peak an input takes; None where it is not known."""
        if self.max_input_dbu is not None:
            return self.max_input_dbu
        return MAX_INPUT_DBU[self.mode(port)] if self.facts.feeds_phantom else self.facts.max_input_dbu

    def phantom_on(self, port: str) -> bool:
        """Tell whether 48 V stands on an input: only microphone inputs have it, one switch may serve them all."""
        if not self.facts.feeds_phantom or self.mode(port) != "mic":
            return False
        return any(self.phantom.values()) if self.phantom_shared else self.phantom.get(port, False)


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
