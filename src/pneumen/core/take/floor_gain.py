"""How far a control was turned between two takes, told by the floor alone, where the room sets it."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import require_within

ROOM_LEADS_DB: Final = 6.0
"""Where the room's noise leads all that the gain does not move by so much, the floor follows it to half a decibel."""
FLOOR_BAND_DB: Final = 1.5
"""A room's own noise keeps within that for half an hour (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FloorChange:
    """By how much the gain rose from one take to the next, and within what band."""

    gain_db: float
    band_db: float


def gain_change_by_floor(
    before_dbfs: float, now_dbfs: float, *, room_leads_db: tuple[float, float]
) -> FloorChange | None:
    """Return how far the gain moved; None where the room does not set the floor in both takes.

    Args:
        before_dbfs, now_dbfs: the floors, A-weighted.
        room_leads_db: how far the room's noise lies over all the other noises together, in each take.
    """
    for lead_db in room_leads_db:
        require_within("room_leads_db", lead_db, -200, 200)
    if min(room_leads_db) < ROOM_LEADS_DB:
        return None
    return FloorChange(gain_db=now_dbfs - before_dbfs, band_db=FLOOR_BAND_DB)
