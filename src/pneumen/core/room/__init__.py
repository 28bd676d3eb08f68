"""Rooms: in words or as a box with its walls; ring time, modes, echoes, and how far the direct sound leads."""

from pneumen.core.room.box import AXIS_OF, WALLS, Box, Covering, Point
from pneumen.core.room.boxiness import Boxiness, boxiness_of
from pneumen.core.room.choice import CLOSET_M3, quietest_hours, room_score_db
from pneumen.core.room.decay import Clap, Flutter, clap_of
from pneumen.core.room.hangings import (
    Arrangement,
    Hung,
    Piece,
    Slot,
    best_arrangement,
    covering_of,
    usual_slots,
    with_hung,
)
from pneumen.core.room.images import USUAL_ORDER, Echoes, echoes_of, images_up_to
from pneumen.core.room.materials import BANDS_HZ, FURNITURE, MATERIALS, Furniture, Material, material_named
from pneumen.core.room.modes import Mode, coincidences_of, modes_of
from pneumen.core.room.noise import Aim, Heard, Noise, best_aim, heard_of, noise_at, noise_everywhere
from pneumen.core.room.paths import room_sound_here
from pneumen.core.room.read import RoomDocument, room_from_json
from pneumen.core.room.report import Reflection, RoomReport, reflections_of, report_of, ring_time_middle_s
from pneumen.core.room.reverberation import (
    SPEED_OF_SOUND_M_S,
    critical_distance_m,
    direct_to_reverberant_db,
    reverberation_time_eyring_s,
    reverberation_time_sabine_s,
    ring_times_eyring_s,
    ring_times_sabine_s,
    schroeder_frequency_hz,
)
from pneumen.core.room.sound import Comb, RoomSound, Standing, comb_of, room_sound, standing
from pneumen.core.room.spots import FACINGS, RoomMap, Spot, best_spots, room_map
from pneumen.core.room.words import FURNISHINGS, NOISES, SIZES, Room, room_from_words

__all__ = [
    "AXIS_OF",
    "BANDS_HZ",
    "CLOSET_M3",
    "FACINGS",
    "FURNISHINGS",
    "FURNITURE",
    "MATERIALS",
    "NOISES",
    "SIZES",
    "SPEED_OF_SOUND_M_S",
    "USUAL_ORDER",
    "WALLS",
    "Aim",
    "Arrangement",
    "Box",
    "Boxiness",
    "Clap",
    "Comb",
    "Covering",
    "Echoes",
    "Flutter",
    "Furniture",
    "Heard",
    "Hung",
    "Material",
    "Mode",
    "Noise",
    "Piece",
    "Point",
    "Reflection",
    "Room",
    "RoomDocument",
    "RoomMap",
    "RoomReport",
    "RoomSound",
    "Slot",
    "Spot",
    "Standing",
    "best_aim",
    "best_arrangement",
    "best_spots",
    "boxiness_of",
    "clap_of",
    "coincidences_of",
    "comb_of",
    "covering_of",
    "critical_distance_m",
    "direct_to_reverberant_db",
    "echoes_of",
    "heard_of",
    "images_up_to",
    "material_named",
    "modes_of",
    "noise_at",
    "noise_everywhere",
    "quietest_hours",
    "reflections_of",
    "report_of",
    "reverberation_time_eyring_s",
    "reverberation_time_sabine_s",
    "ring_time_middle_s",
    "ring_times_eyring_s",
    "ring_times_sabine_s",
    "room_from_json",
    "room_from_words",
    "room_map",
    "room_score_db",
    "room_sound",
    "room_sound_here",
    "schroeder_frequency_hz",
    "standing",
    "usual_slots",
    "with_hung",
]
