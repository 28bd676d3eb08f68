"""The one tree of errors.

PneumenError
├── RefusedField (ValueError)    a field that cannot hold what it was given
│   ├── OutOfRange               a number lies outside the range its formula holds for
│   ├── Contradiction            two values exclude each other
│   └── UnknownName              a name that no table holds
├── BadDocument (ValueError)     a JSON document that does not say what it must
├── UnreadableFile (OSError)     a file that is no measurable recording
├── BadCatalogue (ValueError)    a list of gear with faults, each by line and column
└── NothingFits (LookupError)    no complete kit within the money

Messages are plain; the wording around them belongs to web and command line.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TypeVar


@dataclass(frozen=True, slots=True)
class Length:
    """A length in a message, so that whoever words it may write another unit; near: at a microphone, not in a room."""

    metres: float
    near: bool = False

    def __str__(self) -> str:
        return f"{100 * self.metres:g} cm" if self.near else f"{self.metres:.4g} m"


class PneumenError(Exception):
    """Anything the core refuses."""


class RefusedField(PneumenError, ValueError):
    """A field that cannot hold what it was given: what is wrong with it, with the lengths its sentence names."""

    def __init__(self, field: str, problem: str, **lengths: Length) -> None:
        super().__init__(f"{field} {problem.format(**lengths) if lengths else problem}")
        self.field, self.problem, self.lengths = field, problem, lengths


class OutOfRange(RefusedField):
    """A value lies outside the range its formula holds for."""

    def __init__(self, field: str, value: float, allowed: str, **lengths: Length) -> None:
        near = any(length.near for length in lengths.values())
        told = {**lengths, "value": Length(value, near=near)} if lengths else {}
        super().__init__(field, f"must be {allowed}, was {'{value}' if told else format(value, 'g')}", **told)
        self.value, self.allowed = value, allowed


class Contradiction(RefusedField):
    """Two values exclude each other."""


class UnknownName(RefusedField):
    """A name that no table holds."""

    def __init__(self, field: str, value: str, allowed: tuple[str, ...]) -> None:
        super().__init__(field, f"must be one of {', '.join(allowed)}; was {value!r}")
        self.value, self.allowed = value, allowed


class UnreadableFile(PneumenError, OSError):
    """A file that is no measurable recording; the message says what is wrong and what would be right."""

    def __init__(self, reason: str, remedy: str) -> None:
        super().__init__(f"{reason}; {remedy}")
        self.reason, self.remedy = reason, remedy

    def __str__(self) -> str:
        return f"{self.reason}; {self.remedy}"


class NothingFits(PneumenError, LookupError):
    """No complete kit costs as little as the budget.

    cheapest_total is what the cheapest costs, None where the catalogue has none at all; lifts holds the needs that
    would have to be eased, one of them alone, each with what the cheapest kit costs then.
    """

    def __init__(self, budget: float, cheapest_total: float | None, lifts: Mapping[str, float]) -> None:
        super().__init__("no complete kit fits the budget")
        self.budget, self.cheapest_total, self.lifts = budget, cheapest_total, lifts


class BadCatalogue(PneumenError, ValueError):
    """A list of gear that cannot be taken: every fault as (line or item, column, what is wrong)."""

    def __init__(self, faults: tuple[tuple[str, str, str], ...]) -> None:
        where, column, what = faults[0]
        more = f" (and {len(faults) - 1} more)" if len(faults) > 1 else ""
        super().__init__(f"{where}{', ' + column if column else ''}: {what}{more}")
        self.faults = faults


Value = TypeVar("Value")


def given(field: str, value: Value | None) -> Value:
    """Return a value that has to be there.

    Raises:
        Contradiction: naming the field.
    """
    if value is None:
        raise Contradiction(field, "must be told")
    return value


def require_within(field: str, value: float, low: float, high: float) -> None:
    """Refuse a value outside low..high, both allowed; NaN is outside.

    Raises:
        OutOfRange: naming the field and what would be right.
    """
    if not low <= value <= high:
        if field.endswith("_m"):
            raise OutOfRange(field, value, "between {low} and {high}", low=Length(low), high=Length(high))
        raise OutOfRange(field, value, f"between {low:g} and {high:g}")


def require_positive(field: str, value: float, high: float = float("inf")) -> None:
    """Refuse zero, negative values, NaN and anything above high.

    Raises:
        OutOfRange: naming the field and what would be right.
    """
    if not 0 < value <= high:
        raise OutOfRange(field, value, "greater than 0" if high == float("inf") else f"greater than 0, up to {high:g}")


class BadDocument(PneumenError, ValueError):
    """A JSON document that does not say what it must; the message names the place."""
