"""The one tree of errors.

PneumenError
├── OutOfRange (ValueError)      a number lies outside the range its formula holds for
├── Contradiction (ValueError)   two values exclude each other
├── UnknownName (LookupError)    a name that no table holds
├── BadDocument (ValueError)     a JSON document that does not say what it must
├── UnreadableFile (OSError)     a file that is no measurable recording
├── BadCatalogue (ValueError)    a list of gear with faults, each by line and column
└── NothingFits (LookupError)    no complete kit within the money

Messages are plain; the wording around them belongs to web and command line.
"""

from typing import TypeVar


class PneumenError(Exception):
    """Anything the core refuses."""


class OutOfRange(PneumenError, ValueError):
    """A value lies outside the range its formula holds for."""

    def __init__(self, field: str, value: float, allowed: str) -> None:
        super().__init__(f"{field} must be {allowed}, was {value:g}")
        self.field, self.value, self.allowed = field, value, allowed


class Contradiction(PneumenError, ValueError):
    """Two values exclude each other."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(f"{field} {message}")
        self.field, self.message = field, message


class UnknownName(PneumenError, ValueError):
    """A name that no table holds."""

    def __init__(self, field: str, value: str, allowed: tuple[str, ...]) -> None:
        super().__init__(f"{field} must be one of {', '.join(allowed)}; was {value!r}")
        self.field, self.value, self.allowed = field, value, allowed


class UnreadableFile(PneumenError, OSError):
    """A file that is no measurable recording; the message says what is wrong and what would be right."""

    def __init__(self, reason: str, remedy: str) -> None:
        super().__init__(f"{reason}; {remedy}")
        self.reason, self.remedy = reason, remedy

    def __str__(self) -> str:
        return f"{self.reason}; {self.remedy}"


class NothingFits(PneumenError, LookupError):
    """No complete kit costs as little as the budget."""

    def __init__(self, budget: float, cheapest_total: float | None, because: str) -> None:
        super().__init__(because)
        self.budget, self.cheapest_total, self.because = budget, cheapest_total, because


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
