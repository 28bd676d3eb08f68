"""The frontier: of many (price, clean range, direct-to-room) those that no other beats.

A beats B when A is no dearer and no worse in both, and cheaper, or at least 0.5 dB better in one.
"""

from bisect import bisect_left
from collections.abc import Iterable, Sequence
from itertools import groupby
from typing import Final

import numpy as np

BETTER_DB: Final = 0.5
SAME: Final = 1e-9
"""Closer figures are equal: what is left of adding in another order."""
HIGHEST_DB: Final = 1e4
"""Stands for the infinite ratio of what is plugged in, where figures are sorted."""

Point = tuple[float, float, float]


class Staircase:
    """What has been reached so far: the best clean range among points with at least a direct-to-room ratio."""

    def __init__(self) -> None:
        self._ratios: list[float] = []  # falling ratio as rising negatives, with rising clean range
        self._cleans: list[float] = []

    def best_clean(self, ratio_db: float) -> float:
        """Return the best clean range of the points whose ratio is at least this, minus infinity without one."""
        place = bisect_left(self._ratios, SAME - min(ratio_db, HIGHEST_DB))
        return self._cleans[place - 1] if place else float("-inf")

    def add(self, clean_db: float, ratio_db: float) -> None:
        """Take in a point; those it covers go."""
        if self.best_clean(ratio_db) >= clean_db:
            return
        ratio_db = min(ratio_db, HIGHEST_DB)
        place = bisect_left(self._ratios, -ratio_db)
        stop = place
        while stop < len(self._ratios) and self._cleans[stop] <= clean_db:
            stop += 1
        self._ratios[place:stop], self._cleans[place:stop] = [-ratio_db], [clean_db]


class Reached:
    """The points found so far, to ask of many others at once whether a strictly cheaper one equals them."""

    def __init__(self, points: Iterable[Point] = ()) -> None:
        self._points: list[Point] = []
        self._table = np.empty((3, 0))
        self.add(points)

    def add(self, points: Iterable[Point]) -> None:
        known = [*self._points, *points]
        self._points = [known[number] for number in unbeaten(known)]
        self._table = np.array(self._points).reshape(-1, 3).T
        self._stairs: dict[float, tuple[list[float], list[float]]] = {}

    def best_clean(self, price: float, ratio_db: float) -> float:
        """Return the best clean range of the strictly cheaper points with at least this ratio."""
        if ratio_db not in self._stairs:
            cheap, clean, _ = self._table[:, self._table[2] >= ratio_db - SAME]  # unbeaten keeps them by price
            self._stairs[ratio_db] = cheap.tolist(), np.maximum.accumulate(clean).tolist()
        prices, cleans = self._stairs[ratio_db]
        place = bisect_left(prices, price)
        return cleans[place - 1] if place else float("-inf")

    def beat(self, prices: np.ndarray, clean_db: np.ndarray, ratio_db: np.ndarray) -> np.ndarray:
        """Tell for each candidate whether a strictly cheaper point is no worse in both figures."""
        cheap, clean, ratio = (column[:, None] for column in self._table)
        return np.any((cheap < prices) & (clean >= clean_db - SAME) & (ratio >= ratio_db - SAME), axis=0)


def unbeaten(points: Sequence[Point]) -> list[int]:
    """Return the indices of the points no other beats, cheapest first; of equal ones the first stands for all.

    >>> unbeaten([(10, 50, 5), (10, 50.4, 5), (12, 50.4, 5), (12, 51, 4)])
    [1, 0, 3]
    """
    order = sorted(range(len(points)), key=lambda n: (points[n][0], -points[n][1], -points[n][2], n))
    reached, kept = Staircase(), []
    for _, group in groupby(order, key=lambda n: points[n][0]):
        rivals: list[int] = []
        for number in group:
            _, clean_db, ratio_db = points[number]
            if reached.best_clean(ratio_db) >= clean_db - SAME:
                continue
            if not any(_covers(points[rival], points[number]) for rival in rivals):
                rivals.append(number)
        kept += rivals
        for rival in rivals:
            reached.add(points[rival][1], points[rival][2])
    return kept


def _covers(one: Point, other: Point) -> bool:
    """Tell whether a point of the same price beats another, or stands for it."""
    more_clean, more_ratio = one[1] - other[1], _difference(one[2], other[2])
    if more_clean < -SAME or more_ratio < -SAME:
        return False
    return max(more_clean, more_ratio) >= BETTER_DB - SAME or max(more_clean, more_ratio) <= SAME


def _difference(one: float, other: float) -> float:
    return 0.0 if one == other else one - other  # both may be infinite
