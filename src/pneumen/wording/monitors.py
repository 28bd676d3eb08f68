"""How monitors stand, in sentences: the triangle, the sides, heights, the middle of the room, desk and wall."""

from pneumen.core.room import MonitorPlace
from pneumen.core.verdict import Verdict
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far, near


def monitors_told(verdict: Verdict, kind: str, value: float, place: MonitorPlace) -> str:
    """Say what is found of a place for monitors: what it is where that is clear, what to do where it is not."""
    well = verdict == Verdict.CLEAR
    match kind:
        case "triangle":
            told = _("{angle}° between the monitors as you hear them: an equilateral triangle has 60.")
            return told.format(angle=figure(value))
        case "even":
            told = _("Left and right are alike.") if well else _("One side wall is {by} nearer: move the middle line.")
            return told.format(by=far(value))
        case "height":
            return _height(value, well=well)
        case "middle":
            told = _("You sit at {share} % of the room’s depth.")
            if not well:
                told = _("You sit at {share} % of the room’s depth: at its middle the lowest mode is missing.")
            return told.format(share=figure(100 * value))
        case "desk":
            told = _("The desk’s top cancels near {hz} Hz: raise the monitors, tilt them, or keep its middle free.")
            return told.format(hz=figure(value))
    told = _("The wall {behind} behind cancels near {hz} Hz, where they beam forward.")
    if not well:
        told = _("The wall {behind} behind cancels near {hz} Hz: move them right to the wall, or more than {off} off.")
    return told.format(behind=near(place.behind_m), hz=figure(value), off=far(1.0, 0))


def _height(over_m: float, *, well: bool) -> str:
    if well:
        return _("The tweeters are at your ears.")
    told = _("The tweeters are {by} over your ears: raise, lower or tilt.")
    if over_m < 0:
        told = _("The tweeters are {by} under your ears: raise, lower or tilt.")
    return told.format(by=near(abs(over_m)))
