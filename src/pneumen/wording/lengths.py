"""Lengths as the reader measures: centimetres and metres, or feet and inches. Stored and computed in metres.

A near length is one at a microphone (cm or inches), a far one lies in a room (m, or feet and inches).
"""

from typing import Final

from pneumen.core.errors import Length
from pneumen.wording.figures import figure, habits
from pneumen.wording.language import _

INCH_M: Final = 0.0254
FOOT_M: Final = 0.3048
"""By definition since 1959 (NIST Handbook 44, from memory)."""
NEAR_UP_TO_M: Final = 2.0


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
    feet, left = divmod(inches, 12)
    return _("{sign}{feet} ft {inches} in").format(sign=sign, feet=feet, inches=left) if feet else f"{sign}{inches} in"


def calm_told(low_m: float, high_m: float) -> str:
    """Say where nothing is felt; from one place to the same is no range."""
    if near(low_m) == near(high_m):
        return _("calm at {distance} alone").format(distance=near(low_m))
    return _("calm from {low} to {high}").format(low=near(low_m), high=near(high_m))


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


def length(told: Length) -> str:
    """Write a length of a core message the reader's way."""
    return near(told.metres) if told.near else far(told.metres)
