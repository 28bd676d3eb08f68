"""Where a microphone can look at an instrument, and what it hears there."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from types import MappingProxyType
from typing import Final

import msgspec

from pneumen.core.errors import UnknownName, require_within

TASTES: Final[Mapping[str, tuple[str, float]]] = MappingProxyType(
    {"bright": ("Bright", 1.0), "balanced": ("Balanced", 0.0), "warm": ("Warm", -1.0)}
)
"""A taste with the brightness it asks for."""
MOST_BRIGHT: Final = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Zone:
    """A spot a microphone looks at: what it hears, its range of distances to the capsule, what to mind.

    at_m is its place on the body's drawing, right and up from the lower left; bright runs from -2 (dark) to 2;
    off_mouth_deg and above_m say how it takes the capsule out of a mouth's axis and above or below it.
    """

    slug: str
    label: str
    sound: str
    bright: float
    near_m: float
    usual_m: float
    far_m: float
    at_m: tuple[float, float]
    caution: str
    off_mouth_deg: float = 0.0
    above_m: float = 0.0

    def __post_init__(self) -> None:
        require_within("bright", self.bright, -MOST_BRIGHT, MOST_BRIGHT)
        require_within("usual_m", self.usual_m, self.near_m, self.far_m)


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """An instrument (or a head) as it is drawn: its size, the sources it stands for, and its zones, the usual first."""

    slug: str
    label: str
    size_m: tuple[float, float]
    sources: tuple[str, ...]
    zones: tuple[Zone, ...]

    def zone(self, slug: str) -> Zone:
        """Return a zone by name.

        Raises:
            UnknownName: naming the zones there are.
        """
        for zone in self.zones:
            if zone.slug == slug:
                return zone
        raise UnknownName("zone", slug, tuple(zone.slug for zone in self.zones))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Bodies:
    bodies: tuple[Body, ...]


@cache
def _bodies() -> Mapping[str, Body]:
    document = files("pneumen.core.data").joinpath("zones.json").read_bytes()
    return MappingProxyType({one.slug: one for one in msgspec.json.decode(document, type=_Bodies).bodies})


BODIES: Final[Mapping[str, Body]] = _bodies()


def body_of(source: str) -> Body | None:
    """Return the body that is drawn for a source; None where there is none.

    >>> body_of("ukulele").slug, body_of("shaker")
    ('guitar', None)
    """
    return next((body for body in BODIES.values() if source in body.sources), None)
