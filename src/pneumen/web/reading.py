"""Reading what people type, numbers here."""

from django.http import QueryDict

from pneumen.core.errors import PneumenError


def number(data: QueryDict, field: str, missing: float | None = None) -> float:
    """Read a number as people type it, with a comma or a true minus too.

    Raises:
        NotANumber: naming the field.
    """
    text = data.get(field, "").strip()
    return missing if not text and missing is not None else number_of(text, field)


def number_of(text: str, field: str) -> float:
    """Read a number from what was typed into a field.

    Raises:
        NotANumber: naming the field.
    """
    try:
        return float(text.strip().replace(",", ".").replace("\N{MINUS SIGN}", "-"))
    except ValueError:
        raise NotANumber(field) from None


def whole(data: QueryDict, field: str, missing: int | None = None) -> int:
    """Read a whole number, as an id or a count is; what cannot be one is no number.

    Raises:
        NotANumber: naming the field.
    """
    value = number(data, field, missing)
    if not abs(value) < 1e9:  # NaN and infinity too
        raise NotANumber(field)
    return int(value)


def unchanged(data: QueryDict, field: str) -> bool:
    """Tell whether a field still holds what its page showed: its form sends that along as was-FIELD."""
    return f"was-{field}" in data and data.get(field, "") == data[f"was-{field}"]


class NotANumber(PneumenError, ValueError):
    """What was typed is no number."""

    def __init__(self, field: str) -> None:
        super().__init__(f"{field} must be a number")
        self.field = field
