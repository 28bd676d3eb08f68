"""Which take is best for each line: a proposal with its reasons, exact over all paths.

Costs are compared in order: what nothing mends inside the phrase, then the musician's marks in the order of their
school, then other findings, then seams, then changes of take. Each is a whole number, and a path's is the sum of its
lines'; sums of such rows keep their order, so that the best path of a line's takes is found by dynamic programming.
A row is kept as one whole number with a field for each: then a sum and a comparison are one step.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.comp.changes import Change
from pneumen.core.errors import UnknownName
from pneumen.core.take import JUDGINGS, MANY_TAKES, MARKS

GOOD, WEAK = MARKS
WORTH: Final = {GOOD: -1, "": 0, WEAK: 1}
"""Unmarked is neutral."""
FAULTS, FIRST_MARK, SECOND_MARK, THIRD_MARK, OTHERS, SEAMS, CHANGES = REASONS = (
    "faults",
    "first-mark",
    "second-mark",
    "third-mark",
    "others",
    "seams",
    "changes",
)
FIELD: Final = 1 << 24
"""No sum of one kind of cost comes near half of that."""
UNITS: Final = tuple(FIELD ** (len(REASONS) - 1 - place) for place in range(len(REASONS)))
CLOSE_FROM: Final = REASONS.index(OTHERS)
"""Lines decided by what the musician said or by a ruined phrase are not asked about; the rest may be."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """One take of one line.

    faults counts clipping and dropouts inside the phrase, others the other findings there; marks are the musician's,
    by what is marked: of this line, or else of the pass.
    """

    take: int
    faults: int = 0
    others: int = 0
    marks: Mapping[str, str] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class LineChoice:
    """What is proposed for one line: a take, why (a key of REASONS, or only), and whether another is as good.

    second is the take that comes next; None where there is one take only. take is None where there is none at all.
    """

    take: int | None
    why: str
    second: int | None
    close: bool
    poor: bool
    """Even the best is ruined or marked weak in what counts first: sing it again."""


def propose(
    lines: Sequence[Sequence[Candidate]],
    *,
    judging: str,
    rough: Collection[Change] = frozenset(),
    fixed: Mapping[int, int] | None = None,
) -> tuple[LineChoice, ...]:
    """Return the best take for each line.

    Args:
        lines: of each line the takes that hold it.
        judging: the school that orders the marks, one of JUDGINGS.
        rough: (line, take, take of the next line) where a change of takes would be heard.
        fixed: lines whose take was chosen already.

    Raises:
        UnknownName: for a school that is none.
    """
    if judging not in JUDGINGS:
        raise UnknownName("judging", judging, tuple(JUDGINGS))
    order, fixed = JUDGINGS[judging], fixed or {}
    open_to = [
        [one for one in line if one.take == fixed.get(number, one.take)] or list(line)
        for number, line in enumerate(lines)
    ]
    own = {(number, one.take): _own(one, order) for number, line in enumerate(open_to) for one in line}
    onward = _swept(open_to, own, rough, range(len(open_to) - 1, -1, -1))
    through = _through(open_to, onward, own, rough)
    takes = _best_path(open_to, onward, rough)
    return tuple(
        _choice(line, take, {one.take: through[number, one.take] for one in line}, order[0])
        for number, (line, take) in enumerate(zip(open_to, takes, strict=True))
    )


def path_cost(
    lines: Sequence[Sequence[Candidate]],
    takes: Sequence[int | None],
    *,
    judging: str,
    rough: Collection[Change] = frozenset(),
) -> int:
    """Return what one path costs; for lines without a take None stands in it."""
    total, before = 0, None
    for number, (line, take) in enumerate(zip(lines, takes, strict=True)):
        if take is not None:
            one = next(one for one in line if one.take == take)
            total += _own(one, JUDGINGS[judging]) + _change(number - 1, before, take, rough)
        before = take
    return total


def _own(one: Candidate, order: Sequence[str]) -> int:
    marks = one.marks or {}
    worth = [WORTH[marks.get(name, "")] for name in order]
    parts = (one.faults, *worth, one.others)
    return sum(count * unit for count, unit in zip(parts, UNITS, strict=False))


def _change(line: int, before: int | None, take: int, rough: Collection[Change]) -> int:
    """Return what it costs to go on with another take than the line before."""
    if before is None or before == take:
        return 0
    return 1 + (UNITS[-2] if (line, before, take) in rough else 0)


def _first_difference(one: int, other: int) -> int | None:
    """Return the place among REASONS of what first tells two costs apart; None where nothing does."""
    apart = other - one
    for place, unit in enumerate(UNITS):
        if 2 * abs(apart) >= unit:
            return place
    return None


def _through(
    lines: Sequence[Sequence[Candidate]],
    onward: Mapping[tuple[int, int], int],
    own: Mapping[tuple[int, int], int],
    rough: Collection[Change],
) -> dict[tuple[int, int], int]:
    """Return for each line and take what the best path costs that goes through it."""
    to = _swept(lines, own, rough, range(len(lines)))
    return {place: to[place] + onward[place] - cost for place, cost in own.items()}


def _swept(
    lines: Sequence[Sequence[Candidate]],
    own: Mapping[tuple[int, int], int],
    rough: Collection[Change],
    numbers: range,
) -> dict[tuple[int, int], int]:
    """Return the best cost up to and with each line's take, in one direction. A line without takes joins nothing."""
    found: dict[tuple[int, int], int] = {}
    before, whole = None, 0
    for number in numbers:
        line = lines[number]
        if not line:
            if before is not None:
                whole = min(found[before, one.take] for one in lines[before])
            before = None
            continue
        costs: dict[int, int] = (
            {} if before is None else {other.take: found[before, other.take] for other in lines[before]}
        )
        least = min(costs.values(), default=whole)
        for one in line:
            come = costs.get(one.take)
            if come is None or come > least + 1:  # else no change of takes, which costs one at least, can be better
                come = (
                    whole
                    if before is None
                    else min(
                        cost
                        + (
                            _change(before, take, one.take, rough)
                            if numbers.step > 0
                            else _change(number, one.take, take, rough)
                        )
                        for take, cost in costs.items()
                    )
                )
            found[number, one.take] = come + own[number, one.take]
        before = number
    return found


