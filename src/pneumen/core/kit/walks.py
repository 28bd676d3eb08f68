"""Walking up the prices of one class of parts behind one hub: which voice is the cheapest that holds a figure."""

from bisect import bisect_right
from dataclasses import dataclass
from functools import cached_property
from typing import Final

import numpy as np

from pneumen.core.kit.evaluate import CANNOT
from pneumen.core.kit.frontier import BETTER_DB, SAME

MOST_ALIKE: Final = 3
"""So many microphones of one price stand beside the best of them; more would drown the list."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One voice taken for one class of parts."""

    price: float
    clean_db: float
    lead_db: float
    voice: int


def walks_of(numbers: np.ndarray, prices: np.ndarray, clean_db: np.ndarray, lead_db: np.ndarray) -> list["Walk"]:
    """Return the walk of one class of parts behind each hub.

    Args:
        numbers: of the voices, shape (voices,).
        prices: with each voice's small things, shape (voices,).
        clean_db: of the worst of the parts, shape (hubs, voices).
        lead_db: likewise, shape (voices,).
    """
    usable = (clean_db > CANNOT) & np.isfinite(prices)
    best_first = np.argsort(-lead_db, kind="stable")
    falling = lead_db[best_first]
    leads, first = np.unique(-falling, return_index=True)
    held = np.searchsorted(-falling, leads + SAME, side="right") - 1  # the last voice with at least each room lead
    low = np.minimum.accumulate(np.where(usable, prices, np.inf)[:, best_first], axis=1)[:, held]
    high = np.maximum.accumulate(np.where(usable, clean_db, CANNOT)[:, best_first], axis=1)[:, held]
    there = np.maximum.reduceat(usable[:, best_first], first, axis=1) if len(first) else usable
    walks = []
    for clean, here, *limits in zip(clean_db, there, low, high, strict=True):
        of_leads = zip((-leads[here]).tolist(), *(column[here].tolist() for column in limits), strict=True)
        walks.append(Walk(numbers, prices, clean, lead_db, {lead: (least, most) for lead, least, most in of_leads}))
    return walks


class Walk:
    """The voices of one class behind one hub: what they cost, and the two figures of the worst of its parts."""

    def __init__(
        self,
        numbers: np.ndarray,
        prices: np.ndarray,
        clean_db: np.ndarray,
        lead_db: np.ndarray,
        limits: dict[float, tuple[float, float]],
    ) -> None:
        """Take in the voices, and for each room lead the lowest price and the best clean range from there upward."""
        self._voices = prices, clean_db, lead_db, numbers
        self._limits = limits
        self.leads = set(limits)
        self.best_lead = max(self.leads, default=float("-inf"))
        self._stairs: dict[float, Stairs] = {}

    @cached_property
    def _columns(self) -> list[np.ndarray]:
        """What can be used, cheapest first; most walks end before anyone asks."""
        prices, clean_db, lead_db, _ = self._voices
        usable = np.flatnonzero((clean_db > CANNOT) & np.isfinite(prices))
        order = usable[np.lexsort((-lead_db[usable], -clean_db[usable], prices[usable]))]
        return [column[order] for column in self._voices]

    def limits(self, lead: float) -> tuple[float, float]:
        """Return the lowest price and the best clean range among the voices with at least this room lead."""
        if lead not in self._limits:
            lead = min(own for own in self._limits if own >= lead - SAME)
        return self._limits[lead]

    def stairs(self, lead: float) -> "Stairs":
        """Return the stairs of the voices with at least this room lead."""
        if lead not in self._stairs:
            chosen = self._columns[2] >= lead - SAME
            new = Stairs(*(column[chosen] for column in self._columns))
            self._stairs[lead] = next((known for known in self._stairs.values() if known.is_same(new)), new)
        return self._stairs[lead]


class Stairs:
    """Voices, cheapest first, that no strictly cheaper one equals in clean range."""

    def __init__(self, prices: np.ndarray, clean_db: np.ndarray, lead_db: np.ndarray, voices: np.ndarray) -> None:
        best = np.maximum.accumulate(np.append(CANNOT, clean_db))
        cheaper = np.searchsorted(prices, prices, side="left")  # how many cost less than each
        keep = clean_db > best[cheaper] + SAME
        self.prices, self.clean_db, self.lead_db, self._voices = (
            prices[keep],
            clean_db[keep],
            lead_db[keep],
            voices[keep],
        )
        self._reached_db = np.maximum.accumulate(self.clean_db)
        self._price_list, self._reached_list = self.prices.tolist(), self._reached_db.tolist()
        self.highest_db = float(self._reached_db[-1])

    def is_same(self, other: "Stairs") -> bool:
        return np.array_equal(self._voices, other._voices)

    def cheapest_above(self, clean_db: float) -> float:
        """Return the lowest price with more than a clean range that some voice here surpasses."""
        return self._price_list[bisect_right(self._reached_list, clean_db + SAME)]

    def first_that_holds(self, thresholds: np.ndarray) -> np.ndarray:
        """Return the cheapest (of equal ones the best) voice for each clean range."""
        return np.searchsorted(self._reached_db, thresholds - SAME, side="left")

    def of_one_price(self, place: int) -> list[Step]:
        """Return the voice at a place, and those of its price less than 0.5 dB behind: another taste for the same."""
        alike = np.flatnonzero((self.prices == self.prices[place]) & (self.clean_db > self.clean_db[place] - BETTER_DB))
        others = [int(one) for one in alike if one != place]
        return [self._step(one) for one in [place, *others[:MOST_ALIKE]]]

    def _step(self, place: int) -> Step:
        return Step(
            price=float(self.prices[place]),
            clean_db=float(self.clean_db[place]),
            lead_db=float(self.lead_db[place]),
            voice=int(self._voices[place]),
        )
