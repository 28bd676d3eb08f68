"""The quarrel of closets and open rooms, in numbers: what a room and a place have to bring, and who asks for it."""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast.hearing import first_echoes_of, standing_at
from pneumen.core.forecast.outcome import Outcome
from pneumen.core.room import early_share, is_dry_enough

EARLY_S: Final = 0.015
EARLY_DB: Final = -15.0
"""What comes back within 15 ms and lies so far under the direct sound neither combs nor boxes in (common practice)."""
LEAST: Final = 1e-12
QUIET_DB: Final = 30.0
"""The quietest section's clean range that is enough (common practice, no source)."""
BANDS: Final = slice(2, 5)
"""500 Hz to 2 kHz: where a voice or a string is heard boxed in."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomWorth:
    """What a room and a place bring against what is enough for a source.

    early_db is all that the walls throw back within 15 ms, None where nothing is; early_wall gives most of it, early_ms
    after the direct sound. quiet_db is the quietest phrase over the noise.
    """

    lead_db: float
    dry_enough_db: float
    early_db: float | None
    early_ms: float
    early_wall: str
    quiet_db: float
    clean_db: float
    clean_enough_db: float

    @property
    def is_dry(self) -> bool:
        """What the closet school asks: little room, so that it mixes easily."""
        return is_dry_enough(self.lead_db, self.dry_enough_db)

    @property
    def is_open(self) -> bool:
        """What the open-room school asks: no reflection so early and so strong that it sounds boxed in."""
        return self.early_db is None or self.early_db <= EARLY_DB

    @property
    def is_quiet(self) -> bool:
        """What both ask: the quietest section well over the noise, and the whole clean enough."""
        return self.quiet_db >= QUIET_DB and self.clean_db >= self.clean_enough_db

    @property
    def is_enough(self) -> bool:
        return self.is_dry and self.is_open and self.is_quiet


def room_worth(found: Outcome, *, clean_enough_db: float) -> RoomWorth:
    """Hold a miked part in its room against what is enough.

    Raises:
        Contradiction: for what is plugged in.
    """
    setup, levels, air = found.setup, found.levels, found.in_air
    early = float(early_share(setup.drawn_space.box, standing_at(setup), EARLY_S)[BANDS].mean())
    within = [one for one in first_echoes_of(setup) if one.delay_s <= EARLY_S]
    strongest = max(within, key=lambda one: sum(one.share[BANDS]), default=None)
    return RoomWorth(
        lead_db=air.lead_db,
        dry_enough_db=setup.source.dry_enough_db,
        early_db=10 * math.log10(early) if early > LEAST else None,
        early_ms=1000 * strongest.delay_s if strongest else 0.0,
        early_wall=strongest.wall if strongest else "",
        quiet_db=levels.quiet_dbfs - levels.noise_dbfs,
        clean_db=levels.clean_range_db,
        clean_enough_db=clean_enough_db,
    )
