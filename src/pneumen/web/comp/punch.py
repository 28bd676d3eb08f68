"""What to sing next: lines that no take does well, for the sheet, the stand and the session's paper."""

from dataclasses import dataclass

from pneumen.web.comp.choices import Sheet, sheet_of
from pneumen.web.part.models import Part
from pneumen.wording.sheet import line_label, punch_told


@dataclass(frozen=True, slots=True, kw_only=True)
class Punch:
    """A line to sing again: what it is, and why."""

    pk: int
    label: str
    told: str


def punch_of(part: Part, sheet: Sheet | None = None) -> tuple[Punch, ...]:
    """Return what a part is to sing again; nothing before its takes were laid to lines."""
    found = sheet or sheet_of(part)
    if not found.lines or found.lines[0].start_s is None:
        return ()
    return tuple(
        Punch(
            pk=found.lines[one.line].pk,
            label=line_label(found.lines[one.line].words, found.lines[one.line].bars, one.line + 1),
            told=punch_told(one),
        )
        for one in found.punch
    )
