"""What a song needs of a kit, the frontier for it, and taking one of its kits."""

from dataclasses import replace
from functools import lru_cache
from typing import Any

from django.db import transaction

from pneumen.core.errors import UnknownName
from pneumen.core.kit import Frontier, Item, Needs, OwnedGear, frontier_of, owned_item, part_need
from pneumen.web.gear.services import catalogue_and_gear_at_hand
from pneumen.web.song.models import Part, Song, room_need
from pneumen.web.start.services import set_up

LEAST_HORIZON = 500.0
"""The picture reaches at least so far in money, and to twice the budget: what lies beyond is seldom asked for."""
MARKS = ("must", "never", "")


def needs_of_song(song: Song) -> Needs:
    """Return what all parts of a song need of one kit, as far as the picture reaches."""
    room = room_need(song.room)
    parts = []
    for part in parts_of_song(song):
        known = part.known_source_levels() if part.known_absolute else None
        parts.append(part_need(part.source, room, levels=known or part.guessed_source_levels(), session=part.session))
    return Needs(
        parts=tuple(parts),
        room=room,
        budget=horizon_of(song),
        computer=song.system,
        computer_speed=song.computer,
        monitors=song.monitors,
        standing=song.standing,
        renting=song.renting,
        route=song.route,
        tone=song.tone,
        take_handling=song.take_handling,
        monthly_fees=song.monthly_fees,
        good_enough_db=song.good_enough_db,
        must=frozenset(song.kit_must),
        never=frozenset(song.kit_never),
    )


def horizon_of(song: Song) -> float:
    """Return how far in money the picture reaches."""
    return max(LEAST_HORIZON, 2 * song.budget)


def parts_of_song(song: Song) -> list[Part]:
    """Return a song's parts with their gear, asked for once a request."""
    if not hasattr(song, "parts_with_gear"):
        song.parts_with_gear = list(
            song.parts.select_related("own_microphone", "own_interface").prefetch_related("sections")
        )
        for part in song.parts_with_gear:
            part.song = song
    return song.parts_with_gear


def gear_of_song(song: Song) -> tuple[OwnedGear, tuple[Item, ...]]:
    """Return what is owned for a song's parts, and the catalogue of its owner; asked for once a request."""
    if not hasattr(song, "gear_for_kits"):
        catalogue, at_hand = catalogue_and_gear_at_hand(song.owner_id)
        owned = {item.id: owned_item(item) for item in at_hand}
        for part in parts_of_song(song):
            owned |= {item.id: item for item in part.owned_gear().items}
        mine = OwnedGear(items=tuple(owned.values()), kinds=tuple(sorted(song.owned_kinds)))
        song.gear_for_kits = mine, catalogue
    return song.gear_for_kits


def frontier_of_song(song: Song) -> Frontier:
    """Return every kit worth buying for a song.

    Raises:
        NothingFits: where there is none within the picture.
    """
    return _frontier(needs_of_song(song), *gear_of_song(song))


def frontier_of_route(song: Song, route: str) -> Frontier:
    """Return every kit worth buying by one route, whatever else is asked for.

    Raises:
        NothingFits: where the route leads nowhere within the picture.
    """
    return _frontier(replace(needs_of_song(song), route=route), *gear_of_song(song))


@lru_cache(maxsize=32)
def _frontier(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> Frontier:
    return frontier_of(needs, owned, catalogue)


@transaction.atomic
def keep_options(song: Song, options: dict[str, Any]) -> None:
    """Store the budget and what the kit is asked for."""
    for name, value in options.items():
        setattr(song, name, value)
    song.save()


@transaction.atomic
def take_kit(song: Song, number: int) -> None:
    """Set every part up with a kit of the frontier."""
    frontier = frontier_of_song(song)
    kit = frontier.kit(min(max(number, 0), len(frontier.points) - 1))
    for place, part in enumerate(parts_of_song(song)):
        _use_own_or_bought(part, kit, place)
    song.budget = max(song.budget, kit.total)
    song.save(update_fields=["budget"])


def _use_own_or_bought(part: Part, kit: Any, place: int) -> None:  # noqa: ANN401 - a Kit
    before = part.chain_name
    microphone, interface = kit.voices[place].microphone, kit.interface
    part.own_microphone = part.own_microphone if _is_row(part.own_microphone, microphone) else _row(part, microphone)
    part.own_interface = part.own_interface if _is_row(part.own_interface, interface) else _row(part, interface)
    set_up(part, kit, place, before)


def _is_row(row: Any, item: Item | None) -> bool:  # noqa: ANN401 - a row of either kind of device
    return row is not None and item is not None and row.to_core().id == item.id


def _row(part: Part, item: Item | None) -> Any:  # noqa: ANN401 - a row of either kind of device
    """Return the person's own device an item stands for, where it is one described on the Start screen."""
    if item is None or not item.id.startswith("own-"):
        return None
    rows = [row for other in parts_of_song(part.song) for row in (other.own_microphone, other.own_interface) if row]
    return next((row for row in rows if row.to_core().id == item.id), None)


def mark(song: Song, item_id: str, wanted: str) -> None:
    """Say that an item must be in the kit, must never be, or neither.

    Raises:
        UnknownName: for a mark or an item that is not there.
    """
    if wanted not in MARKS:
        raise UnknownName("mark", wanted, MARKS)
    ids = tuple(item.id for item in catalogue_and_gear_at_hand(song.owner_id)[0])
    if item_id not in ids:
        raise UnknownName("item", item_id, ids[:3])
    for name in ("must", "never"):
        kept = [one for one in getattr(song, f"kit_{name}") if one != item_id]
        setattr(song, f"kit_{name}", [*kept, item_id] if wanted == name else kept)
    song.save(update_fields=["kit_must", "kit_never"])
