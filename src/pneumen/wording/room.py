"""A room in sentences: its size in everyday words, and why it sounds boxed in."""

from typing import Final

from pneumen.core.room import LOWEST_HZ, Boxiness, judge_noise
from pneumen.core.verdict import Verdict
from pneumen.wording.language import _
from pneumen.wording.lengths import far

SIZES: Final = {
    "closet": (_("Closet or booth, one step across"), ()),
    "small": (_("Small room, about {} by {}"), (3.0, 3.0)),
    "medium": (_("Bedroom or living room, about {} by {}"), (4.0, 4.0)),
    "large": (_("Large room, {} by {} or more"), (5.0, 6.0)),
}
"""What each size is called, with its sides in metres."""

FAULTS: Final = {
    "few-modes": _("only {modes} modes below {lowest:.0f} Hz, heard one by one"),
    "early-reflections": _("reflections within 5 ms, loud enough to colour the tone"),
    "bass-left": _("what hangs here takes the treble and leaves the bass"),
}


def sizes_told() -> list[tuple[str, str]]:
    """Return every size with what it is called, in the reader's lengths."""
    return [(size, told.format(*(far(side, 0) for side in sides_m))) for size, (told, sides_m) in SIZES.items()]


def faults_told(boxiness: Boxiness) -> str:
    """Say why a place sounds boxed in; nothing where it does not."""
    return "; ".join(FAULTS[fault].format(modes=boxiness.modes, lowest=LOWEST_HZ) for fault in boxiness.faults)


def noise_told(noise_dba: float) -> str:
    """Say that a noise is heard at the microphone; nothing where it is faint."""
    if judge_noise(noise_dba) is Verdict.CLEAR:
        return ""
    return _("; {noise:.0f} dBA of noise reach the microphone").format(noise=noise_dba)
