"""Gain by section, as the Gain screen shows it."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast import GainPlan, Outcome, SectionGain, clip_chances, gain_plan
from pneumen.core.part import loudest_of
from pneumen.core.setup import PlugLevels
from pneumen.web.gain.knob import setting_told
from pneumen.web.part.models import Part
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.sections import change_told, plan_told, risk_in_words, risk_told

HALF_A_STEP_DB: Final = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class SectionRow:
    """A section: what to set, how far from now, where its peak lands, its clean range and risk; with one for all."""

    name: str
    setting: str
    change: str
    gain: str
    peak: str
    clean: str
    risk: str
    with_one: str
    is_set: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class BySection:
    """The card: its sentences and rows; settable where there is a control."""

    told: tuple[str, ...]
    rows: tuple[SectionRow, ...]
    settable: bool


def by_section(part: Part, found: Outcome) -> BySection | None:
    """Return the gains of a part's sections; None where it has fewer than two."""
    plan = gain_plan(found, part.core_sections, _seen(part))
    if plan is None:
        return None
    return BySection(
        told=plan_told(plan, found.setup.school.low_dbfs),
        rows=tuple(_row(found, plan, number) for number in range(len(plan.by_section))),
        settable=found.setup.chain.gain_marking != "none",
    )


def risks_at(part: Part, found: Outcome, gains_db: Sequence[float]) -> list[str]:
    """Say how often the loudest section clips at each gain: what the sections' own rows say of it."""
    seen = _seen(part)
    takes = seen.get(_loudest(part), ())
    chances = clip_chances(found, gains_db, takes, unrecorded=not takes and bool(seen))
    return [risk_in_words(one) for one in chances]


def _loudest(part: Part) -> str:
    sections = part.core_sections
    return sections[loudest_of(sections) or 0].name if sections else ""


def _row(found: Outcome, plan: GainPlan, number: int) -> SectionRow:
    one, shared = plan.by_section[number], plan.with_one[number]
    return SectionRow(
        name=one.name,
        setting=setting_told(found.setup.chain, one.gain_db),
        change=change_told(one.gain_db - found.gain_db) if found.setup.chain.gain_marking == "bare" else "",
        gain=f"{one.gain_db:g}",
        peak=figure(one.peak_dbfs),
        clean=figure(one.clean_range_db),
        risk=risk_told(one),
        with_one=_shared(shared),
        is_set=abs(one.gain_db - found.gain_db) < HALF_A_STEP_DB,
    )


def _shared(one: SectionGain) -> str:
    return _("{peak_dbfs} dBFS, {clean_range_db} dB clean").format(
        peak_dbfs=figure(one.peak_dbfs), clean_range_db=figure(one.clean_range_db)
    )


def _seen(part: Part) -> dict[str, list[float]]:
    """Return the peaks that takes with this chain told, by the section they were of: else the loudest."""
    loudest = _loudest(part)
    found: dict[str, list[float]] = {}
    for lesson in part.lessons.all():
        if lesson.what == "level" and not lesson.undone and lesson.chain == part.chain_name and lesson.take:
            name = (lesson.take.recorded or {}).get("section") or loudest
            levels = lesson.source_levels
            peak_db = levels.peak_dbu if isinstance(levels, PlugLevels) else levels.peak_db_spl
            found.setdefault(name, []).append(peak_db)
    return found
