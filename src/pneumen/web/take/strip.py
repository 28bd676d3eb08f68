"""The strip of a take: the whole of it or a stretch, closer by links, and another take to hold against it."""

import math
from dataclasses import dataclass
from typing import Any, Final

import msgspec

from pneumen.core.gain import school_named
from pneumen.core.take import Level, matching_volumes
from pneumen.web.part.models import Part
from pneumen.web.take.models import Take
from pneumen.web.take.picture import SHORTEST_S, Strip, draw_lines
from pneumen.wording.figures import clock
from pneumen.wording.language import _

WIDE, NARROW = 766, 342
MOST_COMPARED: Final = 30
LONGEST_LOOKED_AT_S: Final = 10.0
"""A spectrum of more tells nothing of a moment."""
LOOKED_AT_S: Final = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Other:
    """A take to hold against this one: volumes at which both are alike in loudness, this one's first."""

    number: int
    label: str
    here: float
    there: float


@dataclass(frozen=True, slots=True, kw_only=True)
class StripScreen:
    """What is drawn of a take, from from_s to to_s, and where one can go from there."""

    strips: tuple[tuple[Strip, ...], ...]
    from_s: float
    to_s: float
    told: str
    is_whole: bool
    steps: tuple[tuple[str, str, str], ...]
    others: tuple[Other, ...]


def span_of(take: Take, from_s: str, to_s: str) -> tuple[float, float] | None:
    """Return the stretch that is asked for, within the take and no shorter than can be drawn; None for the whole.

    Args:
        from_s, to_s: seconds as they stand in an address; what is no number asks for the whole.
    """
    length_s = _length_s(take)
    try:
        first, last = float(from_s), float(to_s)
    except ValueError:
        return None
    if not (math.isfinite(first) and math.isfinite(last)):
        return None
    return _within(first, last, length_s)


def _within(first: float, last: float, length_s: float) -> tuple[float, float] | None:
    wide = min(max(last - first, SHORTEST_S), length_s)
    first = min(max((first + last - wide) / 2, 0.0), length_s - wide)
    return None if wide > 0.99 * length_s else (round(first, 3), round(first + wide, 3))


def strip_screen(part: Part, take: Take, span: tuple[float, float] | None = None) -> StripScreen:
    """Return the strip of a take that was measured, or a stretch of it."""
    measured, school, length_s = take.to_core(), school_named(take.snapshot["school"]), _length_s(take)
    from_s, to_s = span or (0.0, length_s)
    strips = (
        ()
        if measured is None
        else tuple(draw_lines(measured, take.trace, school, width=width, span=span) for width in (WIDE, NARROW))
    )
    return StripScreen(
        strips=strips,
        from_s=from_s,
        to_s=to_s,
        told=_("{from_s} to {to_s}").format(from_s=clock(from_s, 1), to_s=clock(to_s, 1)),
        is_whole=span is None,
        steps=_steps(from_s, to_s, length_s),
        others=_others(part, take),
    )


def _steps(from_s: float, to_s: float, length_s: float) -> tuple[tuple[str, str, str], ...]:
    """Return (name, label, query) of what one can go to from a stretch; none that leads nowhere."""
    wide, middle = to_s - from_s, (from_s + to_s) / 2
    wanted = (
        ("closer", "Closer", middle - wide / 4, middle + wide / 4),
        ("wider", "Wider", middle - wide, middle + wide),
        ("earlier", "Earlier", from_s - wide / 2, to_s - wide / 2),
        ("later", "Later", from_s + wide / 2, to_s + wide / 2),
    )
    found = []
    for name, label, first, last in wanted:
        span = _within(first, last, length_s)
        if (span or (0.0, length_s)) != (from_s, to_s):
            found.append((name, label, "" if span is None else f"from={span[0]:g}&to={span[1]:g}"))
    return tuple(found)


def _others(part: Part, take: Take) -> tuple[Other, ...]:
    rows = part.takes.exclude(pk=take.pk).exclude(judged="").values_list("number", "section", "measurement__level")
    own, found = _level((take.measurement or {})["level"]), []
    for number, section, level in rows[:MOST_COMPARED]:
        here, there = matching_volumes(own, _level(level))
        label = _("take {number}").format(number=number) + (f", {section}" if section else "")
        found.append(Other(number=number, label=label, here=round(here, 4), there=round(there, 4)))
    return tuple(found)


def _level(told: dict[str, Any]) -> Level:
    return msgspec.convert(told, Level)


def _length_s(take: Take) -> float:
    return max(float((take.measurement or {})["format"]["duration_s"]), 0.01)


def looked_at(take: Take, span: tuple[float, float] | None, at_s: float | None) -> tuple[float, float]:
    """Return the stretch a spectrum is asked of: what is drawn where that is short, else the second about a moment."""
    length_s = _length_s(take)
    first, last = span or (0.0, length_s)
    if last - first <= LONGEST_LOOKED_AT_S and at_s is None:
        return first, last
    middle = (first + last) / 2 if at_s is None else min(max(at_s, 0.0), length_s)
    first = min(max(middle - LOOKED_AT_S / 2, 0.0), max(length_s - LOOKED_AT_S, 0.0))
    return first, min(first + LOOKED_AT_S, length_s)
