"""Sources that want a room used their own way: an amplifier, a horn, drums, a piano, and anything loud on the ear."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from pneumen.core.forecast.setup import PartSetup
from pneumen.core.levels import ratio_to_db, safe_hours
from pneumen.core.room import (
    Corner,
    CornerLead,
    WallBehind,
    corner_lead,
    corners_of,
    level_at_ear_db,
    pick_under_db,
    wall_behind,
)
from pneumen.core.setup import PlugLevels
from pneumen.core.verdict import Verdict

LOUD_DB: Final = 85.0
"""From here on the time a day is told (NIOSH, 1998)."""
EAR_M: Final = 0.5
EARS_M: Final[Mapping[str, float]] = MappingProxyType({"voice": 0.15, "percussion": 0.7, "amp": 1.5})
"""How far a player's own ears are from what sounds, by group (estimates); EAR_M for the rest."""
EARS_OF_M: Final[Mapping[str, float]] = MappingProxyType(
    {"violin": 0.2, "flute": 0.25, "clarinet": 0.45, "trumpet": 0.6, "trombone": 0.6, "horn": 0.7, "ukulele": 0.4}
)
"""The same of single instruments (estimates)."""
PLAYER_M: Final = 2.0
"""So far off a guitarist sits in the same room at the most (common practice, no source)."""
NEAR_WALL_M: Final = 1.0
"""Nearer than this, the wall a bell plays to is heard as an edge (common practice, no source)."""
USUAL_RT60_S: Final = 0.4
"""Of a room whose decay is not known (estimate)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """Something a source asks of its room: corner, horn, drums, piano or ears, with what it was worked out to be.

    corner: the one to face, with the lead there and the pick's level under the amplifier. wall: the one a bell plays
    to. level_dba: at the player's ear, safe for safe_h a day. distance_m: of the microphone.
    """

    kind: str
    verdict: Verdict
    corner: Corner | None = None
    lead: CornerLead | None = None
    pick_under_db: float = 0.0
    wall: WallBehind | None = None
    level_dba: float = 0.0
    safe_h: float = 0.0
    distance_m: float = 0.0


def cases_of(setup: PartSetup, level_1m_db: float | None = None) -> tuple[Case, ...]:
    """Return what a part asks of its room, the special ones first, then the ears; nothing where it is plugged in.

    Args:
        level_1m_db: how loud the part is at 1 m where that is known better than from its performance.
    """
    levels = setup.performance.levels
    if isinstance(levels, PlugLevels):
        return ()
    level_db = levels.typical_db_spl + ratio_to_db(levels.at_m) if level_1m_db is None else level_1m_db
    source, found = setup.source, []
    if source.group == "amp":
        found.append(_corner(setup, level_db))
    if source.radiates_back:
        found.append(_horn(setup))
    if source.slug == "drum-kit":
        found.append(Case(kind="drums", verdict=Verdict.CLEAR))
    if source.slug in ("grand-piano", "upright-piano"):
        found.append(Case(kind="piano", verdict=Verdict.CLEAR, distance_m=setup.placement.distance_m))
    return (*found, *_ears(setup, level_db))


def _corner(setup: PartSetup, level_db: float) -> Case:
    """Look for the corner that, packed with pillows, lets the room in least; furniture stands in none of them."""
    space, placement = setup.drawn_space, setup.placement
    free = [one for one in corners_of(space.box) if not any(piece.stands_on(*one.stand_m) for piece in space.furniture)]
    leads = [
        (
            corner_lead(
                space.box,
                corner,
                source_factor=setup.source_factor,
                height_m=placement.height_m,
                distance_m=placement.distance_m,
                pattern=setup.pattern,
            ),
            corner,
        )
        for corner in free or corners_of(space.box)
    ]
    lead, corner = max(leads, key=lambda pair: pair[0].packed_db)
    return Case(
        kind="corner",
        verdict=Verdict.CLEAR,
        corner=corner,
        lead=lead,
        pick_under_db=pick_under_db(level_db, placement.distance_m, PLAYER_M),
    )


def _horn(setup: PartSetup) -> Case:
    placement = setup.placement
    wall = wall_behind(setup.drawn_space.box, placement.mouth_m, placement.microphone_m, setup.source_factor)
    return Case(kind="horn", verdict=Verdict.WATCH if wall.distance_m < NEAR_WALL_M else Verdict.CLEAR, wall=wall)


def _ears(setup: PartSetup, level_db: float) -> tuple[Case, ...]:
    """A loud source in a small room is loud on the player's ear."""
    if setup.source.group == "voice":
        return ()
    space, source = setup.drawn_space, setup.source
    to_ear_m = EARS_OF_M.get(source.slug, EARS_M.get(source.group, EAR_M))
    ear_m = math.hypot(to_ear_m, source.extent_m)  # something wide is no louder near it than all of it is, spread out
    rt60_s = space.rt60_s or USUAL_RT60_S
    at_ear = level_at_ear_db(level_db, ear_m, space.box.volume_m3, rt60_s, setup.recorded_factor)
    if at_ear < LOUD_DB:
        return ()
    return (Case(kind="ears", verdict=Verdict.WATCH, level_dba=at_ear, safe_h=safe_hours(at_ear)),)
