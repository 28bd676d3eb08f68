"""The room in words and what follows from them: volume, ring time, noise, and how far the direct sound leads."""

from pneumen.core.room.reverberation import critical_distance_m, direct_to_reverberant_db, reverberation_time_eyring_s
from pneumen.core.room.words import FURNISHINGS, NOISES, SIZES, Room, room_from_words

__all__ = [
    "FURNISHINGS",
    "NOISES",
    "SIZES",
    "Room",
    "critical_distance_m",
    "direct_to_reverberant_db",
    "reverberation_time_eyring_s",
    "room_from_words",
]
