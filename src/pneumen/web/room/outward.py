"""Outwards: who hears one, how loud, and at which hours one may be."""

from dataclasses import dataclass
from typing import Any

from django.db import transaction

from pneumen.core.errors import Contradiction, require_within
from pneumen.core.forecast import USUAL_RT60_S
from pneumen.core.levels import ratio_to_db
from pneumen.core.room import PARTITIONS, Outwards, outwards_of, recorded_factor, spans_of
from pneumen.core.setup import PlugLevels
from pneumen.core.verdict import Verdict
from pneumen.web.part.models import Part
from pneumen.web.room.models import Neighbour, Room
from pneumen.web.room.services import fresh
from pneumen.wording.figures import figure
from pneumen.wording.language import _

MOST_NEIGHBOURS = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class OutwardRow:
    """One who hears: through what, how loud it is there, what follows for the hours."""

    number: int
    name: str
    through: str
    verdict: Verdict
    told: str


@transaction.atomic
def add_neighbour(room: Room, **told: Any) -> None:
    """Store who hears one: fields of Neighbour.

    Raises:
        OutOfRange, UnknownName, Contradiction: naming what cannot be.
    """
    room = fresh(room)
    row = Neighbour(owner=room.owner, room=room, **told)
    row.to_core()  # refuses what cannot be
    require_within("neighbours", room.neighbours.count() + 1, 1, MOST_NEIGHBOURS)
    row.save()


@transaction.atomic
def remove_neighbour(room: Room, number: int) -> None:
    room.neighbours.filter(pk=number).delete()


def front_factor(part: Part) -> float:
    """Return how much a part's source beams at its microphone: what the level at 1 m holds for."""
    facts = part.source_facts
    return recorded_factor(max(facts.directivity_factor, 1.0), backwards=facts.radiates_back)


def level_1m_db(part: Part) -> float:
    """Return how loud a part typically is at 1 m, as far as is known."""
    levels = part.surely_known_levels or part.guessed_source_levels()
    if isinstance(levels, PlugLevels):
        raise Contradiction("level", _("at 1 m there is none: it is plugged in"))
    return levels.typical_db_spl + ratio_to_db(levels.at_m)


def outwards_from(part: Part, room: Room) -> tuple[Outwards, ...]:
    """Return how a part stands with all who hear it from a room; nobody where it is plugged in."""
    if part.is_plugged:
        return ()
    factor = front_factor(part)
    neighbours = [row.to_core() for row in room.neighbours.all()]
    return outwards_of(neighbours, level_1m_db(part), room.box.volume_m3, room.rt60_s or USUAL_RT60_S, factor)


def outward_rows(part: Part) -> tuple[OutwardRow, ...]:
    """Return what the Room screen tells of everybody who hears a part."""
    room = part.song.room
    numbers = {row.to_core(): row.pk for row in room.neighbours.all()}
    return tuple(_row(numbers[one.neighbour], one) for one in outwards_from(part, room))


def _row(number: int, outward: Outwards) -> OutwardRow:
    heard = _("about {heard_dba} ±5 dBA there").format(heard_dba=figure(outward.heard_dba))
    most, least = max(outward.loudest_1m_db), min(outward.loudest_1m_db)
    if len(outward.allowed_hours) == 24:
        told = _("{heard}: at any hour").format(heard=heard)
    elif outward.allowed_hours:
        told = _("{heard}: {allowed_hours} only; else up to {least} dB at 1 m").format(
            heard=heard, allowed_hours=hours_told(outward.allowed_hours), least=figure(least)
        )
    else:
        told = _("{heard}: too loud at any hour; up to {most} dB at 1 m by day, {least} at night").format(
            heard=heard, most=figure(most), least=figure(least)
        )
    return OutwardRow(
        number=number,
        name=outward.neighbour.name,
        through=PARTITIONS[outward.neighbour.through][0],
        verdict=Verdict.CLEAR if len(outward.allowed_hours) == 24 else Verdict.WATCH,
        told=told,
    )


def hours_told(hours: tuple[int, ...]) -> str:
    """Write hours as spans: 7 to 22 h; any hour, or none."""
    if not hours:
        return _("no hour")
    if len(hours) == 24:
        return _("any hour")
    return _(" and ").join(_("{start} to {end}").format(start=start, end=end) for start, end in spans_of(hours)) + " h"
