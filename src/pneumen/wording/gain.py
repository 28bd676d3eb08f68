"""What is in the way of a clean level, and what helps all the same, in sentences."""

from collections.abc import Sequence
from typing import Final

from pneumen.wording.figures import figure
from pneumen.wording.language import _

CONFLICTS: Final = {
    "pops": _("the air of P and B is felt at any distance this room allows"),
    "bass": _("bass builds up at any distance at which the room stays behind"),
    "room": _("no distance keeps this room behind"),
    "sway": _("swaying is heard at any distance at which the room stays behind"),
    "overload": _("farther off the room takes over, nearer the microphone is overloaded"),
    "too-low": _("the control is at its stop, and nearer something else is felt"),
    "too-high": _("the control is at its lowest, and farther off the room takes over"),
    "noise": _("the noise of the room cannot be left behind"),
}
GAINLESS_CONFLICTS: Final = {
    "too-low": _("this microphone has no gain control, and nearer something else is felt"),
    "too-high": _("this microphone has no gain control, and farther off the room takes over"),
}
PLUGGED_CONFLICTS: Final = {
    "too-low": _("the control is at its stop"),
    "too-high": _("the control is at its lowest"),
    "overload": _(
        "the loudest may pass what the input takes; a DI box with a pad, or a little less volume at the instrument"
    ),
}
REMEDIES: Final = {
    "beside-the-mouth": _("sing past the microphone, 15 to 30° beside the mouth"),
    "stocking": _("a stocking over a hoop before it"),
    "soft-things": _("duvets and coats behind and beside you"),
    "softer-room": _("a room with more soft things in it"),
    "soft-things-and-back": _("duvets and coats around you and then farther off"),
    "turn-aside": _("the loudest lines turned aside"),
    "pad": _("a pad where there is one"),
    "section-apart": _("{section} recorded by itself, with a gain or a distance of its own"),
    "input-slider": _("the computer’s own input slider"),
    "lift-afterwards": _("lifting the file afterwards: the clean range stays what it is"),
    "another-hour": _("another hour"),
    "appliances-off": _("the fridge and the fan off"),
    "computer-away": _("the laptop a metre away and behind the microphone"),
    "instrument-up": _("the instrument’s own volume turned up"),
    "instrument-down": _("the instrument’s own volume turned down"),
}
NOT_MENDED: Final = _("Neither distance nor gain mends it: {why}.")
FREE: Final = _("Free: {remedies}.")
OR: Final = _("or")

AGREE: Final = _("{count} schools agree on {where}.")
DISAGREE: Final = _("Otherwise: {others}.")


def in_the_way(conflict: str, remedies: Sequence[str], *, plugged: bool, gainless: bool, section: str = "") -> str:
    """Say what is in the way, and what helps all the same at no cost.

    Args:
        section: the loudest section, where it can be recorded by itself.
    """
    special = PLUGGED_CONFLICTS if plugged else GAINLESS_CONFLICTS if gainless else {}
    told = NOT_MENDED.format(why=special.get(conflict) or CONFLICTS[conflict])
    if not remedies:
        return told
    words = [REMEDIES[one].format(section=section) for one in remedies]
    listed = words[0] if len(words) == 1 else f"{', '.join(words[:-1])}, {OR} {words[-1]}"
    return f"{told} {FREE.format(remedies=listed)}"


def agreement_told(low: str, high: str, count: int, others: list[str]) -> str:
    """Say between which settings most schools agree, and which want something else."""
    where = low if low == high else _("{low} to {high}").format(low=low, high=high)
    agreed = AGREE.format(count=count, where=where)
    return f"{agreed} {DISAGREE.format(others=', '.join(others))}" if others else agreed


PLACES: Final = {
    "microphone": _("Microphone"),
    "plug": _("Plug"),
    "box": _("DI box"),
    "input": _("Input"),
    "converter": _("Converter"),
}
"""Where volts are told of."""


def volt_told(volt: float) -> str:
    """Write a voltage.

    >>> volt_told(0.0832), volt_told(1.234), volt_told(0.0000042)
    ('83 mV', '1.2 V', '4.2 µV')
    """
    for size, unit in ((1.0, "V"), (1e-3, "mV"), (1e-6, "µV")):
        if volt >= size or unit == "µV":
            return f"{figure(volt / size, 0 if volt >= 10 * size else 1)} {unit}"
    return ""
