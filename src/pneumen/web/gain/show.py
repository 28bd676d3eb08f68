"""What the Gain screen says: sentence, reading, what to do next, why."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast import (
    Advice,
    Outcome,
    advise,
    conflict_of,
    cue_of,
    distance_range,
    free_remedies,
)
from pneumen.core.gain import GainVerdict, School
from pneumen.core.line import Levels
from pneumen.core.part import rise_of
from pneumen.core.setup import AS_USUAL, RecorderChain
from pneumen.core.verdict import Verdict
from pneumen.web.drawing import is_seen, those_seen
from pneumen.web.figures import Figures, figures_of
from pneumen.web.gain.by_section import BySection, by_section
from pneumen.web.gain.knob import Knob, gain_handle_of, knob_of
from pneumen.web.gain.marks import Gorge
from pneumen.web.gain.picture import (
    distance_handle,
    draw_gorge,
    narrow_frame,
    wide_frame,
)
from pneumen.web.gain.schools import SchoolRow, agreement_on_gain, rows_of_schools
from pneumen.web.gain.todo import Todo, todo_of
from pneumen.web.gain.volts import VoltsPicture, draw_volts
from pneumen.web.gain.why import Why, whys_of
from pneumen.web.hookup.services import mix_of
from pneumen.web.part.models import Part
from pneumen.web.settle import settle
from pneumen.web.take.models import Take
from pneumen.wording.controls import TURNS, turned
from pneumen.wording.figures import decimals_for, figure, off_window, with_band
from pneumen.wording.gain import in_the_way
from pneumen.wording.language import _
from pneumen.wording.lengths import near_field, near_unit


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One line of the reading: name, figure split at its point, unit, and what a take measured."""

    name: str
    mark: str
    whole: str
    tenths: str
    unit: str
    measured: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class GainScreen:
    """All the Gain screen shows; figures is None while something is only tried out, whys while it is folded away."""

    figures: Figures | None
    verdict: GainVerdict
    sentence: str
    hero: str
    hero_band: str
    hero_note: str
    in_window: bool
    hero_verdict: Verdict
    nothing_to_do: str
    gear_is_at_its_end: bool
    rows: tuple[Row, ...]
    todos: tuple[Todo, ...]
    whys: tuple[Why, ...] | None
    gorges: tuple[Gorge, ...]
    volts: tuple[VoltsPicture, ...]
    knob: Knob
    school: School
    schools: tuple[SchoolRow, ...]
    agreement: str
    by_section: BySection | None
    distance_m: float
    nearest_m: float
    farthest_m: float
    distance_share: float
    from_take: Take | None
    against_pinned: str
    place_origin: str
    gain_origin: str
    gain_follows: bool
    is_recorder: bool
    has_before: bool


def gain_screen(
    part: Part, *, distance_m: float | None = None, gain_db: float | None = None, school: str | None = None
) -> GainScreen:
    """Return what the Gain screen shows for a part, as stored or with other values tried out."""
    setup = settle(part, distance_m=distance_m, gain_db=gain_db, school=school)
    advice = advise(setup)
    before = advice.before
    tried_out = not (distance_m is None and gain_db is None and school is None)
    chosen = setup.school
    near_m, far_m = distance_range(setup)
    share = (setup.placement.distance_m - near_m) / max(far_m - near_m, 1e-6)
    leak_dbfs = cue_of(before, mix_of(part)).leak_dbfs
    return GainScreen(
        figures=None if tried_out else figures_of(part.pk, before),
        verdict=before.gain_verdict,
        sentence=sentence(part, advice),
        hero=figure(before.levels.peak_dbfs, decimals_for(before.signal_band_db)),
        hero_band=figure(max(before.signal_band_db, 0.5), decimals_for(before.signal_band_db)),
        hero_note=_hero_note(before.levels, chosen),
        in_window=not off_window(chosen.outside_db(before.levels.peak_dbfs)),
        hero_verdict=_hero_verdict(before, chosen),
        nothing_to_do=_nothing_to_do(advice),
        gear_is_at_its_end=not advice.actions and before.gain_verdict.verdict != Verdict.CLEAR,
        rows=_rows(part, before, leak_dbfs),
        todos=tuple(todo_of(action, before) for action in advice.actions[:3]),
        whys=whys_of(part, before) if is_seen("why") else None,
        gorges=_gorges(part, before, (near_m, far_m), leak_dbfs),
        volts=draw_volts(before.levels) if is_seen("volts") else (),
        knob=knob_of(before),
        school=chosen,
        schools=rows_of_schools(part, before),
        agreement=agreement_on_gain(before),
        by_section=by_section(part, before),
        distance_m=setup.placement.distance_m,
        nearest_m=near_m,
        farthest_m=far_m,
        distance_share=100 * min(max(share, 0), 1),
        from_take=part.learnt.take if part.learnt else None,
        against_pinned=_against_pinned(part, before.levels),
        place_origin=part.place_origin,
        gain_origin=part.gain_origin if part.gain_chain == part.chain_name else "",
        gain_follows=gain_db is None and (part.gain_db is None or part.gain_chain != part.chain_name),
        is_recorder=isinstance(setup.chain, RecorderChain),
        has_before=part.before != AS_USUAL,
    )


