"""Keeping where the microphone stands."""

from dataclasses import dataclass

from django.db import transaction

from pneumen.core.place import Placement
from pneumen.web.lengths import require_near
from pneumen.web.song.models import Part


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """A distance to the capsule, both angles, and whether a screen stands before it."""

    distance_m: float
    off_mouth_deg: float
    off_microphone_deg: float
    pop_screen: bool


def check(part: Part, placed: Placed) -> None:
    """Refuse what cannot be.

    Raises:
        OutOfRange: naming the field.
    """
    facts = part.source_facts
    require_near("distance", placed.distance_m, facts.nearest_m, facts.farthest_m)
    Placement(pattern="omni", off_mouth_deg=placed.off_mouth_deg, off_microphone_deg=placed.off_microphone_deg)


@transaction.atomic
def keep(part: Part, placed: Placed) -> None:
    """Store where the microphone stands.

    Raises:
        OutOfRange: naming the field.
    """
    check(part, placed)
    part.distance_m, part.pop_screen = placed.distance_m, placed.pop_screen
    part.off_mouth_deg, part.off_microphone_deg = placed.off_mouth_deg, placed.off_microphone_deg
    part.save(update_fields=["distance_m", "pop_screen", "off_mouth_deg", "off_microphone_deg"])
