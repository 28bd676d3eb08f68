"""Keeping where the microphone stands, and starting from a zone of the instrument."""

from dataclasses import dataclass
from typing import Any

from django.db import transaction

from pneumen.core.errors import UnknownName, require_within
from pneumen.core.forecast import ZoneHere, zones_here
from pneumen.core.gear import GRILLE_M
from pneumen.core.place import LOW_CUTS_HZ, MOST_RISE, TASTES, USUAL_PAIR, StereoPair
from pneumen.web.kit.services import plan_song
from pneumen.web.lengths import require_far, require_near
from pneumen.web.part.models import YOURS, Part
from pneumen.web.settle import require_distance, settle

SHEETS_M = (0.1, 0.3, 0.5, 1.0, 100.0)
"""Where data sheets take the response; 1 m where they say nothing else (common practice, no source)."""
PLANNED = ("distance_m", "aside_deg", "above_m")
"""What is planned until it is set by hand."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Placing:
    """What was changed of how a microphone stands; None is left as it is.

    from_grille tells that its person measures to the grille; sheet_m where the data sheet's response was taken.
    """

    distance_m: float | None = None
    aside_deg: float | None = None
    turned_deg: float | None = None
    above_m: float | None = None
    pop_screen: bool | None = None
    screen_before_m: float | None = None
    low_cut_hz: float | None = None
    from_grille: bool | None = None
    sheet_m: float | None = None

    @property
    def changes(self) -> dict[str, float | bool]:
        values = {name: getattr(self, name) for name in Placing.__dataclass_fields__}
        return {name: value for name, value in values.items() if value is not None}

    @property
    def of_placement(self) -> dict[str, Any]:
        """The changes the core knows: how one measures, and where the sheet was taken, are the reader's own."""
        return {name: value for name, value in self.changes.items() if name not in ("from_grille", "sheet_m")}


def check(part: Part, placing: Placing) -> None:
    """Refuse what cannot be.

    Raises:
        OutOfRange, UnknownName: naming the field.
    """
    facts, told = part.source_facts, placing.changes
    from_grille = told.get("from_grille", part.from_grille)
    distance_m = told.get("distance_m", part.distance_m or facts.usual_m)
    if "distance_m" in told:
        require_distance(part, told["distance_m"], behind_m=GRILLE_M if from_grille else 0.0)
    if "aside_deg" in told:
        require_within("aside", told["aside_deg"], -90, 90)
    if "turned_deg" in told:
        require_within("turned", told["turned_deg"], -180, 180)
    if "above_m" in told:
        require_near("height over the mouth", told["above_m"], -MOST_RISE * distance_m, MOST_RISE * distance_m)
    if "screen_before_m" in told:
        require_near("pop screen before the capsule", told["screen_before_m"], 0.01, 0.5)
    if told.get("low_cut_hz", 0) not in LOW_CUTS_HZ:
        raise UnknownName("low-cut", f"{told['low_cut_hz']:g} Hz", tuple(f"{one} Hz" for one in LOW_CUTS_HZ))
    if "sheet_m" in told:
        require_far("data sheet", told["sheet_m"], 0.05, 1000)


@transaction.atomic
def keep(part: Part, placing: Placing) -> None:
    """Store what was changed, and only that.

    Raises:
        OutOfRange, UnknownName: naming the field.
    """
    check(part, placing)
    fields = list(placing.changes)
    for name, value in placing.changes.items():
        setattr(part, name, value)
    if any(name in PLANNED for name in fields):
        part.place_origin = YOURS
        fields.append("place_origin")
    if fields:
        part.save(update_fields=fields)


@transaction.atomic
def keep_pair(part: Part, *, between_deg: float | None, spacing_m: float | None) -> None:
    """Record a part in stereo with a pair of microphones; where it was in mono the song's kit is planned anew.

    Raises:
        OutOfRange: naming the field.
    """
    usual = USUAL_PAIR
    wanted = StereoPair(
        pattern=usual.pattern,
        between_deg=usual.between_deg if between_deg is None else between_deg,
        spacing_m=usual.spacing_m if spacing_m is None else spacing_m,
    )
    part.between_deg, part.spacing_m = wanted.between_deg, wanted.spacing_m
    part.save(update_fields=["between_deg", "spacing_m"])
    _set_format(part, "stereo")


@transaction.atomic
def record_in_mono(part: Part) -> None:
    """Go back to one microphone; the pair is kept in mind."""
    _set_format(part, "mono")


def _set_format(part: Part, wanted: str) -> None:
    if part.format != wanted:
        part.format = wanted
        part.save(update_fields=["format"])
        plan_song(part.song)


@transaction.atomic
def choose_taste(part: Part, taste: str) -> None:
    if taste not in TASTES:
        raise UnknownName("taste", taste, tuple(TASTES))
    part.taste = taste
    part.save(update_fields=["taste"])


def zones_of(part: Part) -> tuple[ZoneHere, ...]:
    """Return a part's zones in its room, the best start first; none where no body is drawn for it."""
    return zones_here(settle(part), part.taste)


@transaction.atomic
def start_at(part: Part, slug: str) -> None:
    """Choose a zone: distance, side and height are planned for it from now on.

    Raises:
        UnknownName: naming the zones there are.
    """
    found = {one.zone.slug for one in zones_of(part)}
    if slug not in found:
        raise UnknownName("zone", slug, tuple(sorted(found)))
    part.zone, part.place_origin, part.turned_deg = slug, "", 0
    part.distance_m = part.above_m = part.aside_deg = None
    part.save(update_fields=["zone", "place_origin", "turned_deg", "distance_m", "above_m", "aside_deg"])
