"""How a kit stands: by the noise its takes would have, and by how much of the room would be baked in."""

from typing import Final

from pneumen.core.room import judge_room

GOOD_CLEAN_RANGE_DB: Final = 40.0
POOR_CLEAN_RANGE_DB: Final = 30.0
"""As the contract of `measure` judges a take's noise."""


def judge_kit(clean_range_db: float, direct_to_reverberant_db: float) -> str:
    """Return clear, watch, mendable (noise) or baked-in (a room that cannot be taken out again).

    >>> judge_kit(54, 10), judge_kit(54, 4), judge_kit(25, 10), judge_kit(54, 1)
    ('clear', 'watch', 'mendable', 'baked-in')
    """
    room = judge_room(direct_to_reverberant_db)
    if room == "baked-in":
        return room
    if clean_range_db < POOR_CLEAN_RANGE_DB:
        return "mendable"
    return "clear" if room == "clear" and clean_range_db >= GOOD_CLEAN_RANGE_DB else "watch"
