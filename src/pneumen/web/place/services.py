"""Keeping where the microphone stands, and starting from a zone of the instrument."""

from dataclasses import dataclass

from django.db import transaction

from pneumen.core.errors import UnknownName
from pneumen.core.place import LOW_CUTS_HZ, MOST_RISE, TASTES, Placement
from pneumen.web.lengths import require_far, require_near
from pneumen.web.place.start import zones_of
from pneumen.web.song.models import Part

GRILLE_M = 0.025
"""The capsule lies 2 to 3 cm behind the grille (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """How a microphone stands: distance to the capsule, angles and side, height over the mouth, screen, low-cut.

    from_grille tells that its person measures to the grille; sheet_m where the data sheet's response was taken.
    """

    distance_m: float
    off_mouth_deg: float = 0.0
    off_microphone_deg: float = 0.0
    off_to_left: bool = False
    turned_left: bool = False
    above_m: float = 0.0
    pop_screen: bool = False
    pop_before_m: float = 0.09
    low_cut_hz: float = 0.0
    from_grille: bool = False
    sheet_m: float = 1.0

    @property
    def screen_before_m(self) -> float:
        """How far before the capsule the screen comes to stand: halfway where the mouth is nearer than it would be."""
        return min(self.pop_before_m, self.distance_m / 2)


FIELDS = tuple(Placed.__dataclass_fields__)


def check(part: Part, placed: Placed) -> None:
    """Refuse what cannot be.

    Raises:
        OutOfRange, UnknownName, Contradiction: naming the field.
    """
    facts = part.source_facts
    behind = GRILLE_M if placed.from_grille else 0.0
    require_near("distance", placed.distance_m - behind, max(facts.nearest_m - behind, 0.0), facts.farthest_m - behind)
    Placement(pattern="omni", off_mouth_deg=placed.off_mouth_deg, off_microphone_deg=placed.off_microphone_deg)
    most = MOST_RISE * placed.distance_m
    require_near("height over the mouth", placed.above_m, -most, most)
    require_near("pop screen before the capsule", placed.pop_before_m, 0.01, 0.5)
    if placed.low_cut_hz not in LOW_CUTS_HZ:
        raise UnknownName("low-cut", f"{placed.low_cut_hz:g} Hz", tuple(f"{one} Hz" for one in LOW_CUTS_HZ))
    require_far("data sheet", placed.sheet_m, 0.05, 1000)


@transaction.atomic
def keep(part: Part, placed: Placed) -> None:
    """Store where the microphone stands.

    Raises:
        OutOfRange, UnknownName, Contradiction: naming the field.
    """
    check(part, placed)
    for name in FIELDS:
        setattr(part, name, getattr(placed, name))
    part.save(update_fields=FIELDS)


@transaction.atomic
def choose_taste(part: Part, taste: str) -> None:
    if taste not in TASTES:
        raise UnknownName("taste", taste, tuple(TASTES))
    part.taste = taste
    part.save(update_fields=["taste"])


@transaction.atomic
def start_at(part: Part, slug: str) -> None:
    """Take a zone: the microphone stands there, as far off as taste and room have it.

    Raises:
        UnknownName: naming the zones there are.
    """
    found = {one.zone.slug: one for one in zones_of(part)}
    if slug not in found:
        raise UnknownName("zone", slug, tuple(found))
    here = found[slug]
    part.zone, part.distance_m, part.above_m = slug, here.distance_m, here.above_m
    part.off_mouth_deg, part.off_microphone_deg = here.off_mouth_deg, 0
    part.save(update_fields=["zone", "distance_m", "off_mouth_deg", "off_microphone_deg", "above_m"])
