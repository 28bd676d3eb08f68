"""What the Hookup screen says: the loop, what is wrong at which joint, the order of plugging, the list of cables."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from pneumen.core.errors import given
from pneumen.core.hookup import (
    Act,
    Chain,
    Choice,
    Fault,
    cure_of,
    faults_of,
    lead_resonance_hz,
    lead_response_db,
    phantom_voltage,
    plugging_acts,
    put_back,
    unplugging_acts,
    with_choices,
)
from pneumen.core.kit import KitInUse, loudest_in_headphones
from pneumen.core.verdict import Verdict, worst_of
from pneumen.web.curve import CurvePicture, draw_curve
from pneumen.web.drawing import those_seen
from pneumen.web.hookup.curve import NARROW, WIDE
from pneumen.web.hookup.gear import is_of_a_part
from pneumen.web.hookup.joints import ChangeTold, JointTold, change_told, devices_of, joints_of, place_told
from pneumen.web.hookup.picture import Loop, draw_loop, path_of
from pneumen.web.hookup.rule import phantom_rule_of
from pneumen.web.hookup.services import Connection, by_hand, chain_of, choices_of, connection_of, part_at
from pneumen.web.kit.services import in_use
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.wording.chain import remedy_of, why_of
from pneumen.wording.hookup import lead_told, phantom_left_told, phantom_told, way_told
from pneumen.wording.joints import CONNECTOR_WORDS, CURES, length_told, port_told
from pneumen.wording.language import _
from pneumen.wording.listening import loudest_told
from pneumen.wording.plugging import act_told, software_steps

CAREFUL = ("down", "phantom-off", "phantom-on", "load", "monitors", "gain")


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultTold:
    """A fault in words, with the press that cures it, where there is one."""

    verdict: Verdict
    at: str
    why: str
    remedy: str
    cure: Choice | None
    button: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """A step of the checklist: its key, what is done, whether it is done, and whether care is asked for."""

    key: str
    told: str
    done: bool
    caution: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LeadTold:
    """What a passive pickup's lead and load do to its sound: a curve, and where it rings."""

    curve: CurvePicture
    told: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HookupScreen:
    """All the Hookup screen shows."""

    verdict: Verdict
    sentence: str
    loops: tuple[Loop, ...]
    faults: tuple[FaultTold, ...]
    joints: tuple[JointTold, ...]
    devices: tuple[JointTold, ...]
    changes: tuple[ChangeTold, ...]
    steps: tuple[Step, ...]
    unplugging: tuple[str, ...]
    cables: tuple[str, ...]
    together: tuple[str, ...]
    software: tuple[Step, ...]
    phantom: tuple[Verdict, str]
    phantom_left: str
    lead: LeadTold | None
    loudest: str
    is_ribbon: bool


def hookup_screen(part: Part, tried: Choice | None = None) -> HookupScreen:
    """Return what the screen shows for a part, perhaps with one more choice tried out."""
    connection, found, chosen = connection_of(part), outcome_of(part), choices_of(part)
    chain = with_choices(connection.chain, [*chosen, tried] if tried else chosen)
    faults, parts, kit = faults_of(chain), connection.parts, in_use(part.song)
    begins = connection.begins(part)
    rule = phantom_rule_of(part)
    ticked = {row.step for row in part.ticks.all()}
    return HookupScreen(
        verdict=worst_of([fault.verdict for fault in faults]),
        sentence=_sentence(part, chain, begins, faults),
        loops=tuple(draw_loop(part.name, chain, begins, found, faults, paper) for paper in those_seen(WIDE, NARROW)),
        faults=tuple(_fault_told(connection, chain, fault) for fault in faults),
        joints=joints_of(connection, chain),
        devices=devices_of(connection, chain, chosen),
        changes=tuple(
            [change_told(one) for one in chosen] + [change_told(one, name) for name, one in by_hand(connection)]
        ),
        steps=tuple(_step(act, ticked) for act in plugging_acts(chain)),
        unplugging=tuple(act_told(act) for act in unplugging_acts(chain)),
        cables=_cables_told(chain),
        together=tuple(one.name for one in parts if one.pk != part.pk),
        software=_software(kit, chain, begins, ticked),
        phantom=(rule.verdict, phantom_told(rule)),
        phantom_left=_phantom_left() if rule.switch_on else "",
        lead=_lead_told(chain, begins),
        loudest=_loudest(part, kit),
        is_ribbon=any(device.fears_phantom for device in chain.devices),
    )


def way_searched(part: Part, odds: Mapping[str, float]) -> tuple[Loop, ...]:
    """Return the loop of a part with the places ringed at which a fault is likely."""
    connection, found = connection_of(part), outcome_of(part)
    chain = with_choices(connection.chain, choices_of(part))
    begins, faults = connection.begins(part), faults_of(chain)
    return tuple(draw_loop(part.name, chain, begins, found, faults, paper, odds) for paper in those_seen(WIDE, NARROW))


