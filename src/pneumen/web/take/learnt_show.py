"""What takes have taught: predicted against measured, how well the model fits, the room by the hour."""

from collections.abc import Iterable
from dataclasses import dataclass
from statistics import stdev
from typing import Final

from django.utils import timezone

from pneumen.core.take import Fit, HourNoise, fit_of, noise_by_hour
from pneumen.web.part.models import Part
from pneumen.web.take.fit_picture import FitPicture, draw_fit
from pneumen.web.take.lesson_show import LessonLine, lesson_lines
from pneumen.web.take.models import Take
from pneumen.web.take.readings import FIGURES, typical_db
from pneumen.wording.fit import fit_told

MOST_TAKES: Final = 60
"""So many of the newest takes are looked back on."""
WIDE, NARROW = 766, 342


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """One figure over all takes: its pictures, and how well it was predicted in words."""

    name: str
    told: str
    fit: Fit
    pictures: tuple[FitPicture, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class LearntScreen:
    """The whole page; spread_db is how much the performer differs from take to take, None of fewer than three."""

    figures: tuple[Figure, ...]
    spread_db: float | None
    hours: tuple[HourNoise, ...]
    log: tuple[LessonLine, ...]
    simulated: bool


def learnt_screen(part: Part) -> LearntScreen:
    """Return what the takes of a part have taught."""
    takes = _told_takes(part)
    figures = []
    for figure in FIGURES:
        readings = [reading for take in takes if (reading := figure.reading_of(take)) is not None]
        fit = fit_of(readings)
        if fit is not None:
            pictures = tuple(draw_fit(readings, figure.unit, width=width) for width in (WIDE, NARROW))
            figures.append(Figure(name=figure.name, told=fit_told(fit), fit=fit, pictures=pictures))
    return LearntScreen(
        figures=tuple(figures),
        spread_db=_spread_db(takes),
        hours=noise_by_hour(_heard(takes)),
        log=lesson_lines(part),
        simulated=bool(takes) and takes[0].simulated,
    )


def _told_takes(part: Part) -> list[Take]:
    """Return the takes recorded with the gear as set, the oldest first: the real ones where there are any."""
    rows = part.takes.exclude(judged="").defer("peaks", "captured", "preview").order_by("-number")
    takes = list(rows.filter(simulated=False)[:MOST_TAKES]) or list(rows[:MOST_TAKES])
    return [take for take in reversed(takes) if not (take.recorded or {}).get("other_gear")]


def _spread_db(takes: Iterable[Take]) -> float | None:
    """Return the standard deviation of how loud the performer was; the same passage only, and no fewer than three."""
    levels = [level for take in takes if not take.section and (level := typical_db(take)) is not None]
    return stdev(levels) if len(levels) > 2 else None


def _heard(takes: Iterable[Take]) -> Iterable[tuple[int, float]]:
    """Yield (hour, dBA) of the takes that tell of the room."""
    for take in takes:
        correction = take.core_correction()
        if correction is not None and correction.room_noise_dba is not None and not correction.room_is_bound:
            yield timezone.localtime(take.when).hour, correction.room_noise_dba
