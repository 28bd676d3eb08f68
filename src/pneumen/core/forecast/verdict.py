"""How a kit stands in its place: by the noise its takes would have, by how much of the room would be baked in, and by
what it bears."""

import math

import numpy as np

from pneumen.core.forecast.outcome import Outcome
from pneumen.core.gain import POOR_CLEAN_RANGE_DB
from pneumen.core.line import along_gain
from pneumen.core.room import DRY_ENOUGH_DB, SAME_LEAD_DB, judge_room
from pneumen.core.verdict import Verdict, worst_of


def judge_kit(
    clean_range_db: float,
    direct_to_reverberant_db: float,
    dry_enough_db: float = DRY_ENOUGH_DB,
    *,
    clean_enough_db: float,
) -> Verdict:
    """Return clear, watch, mendable (noise) or baked-in (a room that cannot be taken out again).

    Args:
        dry_enough_db, clean_enough_db: what is enough for its source, and for its person.

    >>> [judge_kit(*one, clean_enough_db=50).value for one in ((54, 10), (54, 4), (49, 10), (25, 10), (54, 1))]
    ['clear', 'watch', 'watch', 'mendable', 'baked-in']
    """
    room = judge_room(direct_to_reverberant_db, dry_enough_db)
    if room == Verdict.BAKED_IN:
        return room
    if clean_range_db < min(POOR_CLEAN_RANGE_DB, clean_enough_db):
        return Verdict.MENDABLE
    return room if clean_range_db >= clean_enough_db - SAME_LEAD_DB else Verdict.WATCH


def judge_overload(spare_db: float, band_db: float) -> Verdict:
    """Return clear, watch or baked-in for what a kit bears at its lowest gain.

    Args:
        spare_db: the headroom over the loudest peak as it is believed.
        band_db: by how much the performer may be louder than that.

    >>> [one.value for one in (judge_overload(6, 5), judge_overload(3, 5), judge_overload(-1, 5))]
    ['clear', 'watch', 'baked-in']
    """
    if spare_db < 0:
        return Verdict.BAKED_IN
    return Verdict.WATCH if spare_db < band_db - SAME_LEAD_DB else Verdict.CLEAR


def judge_chain(found: Outcome, *, clean_enough_db: float) -> Verdict:
    """Return how the chain of a part stands where it is set up: as a kit that holds it alone would."""
    setup, levels = found.setup, found.levels
    lead_db = found.air.lead_db if found.air else math.inf
    heard = judge_kit(levels.clean_range_db, lead_db, setup.source.dry_enough_db, clean_enough_db=clean_enough_db)
    return worst_of([heard, judge_overload(spare_at_lowest_gain_db(found), setup.performance.band_db)])


def spare_at_lowest_gain_db(found: Outcome) -> float:
    """Return the headroom at the lowest gain: what a performer may be louder than believed before something clips."""
    setup = found.setup
    lowest = along_gain(found.levels, np.array([setup.chain.gain_range_db[0] - setup.gain_db]))
    return float(lowest.ceiling_dbfs[0] - lowest.peak_dbfs[0])
