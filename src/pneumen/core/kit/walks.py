"""Walking up the prices of one class of parts behind one hub: which voice is the cheapest that holds a figure."""

from bisect import bisect_right
from dataclasses import dataclass
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


class Walk:
    """The voices of one class behind one hub: what they cost, and the two figures of the worst of its parts."""

    def __init__(self, numbers: np.ndarray, prices: np.ndarray, clean_db: np.ndarray, lead_db: np.ndarray) -> None:
        usable = np.flatnonzero((clean_db > CANNOT) & np.isfinite(prices))
        order = usable[np.lexsort((-lead_db[usable], -clean_db[usable], prices[usable]))]
        self._columns = prices[order], clean_db[order], lead_db[order], numbers[order]
        self._limits = _limits(*self._columns[:3])
        self.leads = set(self._limits)
        self.best_lead = max(self.leads, default=float("-inf"))
        self._stairs: dict[float, Stairs] = {}

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


def _limits(prices: np.ndarray, clean_db: np.ndarray, lead_db: np.ndarray) -> dict[float, tuple[float, float]]:
    """Return the lowest price and the best clean range from each room lead upward."""
    held = [(lead, lead_db >= lead - SAME) for lead in np.unique(lead_db).tolist()]
    return {lead: (float(prices[which].min()), float(clean_db[which].max())) for lead, which in held}


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
