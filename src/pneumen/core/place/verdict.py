"""How a place stands: by the strip that is felt most there, and by a low-cut that reaches into the sound."""

from typing import Final

import numpy as np

from pneumen.core.place.ladder import Ladder, at_distance
from pneumen.core.place.low_cut import LowCut
from pneumen.core.room import DRY_ENOUGH_DB, judge_room
from pneumen.core.verdict import Verdict

FELT: Final = 0.01
SPOILT_BY_POPS: Final = 0.6
WORTH_MENDING: Final = 0.8
"""Strengths, 0 calm to 1 harsh, from which a place is told so (common practice, no source)."""
LASTING: Final = ("pops", "room")
"""What cannot be taken out of a take again."""


def felt_most(ladder: Ladder, distance_m: float) -> tuple[str, float]:
    """Return the strip that is felt most at a distance, and how strongly: 0 calm to 1 harsh.

    A hard S is left out: no distance mends it. Of two as strong, the one that cannot be taken out again.
    """
    strengths = strengths_at(ladder, distance_m)
    name = max(strengths, key=lambda one: (strengths[one], one in LASTING))
    return name, strengths[name]


def strengths_at(ladder: Ladder, distance_m: float) -> dict[str, float]:
    """Return how strongly each strip is felt at a distance, 0 calm to 1 harsh; a hard S is left out."""
    where, rungs = np.log(distance_m), np.log(ladder.distance_m)
    return {name: float(np.interp(where, rungs, one)) for name, one in ladder.strengths.items()}


def judge_place(
    ladder: Ladder, distance_m: float, low_cut: LowCut | None = None, *, dry_enough_db: float = DRY_ENOUGH_DB
) -> Verdict:
    """Return clear, watch, mendable or baked-in.

    Pops, room and a low-cut cannot be taken out again; bass and sway can be mended, at a price.
    """
    if low_cut is not None and low_cut.verdict == Verdict.BAKED_IN:
        return Verdict.BAKED_IN
    if judge_room(-at_distance(ladder, distance_m)["room"], dry_enough_db) == Verdict.BAKED_IN:
        return Verdict.BAKED_IN
    if strengths_at(ladder, distance_m).get("pops", 0.0) > SPOILT_BY_POPS:
        return Verdict.BAKED_IN
    strengths = strengths_at(ladder, distance_m)
    if max(strengths.values()) <= FELT:
        return Verdict.CLEAR
    harsh = {name for name, strength in strengths.items() if strength > WORTH_MENDING}
    return Verdict.MENDABLE if harsh.difference(LASTING) else Verdict.WATCH
