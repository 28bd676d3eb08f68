"""A louder passage: stepping back for it or turning down, and what each does to tone and room."""

from dataclasses import dataclass

from pneumen.core.errors import require_within
from pneumen.core.levels import db_to_ratio, ratio_to_db
from pneumen.core.place.ladder import Ladder, at_distance

MOST_RISE_DB = 40.0
LEAST_FALL_DB = 0.5
"""A step back that does less is none."""


@dataclass(frozen=True, slots=True, kw_only=True)
class StepBack:
    """How far back evens a louder passage out, by the law of distance, and what changes with it.

    fall_db is what the ruler allows of the rise; bass and room change against the usual place.
    """

    distance_m: float
    fall_db: float
    bass_change_db: float
    room_change_db: float


def step_back_for(ladder: Ladder, distance_m: float, rise_db: float) -> StepBack | None:
    """Return the step back that evens out a passage rise_db louder; None where the ruler leaves no way back.

    Turning down, the other way, changes the gain alone.

    Raises:
        OutOfRange: naming the rise.
    """
    require_within("rise_db", rise_db, 0, MOST_RISE_DB)
    back_m = max(distance_m, min(distance_m * db_to_ratio(rise_db), float(ladder.distance_m[-1])))
    fall_db = ratio_to_db(back_m / distance_m)
    if fall_db < LEAST_FALL_DB:
        return None
    usual, back = at_distance(ladder, distance_m), at_distance(ladder, back_m)
    return StepBack(
        distance_m=back_m,
        fall_db=fall_db,
        bass_change_db=back["bass"] - usual["bass"],
        room_change_db=back["room"] - usual["room"],
    )
