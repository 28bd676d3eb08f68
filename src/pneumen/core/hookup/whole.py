"""What is wrong with a chain as a whole: no way to a file, loops, speakers, too few inputs."""

from collections.abc import Iterator
from itertools import combinations, pairwise
from typing import Final

import networkx as nx

from pneumen.core.hookup.chain import USUAL_INPUTS, Cable, Chain
from pneumen.core.hookup.device import Device
from pneumen.core.hookup.finding import Fault
from pneumen.core.hookup.kinds import DI_BOXES, socket_of_port
from pneumen.core.verdict import Verdict

AMPS: Final = ("guitar-amp", "tube-amp")
SPEAKERS: Final = ("load-box", "passive-monitor")
"""What may hang on an amplifier's speaker output."""
MONITORS: Final = ("active-monitor", "passive-monitor")
PLAYED: Final = ("interface", "computer", "recorder")
"""Where a signal turns into numbers or back: what goes round through one of these is no loop of sound."""


def whole_faults(chain: Chain) -> Iterator[Fault]:
    """Yield what no single joint shows."""
    yield from _no_way(chain)
    yield from _inputs(chain)
    yield from _speaker_outputs(chain)
    yield from _cycles(chain)
    yield from ground_loops(chain)
    yield from _ears(chain)


def _no_way(chain: Chain) -> Iterator[Fault]:
    """A source from which nothing leads to what records; a recording device nothing leads to."""
    graph = chain.signal_graph()
    recorders = {one.id for one in chain.devices if one.facts.records}
    begins = [one for one in chain.devices if one.facts.begins]
    fed = {device.id for _, _, device in chain.inputs}
    sources = [*begins, *(one for one in chain.of_kind(*AMPS) if one.id not in fed and chain.out_of(one.id))]
    for source in sources:
        if not ({source.id} | nx.descendants(graph, source.id)) & recorders:
            yield Fault(
                code="no-signal-path", verdict=Verdict.BAKED_IN, at=f"{source.id}.out", words={"source": source.id}
            )
    computers = {one.id for one in chain.of_kind("computer")}
    for device in chain.of_kind("interface", "usb-microphone"):
        if computers and not nx.descendants(graph, device.id) & computers:
            yield Fault(
                code="no-signal-path", verdict=Verdict.BAKED_IN, at=f"{device.id}.usb", words={"source": device.id}
            )
    if not begins and not sources:
        for device in chain.of_kind("interface"):  # a recorder has microphones of its own
            yield Fault(code="no-signal-path", verdict=Verdict.BAKED_IN, at=device.id, words={"device": device.id})


def _inputs(chain: Chain) -> Iterator[Fault]:
    taken: dict[str, Cable] = {}
    for cable in chain.cables:
        if cable.connector in ("usb", "mains"):
            continue
        if cable.ends_at in taken:
            words = {"source": cable.from_device, "other": taken[cable.ends_at].from_device}
            yield Fault(
                code="not-enough-inputs", verdict=Verdict.BAKED_IN, at=cable.ends_at, words=words | {"case": "twice"}
            )
        taken.setdefault(cable.ends_at, cable)
    for device in chain.of_kind("interface", "recorder", "preamp"):
        yield from _inputs_of(chain, device)


def _inputs_of(chain: Chain, device: Device) -> Iterator[Fault]:
    """More sources than inputs: a device that names two of them and more is taken to name all it has."""
    named = {*device.inputs, *device.phantom}
    used = {one.to_port for one in chain.into(device.id) if socket_of_port(device.facts, one.to_port) == "in"}
    if device.input_count is not None:
        yield from _beyond_count(device, used, device.input_count)
        return
    beyond = used - named if len(named) >= USUAL_INPUTS else set()
    there = len(named | (used - beyond)) if beyond else max(USUAL_INPUTS, len(named | used))
    words, wanted = {"device": device.id}, len(used)
    for port in sorted(beyond):
        yield _too_few(f"{device.id}.{port}", words, inputs=there, wanted=wanted)
    loose = [one for one in chain.devices if _needs_an_input(one) and not chain.out_of(one.id)]
    if loose and device.kind != "preamp" and len(used) + len(loose) > there:
        yield _too_few(device.id, words, inputs=there, wanted=len(used) + len(loose))


def _beyond_count(device: Device, used: set[str], count: int) -> Iterator[Fault]:
    """The ports that are taken over the number there is."""
    for port in sorted(used, key=lambda one: (len(one), one))[count:]:
        yield _too_few(f"{device.id}.{port}", {"device": device.id}, inputs=count, wanted=len(used))


def _needs_an_input(device: Device) -> bool:
    return device.facts.begins and not device.facts.records


def _too_few(at: str, words: dict[str, str], *, inputs: int, wanted: int) -> Fault:
    figures = {"inputs": inputs, "wanted": wanted}
    return Fault(code="not-enough-inputs", verdict=Verdict.BAKED_IN, at=at, figures=figures, words=words)


