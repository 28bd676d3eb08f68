"""What is said of takes line by line, what is proposed, and what is chosen."""

from collections.abc import Mapping
from dataclasses import dataclass
from operator import attrgetter
from typing import Any, Final

from django.db import transaction

from pneumen.core.comp import Candidate, LineChoice, PunchLine, audible_changes, propose, punch_list
from pneumen.core.errors import Contradiction, UnknownName
from pneumen.core.take import MANY_TAKES, MARKED, MARKS
from pneumen.web.comp.models import LineTake, SheetLine
from pneumen.web.part.models import Part
from pneumen.web.take.log import preferences_of
from pneumen.web.take.models import Take
from pneumen.wording.language import _

HELD: Final = (
    "line_id",
    "take_id",
    *MARKED,
    *("holds", "faults", "others", "kinds", "offset_ms", "cents", "level_db", "lag_s", "sounds_in", "sounds_out"),
)
Held = Any
"""A row of LineTake as plain values, with these names."""
OWN_MARKS: Final = attrgetter(*MARKED)


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """The sheet as it stands: its lines, what takes hold of each by take number, and what is proposed.

    marks are those of each take in a line: its own, or else those of the whole pass. chosen is each line's take, where
    one is chosen that holds it.
    """

    lines: tuple[SheetLine, ...]
    held: tuple[Mapping[int, Held], ...]
    choices: tuple[LineChoice, ...]
    punch: tuple[PunchLine, ...]
    chosen: Mapping[int, int]
    marks: tuple[Mapping[int, Mapping[str, str]], ...]

    @property
    def path(self) -> tuple[int | None, ...]:
        """The take of each line: chosen, or else proposed."""
        return tuple(self.chosen.get(number, one.take) for number, one in enumerate(self.choices))


def sheet_of(part: Part) -> Sheet:
    """Return the sheet of a part."""
    lines = tuple(part.sheet_lines.all())
    laid = LineTake.objects.filter(line__part=part)
    takes = {row["pk"]: row for row in part.takes.filter(pk__in=laid.values("take")).values("pk", "number", *MARKED)}
    numbers = {pk: row["number"] for pk, row in takes.items()}
    passes = {row["number"]: {name: row[name] for name in MARKED} for row in takes.values()}
    held: list[dict[int, Held]] = [{} for _rest in lines]
    places = {line.pk: number for number, line in enumerate(lines)}
    # As plain values: a long sheet has hundreds of these, and each choice reads them all.
    for row in laid.order_by("take__number").values_list(*HELD, named=True):
        if row.take_id in numbers:  # what was put away holds nothing any more
            held[places[row.line_id]][numbers[row.take_id]] = row
    marks = tuple({number: marks_of(row, passes[number]) for number, row in rows.items()} for rows in held)
    candidates = [_candidates(rows, of_line) for rows, of_line in zip(held, marks, strict=True)]
    chosen = {
        number: numbers[line.take_id]
        for number, line in enumerate(lines)
        if line.take_id in numbers and any(one.take == numbers[line.take_id] for one in candidates[number])
    }
    preferences = preferences_of(part)
    choices = propose(candidates, judging=preferences.judging, rough=audible_changes(held), fixed=chosen)
    rest_after = MANY_TAKES if preferences.rest == "ten" else None
    return Sheet(
        lines=lines,
        held=tuple(held),
        choices=choices,
        punch=punch_list(choices, candidates, rest_after=rest_after),
        chosen=chosen,
        marks=marks,
    )


def _candidates(rows: Mapping[int, Held], marks: Mapping[int, Mapping[str, str]]) -> list[Candidate]:
    return [
        Candidate(take=number, faults=row.faults, others=row.others, marks=marks[number])
        for number, row in rows.items()
        if row.holds
    ]


def marks_of(row: Held, of_pass: Mapping[str, str]) -> Mapping[str, str]:
    """Return the marks of a take in a line: its own, or else those of the whole pass."""
    own = OWN_MARKS(row)
    return of_pass if not any(own) else {name: mark or of_pass[name] for name, mark in zip(MARKED, own, strict=True)}


@transaction.atomic
def choose(line: SheetLine, number: int | None) -> None:
    """Choose a take for a line, or none.

    Raises:
        UnknownName: for a take that is not there.
        Contradiction: for one that does not hold the line.
    """
    take = None
    if number is not None:
        take = line.part.takes.filter(number=number).first()
        if take is None:
            raise UnknownName("take", str(number), tuple(map(str, line.part.takes.values_list("number", flat=True))))
        if not line.takes.filter(take=take, holds=True).exists():
            raise Contradiction(
                "take", _("{number} does not hold this line: choose one that does").format(number=number)
            )
    line.take = take
    line.save(update_fields=["take"])


@transaction.atomic
def accept_all(part: Part) -> int:
    """Choose what is proposed for every line without a choice; return how many those were."""
    sheet = sheet_of(part)
    takes = {take.number: take for take in part.takes.only("number", "part")}
    accepted = 0
    for number, (line, choice) in enumerate(zip(sheet.lines, sheet.choices, strict=True)):
        if number not in sheet.chosen and choice.take is not None:
            line.take = takes[choice.take]
            line.save(update_fields=["take"])
            accepted += 1
    return accepted


@transaction.atomic
def clear_choices(part: Part) -> None:
    part.sheet_lines.update(take=None)


@transaction.atomic
def mark(line: SheetLine, take: Take, name: str, value: str) -> None:
    """Store its person's mark of a take in a line; an empty value takes it back.

    Raises:
        UnknownName: for a mark that is none.
    """
    if name not in MARKED:
        raise UnknownName("mark", name, MARKED)
    if value and value not in MARKS:
        raise UnknownName(name, value, MARKS)
    row, _rest = LineTake.objects.get_or_create(line=line, take=take, defaults={"owner": line.owner})
    setattr(row, name, value)
    row.save(update_fields=[name])
