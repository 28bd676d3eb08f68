"""A room in sentences: its size in everyday words, and why it sounds boxed in."""

from collections.abc import Sequence
from typing import Final

from pneumen.core.part import Source
from pneumen.core.room import LOWEST_HZ, Boxiness, Makeshift, Point, is_dry_enough, judge_noise
from pneumen.core.verdict import Verdict
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far, near

SIZES: Final = {
    "closet": (_("Closet or booth, one step across"), ()),
    "small": (_("Small room, about {} by {}"), (3.0, 3.0)),
    "medium": (_("Bedroom or living room, about {} by {}"), (4.0, 4.0)),
    "large": (_("Large room, {} by {} or more"), (5.0, 6.0)),
}
"""What each size is called, with its sides in metres."""

MISFIT: Final = _(
    "{source} and player take up about {wide} by {deep}: they do not fit into {east} by {north}. Choose another room."
)
LEAD: Final = _("At {distance} the direct sound stands {lead} dB over the room{short}")
ASKED: Final = _(", where {wanted} dB are dry enough")
FAULTS: Final = {
    "few-modes": _("only {modes} modes below {lowest:.0f} Hz, heard one by one"),
    "early-reflections": _("reflections within 5 ms, loud enough to colour the tone"),
    "bass-left": _("what hangs here takes the treble and leaves the bass"),
}


def sizes_told() -> list[tuple[str, str]]:
    """Return every size with what it is called, in the reader's lengths."""
    return [(size, told.format(*(far(side, 0) for side in sides_m))) for size, (told, sides_m) in SIZES.items()]


def misfits_told(sources: Sequence[Source], size_m: Point) -> str:
    """Say of each source that it does not fit on a room's floor."""
    return " ".join(_misfit_told(source, size_m) for source in sources)


def _misfit_told(source: Source, size_m: Point) -> str:
    wide, deep = (far(side, 1) for side in source.floor_m)
    east, north = (far(side) for side in size_m[:2])
    return MISFIT.format(source=source.label, wide=wide, deep=deep, east=east, north=north)


def faults_told(boxiness: Boxiness) -> str:
    """Say why a place sounds boxed in; nothing where it does not."""
    return "; ".join(FAULTS[fault].format(modes=boxiness.modes, lowest=LOWEST_HZ) for fault in boxiness.faults)


def wall_told(wall: str) -> str:
    """Name one of the six sides of a room."""
    return wall if wall in ("floor", "ceiling") else _("{side} wall").format(side=wall)


def lead_told(distance_m: float, lead_db: float, wanted_db: float) -> str:
    """Say how far the direct sound stands over the room's, and what is asked where it falls short of it."""
    short = "" if is_dry_enough(lead_db, wanted_db) else ASKED.format(wanted=figure(wanted_db))
    return LEAD.format(distance=near(distance_m), lead=figure(lead_db), short=short)


def noise_told(noise_dba: float) -> str:
    """Say that a noise is heard at the microphone; nothing where it is faint."""
    if judge_noise(noise_dba) is Verdict.CLEAR:
        return ""
    return _("; {noise:.0f} dBA of noise reach the microphone").format(noise=noise_dba)


MAKESHIFTS: Final = {
    "baffle": (
        _("Stand a baffle behind you: packing blankets over a pole on two stands"),
        _("weight on the feet, nothing over your head"),
    ),
    "screen": (
        _("Stand a soft screen behind the microphone"),
        _("a folded blanket over a chair back or a music stand, half a metre from your mouth"),
    ),
    "table-v": (
        _("Build a V on a table: two sofa cushions, a pole across, a heavy blanket over and one under"),
        _(
            "the microphone at the mouth of the V, you before it. Nothing soft on a lamp or a heater, none over a "
            "laptop's vents"
        ),
    ),
    "tent": (
        _("Hang a tent of duvets round you, one side open"),
        _(
            "it gets hot and short of air: open it between takes, nothing tight round the neck, no lamp or heater in "
            "it, weight on the stands' feet, nothing heavy over your head, the way to the door free"
        ),
    ),
}
"""What to build, and how, with its cautions."""


def makeshift_told(slug: str, kind: Makeshift) -> tuple[str, str]:
    """Say what to build, and how, with the minutes it takes."""
    title, how = MAKESHIFTS[slug]
    minutes = _("{up} minutes to set up, {down} to clear away; {how}")
    return title, minutes.format(up=kind.up_minutes, down=kind.down_minutes, how=how)
