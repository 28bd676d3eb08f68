"""Keeping where the microphone stands."""

from dataclasses import dataclass

from django.db import transaction

from pneumen.core.errors import require_within
from pneumen.core.place import Placement
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
    nearest, farthest = round(100 * facts.nearest_m, 1), round(100 * facts.farthest_m, 1)
    require_within("distance", round(100 * placed.distance_m, 2), nearest, farthest)
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
