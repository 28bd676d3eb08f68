"""Which room, which hour: all rooms of the home beside each other for one part."""

from dataclasses import dataclass

from pneumen.core.kit import judge_kit
from pneumen.core.place import starting_distance
from pneumen.core.room import best_spots, boxiness_of, critical_distance_m, direct_to_reverberant_db, noise_at
from pneumen.web.room.standpoint import standpoint_of
from pneumen.web.song.models import Part, Room
from pneumen.web.wording import figure

CLOSET_M3 = 8.0
"""A room smaller than this is the closet of the schools, a larger one the open room (common practice, no source)."""
MOST_LEAD_DB = 20.0
LOUD_DBA = 50.0
MOST_QUIET_DB = 30.0
FAULT_DB = 3.0
"""How lead and quiet are weighed: decibel for decibel, up to where more is not heard; a fault costs a little."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomBeside:
    """One room for this part: the best lead it offers, its noise at its quietest, what speaks against it."""

    room: Room
    here: bool
    verdict: str
    lead: str
    noise: str
    hours: str
    faults: str
    score: float


def rooms_beside(part: Part) -> tuple[RoomBeside, ...]:
    """Return the rooms of the home for a part, the best first."""
    rooms = Room.objects.mine(part.owner_id)
    return tuple(sorted((_beside(part, room) for room in rooms), key=lambda one: -one.score))


def _beside(part: Part, room: Room) -> RoomBeside:
    lead_db, faults = _lead_and_faults(part, room)
    noise_dba, hours = _quietest(part, room)
    levels = part.known_source_levels() or part.guessed_source_levels()
    typical = getattr(levels, "typical_db_spl", 70.0)
    fault_db = FAULT_DB if faults and room.drawn else 0.0
    return RoomBeside(
        room=room,
        here=room.pk == part.song.room_id,
        verdict=judge_kit(typical - noise_dba, lead_db),
        lead=figure(lead_db),
        noise=figure(noise_dba),
        hours=hours,
        faults=faults,
        score=min(lead_db, MOST_LEAD_DB) + min(LOUD_DBA - noise_dba, MOST_QUIET_DB) - fault_db,
    )


def _lead_and_faults(part: Part, room: Room) -> tuple[float, str]:
    """Return the lead at the best spot and what boxes it in; a room in words is told by statistics."""
    here = standpoint_of(part, room.box, x_m=room.size_x_m / 2, y_m=room.size_y_m / 2)
    if not room.drawn:
        known = room.to_core()
        distance_m = starting_distance(part.source_facts, known, here.pattern).distance_m
        critical_m = critical_distance_m(known.volume_m3, known.rt60_s, here.pattern)
        return direct_to_reverberant_db(distance_m, critical_m), "known in words only"
    spots = best_spots(
        room.box,
        here.mouth_m,
        microphone_m=here.height_m,
        distance_m=here.distance_m,
        facing=here.ahead,
        pattern=here.pattern,
        source_factor=here.source_factor,
        most=1,
        cells=16,
    )
    boxed = boxiness_of(room.box, here.mouth_m, here.microphone_m, here.pattern)
    return spots[0].lead_db if spots else 0.0, "; ".join(boxed.faults)


def _quietest(part: Part, room: Room) -> tuple[float, str]:
    """Return the lowest noise of the day at the microphone, and the hours that have it."""
    here = standpoint_of(part, room.box)
    towards = tuple(-one for one in (*here.ahead, 0.0))
    sources, background = room.noise_sources, room.background_dba
    levels = [
        noise_at(room.box, sources, here.microphone_m, towards, here.pattern, hour=hour, background_dba=background)
        for hour in range(24)
    ]
    quiet = [hour for hour, level in enumerate(levels) if level < min(levels) + 0.5]
    if len(quiet) == len(levels):
        return min(levels), "any hour"
    spans, start = [], quiet[0]
    for hour, later in zip(quiet, [*quiet[1:], None], strict=True):
        if later != hour + 1:
            spans.append(f"{start} to {hour + 1}")
            start = later
    return min(levels), " and ".join(spans) + " h"


def school_verdict(rooms: tuple[RoomBeside, ...]) -> str:
    """Settle closet against open room by the person's own rooms, where there is one of each."""
    drawn = [one for one in rooms if one.room.drawn]
    small = [one for one in drawn if one.room.box.volume_m3 < CLOSET_M3]
    large = [one for one in drawn if one.room.box.volume_m3 >= CLOSET_M3]
    if not small or not large:
        return "Your own rooms settle the closet school against the open-room school: draw a closet and a larger one."
    closet, room = small[0], large[0]
    better = closet if closet.score > room.score else room
    told = [f"{one.room.name} {one.lead} dB over the room at {one.noise} dBA" for one in (closet, room)]
    boxed = f" {closet.room.name} is boxed in: {closet.faults}." if closet.faults else ""
    return f"{better.room.name} it is, by these figures: {told[0]}, {told[1]}.{boxed}"
