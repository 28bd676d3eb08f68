"""The frontier of kits for a song, and taking one of its kits."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from django.db import transaction

from pneumen.core.errors import NothingFits, UnknownName, require_within
from pneumen.core.forecast import outcome
from pneumen.core.kit import (
    COMPUTERS,
    ROUTES,
    TONES,
    Chosen,
    Crowd,
    Frontier,
    Item,
    Kit,
    KitInUse,
    Needs,
    OwnedGear,
    Voice,
    chain_with,
    crowds_of,
    frontier_of,
    kit_in_use,
    settled,
)
from pneumen.core.verdict import Verdict
from pneumen.web.gear.services import catalogue_and_gear_at_hand
from pneumen.web.kit.at_once import entry_of, hub_of
from pneumen.web.kit.models import MUST, NEVER, KitMark
from pneumen.web.kit.needs import gear_of_song, needs_of_song, part_need, parts_of_song, parts_planned, parts_to_plan
from pneumen.web.part.models import Part
from pneumen.web.settle import settle_with
from pneumen.web.song.models import Song

TAKEN_ALONG = ("covering", "clamps", "pole", "bundle")
MOST_MONEY = 1_000_000
MARKS = (MUST, NEVER, "")


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


@lru_cache(maxsize=256)
def written(frontier: Frontier, number: int) -> Kit:
    """Return a kit of a frontier with its packing list; a drag along it asks for the same few again and again."""
    return frontier.kit(number)


def check_options(options: Mapping[str, Any]) -> None:
    """Refuse money and circumstances that cannot be.

    Raises:
        OutOfRange, UnknownName: naming the field.
    """
    for name, high in (("budget", MOST_MONEY), ("enough_clean_db", 140)):
        if name in options:
            require_within(name, options[name], 0, high)
    for name, known in (("route", ROUTES), ("system", COMPUTERS), ("tone", ("", *TONES))):
        if options.get(name, known[0]) not in known:
            raise UnknownName(name, options[name], known)


@transaction.atomic
def keep_options(song: Song, options: dict[str, Any]) -> None:
    """Store the budget and what the kit is asked for; a planned kit follows.

    Raises:
        OutOfRange, UnknownName: naming the field; nothing is stored then.
    """
    check_options(options)
    for name, value in options.items():
        setattr(song, name, value)
    song.save(update_fields=list(options))
    plan_song(song)


@transaction.atomic
def take_kit(song: Song, number: int) -> None:
    """Set every part up with a kit of the frontier; it stays until an answer that decides the gear changes."""
    frontier = frontier_of_song(song)
    kit = written(frontier, min(max(number, 0), len(frontier.points) - 1))
    _set_song_up(song, kit)
    song.budget, song.kit_taken = max(song.budget, kit.total + fixed_cost(song, frontier)), True
    song.money_short = False
    song.save(update_fields=["budget", "kit_taken", "money_short"])


@transaction.atomic
def plan_song(song: Song) -> None:
    """Set the parts up with the recommended kit within the money, those with a chain of their own with that.

    Where the money is short the cheapest kit that works stands in; where nothing works at all, the chains are assumed.
    """
    song = Song.objects.whole().get(pk=song.pk)  # with its parts as they are stored now
    song.kit_taken, song.money_short = False, money_short(song) is not None
    kit = recommended_kit(song)
    if not parts_to_plan(song):
        kit = None
    if kit is None:
        for part in parts_of_song(song):
            _set_up_with(part, Voice(), None)
        song.kit_extras.all().delete()
    else:
        _set_song_up(song, kit)
    song.save(update_fields=["kit_taken", "money_short"])


def recommended_kit(song: Song) -> Kit | None:
    """Return the kit to recommend within the song's money, the cheapest where that is short; None where none works."""
    try:
        frontier = frontier_of_song(song)
    except NothingFits:
        return None
    return written(frontier, recommended_number(song, frontier))


@dataclass(frozen=True, slots=True, kw_only=True)
class Shortage:
    """What the cheapest complete kit costs where the money does not reach; None where no kit at all does, with why."""

    cheapest: float | None
    error: NothingFits | None = None


def money_short(song: Song) -> Shortage | None:
    """Return what a song's money lacks; None where a complete kit fits it.

    Of chains that are all one's own it is what their small things cost.
    """
    if not parts_to_plan(song):
        cheapest = in_use(song).total
    else:
        try:
            frontier = frontier_of_song(song)
        except NothingFits as error:
            return Shortage(cheapest=error.cheapest_total, error=error)
        cheapest = frontier.points[-1][0] + fixed_cost(song, frontier)
    return Shortage(cheapest=cheapest) if cheapest > song.budget + CENT else None


def recommended_number(song: Song, frontier: Frontier, budget: float | None = None) -> int:
    """Return the kit to recommend within the money, the cheapest where nothing fits it."""
    within = places_within(song, frontier, song.budget if budget is None else budget) or [len(frontier.points) - 1]
    return frontier.recommended(within)


DEVICE_FIELDS = ("bought_microphone", "bought_interface", "bought_booster", "bought_box", "bought_pad")


def _set_song_up(song: Song, kit: Kit) -> None:
    song.kit_extras.all().delete()
    for item_id in extras_of(kit):
        song.kit_extras.create(owner=song.owner, item_id=item_id)
    for place, part in enumerate(parts_planned(song)):
        _set_up_with(part, kit.voices[place], kit.interface)


def _set_up_with(part: Part, voice: Voice, interface: Item | None) -> None:
    """Set a part up with its devices; what its person chose at a joint stays."""
    planned = (voice.microphone, interface, voice.booster, voice.box, voice.pad)
    for field, item in zip(DEVICE_FIELDS, planned, strict=True):
        if field not in part.gear_by_hand:
            setattr(part, field, _id(item))
    part.save(update_fields=DEVICE_FIELDS)


