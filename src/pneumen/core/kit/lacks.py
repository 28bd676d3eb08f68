"""What recording software or a monitor lacks for some needs, by name."""

from pneumen.core.kit.item import Item
from pneumen.core.kit.listening import monitor_peak_db
from pneumen.core.kit.needs import Needs


def software_lacks(needs: Needs, item: Item) -> tuple[str, ...]:
    """Return what recording software lacks for these needs, by name; nothing where it serves."""
    overdubs = len(needs.sessions) > 1
    wants = (
        (item.works_with(needs.computer), "system"),
        ((item.tracks or 0) >= needs.tracks, "tracks"),
        (not overdubs or item.latency_compensation is not False, "overdubs"),
        (not needs.take_handling or item.takes is not False, "takes"),
        (needs.monthly_fees or item.price_model != "monthly", "no-fees"),
    )
    return tuple(lack for holds, lack in wants if not holds)


def monitor_lacks(needs: Needs, item: Item) -> tuple[str, ...]:
    """Return what a monitor lacks for these needs and this room, by name; nothing where it serves."""
    loudest = monitor_peak_db(needs.room.volume_m3)
    wants = (
        (item.active is not False, "active"),
        (item.balanced is not False, "balanced"),
        (item.max_spl_1m_db is None or item.max_spl_1m_db >= loudest, "loud"),
    )
    return tuple(lack for holds, lack in wants if not holds)
