"""The plan as the Start screen shows it: kit, plugging, distance, gain, buffer, each with band and reason."""

from dataclasses import dataclass

from pneumen.core.delay import BAND_MS
from pneumen.core.errors import given
from pneumen.core.forecast import Advice, Outcome, advise
from pneumen.core.gear import interface_from_sheet, microphone_from_sheet
from pneumen.core.kit import KIND_LABELS, KitInUse
from pneumen.core.place import SWAY_M
from pneumen.core.verdict import Verdict, worst_of
from pneumen.web.delay.plan import delay_of
from pneumen.web.delay.show import delay_verdict
from pneumen.web.figures import Figures, figures_of
from pneumen.web.gain.show import sentence
from pneumen.web.gain.todo import todo_of
from pneumen.web.gain.why import Why, whys_of
from pneumen.web.hookup.rule import phantom_rule_of
from pneumen.web.hookup.services import mix_of
from pneumen.web.kit.amiss import amiss_told
from pneumen.web.kit.needs import parts_of_song
from pneumen.web.kit.order import OrderStep, order_of, records_by_itself
from pneumen.web.kit.packing import Packing, packing_of
from pneumen.web.kit.services import crowd_in, in_use, money_short, supply_verdict
from pneumen.web.part.models import Part
from pneumen.web.settle import settle
from pneumen.web.song.models import AUDIENCES, Song
from pneumen.wording.controls import CONTROLS, place_told
from pneumen.wording.delay import delay_sentence
from pneumen.wording.figures import figure, kilohertz, money, with_band
from pneumen.wording.hookup import phantom_told
from pneumen.wording.kit import why_nothing_fits
from pneumen.wording.language import _
from pneumen.wording.lengths import calm_told, near
from pneumen.wording.order import crowded_told, money_short_told
from pneumen.wording.room import lead_told, noise_told

