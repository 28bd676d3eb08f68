"""Whether another kit would mend what a part's own chain cannot: offered, never swapped in."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gain import School
from pneumen.core.kit.item import Item
from pneumen.core.kit.written import Kit
from pneumen.core.line import Levels

LEAST_BETTER_DB: Final = 3.0
"""Less is not worth other gear (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BetterKit:
    """What another kit brings one part: its devices, and the part's clean range and peak with them."""

    devices: tuple[Item, ...]
    clean_range_db: float
    peak_dbfs: float


def better_kit(kit: Kit, part: int, now: Levels, school: School, enough_db: float) -> BetterKit | None:
    """Return what a kit brings a part; None where it is no more than the part has, or than it needs.

    A peak that stays low asks for no other gear while the clean range is enough; one that stays too high does.

    Args:
        part: its number in the kit's needs.
        now: its levels as it is set up.
        enough_db: the clean range that is enough.
    """
    then = kit.parts[part].levels
    tames = school.outside_db(now.peak_dbfs) > 0 and school.outside_db(then.peak_dbfs) <= 0
    enough, gained_db = now.clean_range_db >= enough_db, then.clean_range_db - now.clean_range_db
    if not tames and (enough or gained_db < LEAST_BETTER_DB):
        return None
    devices = (kit.hub, *kit.voices[part].devices) if kit.hub else kit.voices[part].devices
    return BetterKit(devices=devices, clean_range_db=then.clean_range_db, peak_dbfs=then.peak_dbfs)