def _best_path(
    lines: Sequence[Sequence[Candidate]],
    onward: Mapping[tuple[int, int], int],
    rough: Collection[Change],
) -> list[int | None]:
    """Return one best path: of takes as good as each other the first."""
    found: list[int | None] = []
    before: int | None = None
    for number, line in enumerate(lines):
        costs = [(onward[number, one.take] + _change(number - 1, before, one.take, rough), one.take) for one in line]
        before = min(costs)[1] if costs else None
        found.append(before)
    return found


def _choice(line: Sequence[Candidate], take: int | None, through: Mapping[int, int], first_mark: str) -> LineChoice:
    """Return the choice of a line with its reason: what first tells it from the take that comes next."""
    chosen = next((one for one in line if one.take == take), None)
    if chosen is None:
        return LineChoice(take=None, why="none", second=None, close=False, poor=True)
    poor = chosen.faults > 0 or (chosen.marks or {}).get(first_mark) == WEAK
    others = sorted((cost, other) for other, cost in through.items() if other != take)
    if not others:
        return LineChoice(take=take, why="only", second=None, close=False, poor=poor)
    runner_up, second = others[0]
    differs = _first_difference(through[chosen.take], runner_up)
    why = "equal" if differs is None else REASONS[differs]
    close = differs is None or differs >= CLOSE_FROM
    return LineChoice(take=take, why=why, second=second, close=close, poor=poor)


@dataclass(frozen=True, slots=True, kw_only=True)
class PunchLine:
    """A line to sing again: how many takes it has had, and whether it is time to rest instead."""

    line: int
    takes: int
    why: str
    rest: bool


def punch_list(
    choices: Sequence[LineChoice], lines: Sequence[Sequence[Candidate]], *, rest_after: int | None = MANY_TAKES
) -> tuple[PunchLine, ...]:
    """Return what to sing next: lines that no take does well.

    Args:
        rest_after: so many takes of a line and it is time to rest; None for as many as it takes.
    """
    found = []
    for number, (choice, line) in enumerate(zip(choices, lines, strict=True)):
        if not choice.poor:
            continue
        one = next((one for one in line if one.take == choice.take), None)
        why = "none" if one is None else "faults" if one.faults else "weak"
        rest = rest_after is not None and len(line) >= rest_after
        found.append(PunchLine(line=number, takes=len(line), why=why, rest=rest))
    return tuple(found)
