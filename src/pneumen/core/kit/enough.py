"""What is enough: how far short of it a kit falls, and which of several to recommend.

Beyond enough nothing is heard any more, so of the kits that are enough the cheapest is recommended; what more money
buys is shown beside it.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import require_within
from pneumen.core.part import Source

ENOUGH_CLEAN_RANGE_DB: Final = 50.0
"""Clean range that is enough for a voice or a plucked string (common practice, no source)."""
ALIKE_DB: Final = 0.1
"""Kits whose shortfall differs by less fall equally short."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Enough:
    """The two figures beyond which a kit is enough; without its own ratio, each source's dry_enough_db."""

    clean_range_db: float = ENOUGH_CLEAN_RANGE_DB
    direct_to_reverberant_db: float | None = None

    def __post_init__(self) -> None:
        require_within("enough.clean_range_db", self.clean_range_db, 0, 140)
        if self.direct_to_reverberant_db is not None:
            require_within("enough.direct_to_reverberant_db", self.direct_to_reverberant_db, -40, 60)

    def lead_db(self, source: Source) -> float:
        """Return the direct-to-room ratio that is enough for a source."""
        if self.direct_to_reverberant_db is not None:
            return self.direct_to_reverberant_db
        return source.dry_enough_db


ENOUGH: Final = Enough()
"""What is enough where nobody says otherwise."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Worth:
    """What a kit is judged by: its price, how far it falls short in each figure (0 where enough), and its pieces."""

    price: float
    clean_short_db: float
    lead_short_db: float

    @property
    def short_db(self) -> float:
        return max(self.clean_short_db, self.lead_short_db)

    @property
    def is_enough(self) -> bool:
        return self.short_db <= 0


def recommended_of(worths: Sequence[Worth], overloads: Callable[[int], bool]) -> int:
    """Return the index of the cheapest kit that is enough; where none is, of the one that falls least short.

    One that may clip within the source's band gives way to any other that is enough.

    Args:
        worths: of the kits to choose from, at least one.
        overloads: tells whether a kit may clip, by its index; asked of as few as can be.
    """
    by_price = sorted(range(len(worths)), key=lambda number: worths[number].price)
    enough = [number for number in by_price if worths[number].is_enough]
    if enough:
        return next((number for number in enough if not overloads(number)), enough[0])
    least = min(worth.short_db for worth in worths)
    near = [number for number in by_price if worths[number].short_db <= least + ALIKE_DB]
    return next((number for number in near if not overloads(number)), near[0])
