"""How loud one may be at which hour: what goes through wall or floor to those who live there."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from pneumen.core.errors import Contradiction, UnknownName, require_positive, require_within
from pneumen.core.room.noise import HOURS
from pneumen.core.room.reverberation import critical_distance_m

PARTITIONS: Final[Mapping[str, tuple[str, float]]] = MappingProxyType(
    {
        "concrete-floor": ("Concrete floor", 53.0),
        "party-wall": ("Solid party wall, brick and plaster", 52.0),
        "joist-floor": ("Wooden floor on joists", 45.0),
        "plasterboard-wall": ("Plasterboard wall with wool", 43.0),
        "thin-wall": ("Thin partition", 36.0),
        "window-shut": ("Shut window, to the yard or street", 30.0),
        "inner-door": ("Inner door", 22.0),
        "window-open": ("Open window", 8.0),
    }
)
"""What each takes off, weighted, built in (textbook values of R'w, from memory; the real one may lie 5 dB off)."""
BAND_DB: Final = 5.0
NEXT_ROOM_M2: Final = 10.0
"""Absorption of the room next door (the reference of ISO 140 and 16283, from memory)."""
DAY_DBA: Final = 35.0
NIGHT_DBA: Final = 30.0
"""Indoors by day, and in bedrooms at night (WHO, Guidelines for Community Noise, 1999; from memory)."""
NIGHT: Final = (22.0, 7.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Neighbour:
    """Who hears one: through what and how large that is, how loud it may be by day and by night, and when night is."""

    name: str
    through: str
    area_m2: float = 10.0
    day_dba: float = DAY_DBA
    night_dba: float = NIGHT_DBA
    night_from: float = NIGHT[0]
    night_to: float = NIGHT[1]

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise Contradiction("name", "of who hears you must not be empty")
        if self.through not in PARTITIONS:
            raise UnknownName("through", self.through, tuple(PARTITIONS))
        require_positive("area_m2", self.area_m2, 200)
        for name in ("day_dba", "night_dba"):
            require_within(name, getattr(self, name), 10, 90)
        for name in ("night_from", "night_to"):
            require_within(name, getattr(self, name), 0, 24)

    @property
    def loss_db(self) -> float:
        """How much lower the sound is next door than in the room."""
        return PARTITIONS[self.through][1] - 10 * math.log10(self.area_m2 / NEXT_ROOM_M2)

    def allows_dba(self, hour: float) -> float:
        """Return how loud it may be next door at an hour."""
        start, end = self.night_from, self.night_to
        night = start <= hour < end if start <= end else hour >= start or hour < end
        return self.night_dba if night else self.day_dba


def heard_next_door_dba(
    neighbour: Neighbour, level_1m_db: float, volume_m3: float, rt60_s: float, factor: float
) -> float:
    """Return how loud a source is next door.

    Args:
        level_1m_db: its level at 1 m, as it is recorded from.
        factor: its directivity factor there.

    Reference: diffuse level by the critical distance (Kuttruff); L2 = L1 - R' + 10 log10(S/A2) (ISO 16283-1), both
    from memory. A single weighted figure: bass goes through better than that.
    """
    diffuse_db = level_1m_db - 10 * math.log10(factor) - 20 * math.log10(critical_distance_m(volume_m3, rt60_s))
    return diffuse_db - neighbour.loss_db


@dataclass(frozen=True, slots=True, kw_only=True)
class Outwards:
    """How a source stands with one neighbour: how loud it is there, at which hours it may be, how loud it may be.

    loudest_1m_db holds, by hour, the level at 1 m that would just be allowed.
    """

    neighbour: Neighbour
    heard_dba: float
    allowed_hours: tuple[int, ...]
    loudest_1m_db: tuple[float, ...]


def outwards_of(
    neighbours: Sequence[Neighbour], level_1m_db: float, volume_m3: float, rt60_s: float, factor: float = 1.0
) -> tuple[Outwards, ...]:
    """Return how a source stands with everybody who hears it, the strictest first."""
    found = []
    for one in neighbours:
        heard = heard_next_door_dba(one, level_1m_db, volume_m3, rt60_s, factor)
        loudest = tuple(level_1m_db + one.allows_dba(hour) - heard for hour in HOURS)
        allowed = tuple(hour for hour in HOURS if heard <= one.allows_dba(hour))
        found.append(Outwards(neighbour=one, heard_dba=heard, allowed_hours=allowed, loudest_1m_db=loudest))
    return tuple(sorted(found, key=lambda outward: (len(outward.allowed_hours), min(outward.loudest_1m_db))))


def hours_for_all(outwards: Sequence[Outwards]) -> tuple[int, ...]:
    """Return the hours at which nobody is disturbed.

    >>> hours_for_all(()) == HOURS
    True
    """
    return tuple(hour for hour in HOURS if all(hour in one.allowed_hours for one in outwards))


def spans_of(hours: Sequence[int]) -> tuple[tuple[int, int], ...]:
    """Return hours of a day as spans from and to.

    >>> spans_of((0, 1, 19, 20))
    ((0, 2), (19, 21))
    """
    spans: list[tuple[int, int]] = []
    for hour in hours:
        if spans and spans[-1][1] == hour:
            spans[-1] = (spans[-1][0], hour + 1)
        else:
            spans.append((hour, hour + 1))
    return tuple(spans)
