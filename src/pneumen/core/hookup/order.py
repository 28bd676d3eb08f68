"""The order of plugging in and of taking apart, worked out for a chain: what must come before what, and why not else.

Common practice of the trade, no source: everything down before anything is plugged, a valve amplifier's load before its
mains, 48 V after the last plug, loudspeakers on last and off first.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import networkx as nx

from pneumen.core.hookup.chain import Cable, Chain
from pneumen.core.hookup.device import Device
from pneumen.core.hookup.whole import AMPS, MONITORS

RANKS: Final = (
    "down",
    "card",
    "set-up",
    "menu",
    "place",
    "phantom-off",
    "load",
    "usb",
    "set-line",
    "set-instrument",
    "patch",
    "phones",
    "power",
    "phantom-on",
    "wait",
    "own-line",
    "own-tone",
    "gain",
    "monitors",
)
"""Where nothing else decides, what comes first."""
OWN_VOLUME: Final = {"keyboard": "own-line", "active-pickup": "own-line", "passive-pickup": "own-tone"}
"""What has a volume of its own: an active one's is level, a passive one's is tone."""
SOFTWARE_STEPS: Final = ("driver", "seen", "device", "backing", "track", "arm", "meter", "folder")
"""What follows in the recording software, where a computer records."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Act:
    """One thing to do: what, at which device, with which other, by which ports."""

    act: str
    device: str = ""
    port: str = ""
    other: str = ""
    other_port: str = ""


DOWN, WAIT, GAIN = Act(act="down"), Act(act="wait"), Act(act="gain")


def plugging_acts(chain: Chain) -> tuple[Act, ...]:
    """Return what to do, from silence to a moving meter, in an order in which nothing and nobody is hurt."""
    graph: nx.DiGraph[Act] = nx.DiGraph()
    graph.add_nodes_from([DOWN, *_acts(chain), GAIN])
    for before, after in _before(chain, tuple(graph)):
        if before in graph and after in graph and before != after:
            graph.add_edge(before, after)
    names = [device.id for device in chain.devices]

    def rank(act: Act) -> tuple[int, int, str]:
        return RANKS.index(act.act), names.index(act.device) if act.device in names else -1, act.port

    return tuple(nx.lexicographical_topological_sort(graph, key=rank))


def unplugging_acts(chain: Chain) -> tuple[Act, ...]:
    """Return the way back: loudspeakers first, 48 V off and a wait before the first plug, a load after its mains."""
    done = plugging_acts(chain)
    fed = [one for one in done if one.act == "phantom-on"]
    off = [Act(act=f"{one.act}-off", device=one.device) for one in reversed(done) if one.act in ("monitors", "power")]
    monitors = [one for one in off if one.act == "monitors-off"]
    others = [one for one in off if one.act == "power-off"]
    phantom = [Act(act="phantom-off", device=one.device) for one in fed]
    wait = [Act(act="wait-off")] if fed else []
    plugs = [one for one in reversed(done) if one.act in ("phones", "patch", "usb", "load")]
    out = [
        Act(act="unplug", device=one.device, port=one.port, other=one.other, other_port=one.other_port) for one in plugs
    ]
    return (*monitors, Act(act="gain-down"), *phantom, *wait, *others, *out)


def _acts(chain: Chain) -> Iterator[Act]:
    for device in chain.devices:
        if device.facts.microphone:
            yield Act(act="place", device=device.id)
        if device.kind in OWN_VOLUME:
            yield Act(act=OWN_VOLUME[device.kind], device=device.id)
        if device.kind == "recorder":
            yield from (Act(act=one, device=device.id) for one in ("card", "set-up", "menu"))
        if device.facts.feeds_phantom and _microphone_inputs(chain, device):
            yield Act(act="phantom-off", device=device.id)
            if _is_fed(chain, device):
                yield Act(act="phantom-on", device=device.id)
                yield WAIT
    for cable in chain.cables:
        device = chain.by_id[cable.to_device]
        if device.facts.feeds_phantom and device.mode(cable.to_port) != "mic":
            yield Act(act=f"set-{device.mode(cable.to_port)}", device=device.id, port=cable.to_port)
        yield _act_of(chain, cable)


def _act_of(chain: Chain, cable: Cable) -> Act:
    source, device = chain.both_ends(cable)
    if cable.connector == "mains":
        return Act(act="monitors" if device.kind in MONITORS else "power", device=device.id, other=source.id)
    kind = "usb" if cable.connector == "usb" else "patch"
    if source.carries(cable.from_port) == "speaker" and source.kind in AMPS:
        kind = "load"
    elif device.kind == "headphones":
        kind = "phones"
    return Act(act=kind, device=source.id, port=cable.from_port, other=device.id, other_port=cable.to_port)


def _before(chain: Chain, acts: tuple[Act, ...]) -> Iterator[tuple[Act, Act]]:
    """Yield pairs of acts of which the first must come first."""
    graph = chain.signal_graph()
    ahead = {one.id: nx.descendants(graph, one.id) for one in chain.devices}
    for act in acts:
        if act != DOWN:
            yield DOWN, act
        if act.act == "monitors":
            yield from ((other, act) for other in acts if other.act != "monitors")
        elif act != GAIN:
            yield act, GAIN
        if act.act in ("patch", "load"):
            yield Act(act="place", device=act.device), act
            yield Act(act="phantom-off", device=act.other), act
        if act.act == "load":
            yield from ((act, other) for other in acts if other.act == "power" and other.device == act.device)
        if act.act == "phantom-on":
            yield from ((other, act) for other in acts if other.act in ("patch", "usb", "power"))
            yield act, WAIT
        if act.act == "power":
            yield from (
                (act, other)
                for other in acts
                if other.act == "power" and other.device in ahead[act.device] and act.device not in ahead[other.device]
            )


def _microphone_inputs(chain: Chain, device: Device) -> list[Cable]:
    return [one for one in chain.into(device.id) if device.carries(one.to_port) == "mic"]


def _is_fed(chain: Chain, device: Device) -> bool:
    """Tell whether 48 V go on: something needs them, and what fears them cannot be reached by the same switch."""
    plugged = [chain.origin_of(one)[1] for one in _microphone_inputs(chain, device)]
    wanted = any(source.wants_phantom for source in plugged)
    feared = any(source.fears_phantom for source in plugged)
    return wanted and not (feared and device.phantom_shared)
