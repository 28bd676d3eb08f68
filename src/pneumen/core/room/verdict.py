"""How a room stands: by how much of it would be baked in."""

from typing import Final

FAINT_ROOM_DB: Final = 6.0
LOUD_ROOM_DB: Final = 3.0
"""Direct sound so far over the room's: faint enough for most music; under the lower one the room is heard as such
(common practice, no source)."""


def judge_room(direct_to_reverberant_db: float) -> str:
    """Return clear, watch or baked-in for how far the direct sound leads the room's.

    >>> judge_room(10), judge_room(4), judge_room(1)
    ('clear', 'watch', 'baked-in')
    """
    if direct_to_reverberant_db < LOUD_ROOM_DB:
        return "baked-in"
    return "clear" if direct_to_reverberant_db >= FAINT_ROOM_DB else "watch"