def sentence(part: Part, advice: Advice) -> str:
    """Say how things stand and what sets it; where nothing more can be done, name what is in the way."""
    told, conflict = _sentence(part, advice.before), conflict_of(advice)
    if not conflict:
        return told
    section, rise_db = rise_of(part.core_sections) or ("", 0.0)
    low, high = advice.before.setup.chain.gain_range_db
    remedies = free_remedies(advice, rise_db=rise_db)
    more = in_the_way(conflict, remedies, plugged=part.is_plugged, gainless=low == high, section=section)
    return f"{told} {more}"


SENTENCES: Final = {
    "clips": _("{phrase} passes what the {first} can take by {over} dB."),
    "near-ceiling": _("{lands}, only {under} dB under the {first}."),
    "unsure": _("{lands}, and may pass what the {first} can take: a test take narrows it."),
    "above": _("{lands}, above {window}; {noise}."),
    "below": _("{lands}, below {window}; {noise}."),
    "too-quiet": _("{lands}, far below any window; {noise}."),
    "noisy": _("Only {clean_range} dB lie between the typical level and the noise; {noise}."),
    "in-window": _("{lands}; {setter} sets your noise."),
}
"""What is said of each reason of the verdict on the gain."""


def _sentence(part: Part, before: Outcome) -> str:
    levels, school = before.levels, before.setup.school
    phrase = part.source_facts.phrase
    phrase = phrase[0].upper() + phrase[1:]
    lands = _("{phrase} lands at {peak_dbfs}").format(
        phrase=phrase, peak_dbfs=with_band(levels.peak_dbfs, before.signal_band_db, "dBFS")
    )
    noise = _("the {noise_set_by} sets your noise").format(noise_set_by=levels.noise_set_by)
    return SENTENCES[before.gain_verdict.reason].format(
        phrase=phrase,
        lands=lands,
        first=levels.clips_first,
        over=figure(-levels.headroom_db),
        under=figure(levels.headroom_db),
        window=_("your own window") if school.is_own else _("the {school} window").format(school=school.label.lower()),
        noise=noise,
        clean_range=figure(levels.clean_range_db),
        setter=_not_others(levels),
    )


def _not_others(levels: Levels) -> str:
    other = "preamp" if "preamp" in levels.noise_by_stage_dbfs else "microphone"
    return (
        _("the room, not the {other},").format(other=other)
        if levels.noise_set_by == "room"
        else _("the {noise_set_by}").format(noise_set_by=levels.noise_set_by)
    )


def _hero_note(levels: Levels, school: School) -> str:
    off = off_window(school.outside_db(levels.peak_dbfs))
    return _("{off} the window").format(off=off) if off else _("in the window")


def _hero_verdict(before: Outcome, school: School) -> Verdict:
    """The level's own verdict: what the noise does is told elsewhere."""
    if not off_window(school.outside_db(before.levels.peak_dbfs)):
        return Verdict.CLEAR
    return Verdict.WATCH if before.gain_verdict.reason == "noisy" else before.gain_verdict.verdict


def _against_pinned(part: Part, levels: Levels) -> str:
    """Tell in decibels what differs from the pinned setup."""
    if not part.pinned:
        return ""
    pinned = part.pinned
    clean_before = pinned["typical_dbfs"] - pinned["noise_dbfs"]
    changes = (
        ("peak", levels.peak_dbfs - pinned["peak_dbfs"]),
        ("noise", levels.noise_dbfs - pinned["noise_dbfs"]),
        (_("clean range"), levels.clean_range_db - clean_before),
    )
    told = [f"{name} {figure(change, sign=True)} dB" for name, change in changes if abs(change) >= 0.5]
    return _("Against the pinned setup: {text}.").format(text=", ".join(told) or _("no difference"))


