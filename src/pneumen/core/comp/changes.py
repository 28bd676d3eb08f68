"""What takes differ by before anything is joined: their gains, their levels, and where a change would be heard."""

from collections.abc import Iterable, Mapping, Sequence
from itertools import pairwise
from statistics import median
from typing import Protocol

from pneumen.core.comp.render import MOST_MATCH_DB
from pneumen.core.comp.seams import STEP_DB

Change = tuple[int, int, int]
"""Of a line to the next: its number, its take, and the take of the line that follows."""


class Held(Protocol):
    """What a take holds of a line, as LineFigures tells it."""

    @property
    def holds(self) -> bool: ...
    @property
    def level_db(self) -> float | None: ...
    @property
    def sounds_in(self) -> bool: ...
    @property
    def sounds_out(self) -> bool: ...


def usual_level_db(rows: Iterable[Held]) -> float | None:
    """Return a line's usual level: the median over the takes that hold it; None where none does."""
    levels = [row.level_db for row in rows if row.holds and row.level_db is not None]
    return median(levels) if levels else None


def gains_undone_db(gains_db: Mapping[int, float | None]) -> dict[int, float]:
    """Return what brings each take of one chain to the gain that is usual among them; nothing unless all are known.

    >>> gains_undone_db({1: 20.0, 2: 26.0, 3: 20.0})
    {1: 0.0, 2: -6.0, 3: 0.0}
    """
    known = {number: gain_db for number, gain_db in gains_db.items() if gain_db is not None}
    if not known or len(known) != len(gains_db):
        return {}
    usual_db = median(known.values())
    return {number: usual_db - gain_db for number, gain_db in known.items()}


def audible_changes(lines: Sequence[Mapping[int, Held]]) -> frozenset[Change]:
    """Return where a change of takes would be heard: through a sounding note, or by a step in level.

    Args:
        lines: of each line what the takes hold of it, by take number.

    Returns:
        By line, its take and the take of the line that follows.
    """
    steps = [_left_over_db(rows) for rows in lines]
    found = set()
    for number, (rows, following) in enumerate(pairwise(lines)):
        for one, row in rows.items():
            for other, after in following.items():
                if one != other and row.holds and after.holds:
                    step_db = steps[number + 1][other] - steps[number][one]
                    if (row.sounds_out and after.sounds_in) or abs(step_db) > STEP_DB:
                        found.add((number, one, other))
    return frozenset(found)


def _left_over_db(rows: Mapping[int, Held]) -> dict[int, float]:
    """Return how far each take's level stays off the line's usual one when levels are matched."""
    usual_db = usual_level_db(rows.values())
    found = {}
    for number, row in rows.items():
        off_db = 0.0 if row.level_db is None or usual_db is None else row.level_db - usual_db
        found[number] = off_db - max(-MOST_MATCH_DB, min(MOST_MATCH_DB, off_db))
    return found
