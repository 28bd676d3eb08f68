"""What money buys along a frontier: the next sums, the last one, and where nothing more is to be had."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.kit.frontier import BETTER_DB, Point

NEXT_SUMS: Final = (25.0, 50.0, 100.0)
LAST_SUM: Final = 50.0
ENDLESS_DB: Final = 1e3
"""So much stands for what has no limit."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Bought:
    """What a sum more (or the last sum) brings in the best clean range and the best direct-to-room ratio."""

    amount: float
    clean_db: float
    lead_db: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MoneyStory:
    """The frontier told: cleanest_from is the price above which nothing makes the take cleaner by 0.5 dB or more."""

    next_sums: tuple[Bought, ...]
    last_sum: Bought
    cleanest_from: float
    driest_from: float


def best_within(points: Iterable[Point], money: float) -> tuple[float, float] | None:
    """Return the best clean range and the best room lead that a sum reaches, not of one kit; None for no kit."""
    reached = [point for point in points if point[0] <= money]
    if not reached:
        return None
    return max(point[1] for point in reached), max(point[2] for point in reached)


def strongest_of(points: Sequence[Point], among: Iterable[int]) -> int:
    """Return which of some kits has the most clean range and room lead together, in dB; of equals the cheapest.

    >>> strongest_of([(90.0, 60.0, 20.0), (50.0, 60.0, 12.0), (40.0, 60.0, 12.0)], (1, 2))
    2
    """
    return max(among, key=lambda place: (_together_db(points[place]), -points[place][0]))


def _together_db(point: Point) -> float:
    """Add both figures; what has none, as a plug has no room, counts the same in all."""
    return min(point[1], ENDLESS_DB) + min(point[2], ENDLESS_DB)


def money_story(points: tuple[Point, ...], money: float) -> MoneyStory | None:
    """Return what the next sums and the last one buy; None where the money buys no kit."""
    now = best_within(points, money)
    if now is None:
        return None
    less = best_within(points, money - LAST_SUM) or (float("nan"), float("nan"))
    most_clean, most_lead = max(point[1] for point in points), max(point[2] for point in points)
    return MoneyStory(
        next_sums=tuple(_bought(amount, now, best_within(points, money + amount) or now) for amount in NEXT_SUMS),
        last_sum=_bought(LAST_SUM, less, now),
        cleanest_from=min(point[0] for point in points if point[1] > most_clean - BETTER_DB),
        driest_from=min(point[0] for point in points if point[2] > most_lead - BETTER_DB or point[2] == most_lead),
    )


def _bought(amount: float, before: tuple[float, float], after: tuple[float, float]) -> Bought:
    lead_db = 0.0 if before[1] == after[1] else after[1] - before[1]
    return Bought(amount=amount, clean_db=after[0] - before[0], lead_db=lead_db)
