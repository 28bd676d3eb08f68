"""Keeping a distance and a gain, applying an advice, pinning a setup."""

from django.db import transaction

from pneumen.core.errors import require_within
from pneumen.core.gain import school_named
from pneumen.web.song.models import Part
from pneumen.web.song.outlook import outlook_of

ROOM_TOLD_BAND_DB = 3.0
"""How sure a room's noise is after something was switched off (estimate)."""


def keep(part: Part, *, distance_m: float, gain_db: float, school: str) -> None:
    """Store where distance and gain were set to.

    Raises:
        OutOfRange, UnknownName: naming the field.
    """
    check(part, distance_m=distance_m, gain_db=gain_db, school=school)
    part.distance_m, part.gain_db, part.school = distance_m, gain_db, school
    part.save(update_fields=["distance_m", "gain_db", "school"])


def check(part: Part, *, distance_m: float, gain_db: float, school: str) -> None:
    facts = part.source_facts
    require_within(
        "distance", round(100 * distance_m, 2), round(100 * facts.nearest_m, 1), round(100 * facts.farthest_m, 1)
    )
    low, high = outlook_of(part).chain.gain_range_db
    require_within("gain", gain_db, low, high)
    school_named(school)


@transaction.atomic
def apply_action(part: Part, *, distance_m: float, gain_db: float, room_noise_dba: float) -> None:
    """Store what one advice changes: distance, gain, and the room where it was made quieter."""
    keep(part, distance_m=distance_m, gain_db=gain_db, school=part.school)
    room = part.song.room
    if abs(room.to_core().noise_dba - room_noise_dba) >= 0.5:
        require_within("room noise", room_noise_dba, -20, 140)
        room.measured_noise_dba, room.measured_noise_band_db = room_noise_dba, ROOM_TOLD_BAND_DB
        room.save(update_fields=["measured_noise_dba", "measured_noise_band_db"])


def pin(part: Part) -> None:
    """Keep the present levels as a ghost in the picture; pin again to take it away."""
    levels = outlook_of(part).prediction.levels
    part.pinned = (
        None
        if part.pinned
        else {
            "peak_dbfs": round(levels.peak_dbfs, 2),
            "typical_dbfs": round(levels.typical_dbfs, 2),
            "noise_dbfs": round(levels.noise_dbfs, 2),
        }
    )
    part.save(update_fields=["pinned"])
