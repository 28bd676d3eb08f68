"""The offer of a better kit, for a part whose own chain is at its end."""

from dataclasses import dataclass

from pneumen.core.errors import NothingFits
from pneumen.core.kit import better_kit
from pneumen.web.kit.needs import parts_planned
from pneumen.web.kit.services import fixed_cost, frontier_of_song, kit_looked_at, places_within, recommended_number
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.wording.kit import better_told


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """A kit to look at: its number on the frontier, and what it brings this part."""

    number: int
    told: str


def offer_for(part: Part) -> Offer | None:
    """Return the kit that would be recommended for the song, where it brings this part what it lacks."""
    song = part.song
    numbers = {one.pk: number for number, one in enumerate(parts_planned(song))}
    if part.pk not in numbers:  # its gear is its own: no kit is looked for
        return None
    try:
        frontier = frontier_of_song(song)
    except NothingFits:
        return None
    number = recommended_number(song, frontier)
    outcome = outcome_of(part)
    enough_db = frontier.needs.enough.clean_range_db
    found = better_kit(
        kit_looked_at(song, frontier, number), numbers[part.pk], outcome.levels, outcome.setup.school, enough_db
    )
    if found is None:
        return None
    total = frontier.points[number][0] + fixed_cost(song, frontier)
    affordable = bool(places_within(song, frontier, song.budget))
    return Offer(number=number, told=better_told(found, total, affordable=affordable))
