"""Reading lengths as people type them, with any unit: what comes out is in metres."""

import re
from typing import Final

from pneumen.core.errors import Length, OutOfRange, PneumenError
from pneumen.wording.language import _
from pneumen.wording.lengths import FOOT_M, INCH_M

UNITS_M: Final = {
    **dict.fromkeys(("mm", "millimetre", "millimetres"), 0.001),
    **dict.fromkeys(("cm", "centimetre", "centimetres"), 0.01),
    **dict.fromkeys(("m", "metre", "metres", "meter", "meters"), 1.0),
    **dict.fromkeys(("in", "inch", "inches", '"', "″", "''"), INCH_M),
    **dict.fromkeys(("ft", "foot", "feet", "'", "′"), FOOT_M),
}
_NUMBER = r"(\d+(?:\.\d*)?|\.\d+)"
_PLAIN = re.compile(rf"([-+]?){_NUMBER}\s*([a-z]+|''|[\"'′″])?", re.IGNORECASE)
_MIXED = re.compile(
    rf"{_NUMBER}\s*(?:ft|foot|feet|'|′)\s*{_NUMBER}(?:\s+(\d+)/(\d+))?\s*(?:in|inch|inches|\"|''|″)?", re.IGNORECASE
)
_FRACTION = re.compile(r"(?:(\d+)\s+)?(\d+)/(\d+)\s*(?:in|inch|inches|\"|''|″)?", re.IGNORECASE)
_TYPED = {ord(","): ".", ord("\N{MINUS SIGN}"): "-", ord("\N{RIGHT SINGLE QUOTATION MARK}"): "'"}


class NotALength(PneumenError, ValueError):
    """What was typed is no length."""

    def __init__(self, field: str) -> None:
        super().__init__(_("{field} must be a length, as 20 cm, 1.5 m, 8 in or 5' 6\"").format(field=field))
        self.field = field


def metres_of(text: str, field: str, bare_m: float) -> float:
    """Read a length as people type it, with any unit; a bare number counts in the field's own.

    Args:
        bare_m: what one of a bare number is, in metres.

    Raises:
        NotALength: naming the field.
    """
    typed = (
        text.strip().replace(",", ".").replace("\N{MINUS SIGN}", "-").replace("\N{RIGHT SINGLE QUOTATION MARK}", "'")
    )
    if mixed := _MIXED.fullmatch(typed):
        feet, inches, over, under = mixed.groups()
        return float(feet) * FOOT_M + (float(inches) + _part(field, over, under)) * INCH_M
    if fraction := _FRACTION.fullmatch(typed):
        whole, over, under = fraction.groups()
        return (float(whole or 0) + _part(field, over, under)) * INCH_M
    plain = _PLAIN.fullmatch(typed)
    unit_m = plain and (UNITS_M.get(plain[3].lower()) if plain[3] else bare_m)
    if not plain or not unit_m:
        raise NotALength(field)
    return (-1 if plain[1] == "-" else 1) * float(plain[2]) * unit_m


def _part(field: str, over: str | None, under: str | None) -> float:
    if over is None or under is None:
        return 0.0
    if not int(under):
        raise NotALength(field)
    return int(over) / int(under)


def require_near(field: str, value_m: float, low_m: float, high_m: float) -> None:
    """Refuse a near length outside its range, in the reader's own unit; NaN is outside.

    Raises:
        OutOfRange: naming the field.
    """
    if not round(low_m, 4) <= round(value_m, 4) <= round(high_m, 4):
        raise OutOfRange(
            field, value_m, _("between {low} and {high}"), low=Length(low_m, near=True), high=Length(high_m, near=True)
        )


def require_far(field: str, value_m: float, low_m: float, high_m: float) -> None:
    """Refuse a far length outside its range, in the reader's own unit; NaN is outside."""
    if not low_m <= value_m <= high_m:
        raise OutOfRange(field, value_m, _("between {low} and {high}"), low=Length(low_m), high=Length(high_m))