ASSUMED_LABELS = {
    "sensitivity_mv_per_pa": _("sensitivity"),
    "self_noise_dba": _("self-noise"),
    "max_spl_db": _("maximum SPL"),
    "impedance_ohm": _("impedance"),
    "pattern": _("pattern"),
    "full_scale_db_spl": _("maximum SPL"),
    "gain_min_db": _("lowest gain"),
    "gain_max_db": _("highest gain"),
    "ein_dbu": _("EIN"),
    "max_input_dbu": _("maximum input"),
    "input_impedance_ohm": _("input impedance"),
    "dynamic_range_db": _("dynamic range"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """One line of the plan: what, the figure with its band and the name it is marked with, and why."""

    title: str
    value: str
    note: str
    why: Why
    verdict: str = ""
    mark: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """The whole plan. nothing_fits says why the money is short, cheapest what would do; the rest stands all the same."""

    figures: Figures
    order: tuple[OrderStep, ...]
    nothing_fits: str
    cheapest: float | None
    sentence: str
    verdict: Verdict
    packing: Packing
    lacking: str
    crowded: bool
    assumed: tuple[str, ...]
    kit_why: Why
    answers: tuple[Answer, ...]
    expect: tuple[tuple[str, str, str, str], ...]
    phantom: tuple[Verdict, str]


def plan_of(part: Part) -> Plan:
    """Return the plan for a part: the song's kit, of which this part uses its own, and how it is set up with it."""
    advice = advise(settle(part))
    found, kit = advice.before, in_use(part.song)
    short, cheapest = _money_short(part.song, kit)
    phantom = phantom_rule_of(part)
    return Plan(
        figures=figures_of(part.pk, found),
        order=order_of(kit.lines, part.song.budget, records_by_itself(part.song)) if short else (),
        nothing_fits=short,
        cheapest=cheapest,
        sentence=" ".join(
            filter(None, (*_of_the_song(part, kit, short), sentence(part, advice), _room_told(part, found)))
        ),
        verdict=plan_verdict(part.song, found),
        packing=packing_of(kit, part.song),
        lacking=", ".join(KIND_LABELS[kind].lower() for kind in kit.lacking),
        crowded=bool(crowd_in(part.song)),
        assumed=tuple(_assumed(part)),
        kit_why=_why_this_kit(part, found),
        answers=(
            *(() if part.is_plugged else (_place_answer(advice),)),
            _gain_answer(part, advice),
            *(() if found.setup.round_trip_ms is None else (_buffer_answer(part, found),)),
            _format_answer(part),
        ),
        expect=_expect(found),
        phantom=(phantom.verdict, phantom_told(phantom)),
    )


def _of_the_song(part: Part, kit: KitInUse, short: str) -> tuple[str, str]:
    return amiss_told(part.song), short or _costs(kit, part)


def _room_told(part: Part, found: Outcome) -> str:
    """Say what the room does where nothing else is as bad: a verdict has its reason beside it."""
    rest = worst_of([supply_verdict(part.song), found.gain_verdict.verdict])
    if found.air is None or not found.setup.fits_its_room or worst_of([rest, found.room_verdict]) is rest:
        return ""
    setup = found.setup
    told = lead_told(setup.placement.distance_m, found.air.lead_db, setup.source.dry_enough_db)
    return f"{told}{noise_told(found.air.noise_dba)}."


def plan_verdict(song: Song, found: Outcome) -> Verdict:
    """Return how a plan stands: its money, its gain and its room."""
    return worst_of([supply_verdict(song), found.gain_verdict.verdict, found.room_verdict])


def _money_short(song: Song, kit: KitInUse) -> tuple[str, float | None]:
    """Say that nothing complete fits the money, and what the cheapest costs; nothing where a kit fits."""
    short = money_short(song)
    if short is None:
        return "", None
    if short.error is not None and short.cheapest is None:
        told = _("Nothing complete fits: {error}. Until then what you own is planned with, the rest is assumed.")
        return told.format(error=why_nothing_fits(short.error)), None
    assumed = any(part.assumed_devices for part in parts_of_song(song))
    planned = _(" What you own is planned with, the rest is assumed.") if assumed else ""
    return money_short_told(kit.lines, song.budget, records_by_itself(song)) + planned, short.cheapest


def _costs(kit: KitInUse, part: Part) -> str:
    whole = "" if len(parts_of_song(part.song)) == 1 else _(" for the song")
    if crowd := crowd_in(part.song):
        return crowded_told(crowd)
    if not kit.total:
        return _("With what you own, nothing more to buy{whole}.").format(whole=whole)
    return _("A complete kit{whole} for {total}.").format(whole=whole, total=money(kit.total))


def _expect(found: Outcome) -> tuple[tuple[str, str, str, str], ...]:
    """What to expect of a take: name, figure, unit, and the name it is marked with."""
    levels = found.levels
    rows = [
        (_("Loudest peak"), with_band(levels.peak_dbfs, found.signal_band_db, ""), "dBFS", "peak_dbfs"),
        (_("Clean range"), figure(levels.clean_range_db), "dB", "clean_range_db"),
    ]
    if found.air:
        rows.append((_("Direct over room sound"), figure(found.air.lead_db), "dB", "direct_to_reverberant_db"))
        if found.air.rt60_s:
            rows.append((_("Reverberation time (RT60)"), figure(found.air.rt60_s, 2), "s", "rt60_s"))
    return tuple(rows)


def _why_this_kit(part: Part, found: Outcome) -> Why:
    noise = found.levels.noise_set_by
    dearer = _(": a dearer microphone would hear the same room") if noise == "room" else ""
    chosen = _("You chose this kit.") if part.song.kit_taken else _("It is the recommended kit within the money.")
    if part.has_own_chain:
        chosen = _("It is your own chain; Kit shows what others would do.")
    return Why(
        title=_("Why this kit"),
        lines=(
            chosen,
            _("For {name} it reaches {clean_range_db} dB of clean range; the {noise} sets the noise{dearer}.").format(
                name=part.name, clean_range_db=figure(found.levels.clean_range_db), noise=noise, dearer=dearer
            ),
        ),
        source=_("every kit worked out by the level diagram; no heuristic"),
    )


def _assumed(part: Part) -> list[str]:
    told = [_("{name}: nothing is chosen or owned yet.").format(name=item.name) for item in part.assumed_devices]
    microphone, interface = part.microphone, part.interface
    if microphone and microphone.owned and microphone.kind == "microphone":
        _sheet_of, names, band_db = microphone_from_sheet(microphone.family, microphone.sheet)
        told += _assumption(microphone.name, names, band_db)
    if interface and interface.owned:
        _sheet, names, band_db = interface_from_sheet(interface.family, interface.sheet)
        told += _assumption(interface.name, names, band_db)
    return told


def _assumption(name: str, fields: tuple[str, ...], band_db: float) -> list[str]:
    if not fields:
        return []
    listed = ", ".join(ASSUMED_LABELS[field] for field in fields)
    return [
        _("{name}: {listed} taken from its family; its level is sure to ±{band_db:g} dB.").format(
            name=name, listed=listed, band_db=band_db
        )
    ]


REASONS = {
    "habit": _("the usual distance"),
    "room": _("closer than usual, so that the room stays behind"),
    "sway": _("no nearer, or swaying would change the level by more than 6 dB"),
    "bass": _("farther than usual, or the bass would build up"),
    "pops": _("out of the air of P and B"),
    "overload": _("farther than usual, or this microphone would be overloaded"),
    "too-high": _("farther than usual: distance is the gain here"),
    "too-low": _("closer than usual: distance is the gain here"),
    "noise": _("closer than usual, so that the noise stays behind"),
}


def _place_answer(advice: Advice) -> Answer:
    found, best = advice.before, advice.recommended
    air, distance_m, best_m = found.in_air, found.setup.placement.distance_m, best.miked_at_m
    calm = air.calm_m
    works = calm_told(*calm) if calm else _("no distance is calm in this room")
    moved = abs(best_m - distance_m) > LEAST_MOVE_M
    reason = _("recommended are {best_m}").format(best_m=near(best_m)) if moved else REASONS[best.decided_by]
    reason += _("; the room allows it") if calm and best.decided_by == "habit" and not moved else ""
    rt60 = f"{air.rt60_s:.2f} s" if air.rt60_s else _("hardly any")
    critical = near(air.critical_distance_m) if air.critical_distance_m else "nowhere"
    sway = air.felt.get("sway")
    swaying = (
        _("; swaying {sway_m} to and fro is {sway} dB").format(sway_m=near(SWAY_M), sway=figure(sway))
        if sway is not None
        else ""
    )
    why = Why(
        title=_("Why this distance"),
        lines=(
            _(
                "Reverberation time {rt60} in {volume_m3:.0f} m³: by statistics direct and room sound "
                "are equal at {critical}."
            ).format(rt60=rt60, volume_m3=found.setup.space.volume_m3, critical=critical),
            _(
                "At {distance_m} the direct sound stands {lead_db} dB over the room’s, each echo followed{swaying}."
            ).format(distance_m=near(distance_m), lead_db=figure(air.lead_db), swaying=swaying),
        ),
        source=_("Allen and Berkley, 1979; Eyring, 1930; what is calm is common practice, no source"),
    )
    return Answer(
        title=_("Distance to start from"),
        value=near(distance_m),
        note=_("{works}; {reason}. To the capsule, {near} to {near_2} behind the grille.").format(
            works=works, reason=reason, near=near(0.02), near_2=near(0.03)
        ),
        why=why,
        verdict=found.place_verdict,
        mark="distance_m",
    )


LEAST_MOVE_M = 0.011
CENT = 0.005


def _gain_answer(part: Part, advice: Advice) -> Answer:
    found = advice.before
    chain, school = found.setup.chain, found.setup.school
    value = {
        "db": with_band(found.gain_db, found.signal_band_db, "dB"),
        "bare": place_told(chain.knob.share_at(found.gain_db), chain.control),
        "none": _("none to set"),
    }[chain.gain_marking]
    control = CONTROLS[chain.control]
    bare = _(
        "the {control} carries no decibels: start here, then let a test take say how much lower or higher."
    ).format(control=control)
    note = {
        "db": _("for a highest peak near {aim} dBFS; a test take narrows it.").format(aim=figure(school.aim_dbfs)),
        "bare": bare,
        "none": _("this microphone has no gain control: distance is the gain."),
    }[chain.gain_marking]
    gain_action = next((one for one in advice.actions if one.kind == "gain"), None)
    if gain_action is not None:
        note = _("{title} would bring it into the window.").format(title=todo_of(gain_action, found).title)
    return Answer(
        title=_("Gain to set"),
        value=value,
        note=note,
        why=whys_of(part, found)[0],
        verdict=found.gain_verdict.verdict,
        mark="gain_db",
    )


def _buffer_answer(part: Part, found: Outcome) -> Answer:
    plan = given("delay", delay_of(part))
    why = Why(
        title=_("Why this buffer"),
        lines=(
            _(
                "An input and an output buffer of {buffer} samples at {sample_rate_hz}, the driver’s safety "
                "offset each way and the converters, as far as this device’s sheet tells: {round_trip_ms} ±{band_ms} ms "
                "to your ears."
            ).format(
                buffer=plan.buffer,
                sample_rate_hz=kilohertz(plan.sample_rate_hz),
                round_trip_ms=figure(plan.round_trip_ms, 1),
                band_ms=figure(BAND_MS, 1),
            ),
            _("A smaller one shortens that and costs the computer more; direct monitoring takes it out of the way."),
        ),
        source=_(
            "round trip by arithmetic; safety offset, converters and what a computer bears are common practice, no source"
        ),
    )
    return Answer(
        title="Buffer",
        value=f"{plan.buffer} samples",
        note=delay_sentence(plan, mix_of(part).own),
        why=why,
        verdict=delay_verdict(part, found),
    )


def _format_answer(part: Part) -> Answer:
    label, _rest, reason = AUDIENCES[part.song.audience]
    why = Why(
        title=_("Why this format"),
        lines=(reason, _("24 bits leave 146 dB between full scale and rounding: level can stay low.")),
        source=_("6.02 N + 1.76 dB; rates are common practice, no source"),
    )
    return Answer(
        title="File",
        value=f"24-bit, {kilohertz(part.song.sample_rate_hz)}",
        note=_("{lower}: WAV, {channels}, one file a part.").format(
            lower=label.lower(), channels=_("stereo") if part.channels == 2 else _("mono")
        ),
        why=why,
    )
