"""What a part's source asks of its room, as the Room screen shows it."""

from dataclasses import dataclass

from pneumen.core.forecast import Case, PartSetup, cases_of
from pneumen.core.verdict import Verdict
from pneumen.web.part.models import Part
from pneumen.web.room.outward import level_1m_db
from pneumen.wording.cases import TITLES, case_told


@dataclass(frozen=True, slots=True, kw_only=True)
class CaseTold:
    """Something to know: what, with its figures, and where one press takes the performer (empty for nowhere)."""

    verdict: Verdict
    title: str
    told: str
    values: dict[str, str]


def cases_told(part: Part, here: PartSetup) -> tuple[CaseTold, ...]:
    """Return what is told of a part, the special cases first."""
    found = () if part.is_plugged else cases_of(here, level_1m_db(part))
    return tuple(
        CaseTold(verdict=case.verdict, title=TITLES[case.kind], told=case_told(case), values=_spot(case))
        for case in found
    )


def _spot(case: Case) -> dict[str, str]:
    """Return the place a case sends the performer to, as the plan's form has it."""
    if case.corner is None:
        return {}
    x, y = case.corner.stand_m
    return {"stand_x": f"{x:.2f} m", "stand_y": f"{y:.2f} m", "facing": f"{case.corner.bearing_deg:.0f}"}
