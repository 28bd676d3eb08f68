"""Hearing oneself late: the comb with one's own bones, the voice heard twice, and how late is too late for whom."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import require_positive, require_within
from pneumen.core.verdict import Verdict

CLEAR_MS: Final = 6.0
WATCH_MS: Final = 12.0
"""Delay as such: under 6 ms unnoticed by most, to 12 noticeable, over it disturbing (common practice, no source)."""
COLOURS_MS: Final = (1.0, 3.0)
"""From here on the comb with one's own voice is heard as colour (common practice, no source)."""
BONE_UNDER_DB: Final = -6.0
"""One's own voice through bone and closed cups, against what the headphones bring (estimate)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Comb:
    """What two copies of one sound do to each other: the first notch, and how deep it cuts against the peaks."""

    notch_hz: float
    depth_db: float | None
    """None where both are equally loud: the notch is complete."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Bearable:
    """How late a source may hear itself in headphones: good up to one delay, fair up to another."""

    good_ms: float
    fair_ms: float


BEARABLE: Final[Mapping[str, Bearable]] = {
    "voice": Bearable(good_ms=1.0, fair_ms=6.5),
    "winds": Bearable(good_ms=1.4, fair_ms=5.0),
    "plucked": Bearable(good_ms=4.5, fair_ms=7.5),
    "bass": Bearable(good_ms=4.5, fair_ms=8.0),
    "percussion": Bearable(good_ms=8.0, fair_ms=25.0),
    "keys": Bearable(good_ms=27.0, fair_ms=42.0),
}
"""By source, in headphones (after Lester and Boley, AES 123rd convention, 2007, from memory: orders of size only)."""


LIKE: Final[Mapping[str, str]] = {"direct": "plucked", "amp": "plucked", "bowed": "winds"}
"""What was not asked of there, and what it is taken to be like (estimate)."""


def verdict_of_delay(delay_ms: float) -> Verdict:
    """Judge a delay of one's own sound: under 6 ms clear, to 12 watch, over it mendable (common practice)."""
    return Verdict.CLEAR if delay_ms < CLEAR_MS else Verdict.WATCH if delay_ms <= WATCH_MS else Verdict.MENDABLE


def comb_of(delay_ms: float, level_db: float = BONE_UNDER_DB) -> Comb:
    """Return the comb of a sound and its copy.

    Args:
        level_db: the weaker one against the stronger.

    Reference: first notch at 1/(2 t); ripple 20 log10((1 + g)/(1 - g)).

    >>> comb_of(5.0).notch_hz, round(comb_of(5.0, -6.0).depth_db, 1)
    (100.0, 9.6)
    """
    require_positive("delay_ms", delay_ms, 10_000)
    require_within("level_db", level_db, -120, 0)
    share = 10 ** (level_db / 20)
    depth_db = None if share >= 1 else 20 * math.log10((1 + share) / (1 - share))
    return Comb(notch_hz=500 / delay_ms, depth_db=depth_db)


def bearable_for(delay_ms: float, group: str) -> str:
    """Return how a delay is borne by a kind of source: good, fair or poor.

    >>> bearable_for(5.0, "voice"), bearable_for(5.0, "keys")
    ('fair', 'good')
    """
    known = BEARABLE.get(LIKE.get(group, group), BEARABLE["voice"])
    return "good" if delay_ms <= known.good_ms else "fair" if delay_ms <= known.fair_ms else "poor"