def _speaker_outputs(chain: Chain) -> Iterator[Fault]:
    for amp in chain.of_kind(*AMPS):
        driven = [one for one in chain.out_of(amp.id) if one.from_port == "speaker"]
        loads = [one for one in driven if chain.by_id[one.to_device].kind in SPEAKERS]
        if amp.kind == "tube-amp" and not loads:
            yield Fault(code="amp-no-load", verdict=Verdict.STOP, at=f"{amp.id}.speaker", words={"amp": amp.id})
        for cable in loads:
            yield from _load(cable, amp, chain.by_id[cable.to_device])
    for cable, source, device in chain.inputs:
        gives, takes = source.carries(cable.from_port), device.carries(cable.to_port)
        words = {"source": source.id, "device": device.id}
        if gives == "speaker" and takes != "speaker":
            yield Fault(code="speaker-into-input", verdict=Verdict.STOP, at=cable.ends_at, words=words)
        if takes == "speaker" and gives != "speaker":
            yield Fault(code="not-driven", verdict=Verdict.BAKED_IN, at=cable.ends_at, words=words)


def _load(cable: Cable, amp: Device, load: Device) -> Iterator[Fault]:
    if amp.watts is not None and load.watts is not None and load.watts < amp.watts:
        figures = {"amp_w": amp.watts, "load_w": load.watts}
        words = {"amp": amp.id, "load": load.id}
        yield Fault(code="load-too-small", verdict=Verdict.STOP, at=cable.ends_at, figures=figures, words=words)
    if cable.connector != "speaker":
        yield Fault(code="speaker-lead", verdict=Verdict.STOP, at=cable.ends_at, words={"amp": amp.id})


def _cycles(chain: Chain) -> Iterator[Fault]:
    """A sound that comes back to where it was, and never was numbers on the way, howls."""
    graph = nx.DiGraph(chain.signal_graph())
    graph.remove_nodes_from([one.id for one in chain.of_kind(*PLAYED)])
    for cycle in sorted(nx.simple_cycles(graph), key=sorted):
        words = {"devices": ", ".join(cycle)}
        yield Fault(code="signal-loop", verdict=Verdict.STOP, at=min(cycle), words=words)


def ground_loops(chain: Chain) -> Iterator[Fault]:
    """Yield the cycles over shields and protective earth: two devices on different outlets that a shield joins.

    A shield is broken by a lifted DI box only; where each of its channels has a switch, one left closed joins still.
    Devices whose mains plug is not told are on battery or unknown.
    """
    outlet = {one.to_device: one.from_device for one in chain.cables if one.connector == "mains"}
    shields: nx.Graph[str] = nx.Graph()
    for cable in chain.cables:
        source, device = chain.both_ends(cable)
        broken = source.breaks_shield_at(cable.from_port) or (device.lift_shared and device.ground_lift)
        if cable.connector != "mains" and not broken:
            shields.add_edge(cable.from_device, cable.to_device, cable=cable)
    told = set()
    for first, second in combinations(sorted(one for one in outlet if one in shields), 2):
        if outlet[first] == outlet[second] or not nx.has_path(shields, first, second):
            continue
        path = nx.shortest_path(shields, first, second)
        if any(one in outlet for one in path[1:-1]):
            continue  # the loop closes earlier, and is told there
        joints: list[Cable] = [shields.edges[pair]["cable"] for pair in pairwise(path)]
        lifting = next((one for one in joints if _leaves_a_box(chain, one)), None)
        box = lifting.from_device if lifting else ""
        at = lifting.begins_at if lifting else joints[-1].ends_at
        if at not in told:
            told.add(at)
            words = {"path": ", ".join(path), "outlets": f"{outlet[first]}, {outlet[second]}", "box": box}
            yield Fault(code="ground-loop", verdict=Verdict.MENDABLE, at=at, words=words)


def _leaves_a_box(chain: Chain, cable: Cable) -> bool:
    return chain.by_id[cable.from_device].kind in DI_BOXES and cable.from_port != "thru"


def _ears(chain: Chain) -> Iterator[Fault]:
    microphones = [one for one in chain.devices if one.facts.microphone]
    heard = chain.of_kind("headphones")
    for monitor in chain.of_kind(*MONITORS):
        if microphones and not monitor.switched_off and not _is_load(chain, monitor):
            verdict = Verdict.WATCH if heard else Verdict.BAKED_IN
            words = {"monitor": monitor.id, "microphone": microphones[0].id}
            yield Fault(code="open-speakers", verdict=verdict, at=f"{monitor.id}.in", words=words)
    for cable, source, device in chain.inputs:
        if device.kind == "headphones" and source.phones and device.plug and source.phones != device.plug:
            words = {"socket": source.phones, "plug": device.plug}
            yield Fault(code="headphone-adapter", verdict=Verdict.WATCH, at=cable.begins_at, words=words)
    for headset in chain.of_kind("wireless-headset"):
        yield Fault(code="wireless-headset", verdict=Verdict.WATCH, at=headset.id, words={"headset": headset.id})


def _is_load(chain: Chain, monitor: Device) -> bool:
    """Tell whether a speaker is an amplifier's own, which is recorded and not listened to."""
    return any(chain.by_id[one.from_device].kind in AMPS for one in chain.into(monitor.id))
