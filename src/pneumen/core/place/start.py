"""The distance to start from: as far as the room allows, no nearer than swaying allows."""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.part import Source
from pneumen.core.room import Room, critical_distance_m, direct_to_reverberant_db

SWAY_M: Final = 0.05
"""How far a performer moves to and fro without noticing (common practice, no source)."""
DRY_ENOUGH_DB: Final = 10.0
"""Direct sound this far above the room's reads as close and dry (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class StartingDistance:
    """A distance with what decided it ("room", "sway" or "habit") and what it costs."""

    distance_m: float
    band_m: tuple[float, float]
    decided_by: str
    direct_to_reverberant_db: float
    sway_db: float


def sway_db(distance_m: float, sway_m: float = SWAY_M) -> float:
    """Return by how much the level swings when the performer sways to and fro.

    >>> round(sway_db(0.15), 1)
    6.0
    """
    return 20 * math.log10((distance_m + sway_m) / max(distance_m - sway_m, 0.005))


def starting_distance(source: Source, room: Room, pattern: str) -> StartingDistance:
    """Return the distance to start from, to the capsule.

    The usual distance of the source, drawn in where the room would be heard, but not so near that swaying
    alone changes the level by more than 6 dB.
    """
    critical_m = critical_distance_m(room.volume_m3, room.rt60_s, pattern)
    driest_m = critical_m / 10 ** (DRY_ENOUGH_DB / 20)
    nearest_m = max(source.nearest_m, 3 * SWAY_M) if source.pops else source.nearest_m
    distance_m, decided_by = source.usual_m, "habit"
    if driest_m < distance_m:
        distance_m, decided_by = driest_m, "room"
    if distance_m < nearest_m:
        distance_m, decided_by = nearest_m, "sway"
    distance_m = round(distance_m, 2)
    return StartingDistance(
        distance_m=distance_m,
        band_m=(round(max(source.nearest_m, 0.8 * distance_m), 2), round(min(source.farthest_m, 1.3 * distance_m), 2)),
        decided_by=decided_by,
        direct_to_reverberant_db=direct_to_reverberant_db(distance_m, critical_m),
        sway_db=sway_db(distance_m),
    )
