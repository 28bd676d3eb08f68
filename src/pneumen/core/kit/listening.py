"""Hearing oneself: how loud headphones get from an output, and how long an ear may bear it."""

import math
from typing import Final

from pneumen.core.errors import require_positive, require_within
from pneumen.core.kit.item import Item

LOUD_ENOUGH_DB: Final = 100.0
"""What a singer wants to be able to reach over the own voice (common practice, no source)."""


def headphone_level_db(volt: float, output_ohm: float, impedance_ohm: float, sensitivity_db_per_mw: float) -> float:
    """Return the SPL at the ear from an output's largest voltage: divider, then power into the headphones.

    >>> round(headphone_level_db(1.0, 0.0, 32.0, 100.0), 1)
    114.9
    """
    require_positive("volt", volt, 100)
    require_within("output_ohm", output_ohm, 0, 10_000)
    require_positive("impedance_ohm", impedance_ohm, 100_000)
    across = volt * impedance_ohm / (impedance_ohm + output_ohm)
    return sensitivity_db_per_mw + 10 * math.log10(1000 * across**2 / impedance_ohm)


MIXING_LEVELS: Final = ((42.0, 76.0), (142.0, 78.0), (283.0, 80.0), (566.0, 82.0), (math.inf, 85.0))
"""Up to which volume (m3) one mixes at which level (dB SPL, C): ATSC A/85, 1500 to 20,000 cubic feet (from memory)."""
MIXING_HEADROOM_DB: Final = 20.0
LISTENING_M: Final = 1.2
"""What peaks need over that, and how far one sits from a monitor (common practice, no source)."""


def monitor_peak_db(volume_m3: float) -> float:
    """Return how loud a monitor has to get at 1 m, in peaks, to be mixed on in a room.

    >>> round(monitor_peak_db(30), 1)
    97.6
    """
    require_positive("volume_m3", volume_m3)
    level_db = next(level for most, level in MIXING_LEVELS if volume_m3 <= most)
    return level_db + MIXING_HEADROOM_DB + 20 * math.log10(LISTENING_M)


def lowest_mode_hz(volume_m3: float) -> float:
    """Return about where a room's lowest mode lies, by the longest side of a box a little longer than wide."""
    require_positive("volume_m3", volume_m3)
    return 343 / (2 * 1.27 * volume_m3 ** (1 / 3))


def loudest_in_headphones(hub: Item, headphones: Item) -> float | None:
    """Return how loud headphones get from a hub's output, None where a sheet does not say."""
    volt, output_ohm = hub.phones_volt, hub.phones_output_ohm
    impedance_ohm, sensitivity_db = headphones.impedance_ohm, headphones.sensitivity_db_per_mw
    if volt is None or output_ohm is None or impedance_ohm is None or sensitivity_db is None:
        return None
    return headphone_level_db(volt, output_ohm, impedance_ohm, sensitivity_db)
