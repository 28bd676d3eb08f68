"""Sources that want the room used their own way: an amplifier in a packed corner, a horn before its wall, loud ones."""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.levels import power_sum_db
from pneumen.core.room.box import WALLS, Box, Covering
from pneumen.core.room.images import echoes_of
from pneumen.core.room.materials import material_named
from pneumen.core.room.paths import room_sound
from pneumen.core.room.reverberation import critical_distance_m
from pneumen.core.room.sound import source_constant, standing

PILLOWS: Final = "duvet"
"""Nearest published kin of pillows heaped up (estimate)."""
PILLOWS_M: Final = 1.2
FROM_CORNER_M: Final = 0.7
"""So far from the corner it faces, an amplifier leaves room for pillows and a microphone (common practice)."""
PICK_DB: Final = 55.0
"""Strings of an unplugged electric guitar at 1 m (estimate)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Corner:
    """A corner of the plan: its name, the place to put a source that faces it, and the bearing from there."""

    name: str
    stand_m: tuple[float, float]
    bearing_deg: float


def corners_of(box: Box) -> tuple[Corner, ...]:
    """Return the four corners with a place before each.

    >>> [corner.name for corner in corners_of(Box(size_m=(4, 3, 2.4), surfaces=dict.fromkeys(("west", "east", "south", \
"north", "floor", "ceiling"), (0.1,) * 6)))]
    ['south-west', 'south-east', 'north-west', 'north-east']
    """
    across, deep, _ = box.size_m
    off = min(FROM_CORNER_M / math.sqrt(2), across / 3, deep / 3)
    found = []
    for north in (False, True):
        for east in (False, True):
            name = f"{'north' if north else 'south'}-{'east' if east else 'west'}"
            stand = (across - off if east else off), (deep - off if north else off)
            bearing = math.degrees(math.atan2(1 if east else -1, 1 if north else -1)) % 360
            found.append(Corner(name=name, stand_m=stand, bearing_deg=bearing))
    return tuple(found)


@dataclass(frozen=True, slots=True, kw_only=True)
class CornerLead:
    """How far the direct sound leads with a source facing a corner: as it is, and packed with pillows."""

    bare_db: float
    packed_db: float


def corner_lead(
    box: Box, corner: Corner, *, height_m: float, distance_m: float, pattern: str, source_factor: float
) -> CornerLead:
    """Return what a microphone between a source and the corner it faces hears of the room.

    The microphone looks at the source, its back to the corner.
    """
    east, north = math.sin(math.radians(corner.bearing_deg)), math.cos(math.radians(corner.bearing_deg))
    source = (*corner.stand_m, height_m)
    microphone = (source[0] + distance_m * east, source[1] + distance_m * north, height_m)
    place = standing(source, microphone, pattern=pattern, source_factor=source_factor)
    leads = [float(room_sound(one, place).lead_db[0]) for one in (box, _packed(box, corner))]
    return CornerLead(bare_db=leads[0], packed_db=leads[1])


def _packed(box: Box, corner: Corner) -> Box:
    """Return a box with pillows up both walls of a corner."""
    across, deep, high = box.size_m
    up, absorption = min(PILLOWS_M, high), material_named(PILLOWS).absorption
    north, east = corner.name.split("-")
    width, length = min(PILLOWS_M, across), min(PILLOWS_M, deep)
    along_x = (across - width, across) if east == "east" else (0.0, width)
    along_y = (deep - length, deep) if north == "north" else (0.0, length)
    heaps = tuple(
        Covering(on=on, absorption=absorption, area_m2=(span[1] - span[0]) * up, patch=(*span, 0.0, up))
        for on, span in ((north, along_x), (east, along_y))
    )
    return Box(size_m=box.size_m, surfaces=box.surfaces, coverings=(*box.coverings, *heaps), objects_m2=box.objects_m2)


def pick_under_db(level_1m_db: float, distance_m: float, player_m: float) -> float:
    """Return how far the sound of the strings themselves lies under an amplifier, at its microphone.

    Args:
        level_1m_db: the amplifier's at 1 m.
        distance_m, player_m: amplifier and player to the microphone.
    """
    return level_1m_db - 20 * math.log10(distance_m) - (PICK_DB - 20 * math.log10(player_m))


@dataclass(frozen=True, slots=True, kw_only=True)
class WallBehind:
    """The wall a bell that points backwards plays to: how far, how much later it answers, against the direct sound."""

    wall: str
    distance_m: float
    delay_ms: float
    level_db: float


def wall_behind(
    box: Box, source_m: tuple[float, float, float], microphone_m: tuple[float, float, float], source_factor: float
) -> WallBehind:
    """Return what the wall behind a player throws back to a microphone in front, at 1 kHz.

    The bell's pattern is first-order, its axis straight away from the microphone across the floor.
    """
    ahead = microphone_m[0] - source_m[0], microphone_m[1] - source_m[1]
    if abs(ahead[0]) >= abs(ahead[1]):
        wall, axis = ("west", 0) if ahead[0] >= 0 else ("east", 0)
    else:
        wall, axis = ("south", 1) if ahead[1] >= 0 else ("north", 1)
    distance = source_m[axis] if wall in ("west", "south") else box.size_m[axis] - source_m[axis]
    echoes = echoes_of(box, source_m, microphone_m, order=1)
    once = (echoes.hits.sum(axis=1) == 1) & (echoes.hits[:, WALLS.index(wall)] == 1)
    number = int(once.argmax())
    constant = source_constant(source_factor)
    lift = 20 * math.log10(1 / max(abs(2 * constant - 1), 0.1))  # forwards, where the direct sound leaves, it is weaker
    level = 10 * math.log10(max(float(echoes.share[number, 3]), 1e-9)) + lift
    return WallBehind(wall=wall, distance_m=distance, delay_ms=1000 * float(echoes.delay_s[number]), level_db=level)


def level_at_ear_db(level_1m_db: float, ear_m: float, volume_m3: float, rt60_s: float, factor: float) -> float:
    """Return how loud a source is at an ear: directly, and by way of the room."""
    diffuse = level_1m_db - 10 * math.log10(factor) - 20 * math.log10(critical_distance_m(volume_m3, rt60_s))
    return power_sum_db(level_1m_db - 20 * math.log10(ear_m), diffuse)
