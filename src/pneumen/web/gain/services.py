"""Keeping a distance and a gain, applying an advice, pinning a setup."""

from django.db import transaction
from django.db.models import F

from pneumen.core.errors import require_within
from pneumen.core.gain import school_named
from pneumen.core.levels import band_of_sum_db
from pneumen.web.lengths import require_near
from pneumen.web.song.models import Part
from pneumen.web.song.outlook import outlook_of

QUIETER_BAND_DB = 3.0
"""How far what switching something off brings differs from what is commonly said (estimate)."""


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
    require_near("distance", distance_m, facts.nearest_m, facts.farthest_m)
    low, high = outlook_of(part).chain.gain_range_db
    require_within("gain", gain_db, low, high)
    school_named(school)


@transaction.atomic
def apply_action(part: Part, *, distance_m: float, gain_db: float, room_noise_dba: float) -> None:
    """Store what one advice changes: distance, gain, and the room where it was made quieter."""
    keep(part, distance_m=distance_m, gain_db=gain_db, school=part.school)
    change_db = room_noise_dba - outlook_of(part).room.noise_dba
    if abs(change_db) >= 0.5:
        _make_quieter(part, change_db)


def _make_quieter(part: Part, change_db: float) -> None:
    """Shift what is believed of the room, for every part recorded in it."""
    room = part.song.room
    now = room.to_core()
    require_within("room noise", now.noise_dba + change_db, -20, 140)
    room.measured_noise_dba = now.noise_dba + change_db
    room.measured_noise_band_db = band_of_sum_db(now.noise_band_db, QUIETER_BAND_DB)
    room.told_change_db += change_db
    room.save(update_fields=["measured_noise_dba", "measured_noise_band_db", "told_change_db"])
    there = Part.objects.mine(part.owner).filter(song__room=room, known_room_dba__isnull=False)
    there.update(known_room_dba=F("known_room_dba") + change_db, known_room_band_db=QUIETER_BAND_DB)


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
