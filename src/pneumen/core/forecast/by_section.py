"""Gain by section: the fewest settings that keep every section well inside the window, and what one would cost."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.forecast.outcome import Outcome
from pneumen.core.forecast.setup import PartSetup
from pneumen.core.gain import GOOD_CLEAN_RANGE_DB, fewest_settings, leeway_db, predictive
from pneumen.core.line import along_gain
from pneumen.core.part import Section, levels_in
from pneumen.core.setup import PlugLevels

BEARABLE_RISK: Final = 0.05
"""One take in twenty may clip (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SectionGain:
    """A section at a gain: where its peak lands, what lies between its typical level and the noise, and how likely it
    clips."""

    name: str
    gain_db: float
    peak_dbfs: float
    clean_range_db: float
    clip_chance: float
    in_window: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class GainPlan:
    """Two ways to record the sections: with the fewest settings that keep each in the window, and with one for all.

    Both in the song's order. one_is_enough: with one setting no section clips more often than is borne, and each keeps
    enough over the noise.
    """

    by_section: tuple[SectionGain, ...]
    with_one: tuple[SectionGain, ...]
    one_is_enough: bool

    @property
    def settings_db(self) -> tuple[float, ...]:
        """The gains of the fewest settings, lowest first."""
        return tuple(sorted({one.gain_db for one in self.by_section}))


def clip_chances(
    found: Outcome, gains_db: Sequence[float], takes_db: Sequence[float] = (), *, unrecorded: bool = False
) -> tuple[float, ...]:
    """Return the chance that a take of a part clips at each of some gains, whatever gives way first.

    Args:
        takes_db: peaks of takes so far, in any one scale: their spread counts.
        unrecorded: whether it was never recorded by itself, though others were.
    """
    along = along_gain(found.levels, np.array(gains_db) - found.gain_db)
    return tuple(
        predictive(float(peak), found.signal_band_db, takes_db, unrecorded=unrecorded).chance_over(float(ceiling))
        for peak, ceiling in zip(along.peak_dbfs, along.ceiling_dbfs, strict=True)
    )


def gain_plan(
    found: Outcome, sections: Sequence[Section], seen_db: Mapping[str, Sequence[float]] | None = None
) -> GainPlan | None:
    """Return the gains for a part's sections; None for fewer than two, which one gain serves.

    Args:
        found: the part as it is set up.
        seen_db: peaks of takes so far, by section, in any one scale.
    """
    if len(sections) < 2:
        return None
    setup, seen = found.setup, seen_db or {}
    shifts = [_shift(setup, section, sections) for section in sections]
    peaks = [found.levels.peak_dbfs + peak_db for peak_db, _ in shifts]
    school, reach = setup.school, setup.chain.gain_range_db
    # Near an edge every other take falls out of the window: sections share a gain only where both stay well inside.
    half_db = (school.high_dbfs - school.low_dbfs) / 2
    most_db = max(leeway_db(half_db, predictive(0.0, found.signal_band_db, takes)) for takes in (seen.values() or [()]))
    window = (school.aim_dbfs - most_db, school.aim_dbfs + most_db)
    settings = fewest_settings(peaks, setup.gain_db, window, reach, step_db=setup.chain.gain_step_db)
    gain_of = {number: one.gain_db for one in settings for number in one.sections}
    one_gain_db = settings[0].gain_db  # what the loudest bears
    gains_db = tuple({*gain_of.values(), one_gain_db})
    along = along_gain(found.levels, np.array(gains_db) - found.gain_db)

    def at(number: int, gain_db: float) -> SectionGain:
        name, (peak_db, typical_db), there = sections[number].name, shifts[number], gains_db.index(gain_db)
        takes, peak_dbfs = seen.get(name, ()), float(along.peak_dbfs[there]) + peak_db
        ahead = predictive(peak_dbfs, found.signal_band_db, takes, unrecorded=not takes and bool(seen))
        return SectionGain(
            name=name,
            gain_db=gain_db,
            peak_dbfs=peak_dbfs,
            clean_range_db=float(along.clean_range_db[there]) + typical_db,
            clip_chance=ahead.chance_over(float(along.ceiling_dbfs[there])),
            in_window=setup.school.outside_db(peak_dbfs) == 0,
        )

    numbers = range(len(sections))
    with_one = tuple(at(number, one_gain_db) for number in numbers)
    return GainPlan(
        by_section=tuple(at(number, gain_of[number]) for number in numbers),
        with_one=with_one,
        one_is_enough=len(settings) == 1
        or all(one.clean_range_db >= GOOD_CLEAN_RANGE_DB and one.clip_chance <= BEARABLE_RISK for one in with_one),
    )


def levels_by_section(found: Outcome, sections: Sequence[Section]) -> tuple[tuple[str, float, float], ...]:
    """Return name, peak and typical level of each section as it is set up now, dBFS; nothing without sections."""
    levels = found.levels
    shifts = [(one.name, *_shift(found.setup, one, sections)) for one in sections]
    return tuple((name, levels.peak_dbfs + peak, levels.typical_dbfs + typical) for name, peak, typical in shifts)


def _shift(setup: PartSetup, section: Section, sections: Sequence[Section]) -> tuple[float, float]:
    """Return how far a section's peak and its typical level stand from those of the whole part, dB."""
    whole = setup.performance.levels
    if isinstance(whole, PlugLevels):
        plug = levels_in(section, sections, whole)
        return plug.peak_dbu - whole.peak_dbu, plug.typical_dbu - whole.typical_dbu
    air = levels_in(section, sections, whole)
    return air.peak_db_spl - whole.peak_db_spl, air.typical_db_spl - whole.typical_db_spl
