"""Which room, which hour: all rooms of the home beside each other for one part."""

from dataclasses import dataclass

from pneumen.core.forecast import Outcome, judge_kit, noise_at_microphone, outcome, standing_at
from pneumen.core.room import (
    CLOSET_M3,
    MAKESHIFTS,
    boxiness_of,
    hours_for_all,
    makeshift_gain_db,
    quietest_hours,
    room_score_db,
)
from pneumen.core.verdict import Verdict
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.room.outward import hours_told, level_1m_db, outwards_from
from pneumen.web.settle import settle
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.room import faults_told


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomBeside:
    """One room for this part: the lead it offers, its noise at its quietest, what speaks against it."""

    room: Room
    outcome: Outcome
    here: bool
    verdict: Verdict
    lead: str
    noise: str
    hours: str
    out: str
    both: str
    faults: str
    score: float


def rooms_beside(part: Part) -> tuple[RoomBeside, ...]:
    """Return the rooms of the home for a part, the best first."""
    rooms = Room.objects.mine(part.owner_id).whole()
    return tuple(sorted((_beside(part, room) for room in rooms), key=lambda one: -one.score))


def _beside(part: Part, room: Room) -> RoomBeside:
    """The room it is recorded in as it stands there, every other one at its planned spot and distance."""
    here = room.pk == part.song.room_id
    found = outcome(settle(part) if here else settle(_afresh(part), space=room.to_core()))
    setup = found.setup
    levels = [
        noise_at_microphone(setup.drawn_space.at_hour(float(hour)), setup.placement, setup.pattern)
        for hour in range(24)
    ]
    lowest, spans = quietest_hours(levels)
    quiet = tuple(hour for start, end in spans for hour in range(start, end))
    allowed = hours_for_all(outwards_from(part, room))
    lead_db = found.air.lead_db if found.air else 0.0
    typical_db = 70.0 if part.is_plugged else level_1m_db(part)
    boxed = boxiness_of(room.box, setup.placement.mouth_m, setup.placement.microphone_m, setup.pattern)
    return RoomBeside(
        room=room,
        outcome=found,
        here=here,
        verdict=judge_kit(
            typical_db - lowest,
            lead_db,
            setup.source.dry_enough_db,
            clean_enough_db=part.song.enough_clean_db,
        ),
        lead=figure(lead_db),
        noise=figure(lowest),
        hours=hours_told(quiet),
        out=hours_told(allowed) if room.neighbours.all() else _("no neighbours named"),
        both=hours_told(tuple(hour for hour in quiet if hour in allowed)),
        faults=faults_told(boxed),
        score=room_score_db(lead_db, lowest, boxed_in=bool(boxed.faults)),
    )


def _afresh(part: Part) -> Part:
    """Return a part as it would be planned anew in another room; it is not stored."""
    fresh = Part.objects.whole().get(pk=part.pk)
    fresh.stand_x_m = fresh.stand_y_m = fresh.facing_deg = fresh.distance_m = None
    return fresh


def school_verdict(rooms: tuple[RoomBeside, ...]) -> str:
    """Settle closet against open room by the person's own rooms, where there is one of each."""
    small = [one for one in rooms if one.room.box.volume_m3 < CLOSET_M3]
    large = [one for one in rooms if one.room.box.volume_m3 >= CLOSET_M3]
    if not small or not large:
        return _("Your own rooms settle the closet school against the open-room school: add a closet and a larger one.")
    closet, room = small[0], large[0]
    baffle_db = makeshift_gain_db(room.room.box, standing_at(room.outcome.setup), MAKESHIFTS["baffle"])
    baffle = _(", {baffle_db} dB with a baffle behind you").format(baffle_db=figure(baffle_db, 1, sign=True))
    better = closet if closet.score > room.score else room
    told = [
        _("{name} {lead} dB over the room at {noise} dBA").format(name=one.room.name, lead=one.lead, noise=one.noise)
        for one in (closet, room)
    ]
    boxed = (
        _(" {name} is boxed in: {faults}.").format(name=closet.room.name, faults=closet.faults) if closet.faults else ""
    )
    return _("{name} it is, by these figures: {told}, {told_2}{baffle}.{boxed}").format(
        name=better.room.name, told=told[0], told_2=told[1], baffle=baffle, boxed=boxed
    )
