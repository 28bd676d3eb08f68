"""The plan as the Start screen shows it: kit, plugging, distance, gain, buffer, each with band and reason."""

from dataclasses import dataclass

from pneumen.core.delay import BufferChoice, choose_buffer
from pneumen.core.errors import NothingFits
from pneumen.core.gain import school_named, share_at_gain
from pneumen.core.gear import interface_from_sheet, microphone_from_sheet
from pneumen.core.hookup import (
    PhantomRule,
    PlugStep,
    phantom_rule,
    plugged_order,
    plugged_phantom_rule,
    plugging_order,
)
from pneumen.core.kit import Kit
from pneumen.core.kit import Plan as KitPlan
from pneumen.core.place import SWAY_M, starting_distance
from pneumen.core.room import critical_distance_m
from pneumen.web.gain.show import GainScreen, gain_screen
from pneumen.web.gain.why import Why
from pneumen.web.kit.packing import Packing, packing_of
from pneumen.web.lengths import near
from pneumen.web.song.models import AUDIENCES, Part
from pneumen.web.song.outlook import outlook_of
from pneumen.web.start.services import plan_kit
from pneumen.web.wording import figure, money, share_of_turn, with_band

ASSUMED_LABELS = {
    "sensitivity_mv_per_pa": "sensitivity",
    "self_noise_dba": "self-noise",
    "max_spl_db": "maximum SPL",
    "impedance_ohm": "impedance",
    "pattern": "pattern",
    "full_scale_db_spl": "maximum SPL",
    "gain_min_db": "lowest gain",
    "gain_max_db": "highest gain",
    "ein_dbu": "EIN",
    "max_input_dbu": "maximum input",
    "input_impedance_ohm": "input impedance",
    "dynamic_range_db": "dynamic range",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """One line of the plan: what, the figure with its band, and why."""

    title: str
    value: str
    note: str
    why: Why
    verdict: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """The whole plan, or why there is none (nothing_fits, with the cheapest total that would do)."""

    nothing_fits: str
    cheapest: float | None
    sentence: str
    verdict: str
    packing: Packing | None
    assumed: tuple[str, ...]
    kit_why: Why | None
    answers: tuple[Answer, ...]
    steps: tuple[tuple[PlugStep, bool], ...]
    phantom: PhantomRule | None
    gain: GainScreen | None


def plan_of(part: Part) -> Plan:
    """Return the plan for a part that was answered."""
    try:
        kits = plan_kit(part)
    except NothingFits as error:
        return _no_plan(part, error)
    kit = kits.kits[kits.recommended]
    gain = gain_screen(part)
    phantom, steps = _plugging(kit)
    return Plan(
        nothing_fits="",
        cheapest=None,
        sentence=_sentence(kit, gain),
        verdict=gain.verdict.verdict,
        packing=packing_of(kit, part.song),
        assumed=tuple(_assumed(kit)),
        kit_why=_why_this_kit(kits),
        answers=(
            *(() if part.is_plugged else (_place_answer(part),)),
            _gain_answer(part, gain),
            _buffer_answer(part),
            _format_answer(part),
        ),
        steps=tuple((step, step.slug in part.plugged) for step in steps),
        phantom=phantom,
        gain=gain,
    )


def _plugging(kit: Kit) -> tuple[PhantomRule, tuple[PlugStep, ...]]:
    software = next((line.item.name.split(",")[0] for line in kit.lines if line.kind == "software" and line.item), "")
    if kit.microphone is None:
        box = kit.voices[0].box
        how = {"box": box is not None, "active_box": box is not None and box.active is True}
        return plugged_phantom_rule(**how), plugged_order(**how, software=software)
    family, booster = kit.microphone.microphone_family, kit.booster is not None
    return phantom_rule(family, booster=booster), plugging_order(family, booster=booster, software=software)


def _no_plan(part: Part, error: NothingFits) -> Plan:
    if error.cheapest_total is None:
        told = "No kit here can bring this part to a good level. Choose another route, or leave the microphone open."
    else:
        told = (
            f"Nothing complete fits {money(part.song.budget)}: the cheapest working kit costs {money(error.cheapest_total)}. "
            "Tick what you own already, or raise the money."
        )
    empty = dict.fromkeys(("assumed", "answers", "steps"), ())
    return Plan(
        nothing_fits=told,
        cheapest=error.cheapest_total,
        sentence=told,
        verdict="watch",
        packing=None,
        phantom=None,
        kit_why=None,
        gain=None,
        **empty,
    )


def _sentence(kit: Kit, gain: GainScreen) -> str:
    costs = "With what you own, nothing more to buy" if not kit.total else f"A complete kit for {money(kit.total)}"
    return f"{costs}. {gain.sentence}"


def _why_this_kit(plan: KitPlan) -> Why:
    kit, best = plan.kits[plan.recommended], max(kit.clean_range_db for kit in plan.kits)
    return Why(
        title="Why this kit",
        lines=(
            f"{len(plan.kits)} kit{'s' if len(plan.kits) > 1 else ''} within the money that no other beats; the best reaches a clean range of "
            f"{figure(best)} dB here, this one {figure(kit.clean_range_db)} dB.",
            "Taken is the cheapest within 1 dB of the best in clean range and in direct sound against the room’s.",
            f"The {kit.noise_set_by} sets the noise{': a dearer microphone would hear the same room' if kit.noise_set_by == 'room' else ''}.",
        ),
        source="every kit worked out by the level diagram; no heuristic",
    )


def _assumed(kit: Kit) -> list[str]:
    told = []
    if kit.microphone and kit.microphone.owned:
        _, names, band_db = microphone_from_sheet(kit.microphone.family, kit.microphone.sheet)
        told += _assumption(kit.microphone.name, names, band_db)
    if kit.interface and kit.interface.owned:
        _, names, band_db = interface_from_sheet(kit.interface.family, kit.interface.sheet)
        told += _assumption(kit.interface.name, names, band_db)
    return told


def _assumption(name: str, fields: tuple[str, ...], band_db: float) -> list[str]:
    if not fields:
        return []
    listed = ", ".join(ASSUMED_LABELS[field] for field in fields)
    return [f"{name}: {listed} taken from its family; its level is sure to ±{band_db:g} dB."]


def _place_answer(part: Part) -> Answer:
    room, pattern = part.song.room.to_core(), outlook_of(part).chain.microphone.pattern
    place = starting_distance(part.source_facts, room, pattern)
    reasons = {
        "habit": "the usual distance; the room allows it",
        "room": "closer than usual, so that the room stays behind",
        "sway": "no nearer, or swaying would change the level by more than 6 dB",
    }
    critical = critical_distance_m(room.volume_m3, room.rt60_s, pattern)
    why = Why(
        title="Why this distance",
        lines=(
            f"Ring time {room.rt60_s:.2f} s in {room.volume_m3:.0f} m³ (from your words, Eyring): direct and room sound "
            f"are equal at 0.057 √(Q V / T) = {near(critical)}.",
            f"At {near(place.distance_m)} the direct sound leads by {figure(place.direct_to_reverberant_db)} dB; "
            f"swaying {near(SWAY_M)} to and fro is {figure(place.sway_db)} dB.",
        ),
        source="statistical room acoustics, Kuttruff (from memory); 10 dB of lead is common practice, no source",
    )
    low, high = place.band_m
    return Answer(
        title="Distance to start from",
        value=near(place.distance_m),
        note=f"{near(low)} to {near(high)} works; {reasons[place.decided_by]}. To the capsule, {near(0.02)} to {near(0.03)} behind the grille.",
        why=why,
    )


def _gain_answer(part: Part, gain: GainScreen) -> Answer:
    outlook, school = outlook_of(part), school_named(part.school)
    prediction = outlook.prediction
    band = prediction.signal_band_db
    wanted = outlook.gain_db + school.aim_dbfs - prediction.levels.peak_dbfs
    low, high = outlook.chain.gain_range_db
    wanted = min(max(wanted, low), high)
    marking = outlook.chain.gain_marking
    value = {
        "db": with_band(wanted, band, "dB"),
        "bare": f"about {share_of_turn(share_at_gain(wanted, (low, high)))}",
        "none": "none to set",
    }[marking]
    note = {
        "db": f"for a highest peak near {figure(school.aim_dbfs)} dBFS; a test take narrows it.",
        "bare": "the knob carries no decibels: start here, then let a test take say how much lower or higher.",
        "none": "this microphone has no gain control: distance is the gain.",
    }[marking]
    return Answer(title="Gain to set", value=value, note=note, why=gain.whys[0], verdict=gain.verdict.verdict)


def _buffer_answer(part: Part) -> Answer:
    choice: BufferChoice = choose_buffer(part.song.computer, part.song.sample_rate_hz)
    why = Why(
        title="Why this buffer",
        lines=(
            f"Two buffers and two safety offsets of 32 samples at {choice.sample_rate_hz / 1000:g} kHz, and 1.2 ms of converters: "
            f"{choice.round_trip_ms:.1f} ms to your ears.",
            "A smaller one shortens that and costs the computer more; direct monitoring takes it out of the way.",
        ),
        source="round trip by arithmetic; safety offset, converters and what a computer bears are common practice, no source",
    )
    return Answer(
        title="Buffer",
        value=f"{choice.samples} samples",
        note=f"{choice.round_trip_ms:.0f} ±{choice.band_ms:g} ms to hear yourself through the computer; use direct monitoring if there is any.",
        why=why,
        verdict=choice.verdict,
    )


def _format_answer(part: Part) -> Answer:
    label, _, reason = AUDIENCES[part.song.audience]
    why = Why(
        title="Why this format",
        lines=(reason, "24 bits leave 146 dB between full scale and rounding: level can stay low."),
        source="6.02 N + 1.76 dB; rates are common practice, no source",
    )
    return Answer(
        title="File",
        value=f"24-bit, {part.song.sample_rate_hz / 1000:g} kHz",
        note=f"{label.lower()}: WAV, mono, one file a part.",
        why=why,
    )
