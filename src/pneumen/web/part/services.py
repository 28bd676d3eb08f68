"""Keeping a part's sections, its role, and how often it is doubled."""

from dataclasses import dataclass
from typing import Any

from django.db import transaction

from pneumen.core.errors import UnknownName, require_within
from pneumen.core.part import ROLES, USUAL_SECTIONS
from pneumen.core.part import Section as CoreSection
from pneumen.web.song.models import Part, Section

MOST_SECTIONS = 40
MOST_DOUBLES = 12
MOST_WORDS = 4000


@dataclass(frozen=True, slots=True, kw_only=True)
class Typed:
    """What was typed of one section, checked."""

    section: CoreSection
    words: str


@transaction.atomic
def keep(part: Part, typed: dict[int, Typed], options: dict[str, Any]) -> None:
    """Store what was typed of the sections and of the part itself."""
    if "role" in options and options["role"] not in ROLES:
        raise UnknownName("role", options["role"], ROLES)
    require_within("doubles", options["doubles"], 0, MOST_DOUBLES)
    part.role, part.doubles = options["role"], int(options["doubles"])
    part.save(update_fields=["role", "doubles"])
    for row in part.sections.all():
        if row.pk in typed:
            core = typed[row.pk].section
            row.name, row.bars, row.loudness_db = core.name, core.bars, core.loudness_db
            row.words = typed[row.pk].words[:MOST_WORDS]
            row.save()


@transaction.atomic
def add(part: Part, name: str) -> None:
    """Add a section at the end: a usual one with its usual bars and loudness, or one of one's own name."""
    number = part.sections.count()
    require_within("sections", number + 1, 1, MOST_SECTIONS)
    bars, loudness_db = {one: rest for one, *rest in USUAL_SECTIONS}.get(name, (8, 0.0))
    core = CoreSection(name=name[:60], bars=bars, loudness_db=loudness_db)
    Section.objects.create(
        owner=part.owner, part=part, name=core.name, bars=core.bars, loudness_db=core.loudness_db, position=number
    )


@transaction.atomic
def add_usual(part: Part) -> None:
    """Add verse, chorus, verse, bridge, chorus: the shape to start from."""
    for name in ("Verse", "Chorus", "Verse", "Bridge", "Chorus"):
        add(part, name)


@transaction.atomic
def move(part: Part, section_id: int, by: int) -> None:
    """Move a section one place earlier or later."""
    rows = list(part.sections.all())
    place = next((n for n, row in enumerate(rows) if row.pk == section_id), None)
    if place is None:
        return
    rows.insert(min(max(place + by, 0), len(rows) - 1), rows.pop(place))
    for position, row in enumerate(rows):
        row.position = position
        row.save(update_fields=["position"])


def remove(part: Part, section_id: int) -> None:
    part.sections.filter(pk=section_id).delete()
