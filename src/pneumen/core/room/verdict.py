"""How a room stands: by how much of it would be baked in."""

from typing import Final

from pneumen.core.verdict import Verdict

DRY_ENOUGH_DB: Final = 10.0
"""Direct sound this far above the room's reads as close and dry (common practice, no source)."""
SAME_LEAD_DB: Final = 0.07
"""So little short of it nobody tells apart."""
LOUD_ROOM_DB: Final = 3.0
"""Direct sound less than so far over it: the room is heard as such (common practice, no source)."""

LOUD_NOISE_DBA: Final = 42.0
"""A steady noise over this at the microphone is heard behind soft singing (common practice, no source)."""


def judge_noise(noise_dba: float) -> Verdict:
    """Return clear or watch for the noise where the microphone hears it.

    >>> judge_noise(50).value, judge_noise(30).value
    ('watch', 'clear')
    """
    return Verdict.WATCH if noise_dba > LOUD_NOISE_DBA else Verdict.CLEAR


def is_dry_enough(direct_to_reverberant_db: float, dry_enough_db: float = DRY_ENOUGH_DB) -> bool:
    """Tell whether the direct sound leads the room's by what is dry enough for a source."""
    return direct_to_reverberant_db >= dry_enough_db - SAME_LEAD_DB


def judge_room(direct_to_reverberant_db: float, dry_enough_db: float = DRY_ENOUGH_DB) -> Verdict:
    """Return clear, watch or baked-in for how far the direct sound leads the room's.

    Args:
        dry_enough_db: what is dry enough for this source; where the room belongs to the sound less of a lead will do.

    >>> [one.value for one in (judge_room(10), judge_room(7), judge_room(1), judge_room(5, dry_enough_db=5))]
    ['clear', 'watch', 'baked-in', 'clear']
    """
    if is_dry_enough(direct_to_reverberant_db, dry_enough_db):
        return Verdict.CLEAR
    short_db = dry_enough_db - direct_to_reverberant_db
    return Verdict.BAKED_IN if short_db > DRY_ENOUGH_DB - LOUD_ROOM_DB else Verdict.WATCH
