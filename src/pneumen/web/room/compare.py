"""Which room, which hour: all rooms of the home beside each other for one part."""

from dataclasses import dataclass

from pneumen.core.kit import judge_kit
from pneumen.core.place import starting_distance
from pneumen.core.room import (
    CLOSET_M3,
    baffle_behind,
    boxiness_of,
    critical_distance_m,
    direct_to_reverberant_db,
    hours_for_all,
    quietest_hours,
    room_score_db,
)
from pneumen.web.room.outward import hours_told, outwards_from
from pneumen.web.room.standpoint import noise_dba_at, spots_in, standpoint_of
from pneumen.web.song.models import Part, Room
from pneumen.web.wording import figure


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomBeside:
    """One room for this part: the best lead it offers, its noise at its quietest, what speaks against it."""

    room: Room
    here: bool
    verdict: str
    lead: str
    noise: str
    hours: str
    out: str
    both: str
    faults: str
    score: float


def rooms_beside(part: Part) -> tuple[RoomBeside, ...]:
    """Return the rooms of the home for a part, the best first."""
    rooms = Room.objects.mine(part.owner_id)
    return tuple(sorted((_beside(part, room) for room in rooms), key=lambda one: -one.score))


def _beside(part: Part, room: Room) -> RoomBeside:
    lead_db, faults = _lead_and_faults(part, room)
    noise_dba, quiet = _quietest(part, room)
    allowed = hours_for_all(outwards_from(part, room))
    levels = part.known_source_levels() or part.guessed_source_levels()
    typical = getattr(levels, "typical_db_spl", 70.0)
    return RoomBeside(
        room=room,
        here=room.pk == part.song.room_id,
        verdict=judge_kit(typical - noise_dba, lead_db),
        lead=figure(lead_db),
        noise=figure(noise_dba),
        hours=hours_told(quiet),
        out=hours_told(allowed) if room.neighbours else "nobody taken down",
        both=hours_told(tuple(hour for hour in quiet if hour in allowed)),
        faults=faults,
        score=room_score_db(lead_db, noise_dba, boxed_in=bool(faults) and room.drawn),
    )


def _lead_and_faults(part: Part, room: Room) -> tuple[float, str]:
    """Return the lead at the best spot and what boxes it in; a room in words is told by statistics."""
    here = standpoint_of(part, room.box, x_m=room.size_x_m / 2, y_m=room.size_y_m / 2)
    if not room.drawn:
        known = room.to_core()
        distance_m = starting_distance(part.source_facts, known, here.pattern).distance_m
        critical_m = critical_distance_m(known.volume_m3, known.rt60_s, here.pattern)
        return direct_to_reverberant_db(distance_m, critical_m), "known in words only"
    spots = spots_in(room, here, most=1, cells=16)
    boxed = boxiness_of(room.box, here.mouth_m, here.microphone_m, here.pattern)
    return spots[0].lead_db if spots else 0.0, "; ".join(boxed.faults)


def _quietest(part: Part, room: Room) -> tuple[float, tuple[int, ...]]:
    """Return the lowest noise of the day at the microphone, and the hours that have it."""
    here = standpoint_of(part, room.box)
    lowest, spans = quietest_hours([noise_dba_at(room, here, hour) for hour in range(24)])
    return lowest, tuple(hour for start, end in spans for hour in range(start, end))


def school_verdict(part: Part, rooms: tuple[RoomBeside, ...]) -> str:
    """Settle closet against open room by the person's own rooms, where there is one of each."""
    drawn = [one for one in rooms if one.room.drawn]
    small = [one for one in drawn if one.room.box.volume_m3 < CLOSET_M3]
    large = [one for one in drawn if one.room.box.volume_m3 >= CLOSET_M3]
    if not small or not large:
        return "Your own rooms settle the closet school against the open-room school: draw a closet and a larger one."
    closet, room = small[0], large[0]
    baffle = baffle_of(part, room.room)
    better = closet if closet.score > room.score else room
    told = [f"{one.room.name} {one.lead} dB over the room at {one.noise} dBA" for one in (closet, room)]
    boxed = f" {closet.room.name} is boxed in: {closet.faults}." if closet.faults else ""
    return f"{better.room.name} it is, by these figures: {told[0]}, {told[1]}{baffle}.{boxed}"


def baffle_of(part: Part, room: Room) -> str:
    """Say what the open-room school's baffle would add."""
    gain_db = baffle_behind(room.box, standpoint_of(part, room.box).place()).gain_db
    return f", {figure(gain_db, 1, sign=True)} dB with a baffle behind you"
