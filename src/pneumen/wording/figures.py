"""Figures and sentences as people read them: true minus, units, and no precision that is not known."""

import math
from contextvars import ContextVar
from dataclasses import dataclass
from typing import Final

from pneumen.core.verdict import Verdict

MINUS: Final = "\N{MINUS SIGN}"
PLUS_MINUS: Final = "\N{PLUS-MINUS SIGN}"
NARROW: Final = "\N{NARROW NO-BREAK SPACE}"

NUMBER_STYLES: Final = {
    "comma-point": (",", "."),
    "point-comma": (".", ","),
    "space-comma": ("\N{NO-BREAK SPACE}", ","),
    "apostrophe-point": ("\N{RIGHT SINGLE QUOTATION MARK}", "."),
}
"""What parts the thousands, and what the decimals, the local way."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Habits:
    """How the reader is used to seeing money and lengths."""

    currency_sign: str = ""
    sign_after: bool = False
    number_style: tuple[str, str] = (",", ".")
    feet: bool = False


PLAIN: Final = Habits()
habits: ContextVar[Habits] = ContextVar("habits", default=PLAIN)
"""The habits of whoever is being answered; set for each request."""

VERDICT_LABELS: Final = {
    Verdict.CLEAR: "Clear",
    Verdict.WATCH: "Watch",
    Verdict.MENDABLE: "Mendable",
    Verdict.BAKED_IN: "Baked in",
    Verdict.STOP: "Stop",
    Verdict.OPEN: "Not yet",
}


def verdict_words(verdict: Verdict, *, before: bool = False) -> str:
    """Name a verdict; before anything is recorded, a baked-in fault is one that would be."""
    return "Would bake in" if before and verdict == Verdict.BAKED_IN else VERDICT_LABELS[verdict]


def figure(value: float | None, decimals: int = 0, *, sign: bool = False) -> str:
    """Write a number with a true minus, and a plus where asked; a dash where there is none."""
    if value is None:
        return "\N{EN DASH}"
    rounded = round(value, decimals) + 0.0  # no minus zero
    text = f"{rounded:+.{decimals}f}" if sign and rounded else f"{rounded:.{decimals}f}"
    return text.replace("-", MINUS)


def clock(time_s: float, decimals: int | None = None) -> str:
    """Write a time as minutes and seconds, with a tenth where it has one, or with so many decimals.

    >>> clock(83), clock(83.25), clock(83.25, decimals=2), clock(59.96, 1)
    ('1:23', '1:23.2', '1:23.25', '1:00.0')
    """
    places = (1 if round(time_s, 1) % 1 else 0) if decimals is None else decimals
    minutes, seconds = divmod(round(time_s, places), 60)
    return f"{int(minutes)}:{seconds:0{3 + places if places else 2}.{places}f}"


def plain_number(value: float, decimals: int) -> str:
    """Write a number into a field, without what needs not be there: 18, or 1.5."""
    text = f"{round(value, decimals) + 0.0:.{decimals}f}"
    return text.rstrip("0").rstrip(".") if decimals else text


def decimals_for(band_db: float) -> int:
    """Tenths only where the band is under 1 dB: never a tenth that is not known."""
    return 1 if band_db < 1 else 0


def with_band(value: float | None, band: float, unit: str) -> str:
    """Write a figure with its band: −9 ±6 dBFS."""
    if value is None:
        return "not known"
    return f"{figure(value, decimals_for(band))} {PLUS_MINUS}{max(band, 0.5):.{decimals_for(band)}f} {unit}".rstrip()


def off_window(outside_db: float) -> str:
    """Say how a peak lies to a window: inside (empty), or how far above, or (negative) below."""
    if not outside_db:
        return ""
    side = "above" if outside_db > 0 else "below"
    return f"just {side}" if round(abs(outside_db)) < 1 else f"{figure(abs(outside_db))} dB {side}"


def size_told(size_bytes: float) -> str:
    """Write how much room something takes on a disk: 640 kB, 34 MB, 1.2 GB."""
    for unit, name in ((1e9, "GB"), (1e6, "MB")):
        if size_bytes >= unit:
            return f"{figure(size_bytes / unit, 0 if size_bytes >= 10 * unit else 1)}\N{NO-BREAK SPACE}{name}"
    return f"{figure(math.ceil(size_bytes / 1000))}\N{NO-BREAK SPACE}kB"


def kilohertz(rate_hz: float) -> str:
    """Write a sampling rate or a high frequency.

    >>> kilohertz(44_100), kilohertz(48_000)
    ('44.1 kHz', '48 kHz')
    """
    return f"{rate_hz / 1000:g} kHz"


def money(amount: float) -> str:
    """Write a sum the reader's way: 1,234.50, or 1.234,50 with a sign before or after."""
    reader = habits.get()
    thousands, point = reader.number_style
    plain = f"{amount:,.0f}" if float(amount).is_integer() else f"{amount:,.2f}"
    text = plain.translate({ord(","): thousands, ord("."): point})
    if not reader.currency_sign:
        return text
    if reader.sign_after:
        return f"{text}\N{NO-BREAK SPACE}{reader.currency_sign}"
    return f"{reader.currency_sign}{text}"
