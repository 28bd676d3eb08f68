"""Gain by section in sentences: how many settings it takes, what one for all costs, and how often each clips."""

import math
from typing import Final

from pneumen.core.forecast import GainPlan, SectionGain
from pneumen.wording.figures import figure
from pneumen.wording.language import _

ONE_FITS: Final = _("One setting keeps every section in the window.")
FEWEST: Final = _("{count} settings keep every section in the window; change between takes, never during one.")
UNREACHED: Final = _("No setting brings {names} into the window: the control ends before.")
ONE_IS_ENOUGH: Final = _(
    "One setting, that of the loudest, will do as well: {name} stays {under} dB under the window and keeps {clean} dB "
    "over the noise; the mix evens it out."
)
ONE_COSTS: Final = _("With one setting for all {name} keeps only {clean} dB over the noise: record it at its own.")
LEAST_CHANGE_DB: Final = 0.5
AS_IT_IS: Final = _("as it is")
UP: Final = _("up, until the same phrase peaks {db} dB higher")
DOWN: Final = _("down, until the same phrase peaks {db} dB lower")
RARE, EVEN, SURE = 0.001, 0.4, 0.75
NEVER: Final = _("under 1 in 1000")
ONE_IN: Final = _("1 in {takes}")
OFTEN: Final = _("every other take")
SURELY: Final = _("nearly every take")


def plan_told(plan: GainPlan, low_dbfs: float) -> tuple[str, ...]:
    """Say what settings are needed, and what one for all would cost."""
    outside = [one.name for one in plan.by_section if not one.in_window]
    settings = len(plan.settings_db)
    told = [ONE_FITS if settings == 1 else FEWEST.format(count=settings)] if not outside else []
    if outside:
        told.append(UNREACHED.format(names=", ".join(dict.fromkeys(outside))))
    if settings > 1:
        softest = min(plan.with_one, key=lambda one: one.clean_range_db)
        words = {
            "name": softest.name,
            "under": figure(max(low_dbfs - softest.peak_dbfs, 0.0)),
            "clean": figure(softest.clean_range_db),
        }
        told.append((ONE_IS_ENOUGH if plan.one_is_enough else ONE_COSTS).format(**words))
    return tuple(told)


def change_told(change_db: float) -> str:
    """Say how far to turn a control that carries no decibels, by what it does to one and the same phrase."""
    if abs(change_db) < LEAST_CHANGE_DB:
        return AS_IT_IS
    return (UP if change_db > 0 else DOWN).format(db=figure(abs(change_db)))


def risk_told(one: SectionGain) -> str:
    """Say how often a section clips at its gain."""
    return risk_in_words(one.clip_chance)


def risk_in_words(chance: float) -> str:
    """Say how many takes a chance comes to."""
    if chance < RARE:
        return NEVER
    if chance >= SURE:
        return SURELY
    return OFTEN if chance >= EVEN else ONE_IN.format(takes=_two_digits(1 / chance))


def _two_digits(count: float) -> str:
    """Write a count with two digits that say something, for a chance is no more certain."""
    step = 10 ** max(int(math.log10(count)) - 1, 0)
    return figure(round(count / step) * step)
