"""What a gain without decibels is set with, and where it stands: a knob, a recorder's dial, the computer's slider."""

from typing import Final

from pneumen.wording.figures import figure
from pneumen.wording.language import _

DIAL: Final = "dial"
DIAL_TO: Final = 10
"""A recorder's dial is numbered so far (common practice, no source)."""

CONTROLS: Final = {"knob": _("knob"), "dial": _("dial"), "slider": _("computer’s input slider")}
LABELS: Final = {"knob": _("Gain knob"), "dial": _("Dial"), "slider": _("Computer’s input slider")}
TURNS: Final = {"knob": _("Turn, about"), "dial": _("Dial, about"), "slider": _("Slider, about")}
ENDS: Final = {
    "knob": (_("left stop"), _("full turn")),
    "dial": ("0", str(DIAL_TO)),
    "slider": (_("as it is"), _("full up")),
}
UNITS: Final[dict[str, str]] = {"knob": _("% of the turn"), "dial": _("of 10"), "slider": _("% of the slider")}
QUARTERS: Final = {1: _("a quarter turn"), 2: _("half a turn"), 3: _("three quarters of a turn"), 4: _("a full turn")}
LOWEST: Final = {
    "knob": _("at the left stop"),
    "dial": _("all the way down, 0 of 10"),
    "slider": _("as the computer has it"),
}
ABOUT: Final = _("about {place}")
NEAR_QUARTER: Final = 0.04
NEAR_LOWEST: Final = 0.005


def turned(share: float, control: str) -> tuple[str, str]:
    """Write how far a control without decibels is turned, and its unit: a recorder's dial runs to 10."""
    return (figure(DIAL_TO * share, 1), UNITS[control]) if control == DIAL else (figure(100 * share), "%")


def stands_at(share: float, control: str) -> str:
    """Write how far a control is turned, with its unit."""
    return f"{turned(share, control)[0]} {UNITS[control]}"


def place_told(share: float, control: str) -> str:
    """Name a control's place the way one would say it.

    >>> place_told(0.26, "knob"), place_told(0.62, "dial"), place_told(0, "dial")
    ('about a quarter turn', 'about 6.2 of 10', 'all the way down, 0 of 10')
    """
    quarter = round(4 * share)
    close = control == "knob" and abs(share - quarter / 4) < NEAR_QUARTER
    if share < NEAR_LOWEST or (close and not quarter):
        return LOWEST[control]
    return ABOUT.format(place=QUARTERS[quarter] if close else stands_at(share, control))
