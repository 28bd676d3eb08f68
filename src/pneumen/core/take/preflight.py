"""What to see to before a take, by what is played and what records it (common practice, no source)."""

from typing import Final

from pneumen.core.part import Source

WARM, MEANING, TUNED, STRINGS, PEDALS, BATTERY, REED, RATTLES = (
    "warm",
    "meaning",
    "tuned",
    "strings",
    "pedals",
    "battery",
    "reed",
    "rattles",
)
ARMED, TRACK, ROOM, RUNS, SPEAKERS, QUIET = ("armed", "track", "room", "runs", "speakers", "quiet")
CHECKS: Final = (
    MEANING,
    WARM,
    TUNED,
    STRINGS,
    PEDALS,
    BATTERY,
    REED,
    RATTLES,
    QUIET,
    SPEAKERS,
    ARMED,
    TRACK,
    ROOM,
    RUNS,
)
STRUNG: Final = ("plucked", "bowed", "amp", "direct")
UNSTRUNG: Final = ("keyboard",)
UNTUNED: Final = ("keyboard", "accordion", "shaker", "tambourine", "glockenspiel")
REEDS: Final = ("clarinet", "saxophone")


def preflight(source: Source, *, plugged: bool, recorder: bool) -> tuple[str, ...]:
    """Return what to see to before pressing record, in the order in which one does it.

    Args:
        plugged: the instrument goes into the input by a lead.
        recorder: a recorder of its own records it, no computer.
    """
    sings = source.group == "voice"
    wanted = {
        MEANING: True,
        WARM: sings or source.group == "winds",
        TUNED: not sings and source.slug not in UNTUNED,
        STRINGS: source.group in STRUNG and source.slug not in UNSTRUNG,
        PEDALS: source.group == "keys" or "harp" in source.slug,
        BATTERY: plugged or recorder,
        REED: source.slug in REEDS,
        RATTLES: not sings and not plugged,
        QUIET: True,
        SPEAKERS: not plugged,
        ARMED: not recorder,
        TRACK: not recorder,
        ROOM: True,
        RUNS: True,
    }
    return tuple(check for check in CHECKS if wanted[check])
