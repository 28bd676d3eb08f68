"""Lengths as the reader measures: centimetres and metres, or feet and inches. Stored and computed in metres.

A near length is one at a microphone (cm or inches), a far one lies in a room (m, or feet and inches).
"""

import re
from typing import Final

from django.http import QueryDict

from pneumen.core.errors import OutOfRange, PneumenError
from pneumen.web.wording import figure, habits

INCH_M: Final = 0.0254
FOOT_M: Final = 0.3048
"""By definition since 1959 (NIST Handbook 44, from memory)."""
NEAR_UP_TO_M: Final = 2.0
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
_TOLD = re.compile(rf"{_NUMBER}(?: (and|to|by) {_NUMBER})? (c?m)\b(?!²|³|/)")


def near(length_m: float) -> str:
    """Write a length at a microphone: 18 cm, or 7 in."""
    if abs(length_m) >= NEAR_UP_TO_M:
        return far(length_m, 1)
    if habits.get().feet:
        return f"{figure(length_m / INCH_M, 1 if abs(length_m) < 0.2 else 0).removesuffix('.0')} in"
    return f"{figure(100 * length_m)} cm"


def far(length_m: float, decimals: int = 2) -> str:
    """Write a length in a room: 4.20 m, or 13 ft 9 in."""
    if not habits.get().feet:
        return f"{figure(length_m, decimals)} m"
    inches = round(abs(length_m) / INCH_M)
    sign = "\N{MINUS SIGN}" if length_m < 0 and inches else ""
    return f"{sign}{inches // 12} ft {inches % 12} in" if inches >= 12 else f"{sign}{inches} in"


def near_field(length_m: float) -> str:
    """Write a near length into its field; the unit stands beside it."""
    value = length_m / INCH_M if habits.get().feet else 100 * length_m
    return f"{value:.1f}".removesuffix(".0")


def far_field(length_m: float) -> str:
    """Write a far length into its field: metres, or feet and inches."""
    if habits.get().feet:
        inches = round(length_m / INCH_M, 1)
        return f"{int(inches // 12)}' {inches % 12:.1f}".removesuffix(".0") + '"'
    return f"{length_m:.2f}".rstrip("0").rstrip(".")


def near_unit() -> str:
    return "in" if habits.get().feet else "cm"


def far_unit() -> str:
    return "ft in" if habits.get().feet else "m"


class NotALength(PneumenError, ValueError):
    """What was typed is no length."""

    def __init__(self, field: str) -> None:
        super().__init__(f"{field} must be a length, as 20 cm, 1.5 m, 8 in or 5' 6\"")
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


def read_near(data: QueryDict, field: str, missing_m: float | None = None) -> float:
    """Read a field of a near length, in metres; missing_m where it was left out.

    Raises:
        NotALength: naming the field.
    """
    return _read(data, field, missing_m, INCH_M if habits.get().feet else 0.01)


def read_far(data: QueryDict, field: str, missing_m: float | None = None) -> float:
    """Read a field of a far length, in metres; missing_m where it was left out."""
    return _read(data, field, missing_m, FOOT_M if habits.get().feet else 1.0)


def _read(data: QueryDict, field: str, missing_m: float | None, bare_m: float) -> float:
    text = data.get(field, "").strip()
    return missing_m if not text and missing_m is not None else metres_of(text, field, bare_m)


def require_near(field: str, value_m: float, low_m: float, high_m: float) -> None:
    """Refuse a near length outside its range, in the reader's own unit; NaN is outside.

    Raises:
        OutOfRange: naming the field.
    """
    if not round(low_m, 4) <= round(value_m, 4) <= round(high_m, 4):
        raise OutOfRange(field, value_m, f"between {near(low_m)} and {near(high_m)}")


def require_far(field: str, value_m: float, low_m: float, high_m: float) -> None:
    """Refuse a far length outside its range, in the reader's own unit; NaN is outside."""
    if not low_m <= value_m <= high_m:
        raise OutOfRange(field, value_m, f"between {far(low_m)} and {far(high_m)}")


def in_readers_lengths(told: str) -> str:
    """Turn the metric lengths in a sentence of the core into the reader's: 'between 0.5 and 60 m'."""
    if not habits.get().feet:
        return told

    def respelled(found: re.Match) -> str:
        first, word, second, unit = found.groups()
        write, per_m = (near, 0.01) if unit == "cm" else (far, 1.0)
        lengths = [write(float(one) * per_m) for one in (first, second) if one]
        return f" {word} ".join(lengths)

    return _TOLD.sub(respelled, told)
