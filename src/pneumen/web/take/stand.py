"""The stand view of Takes: the last take in figures that can be read from two metres."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.gain import school_named
from pneumen.core.verdict import Verdict
from pneumen.web.comp.punch import Punch, punch_of
from pneumen.web.part.models import Part
from pneumen.web.take.log import advice_for, logged_of
from pneumen.web.take.models import Take
from pneumen.web.take.show import sentence_of
from pneumen.web.take.watch import told_of
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.log import advice_told


@dataclass(frozen=True, slots=True, kw_only=True)
class Stand:
    """The last take: its peak in large figures, how it stands, what to do next; watched is the folder."""

    number: int | None
    peak: str
    verdict: Verdict
    sentence: str
    is_measuring: bool
    failed: str
    advice: str
    next_up: str
    watched: str
    problem: str


MOST_TOLD: Final = 3


def next_told(punch: Sequence[Punch]) -> str:
    """Say which lines to sing next, the first few of them; empty where none is left."""
    labels = [f"“{one.label}”" for one in punch[:MOST_TOLD]]
    more = _(" and {punch} more").format(punch=len(punch) - MOST_TOLD) if len(punch) > MOST_TOLD else ""
    return _("Next: {labels}{more}").format(labels=", ".join(labels), more=more) if labels else ""


def stand_of(part: Part) -> Stand:
    """Return what stands on the stand."""
    take = part.takes.prefetch_related("jobs").defer("peaks").first()
    measured = take.to_core() if take else None
    advice, row = advice_for(part, logged_of(part)), told_of(part)
    sentence = sentence_of(measured, school_named(take.snapshot["school"])) if take and measured else ""
    return Stand(
        number=take.number if take else None,
        peak="" if measured is None else figure(measured.level.sample_peak_dbfs, 1),
        verdict=(take and take.verdict) or Verdict.OPEN,
        sentence=sentence,
        is_measuring=take is not None and not take.judged and take.status != Take.FAILED,
        failed=take.error if take is not None and take.status == Take.FAILED else "",
        advice=advice_told(advice[0]) if advice else "",
        next_up=next_told(punch_of(part)),
        watched=row.path if row else "",
        problem=row.problem if row else "",
    )