def verdict_of(part: Part) -> Verdict:
    """Return how a part's chain stands, the gravest of what is wrong with it."""
    return worst_of([fault.verdict for fault in faults_of(chain_of(part))])


def _sentence(part: Part, chain: Chain, begins: str, faults: tuple[Fault, ...]) -> str:
    if faults:
        first = faults[0]
        more = len(faults) - 1
        others = _(" {more} more below.").format(more=more) if more else ""
        return f"At {place_told(first.at)}: {why_of(first)}.{others}"
    way = [begins, *(cable.to_device for cable in path_of(chain, begins))]
    return way_told(part.name, [one for one in way if one != part.name])


def _fault_told(connection: Connection, chain: Chain, fault: Fault) -> FaultTold:
    cure = cure_of(chain, fault) or put_back(connection.chain, chain, fault)
    if cure and is_of_a_part(cure, None) and part_at(connection, cure.at) is None:
        cure = None  # nobody's gear stands there
    return FaultTold(
        verdict=fault.verdict,
        at=place_told(fault.at),
        why=_begun(why_of(fault)),
        remedy=_begun(remedy_of(fault)),
        cure=cure,
        button=_button(cure),
    )


def _button(cure: Choice | None) -> str:
    if cure is None:
        return ""
    return (CURES.get((cure.what, cure.value)) or CURES[cure.what, ""]).format(value=cure.value)


def _begun(told: str) -> str:
    return f"{told[0].upper()}{told[1:]}."


def _step(act: Act, ticked: set[str]) -> Step:
    key = "/".join((act.act, act.device, act.port, act.other, act.other_port))[:300]
    return Step(key=key, told=act_told(act), done=key in ticked, caution=act.act in CAREFUL)


def _software(kit: KitInUse, chain: Chain, begins: str, ticked: set[str]) -> tuple[Step, ...]:
    """The steps in the recording software; none where a recorder records by itself."""
    cables = path_of(chain, begins)
    if not cables or chain.by_id[cables[-1].to_device].kind != "computer":
        return ()
    last = next((one for one in reversed(cables) if one.connector != "usb"), None)
    program = next((one.item.name.split(",")[0] for one in kit.lines if one.kind == "software" and one.item), "")
    told = software_steps(
        software=program, device=cables[-1].from_device, port=port_told(last.to_port) if last else port_told("in1")
    )
    return tuple(
        Step(key=f"software/{slug}", told=words, done=f"software/{slug}" in ticked, caution=False)
        for slug, words in told
    )


def _phantom_left() -> str:
    """Say what is left of 48 V under a microphone's load."""
    return phantom_left_told({current_ma: phantom_voltage(current_ma) for current_ma in (4.0, 10.0)})


def _lead_told(chain: Chain, begins: str) -> LeadTold | None:
    """What the lead of a passive pickup does; None where there is none."""
    cable = next(iter(path_of(chain, begins)), None)
    if cable is None or chain.by_id[begins].kind != "passive-pickup":
        return None
    load_ohm = given("load_ohm", chain.by_id[cable.to_device].takes_ohm(cable.to_port))
    hertz = np.geomspace(50, 16_000, 64)
    response_db = lead_response_db(hertz, cable.length_m, load_ohm)
    told = lead_told(cable.length_m, load_ohm, lead_resonance_hz(cable.length_m), float(response_db.max()))
    return LeadTold(curve=draw_curve(hertz.tolist(), response_db.tolist()), told=told)


def _loudest(part: Part, kit: KitInUse) -> str:
    """Say how loud the headphones of the kit get from its output, and how long that is safe; empty where not known."""
    hub = part.interface or part.microphone
    headphones = next((one.item for one in kit.lines if one.kind == "headphones" and one.item), None)
    level_db = loudest_in_headphones(hub, headphones) if hub and headphones else None
    return "" if level_db is None else loudest_told(level_db)


def _cables_told(chain: Chain) -> tuple[str, ...]:
    """Every cable with its plugs and length, alike ones counted, and a spare of what fails first."""
    counts: dict[str, int] = {}
    for cable in chain.cables:
        if cable.connector != "mains" and chain.by_id[cable.to_device].kind != "headphones":  # they bring their own
            told = f"{CONNECTOR_WORDS[cable.connector]}, {length_told(cable.length_m)}"
            counts[told] = counts.get(told, 0) + 1
    spare = next((one for one in counts if one.startswith(CONNECTOR_WORDS["xlr"])), None)
    every = [f"{count} × {name}" for name, count in counts.items()]
    return (*every, f"1 × {spare}, a spare") if spare else tuple(every)
