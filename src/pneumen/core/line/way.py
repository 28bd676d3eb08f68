"""How loud the loudest is on its way: at the capsule, out of the microphone or plug, at the input, in the file."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.line.levels import Levels

ENDS: Final = {
    "sensitivity": ("microphone", "dBu"),
    "microphone-pad": ("microphone", "dBu"),
    "load": ("input", "dBu"),
    "box": ("box", "dBu"),
    "box-load": ("input", "dBu"),
    "preamp-pad": ("input", "dBu"),
    "gain": ("file", "dBFS"),
}
"""After which step a level is told, where that is, and in which unit; a later step at the same place counts."""
AT_THE_PLUG: Final = ("source", "own-volume", "pedal", "mixer")
IN_THE_AIR: Final = ("source", "distance", "off-axis", "proximity", "low-cut", "room-sound")


@dataclass(frozen=True, slots=True, kw_only=True)
class Passing:
    """The level of the loudest peak at one place: capsule, microphone, plug, box, input or file."""

    place: str
    level: float
    unit: str


def way_of(levels: Levels) -> tuple[Passing, ...]:
    """Return the loudest peak at each place it passes, in order; the steps are those of the level diagram.

    Levels of a plug begin at the plug; behind a USB microphone there is only the capsule and the file.
    """
    found: dict[str, Passing] = {}
    running, begins_in_air = 0.0, levels.peak_steps[0].unit == "dB SPL"
    boxed = any(step.name == "box" for step in levels.peak_steps)
    for step in levels.peak_steps:
        running += step.value
        if step.name in AT_THE_PLUG and not begins_in_air:
            found["plug"] = Passing(place="plug", level=running, unit="dBu")
        elif step.name in IN_THE_AIR:
            found["capsule"] = Passing(place="capsule", level=running, unit="dB SPL")
        elif step.name in ENDS and not (boxed and step.name == "load"):
            place, unit = ENDS[step.name]
            found[place] = Passing(place=place, level=running, unit=unit)
    return tuple(found.values())
