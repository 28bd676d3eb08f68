"""Reading numbers as people type them, and what the buttons of a page send."""

from typing import Final

from django.http import QueryDict

from pneumen.core.errors import PneumenError
from pneumen.wording.language import _

MOST_WHOLE: Final = 1e9
BEYOND: Final = 1e12
MOST_DIGITS: Final = 10


class NotANumber(PneumenError, ValueError):
    """What was typed is no number."""

    def __init__(self, field: str) -> None:
        super().__init__(_("{field} must be a number").format(field=field))
        self.field = field


def number_of(text: str, field: str) -> float:
    """Read a number, with a comma or a true minus too; NaN, infinity and what is beyond all measure are none.

    Raises:
        NotANumber: naming the field.
    """
    try:
        value = float(text.strip().replace(",", ".").replace("\N{MINUS SIGN}", "-"))
    except ValueError:
        raise NotANumber(field) from None
    if not abs(value) < BEYOND:
        raise NotANumber(field)
    return value


def whole_of(text: str, field: str) -> int:
    """Read a whole number, as a count is.

    Raises:
        NotANumber: naming the field.
    """
    value = number_of(text, field)
    if not abs(value) < MOST_WHOLE:  # NaN and infinity too
        raise NotANumber(field)
    return int(value)


def number_in(text: str) -> int | None:
    """Read the id or number that an address or a choice names; None where it is none, or beyond all there are."""
    return int(text) if text.isdecimal() and len(text) < MOST_DIGITS else None


def whole(data: QueryDict, field: str) -> int:
    """Read the id or number that a button sends.

    Raises:
        NotANumber: naming the field.
    """
    return whole_of(data.get(field, ""), field)
