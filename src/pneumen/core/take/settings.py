"""How a take was set up, and what differs between two of them."""

from dataclasses import dataclass, fields
from typing import Final

LEAST: Final = {"distance_m": 0.005, "above_m": 0.005, "aside_deg": 0.5, "turned_deg": 0.5, "gain_db": 0.05}
"""Smaller differences are none that one sets."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeSettings:
    """How a take was recorded; None where that is not told, or does not apply (a plugged part has no distance)."""

    gear: str = ""
    distance_m: float | None = None
    above_m: float | None = None
    aside_deg: float | None = None
    turned_deg: float | None = None
    pop_screen: bool | None = None
    low_cut_hz: float | None = None
    gain_db: float | None = None
    buffer: int | None = None
    section: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One setting that differs: its name as in TakeSettings, and both values."""

    what: str
    before: float | str | bool | None
    after: float | str | bool | None


def changes_between(before: TakeSettings, after: TakeSettings) -> tuple[Change, ...]:
    """Return what differs between two takes, in the order of TakeSettings; what is not told of one is no difference.

    >>> near, far = TakeSettings(distance_m=0.15), TakeSettings(distance_m=0.25)
    >>> [change.what for change in changes_between(near, far)]
    ['distance_m']
    """
    found = []
    for each in fields(TakeSettings):
        one, other = getattr(before, each.name), getattr(after, each.name)
        if one is None or other is None or one == other:
            continue
        if each.name in LEAST and abs(one - other) < LEAST[each.name]:
            continue
        found.append(Change(what=each.name, before=one, after=other))
    return tuple(found)
