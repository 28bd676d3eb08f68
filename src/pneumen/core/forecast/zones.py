"""Where to start: the zones of an instrument in this room with this microphone, by taste."""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

import numpy as np

from pneumen.core.errors import UnknownName
from pneumen.core.forecast.hearing import heard_of_room
from pneumen.core.forecast.recommend import recommend
from pneumen.core.forecast.setup import PartSetup
from pneumen.core.place import MOST_RISE, OUT_OF_THE_AIR_DEG, TASTES, Body, Zone, bass_rise_db, body_of, curved_m
from pneumen.core.room import SAME_LEAD_DB

TONE_WEIGHT_DB: Final = 4.0
"""What one step of brightness off the taste counts against a decibel of room sound (common practice, no source)."""
SHORT_COST_DB: Final = 2.0
"""What a spot counts beside that where it is not dry enough: room sound is never taken out again, tone can be bent
(common practice, no source)."""
BASS_PER_STEP_DB: Final = 6.0
"""So much bass build-up sounds one step darker (estimate)."""
USUAL_PATTERN: Final = "cardioid"
"""What zones are described with, at their usual distance."""
WARMER: Final = 0.6
"""How much of the way to its nearest a zone's usual distance goes for warmth, as a power (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneHere:
    """A zone in this room with this microphone: its distance and what decided it.

    lead_db is the direct sound's lead over the room's, bass_db the build-up at 100 Hz, bright what both together
    sound like, cost_db how far off the taste and the dry enough it is.
    """

    zone: Zone
    distance_m: float
    decided_by: str
    lead_db: float
    bass_db: float
    bright: float
    cost_db: float
    above_m: float
    aside_deg: float


@lru_cache(maxsize=128)
def zones_here(setup: PartSetup, taste: str) -> tuple[ZoneHere, ...]:
    """Return the zones of a part's instrument for a taste, the best start first; none where no body is drawn.

    Raises:
        UnknownName: for a taste there is not.
    """
    if taste not in TASTES:
        raise UnknownName("taste", taste, tuple(TASTES))
    body: Body | None = None if setup.is_plugged else body_of(setup.source.slug)
    if body is None:
        return ()
    found = [_here(zone, setup, taste) for zone in body.zones]
    return tuple(sorted(found, key=lambda one: one.cost_db))


def at_zone(setup: PartSetup, zone: Zone, taste: str) -> PartSetup:
    """Return a setup at a zone, its distance left as it is: the zone's side and rise, and beside an unscreened puff."""
    aside = 0.0 if zone.above_m else zone.off_mouth_deg
    if setup.source.pops and not setup.placement.pop_screen and not zone.above_m:
        aside = max(aside, OUT_OF_THE_AIR_DEG)
    wanted = zone
    if TASTES[taste][1] < 0 and setup.pattern != "omni":
        wanted = replace(zone, usual_m=max(zone.near_m, zone.near_m ** (1 - WARMER) * zone.usual_m**WARMER))
    most = MOST_RISE * min(max(zone.usual_m, setup.source.nearest_m), setup.source.farthest_m)
    placement = replace(setup.placement, aside_deg=aside, above_m=min(max(zone.above_m, -most), most))
    return replace(setup, placement=placement, zone=wanted)


def _here(zone: Zone, setup: PartSetup, taste: str) -> ZoneHere:
    there = at_zone(setup, zone, taste)
    found = recommend(there)
    there = there.moved(distance_m=found.miked_at_m)
    extent = setup.source.extent_m
    bass_db = _bass_db(setup.pattern, float(curved_m(found.miked_at_m, extent)))
    lead_db = heard_of_room(there).lead_db
    as_described = _bass_db(USUAL_PATTERN, float(curved_m(zone.usual_m, extent)))
    bright = zone.bright - (bass_db - as_described) / BASS_PER_STEP_DB
    short_db = max(0.0, setup.source.dry_enough_db - lead_db)
    room_db = short_db + SHORT_COST_DB if short_db > SAME_LEAD_DB else 0.0
    return ZoneHere(
        zone=zone,
        distance_m=found.miked_at_m,
        decided_by=found.decided_by,
        lead_db=lead_db,
        bass_db=bass_db,
        bright=bright,
        cost_db=TONE_WEIGHT_DB * abs(bright - TASTES[taste][1]) + room_db,
        above_m=there.placement.rise_m,
        aside_deg=there.placement.aside_deg,
    )


def _bass_db(pattern: str, distance_m: float) -> float:
    return float(bass_rise_db(pattern, np.array([distance_m]))[0])
