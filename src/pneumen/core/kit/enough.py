"""What is enough: how far short of it a kit falls, and which of several to recommend.

Beyond enough nothing is heard any more, so of the kits that are enough the cheapest is recommended; what more money
buys is shown beside it.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import require_within
from pneumen.core.forecast import Outcome, spare_at_lowest_gain_db
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
    """What a kit is judged by: its price, and how far it falls short in each figure, 0 where enough.

    overload_short_db is what it lacks to bear a part's whole band: that would be baked in, so it counts like the rest.
    """

    price: float
    clean_short_db: float
    lead_short_db: float
    overload_short_db: float = 0.0

    @property
    def short_db(self) -> float:
        return max(self.clean_short_db, self.lead_short_db, self.overload_short_db)

    @property
    def is_enough(self) -> bool:
        return self.short_db <= 0


def worth_of(
    enough: Enough, price: float, clean_db: float, leads: Iterable[tuple[Source, float]], lacking_db: float = 0.0
) -> Worth:
    """Return what a kit is judged by.

    Args:
        leads: each part's source and its direct-to-room ratio.
        lacking_db: what it lacks to bear its parts' bands.
    """
    lead_short_db = max((enough.lead_db(source) - lead_db for source, lead_db in leads), default=0.0)
    return Worth(
        price=price,
        clean_short_db=max(enough.clean_range_db - clean_db, 0.0),
        lead_short_db=max(lead_short_db, 0.0),
        overload_short_db=max(lacking_db, 0.0),
    )


def worth_as_set_up(enough: Enough, found: Outcome) -> Worth:
    """Return how far a part falls short of what is enough as it is set up; its price is left out."""
    setup = found.setup
    return worth_of(
        enough,
        0.0,
        found.levels.clean_range_db,
        [(setup.source, found.air.lead_db)] if found.air else [],
        setup.performance.band_db - spare_at_lowest_gain_db(found),
    )


def recommended_of(worths: Sequence[Worth], overload_short_db: Callable[[int], float]) -> int:
    """Return the index of the cheapest kit that is enough; where none is, of the one that falls least short.

    Args:
        worths: of the kits to choose from, at least one, overload not yet counted.
        overload_short_db: tells what a kit lacks to bear its parts' bands, by its index; asked of as few as can be.
    """
    by_price = sorted(range(len(worths)), key=lambda number: worths[number].price)
    for number in by_price:
        if worths[number].is_enough and overload_short_db(number) <= 0:
            return number
    short = [max(worth.short_db, overload_short_db(number)) for number, worth in enumerate(worths)]
    return next(number for number in by_price if short[number] <= min(short) + ALIKE_DB)
