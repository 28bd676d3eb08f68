"""Putting furniture, windows and doors into a room."""

from typing import Any

from django.db import transaction

from pneumen.core.errors import Contradiction, PneumenError, UnknownName, require_within
from pneumen.core.room import FURNITURE, Opening, common_m2, free_place
from pneumen.web.room.services import forget_boxes, next_id, require_room, save
from pneumen.web.song.models import Room

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
    require_within("furniture", len(room.furniture) + 1, 1, MOST_FURNITURE)
    piece = free_place(room.size_m, [other for _, other in room.placed], kind)
    row = {"id": next_id(room.furniture), "kind": kind, "x": piece.x_m, "y": piece.y_m, "turned": piece.turned_deg}
    room.furniture, room.drawn = [*room.furniture, row], True
    require_room(room)
    save(room)


def with_furniture_at(room: Room, places: dict[int, tuple[float, float, int]]) -> None:
    """Move furniture in a room that is not stored thereby.

    Raises:
        Contradiction, OutOfRange, UnknownName: for what would stand in a wall or in something else.
    """
    before = room.furniture
    room.furniture = [
        {**row, **dict(zip(("x", "y", "turned"), places[row["id"]], strict=True))} if row["id"] in places else row
        for row in room.furniture
    ]
    try:
        require_room(room)
    except PneumenError:
        room.furniture = before
        forget_boxes(room)
        raise


@transaction.atomic
def remove_furniture(room: Room, number: int) -> None:
    room.furniture, room.drawn = [row for row in room.furniture if row["id"] != number], True
    save(room)


@transaction.atomic
def add_opening(room: Room, **told: Any) -> None:
    """Add a window or door: kind, on, along_m, width_m, low_m, high_m.

    Raises:
        UnknownName, OutOfRange, Contradiction: naming what cannot be.
    """
    opening = Opening(**told)
    opening.covering(room.size_m)
    for _, other in room.core_openings:
        if other.on == opening.on and common_m2(other.patch, opening.patch) > 1e-4:
            raise Contradiction("opening", f"would lie over another in the {opening.on} wall")
    require_within("openings", len(room.openings) + 1, 1, MOST_OPENINGS)
    room.openings = [*room.openings, {"id": next_id(room.openings), **told}]
    room.drawn = True
    save(room)


@transaction.atomic
def remove_opening(room: Room, number: int) -> None:
    room.openings, room.drawn = [row for row in room.openings if row["id"] != number], True
    save(room)
