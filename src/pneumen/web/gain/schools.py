"""The schools of gain: what each would ask for here, and where most agree."""

from dataclasses import dataclass, replace

from pneumen.core.forecast import Outcome, gain_for, window_missed_db
from pneumen.core.gain import SCHOOLS, School, agreement_of, gain_window_db
from pneumen.web.gain.by_section import risks_at
from pneumen.web.gain.knob import setting_told
from pneumen.web.part.models import Part
from pneumen.wording.figures import off_window
from pneumen.wording.gain import agreement_told
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolRow:
    """A school: the gain it would ask for here, and how often the loudest moment would clip at it."""

    school: School
    wants: str
    risk: str
    chosen: bool


def rows_of_schools(part: Part, before: Outcome) -> tuple[SchoolRow, ...]:
    """Every school with the gain it would ask for here, and what that costs; without a control, where the peak lies."""
    own = () if before.setup.school in SCHOOLS else (before.setup.school,)
    schools = (*SCHOOLS, *own)
    asked = [asked_by(before, school) for school in schools]
    risks = risks_at(part, before, [gain_db for _rest, gain_db in asked])
    return tuple(
        SchoolRow(school=school, wants=wants, risk=risk, chosen=school == before.setup.school)
        for school, (wants, _rest), risk in zip(schools, asked, risks, strict=True)
    )


def asked_by(before: Outcome, school: School) -> tuple[str, float]:
    """Return what a school asks for in words, and the gain that is then set."""
    setup = replace(before.setup, school=school)
    gain_db = gain_for(setup, before.levels)
    if gain_db is None:
        return off_window(school.outside_db(before.levels.peak_dbfs)) or "inside", before.gain_db
    missed = window_missed_db(setup, before.levels)
    return _("out of reach") if missed else setting_told(setup.chain, gain_db), gain_db


def agreement_on_gain(before: Outcome) -> str:
    """Say on which gains most schools agree, of those that the control reaches."""
    chain, (lowest, highest) = before.setup.chain, before.setup.chain.gain_range_db
    if chain.gain_marking == "none":
        return ""
    windows = {one.slug: gain_window_db(before.levels, before.gain_db, one) for one in SCHOOLS}
    reached = {slug: (max(low, lowest), min(high, highest)) for slug, (low, high) in windows.items()}
    found = agreement_of({slug: window for slug, window in reached.items() if window[0] <= window[1]})
    if not found.schools:
        return ""
    labels = {one.slug: one.label for one in SCHOOLS}
    others = [labels[one] for one in labels if one not in found.schools]
    return agreement_told(
        setting_told(chain, found.low_db), setting_told(chain, found.high_db), len(found.schools), others
    )