def extras_of(kit: Kit) -> list[str]:
    """Return the ids of what comes with a kit beside its devices and their small things."""
    return [line.item.id for line in kit.lines if line.item and line.kind in TAKEN_ALONG]


def _id(item: Item | None) -> str:
    return "" if item is None else item.id


def in_use(song: Song, kit: Kit | None = None) -> KitInUse:
    """Return the packing list of the whole song: of its chains as they are set up, or as they would be with a kit."""
    needs = needs_of_song(song)
    if len(parts_planned(song)) < len(parts_of_song(song)):
        needs = replace(needs, parts=tuple(part_need(part) for part in parts_of_song(song)))
    owned, catalogue = gear_of_song(song)
    by_id = {item.id: item for item in catalogue}
    places = {part.pk: place for place, part in enumerate(parts_planned(song))} if kit else {}
    chosen = [
        Chosen(hub=kit.hub, voice=kit.voices[places[part.pk]]) if kit and part.pk in places else _chain_of(part)
        for part in parts_of_song(song)
    ]
    # What was to be in stereo and is set up in mono needs no second stand.
    needs = replace(
        needs,
        parts=tuple(
            need if part.pk in places else replace(need, channels=part.channels)
            for part, need in zip(parts_of_song(song), needs.parts, strict=True)
        ),
    )
    extras = [row.item_id for row in song.kit_extras.all()] if kit is None else extras_of(kit)
    return kit_in_use(needs, owned, catalogue, chosen, [by_id[one] for one in extras if one in by_id])


def crowd_in(song: Song) -> Crowd | None:
    """Return where more is recorded at once than goes into what the song is set up with; None where nothing is."""
    crowds = crowds_of([entry_of(part) for part in parts_of_song(song)])
    return max(crowds.values(), key=lambda crowd: crowd.wanted - crowd.there, default=None)


def misfits_in(song: Song) -> list[Part]:
    """Return the parts that do not fit on the floor of their room."""
    return [part for part in parts_of_song(song) if not part.source_facts.fits(song.room.size_m)]


def in_mono(song: Song) -> list[Part]:
    """Return the parts that were to be in stereo, and are set up with what records one channel."""
    return [part for part in parts_of_song(song) if part.in_stereo and part.channels == 1]


def without_a_second(song: Song) -> list[Part]:
    """Return the parts that two microphones were placed for, of which one is there and no shop has the other."""
    return [part for part in parts_of_song(song) if part.in_stereo and part.has_one_only and part.channels == 2]


def supply_verdict(song: Song) -> Verdict:
    """Judge what a song is set up with as a whole: whether the money pays, and all goes in as it was asked for."""
    amiss = song.money_short or crowd_in(song) or misfits_in(song) or in_mono(song) or without_a_second(song)
    return Verdict.WATCH if amiss else Verdict.CLEAR


def _chain_of(part: Part) -> Chosen:
    voice = Voice(microphone=part.microphone, booster=part.booster, box=part.box, pad=part.pad)
    return Chosen(hub=hub_of(part), voice=voice)


def is_set_up_with(song: Song, kit: Kit) -> bool:
    """Return whether the parts that are planned together are set up with the devices of a kit."""
    now = [_ids(_chain_of(part)) for part in parts_planned(song)]
    return now == [_ids(Chosen(hub=kit.hub, voice=voice)) for voice in kit.voices]


def _ids(chosen: Chosen) -> tuple[str, ...]:
    """Name what a part is recorded with; a pad is put in by hand and is no other kit."""
    devices = (chosen.hub, chosen.voice.microphone, chosen.voice.booster, chosen.voice.box)
    return tuple(item.id for item in devices if item)


def fixed_cost(song: Song, frontier: Frontier) -> float:
    """Return what the parts with chains of their own add to every kit of a frontier: their small things."""
    if len(parts_planned(song)) == len(parts_of_song(song)):
        return 0.0
    cheapest = len(frontier.points) - 1
    return max(in_use(song, written(frontier, cheapest)).total - frontier.points[cheapest][0], 0.0)


def kit_looked_at(song: Song, frontier: Frontier, number: int) -> Kit:
    """Return a kit of a frontier with the figures its parts would have once they are set up with it.

    A pad that was put in by hand stays where it is.
    """
    kit = written(frontier, number)
    parts = [(part, replace(voice, pad=part.pad)) for part, voice in zip(parts_planned(song), kit.voices, strict=True)]
    return settled(
        kit, [outcome(settle_with(part, chain_with(part.source_facts, kit.hub, voice))) for part, voice in parts]
    )


def places_within(song: Song, frontier: Frontier, budget: float) -> list[int]:
    """Return the kits of a frontier that a sum pays for, with all the song's parts need beside."""
    beside = fixed_cost(song, frontier)
    return [place for place, point in enumerate(frontier.points) if point[0] + beside <= budget + CENT]


CENT = 0.005


@transaction.atomic
def mark(song: Song, item_id: str, wanted: str) -> None:
    """Say that an item must be in the kit, must never be, or neither.

    Raises:
        UnknownName: for a mark or an item that is not there.
    """
    if wanted not in MARKS:
        raise UnknownName("mark", wanted, MARKS)
    ids = tuple(item.id for item in catalogue_and_gear_at_hand(song.owner.gear_marks.all())[0])
    if item_id not in ids:
        raise UnknownName("item", item_id, ids[:3])
    if wanted:
        KitMark.objects.update_or_create(song=song, item_id=item_id, defaults={"owner": song.owner, "wanted": wanted})
    else:
        song.kit_marks.filter(item_id=item_id).delete()
    plan_song(song)
