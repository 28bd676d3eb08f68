"""How well what was predicted fits what was measured, over all takes of a part; and its room by the hour."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from statistics import fmean, stdev

from pneumen.core.levels import power_sum_db, ratio_to_db


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One figure of one take: as it was predicted when the take was recorded, give or take band_db, and as measured."""

    number: int
    predicted_db: float
    band_db: float
    measured_db: float

    @property
    def off_db(self) -> float:
        return self.measured_db - self.predicted_db

    @property
    def within(self) -> bool:
        return abs(self.off_db) <= self.band_db


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """mean_db: how far the takes lay above what was predicted, on the mean. spread_db: their standard deviation about
    that, None of a single take. within: how many lay in the band that was told."""

    count: int
    mean_db: float
    spread_db: float | None
    within: int


@dataclass(frozen=True, slots=True, kw_only=True)
class HourNoise:
    """The room's noise in one hour of the day, the energy mean of so many takes, dBA."""

    hour: int
    noise_dba: float
    count: int


def fit_of(readings: Sequence[Reading]) -> Fit | None:
    """Return how well a figure was predicted; None where there is nothing to go by.

    >>> fit_of([Reading(number=n, predicted_db=-9, band_db=3, measured_db=-9 + off) for n, off in ((1, 1), (2, 5))])
    Fit(count=2, mean_db=3.0, spread_db=2.8284271247461903, within=1)
    """
    if not readings:
        return None
    off = [one.off_db for one in readings]
    return Fit(
        count=len(off),
        mean_db=fmean(off),
        spread_db=stdev(off) if len(off) > 1 else None,
        within=sum(one.within for one in readings),
    )


def noise_by_hour(heard: Iterable[tuple[int, float]]) -> tuple[HourNoise, ...]:
    """Return the noise of each hour that takes told of, in the order of the day.

    Args:
        heard: hour of the day (0 to 23) and noise in dBA, of each take.
    """
    by_hour: dict[int, list[float]] = {}
    for hour, noise_dba in heard:
        by_hour.setdefault(hour, []).append(noise_dba)
    return tuple(
        HourNoise(hour=hour, noise_dba=power_sum_db(*levels) - ratio_to_db(len(levels)) / 2, count=len(levels))
        for hour, levels in sorted(by_hour.items())
    )
