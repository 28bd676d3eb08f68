"""Where a microphone can look at an instrument, what it hears there, and where to start by taste and by the room."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from types import MappingProxyType
from typing import Final

import msgspec
import numpy as np

from pneumen.core.errors import UnknownName, require_within
from pneumen.core.levels import db_to_ratio
from pneumen.core.part import Source
from pneumen.core.place.ladder import BASS_HZ, MOST_RISE, curved_m
from pneumen.core.place.proximity import proximity_db
from pneumen.core.place.start import DRY_ENOUGH_DB
from pneumen.core.room import Room, critical_distance_m, direct_to_reverberant_db, recorded_factor

TASTES: Final[Mapping[str, tuple[str, float]]] = MappingProxyType(
    {"bright": ("Bright", 1.0), "balanced": ("Balanced", 0.0), "warm": ("Warm", -1.0)}
)
"""A taste with the brightness it asks for."""
TONE_WEIGHT_DB: Final = 4.0
"""What one step of brightness off the taste counts against a decibel of room sound (common practice, no source)."""
BASS_PER_STEP_DB: Final = 6.0
"""So much bass build-up sounds one step darker (estimate)."""
ROOMY_DB: Final = 3.0
"""What is dry enough for a bell that plays to the wall behind: the room is part of it (common practice, no source)."""
USUAL_PATTERN: Final = "cardioid"
"""What zones are described with, at their usual distance."""
MOST_BRIGHT: Final = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Zone:
    """A spot a microphone looks at: what it hears, its range of distances to the capsule, what to mind.

    at_m is its place on the body's drawing, right and up from the lower left; bright runs from -2 (dark) to 2;
    off_mouth_deg and above_m say how it takes the capsule out of a mouth's axis and above or below it.
    """

    slug: str
    label: str
    sound: str
    bright: float
    near_m: float
    usual_m: float
    far_m: float
    at_m: tuple[float, float]
    caution: str
    off_mouth_deg: float = 0.0
    above_m: float = 0.0

    def __post_init__(self) -> None:
        require_within("bright", self.bright, -MOST_BRIGHT, MOST_BRIGHT)
        require_within("usual_m", self.usual_m, self.near_m, self.far_m)


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """An instrument (or a head) as it is drawn: its size, the sources it stands for, and its zones, the usual first."""

    slug: str
    label: str
    size_m: tuple[float, float]
    sources: tuple[str, ...]
    zones: tuple[Zone, ...]

    def zone(self, slug: str) -> Zone:
        """Return a zone by name.

        Raises:
            UnknownName: naming the zones there are.
        """
        for zone in self.zones:
            if zone.slug == slug:
                return zone
        raise UnknownName("zone", slug, tuple(zone.slug for zone in self.zones))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Bodies:
    bodies: tuple[Body, ...]


@cache
def _bodies() -> Mapping[str, Body]:
    document = files("pneumen.core.data").joinpath("zones.json").read_bytes()
    return MappingProxyType({one.slug: one for one in msgspec.json.decode(document, type=_Bodies).bodies})


BODIES: Final[Mapping[str, Body]] = _bodies()


def body_of(source: str) -> Body | None:
    """Return the body that is drawn for a source; None where there is none.

    >>> body_of("ukulele").slug, body_of("shaker")
    ('guitar', None)
    """
    return next((body for body in BODIES.values() if source in body.sources), None)


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneHere:
    """A zone in this room with this microphone: its distance and what decided it ("habit", "taste" or "room").

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

    @property
    def above_m(self) -> float:
        """How far above its source the capsule stands, within what the distance allows."""
        most = MOST_RISE * self.distance_m
        return min(max(self.zone.above_m, -most), most)

    @property
    def off_mouth_deg(self) -> float:
        """How far to the side it stands: not at all where its rise takes it out of the axis already."""
        return 0.0 if self.zone.above_m else self.zone.off_mouth_deg


def zones_here(body: Body, source: Source, room: Room, *, pattern: str, taste: str) -> tuple[ZoneHere, ...]:
    """Return a body's zones for a taste in a room, the best start first.

    A ringing room draws the microphone in as far as the zone allows; a warm taste does so too, a bright one leaves
    it at the zone's usual distance. Distances keep to the source's own range.

    Raises:
        UnknownName: for a taste or pattern there is not.
    """
    if taste not in TASTES:
        raise UnknownName("taste", taste, tuple(TASTES))
    factor = recorded_factor(max(source.directivity_factor, 1.0), backwards=source.radiates_back)
    critical_m = critical_distance_m(room.volume_m3, room.rt60_s, pattern, factor)
    found = [_here(zone, source, critical_m, pattern, taste) for zone in body.zones]
    return tuple(sorted(found, key=lambda one: one.cost_db))


def _here(zone: Zone, source: Source, critical_m: float, pattern: str, taste: str) -> ZoneHere:
    wanted = TASTES[taste][1]
    near_m, far_m = max(zone.near_m, source.nearest_m), min(zone.far_m, source.farthest_m)
    distance_m, decided_by = min(max(zone.usual_m, near_m), far_m), "habit"
    if wanted < 0 and pattern != "omni":
        distance_m, decided_by = (near_m * distance_m) ** 0.5, "taste"
    dry_enough_db = ROOMY_DB if source.radiates_back else DRY_ENOUGH_DB
    driest_m = critical_m / db_to_ratio(dry_enough_db)
    if driest_m < distance_m:
        distance_m, decided_by = max(driest_m, near_m), "room"
    distance_m = round(distance_m, 2)
    bass_db = _bass_db(pattern, float(curved_m(distance_m, source.extent_m)))
    lead_db = direct_to_reverberant_db(distance_m, critical_m)
    bright = (
        zone.bright
        - (bass_db - _bass_db(USUAL_PATTERN, float(curved_m(zone.usual_m, source.extent_m)))) / BASS_PER_STEP_DB
    )
    cost_db = TONE_WEIGHT_DB * abs(bright - wanted) + max(0.0, dry_enough_db - lead_db)
    return ZoneHere(
        zone=zone,
        distance_m=distance_m,
        decided_by=decided_by,
        lead_db=lead_db,
        bass_db=bass_db,
        bright=bright,
        cost_db=cost_db,
    )


def _bass_db(pattern: str, distance_m: float) -> float:
    low, middle = proximity_db(pattern, distance_m, np.array([BASS_HZ, 1000.0]))
    return float(low - middle)
