"""What the Takes screen shows of timing and tuning: sentences, and each note's distance from the tuning over time."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.web.drawing import Axis, Paper, Tick
from pneumen.web.part.models import Part
from pneumen.web.take.models import Take
from pneumen.web.take.performance import FAR_CENTS, Heard, Performance, performance_of
from pneumen.wording.figures import clock, figure
from pneumen.wording.performance import (
    MEASURED,
    ONE_AT_A_TIME,
    beside_told,
    notes_told,
    off_told,
    section_told,
    timing_told,
    tuning_told,
)

WIDE, NARROW = 766.0, 342.0
LEFT, TOP, BASE, HEIGHT = 44.0, 8.0, 118.0, 138.0
NARROW_BELOW: Final = 500
SHOWN_CENTS: Final = 60.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Dot:
    """One note of the picture."""

    x: float
    y: float
    width: float
    off: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class NotesPicture(Paper):
    """Each note as a dash: when, and how far from the tuning; a band shows what is hardly heard as off."""

    height: float
    left: float
    right: float
    inner_width: float
    near_y: float
    near_height: float
    middle_y: float
    dots: tuple[Dot, ...]
    levels: tuple[Tick, ...]
    seconds: tuple[Tick, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Far:
    """A note worth listening to."""

    when: str
    start_s: float
    told: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PerformanceScreen:
    """The whole card."""

    timing: tuple[str, ...]
    tuning: tuple[str, ...]
    far: tuple[Far, ...]
    pictures: tuple[NotesPicture, ...]
    closing: str


def performance_screen(part: Part, take: Take, length_s: float) -> PerformanceScreen | None:
    """Return what is shown; None before the take was listened to."""
    found = performance_of(part, take)
    if found is None:
        return None
    timing = list(timing_told(found.timing, found.tempo_bpm))
    if found.timing is not None and found.timing.sure:
        timing += [section_told(name, one) for name, one in found.sections]
    if found.beside is not None:
        timing.append(beside_told(*found.beside))
    return PerformanceScreen(
        timing=tuple(timing),
        tuning=_tuning(take, found),
        far=tuple(
            Far(when=clock(one.note.start_s), start_s=one.note.start_s, told=off_told(one.cents, one.wrong_by))
            for one in found.far
        ),
        pictures=tuple(_drawn(found.notes, length_s, width) for width in (WIDE, NARROW)) if found.notes else (),
        closing=MEASURED,
    )


def _tuning(take: Take, found: Performance) -> tuple[str, ...]:
    study = take.to_study()
    if study is None or study.notes is None:
        return (ONE_AT_A_TIME,)
    told = [tuning_told(found.tuning, by_backing=found.by_backing)]
    if found.notes:
        low, high = np.quantile([one.cents for one in found.notes], (0.25, 0.75))
        told.append(notes_told(len(found.notes), float(low), float(high), agreed=found.agreed, key=found.by_key))
    return tuple(told)


def _drawn(notes: tuple[Heard, ...], length_s: float, width: float) -> NotesPicture:
    narrow, right = width < NARROW_BELOW, width - 10
    seconds = Axis(low=0.0, high=max(length_s, 0.1), start=LEFT, end=right)
    cents = Axis(low=-SHOWN_CENTS, high=SHOWN_CENTS, start=BASE, end=TOP)
    return NotesPicture(
        width=width,
        narrow=narrow,
        height=HEIGHT,
        left=LEFT,
        right=right,
        inner_width=right - LEFT,
        near_y=cents.at(FAR_CENTS),
        near_height=cents.at(-FAR_CENTS) - cents.at(FAR_CENTS),
        middle_y=cents.at(0.0),
        dots=tuple(
            Dot(
                x=seconds.at(one.note.start_s),
                y=cents.at(one.cents),
                width=max(3.0, seconds.at(one.note.end_s) - seconds.at(one.note.start_s)),
                off=abs(one.cents) >= FAR_CENTS or bool(one.wrong_by),
            )
            for one in notes
        ),
        levels=tuple(Tick(at=cents.at(one), label=figure(one, sign=one > 0)) for one in cents.every(25)),
        seconds=tuple(Tick(at=seconds.at(one), label=clock(one)) for one in seconds.round_ticks(4 if narrow else 9)),
    )
