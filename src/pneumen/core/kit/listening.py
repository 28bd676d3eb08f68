"""Hearing oneself: how loud headphones get from an output, and how long an ear may bear it."""

import math
from typing import Final

from pneumen.core.errors import require_positive, require_within
from pneumen.core.kit.item import Item

SAFE_DBA: Final = 85.0
SAFE_HOURS: Final = 8.0
EXCHANGE_DB: Final = 3.0
"""NIOSH recommended exposure limit (1998): 85 dBA for 8 hours, each 3 dB more halves the time."""
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


def safe_hours(level_dba: float) -> float:
    """Return how long a level may be heard in a day (NIOSH, 1998).

    >>> safe_hours(94)
    1.0
    """
    return SAFE_HOURS / 2 ** ((level_dba - SAFE_DBA) / EXCHANGE_DB)


def loudest_in_headphones(hub: Item, headphones: Item) -> float | None:
    """Return how loud headphones get from a hub's output, None where a sheet does not say."""
    figures = (hub.phones_volt, hub.phones_output_ohm, headphones.impedance_ohm, headphones.sensitivity_db_per_mw)
    return None if None in figures else headphone_level_db(*figures)