def _nothing_to_do(advice: Advice) -> str:
    """Say why no advice stands here: all is well, or nothing within reach would help."""
    levels, school = advice.before.levels, advice.before.setup.school
    off = off_window(school.outside_db(levels.peak_dbfs))
    if not off:
        return _("Nothing to change. ")
    clean = figure(levels.clean_range_db)
    if "below" in off and advice.before.air is None:
        return _("The control is at its stop: turn the instrument’s own volume up. ")
    if "below" in off:
        return _(
            "Nothing within reach brings the peak higher. It can be raised afterwards, and its noise with it: "
            "{clean} dB of clean range stay. "
        ).format(clean=clean)
    if advice.before.air is None:
        return _("The control is at its lowest: turn the instrument’s own volume down. ")
    return _("Nothing within reach brings the peak lower: play or sing softer, or use a less sensitive microphone. ")


def _rows(part: Part, before: Outcome, leak_dbfs: float | None) -> tuple[Row, ...]:
    levels, measured = before.levels, measured_of(part)
    whole = [
        ("Typical", "typical_dbfs", levels.typical_dbfs, "dBFS"),
        (_("Quietest phrase"), "", levels.quiet_dbfs, "dBFS"),
        (_("Noise (A)"), "noise_dbfs", levels.noise_dbfs, "dBFS"),
        (_("Clean range"), "clean_range_db", levels.clean_range_db, "dB"),
        ("Headroom", "headroom_db", levels.headroom_db, "dB"),
    ]
    rows = []
    for name, mark, value, unit in whole:
        took = measured.get(mark)
        told = figure(took) if took is not None else ""
        rows.append(Row(name=name, mark=mark, whole=figure(value), tenths="", unit=unit, measured=told))
    if leak_dbfs is not None:
        rows.append(
            Row(name=_("Headphone leak, while playing"), mark="", whole=figure(leak_dbfs), tenths="", unit="dBFS")
        )
    if before.air is not None:
        distance = near_field(before.setup.placement.distance_m)
        rows.append(Row(name="Distance", mark="distance_m", whole=distance, tenths="", unit=near_unit()))
    if part.channels > 1:
        rows.append(Row(name=_("Channels, gains alike"), mark="", whole="2", tenths="", unit=""))
    marking = before.setup.chain.gain_marking
    if marking == "db":
        rows.append(Row(name="Gain", mark="gain_db", whole=figure(before.gain_db), tenths="", unit="dB"))
    elif marking == "bare":
        control = before.setup.chain.control
        turn, unit = turned(before.setup.chain.knob.share_at(before.gain_db), control)
        rows.append(Row(name=TURNS[control], mark="gain_db", whole=turn, tenths="", unit=unit))
    return tuple(rows)


def measured_of(part: Part) -> dict[str, float | None]:
    """Return what the take that taught this part measured, while the setup is still the one it was taken with."""
    take = part.learnt.take if part.learnt else None
    measurement = take.to_core() if take else None
    if take is None or measurement is None:
        return {}
    snapshot, setup = take.snapshot, settle(part)
    now = setup.placement.distance_m, setup.gain_db
    if snapshot["chain_name"] != part.chain_name or (take.distance_m, take.gain_db) != now:
        return {}
    level, noise = measurement.level, measurement.noise
    return {
        "peak_dbfs": level.sample_peak_dbfs,
        "typical_dbfs": level.active_rms_dbfs,
        "noise_dbfs": noise.floor_dbfs_a,
        "clean_range_db": noise.clean_range_db,
    }


def _gorges(part: Part, before: Outcome, reach_m: tuple[float, float], leak_dbfs: float | None) -> tuple[Gorge, ...]:
    lowest = min(before.levels.noise_by_stage_dbfs.values())
    gorges = []
    for frame in those_seen(wide_frame(lowest), narrow_frame(lowest)):
        handles = []
        if before.distance_m is not None:
            handles.append(distance_handle(frame, before, reach_m, before.distance_m))
        if before.setup.chain.gain_marking != "none":
            handles.append(gain_handle_of(frame, before))
        gorges.append(
            draw_gorge(
                before,
                before.setup.school,
                source_label="" if part.is_plugged else part.source_facts.label.split()[-1].capitalize(),
                frame=frame,
                handles=tuple(handles),
                pinned=part.pinned,
                measured={key: value for key, value in measured_of(part).items() if key != "typical_dbfs"},
                leak_dbfs=leak_dbfs,
            )
        )
    return tuple(gorges)
