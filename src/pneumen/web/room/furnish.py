"""Putting furniture, windows and doors into a room."""

from typing import Any

from django.db import transaction

from pneumen.core.errors import UnknownName, require_within
from pneumen.core.room import FURNITURE, free_place, require_apart, require_furnished, require_hung
from pneumen.web.room.models import Furniture, Opening, Room
from pneumen.web.room.services import fresh, set_drawn

MOST_FURNITURE = 30
MOST_OPENINGS = 12


@transaction.atomic
def add_furniture(room: Room, kind: str) -> None:
    """Put a piece where there is room for it, along the walls first.

    Raises:
        UnknownName, Contradiction: for a kind there is not, or a room that is full.
    """
    if kind not in FURNITURE:
        raise UnknownName("furniture", kind, tuple(FURNITURE))
    room = fresh(room)
    others = [row.to_core() for row in room.furniture.all()]
    require_within("furniture", len(others) + 1, 1, MOST_FURNITURE)
    room.furniture.create(owner=room.owner, **Furniture.fields_of(free_place(room.size_m, others, kind)))
    set_drawn(room)
    require_furnished(room.layout)
    require_hung(room.layout)


@transaction.atomic
def remove_furniture(room: Room, number: int) -> None:
    room.furniture.filter(pk=number).delete()
    set_drawn(room)


@transaction.atomic
def add_opening(room: Room, **told: Any) -> None:
    """Add a window or door: kind, on, along_m, width_m, low_m, high_m.

    Raises:
        UnknownName, OutOfRange, Contradiction: naming what cannot be.
    """
    room = fresh(room)
    row = Opening(owner=room.owner, room=room, **told)
    others = room.layout.openings
    require_apart(room.size_m, row.to_core(), others)
    require_within("openings", len(others) + 1, 1, MOST_OPENINGS)
    row.save()
    set_drawn(room)


@transaction.atomic
def remove_opening(room: Room, number: int) -> None:
    room.openings.filter(pk=number).delete()
    set_drawn(room)
