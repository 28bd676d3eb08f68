"""How a kit stands in its place: by the noise its takes would have, and by how much of the room would be baked in."""

from pneumen.core.gain import GOOD_CLEAN_RANGE_DB, POOR_CLEAN_RANGE_DB
from pneumen.core.room import DRY_ENOUGH_DB, judge_room
from pneumen.core.verdict import Verdict


def judge_kit(clean_range_db: float, direct_to_reverberant_db: float, dry_enough_db: float = DRY_ENOUGH_DB) -> Verdict:
    """Return clear, watch, mendable (noise) or baked-in (a room that cannot be taken out again).

    >>> [one.value for one in (judge_kit(54, 10), judge_kit(54, 4), judge_kit(25, 10), judge_kit(54, 1))]
    ['clear', 'watch', 'mendable', 'baked-in']
    """
    room = judge_room(direct_to_reverberant_db, dry_enough_db)
    if room == Verdict.BAKED_IN:
        return room
    if clean_range_db < POOR_CLEAN_RANGE_DB:
        return Verdict.MENDABLE
    return Verdict.CLEAR if room == Verdict.CLEAR and clean_range_db >= GOOD_CLEAN_RANGE_DB else Verdict.WATCH
