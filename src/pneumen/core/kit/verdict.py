"""How a kit stands: by the noise its takes would have, and by how much of the room would be baked in."""

from typing import Final

GOOD_CLEAN_RANGE_DB: Final = 40.0
POOR_CLEAN_RANGE_DB: Final = 30.0
"""As the contract of `measure` judges a take's noise."""
FAINT_ROOM_DB: Final = 6.0
LOUD_ROOM_DB: Final = 3.0
"""Direct sound so far over the room's: faint enough for most music; under the lower one the room is heard as such
(common practice, no source)."""


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


def judge_room(direct_to_reverberant_db: float) -> str:
    """Return clear, watch or baked-in for how far the direct sound leads the room's.

    >>> judge_room(10), judge_room(4), judge_room(1)
    ('clear', 'watch', 'baked-in')
    """
    if direct_to_reverberant_db < LOUD_ROOM_DB:
        return "baked-in"
    return "clear" if direct_to_reverberant_db >= FAINT_ROOM_DB else "watch"
