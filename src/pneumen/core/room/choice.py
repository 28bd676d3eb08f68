"""Which room, which hour: the lead of the direct sound weighed against the noise, and a day's quiet hours."""

from collections.abc import Sequence
from typing import Final

from pneumen.core.errors import Contradiction
from pneumen.core.room.outwards import spans_of

CLOSET_M3: Final = 8.0
"""A room smaller than this is the closet of the schools, a larger one the open room (common practice, no source)."""
MOST_LEAD_DB: Final = 20.0
LOUD_DBA: Final = 50.0
MOST_QUIET_DB: Final = 30.0
FAULT_DB: Final = 3.0
"""How lead and quiet are weighed (common practice, no source): decibel for decibel, up to where more is not heard."""
AS_QUIET_DB: Final = 0.5


def room_score_db(lead_db: float, noise_dba: float, *, boxed_in: bool) -> float:
    """Return how well a room does, to be compared with others: a room that is boxed in loses a little.

    >>> room_score_db(15, 30, boxed_in=False) - room_score_db(15, 33, boxed_in=True)
    6.0
    """
    return min(lead_db, MOST_LEAD_DB) + min(LOUD_DBA - noise_dba, MOST_QUIET_DB) - (FAULT_DB if boxed_in else 0.0)


def quietest_hours(levels_dba: Sequence[float]) -> tuple[float, tuple[tuple[int, int], ...]]:
    """Return the lowest of a day's hourly levels and the spans of hours (from, to) that have it.

    >>> quietest_hours([30.0] * 4 + [40.0] * 18 + [30.0] * 2)
    (30.0, ((0, 4), (22, 24)))

    Raises:
        Contradiction: where there is no hour.
    """
    if not levels_dba:
        raise Contradiction("levels_dba", "must hold a level for each hour")
    lowest = min(levels_dba)
    return lowest, spans_of([hour for hour, level in enumerate(levels_dba) if level < lowest + AS_QUIET_DB])
