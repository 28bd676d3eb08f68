"""What a song needs of a kit: its parts at their levels, its room, what is owned, and the catalogue."""

from typing import Any, Final

from django.db.models import Prefetch, prefetch_related_objects

from pneumen.core.gain import school_named
from pneumen.core.kit import (
    ANY,
    CABLE_M,
    DEAREST,
    Enough,
    Item,
    Needs,
    OwnedGear,
    PartNeed,
    RoomNeed,
    Textile,
    crowds_of,
    owned_item,
    places_of,
    shop_length_m,
)
from pneumen.core.room import TABLES, lead_run_m
from pneumen.core.setup import PlugLevels, SourceLevels
from pneumen.web.gear.models import Interface
from pneumen.web.gear.services import catalogue_and_gear_at_hand
from pneumen.web.kept_rows import as_read
from pneumen.web.kit.at_once import own_entry_of
from pneumen.web.part.models import Part
from pneumen.web.settle import planning_setup, stand_in
from pneumen.web.song.models import Song

LEAST_RT60_S = 0.05
"""What statistics take for the reverberation time of a room in which everything is absorbed."""
LEAST_HORIZON = 500.0
"""The picture reaches at least so far in money, and to twice the budget: what lies beyond is seldom asked for."""


def needs_of_song(song: Song) -> Needs:
    """Return what the parts that are planned together need of one kit, as far as the picture reaches."""
    space = song.room.to_core()
    statistics = RoomNeed(
        noise_dba=min(space.background_dba + space.noise_change_db, 140.0),
        rt60_s=min(space.rt60_s or LEAST_RT60_S, 20.0),
        volume_m3=space.volume_m3,
    )
    return Needs(
        parts=tuple(part_need(part) for part in parts_planned(song)),
        room=statistics,
        budget=horizon_of(song),
        computer=song.system,
        computer_speed=song.computer,
        sample_rate_hz=song.sample_rate_hz,
        monitors=song.monitors,
        standing=song.standing,
        renting=song.renting,
        route=song.route,
        tone=song.tone,
        take_handling=song.take_handling,
        monthly_fees=song.monthly_fees,
        lent=song.lent,
        cable_m=cable_m_of(song),
        buffer=song.buffer,
        enough=Enough(clean_range_db=song.enough_clean_db),
        must=frozenset(song.musts) | _own_devices(song),
        never=frozenset(song.nevers),
    )


def cable_m_of(song: Song) -> float:
    """Return how long a song's cables are: all as long as the part farthest from the desk on the plan asks."""
    tables = [row.to_core() for row in song.room.furniture.all() if row.kind in TABLES]
    if not tables:
        return CABLE_M
    space = song.room.to_core()
    stands = [(stand_in(part, space, part.mouth_m), part.mouth_m) for part in parts_of_song(song)]
    runs = [lead_run_m((stand.x_m, stand.y_m, height_m), tables) for stand, height_m in stands]
    return shop_length_m(max((run for run in runs if run is not None), default=None))


def part_need(part: Part) -> PartNeed:
    """Return a part as the planner sees it: at levels that hold for any chain, each pattern where it would stand."""
    levels = part.surely_known_levels or part.guessed_source_levels()
    if isinstance(levels, PlugLevels):
        levels = part.before.behind(levels)
    setup = planning_setup(part)
    places = places_of(levels, setup) if isinstance(levels, SourceLevels) else ()
    return PartNeed(
        source=part.source_facts,
        levels=levels,
        places=places,
        session=part.session,
        aim_dbfs=school_named(part.school).aim_dbfs,
        band_db=setup.performance.band_db,
        channels=2 if part.in_stereo else 1,
        instrument_price=part.instrument_price,
    )


def horizon_of(song: Song) -> float:
    """Return how far in money the picture reaches."""
    return min(max(LEAST_HORIZON, 2 * song.budget), DEAREST)


WITH_PARTS: Final = {"parts", "owned_kinds", "kit_marks", "kit_extras"}


def parts_of_song(song: Song) -> list[Part]:
    """Return a song's parts with all they are worked out from; the database is asked once for a song."""
    if not getattr(song, "_prefetched_objects_cache", {}).keys() >= WITH_PARTS:
        read = as_read(("parts", song.pk), lambda: _with_parts(song.pk))
        song.__dict__.setdefault("_prefetched_objects_cache", {}).update(read)
        for part in read["parts"]:
            part.song = song
    return list(song.parts.all())


def _with_parts(song_id: int) -> dict[str, Any]:
    """Return the rows of a song that its kit is worked out from, by their relation, as they are stored."""
    parts = Prefetch("parts", queryset=Part.objects.with_gear())
    song = Song(pk=song_id)
    prefetch_related_objects([song], parts, *sorted(WITH_PARTS - {"parts"}))
    return {name: song._prefetched_objects_cache[name] for name in WITH_PARTS}  # type: ignore[attr-defined]


def parts_planned(song: Song) -> list[Part]:
    """Return the parts a kit is looked for: those to plan, or all where there is none."""
    return parts_to_plan(song) or parts_of_song(song)


def parts_to_plan(song: Song) -> list[Part]:
    """Return the parts without a whole chain of their own, and those recorded at once with one of them.

    Where chains of one's own would share an input of a kind, a box before one of them is to be planned; where there
    are too few inputs in all, they can be recorded one after the other: that is told, nothing is bought for it.
    """
    parts = parts_of_song(song)
    crowds = crowds_of([own_entry_of(part) for part in parts if part.has_own_chain])
    sessions = {part.session for part in parts if not part.has_own_chain}
    sessions |= {session for session, crowd in crowds.items() if crowd.kind != ANY}
    return [part for part in parts if part.session in sessions]


def _own_devices(song: Song) -> frozenset[str]:
    """Return what the kit has to be built round: the one device its person owns that serves the parts to be planned."""
    if not parts_to_plan(song):
        return frozenset()
    found = {
        row.to_core().id
        for part in parts_planned(song)
        for row in part.own_rows
        if isinstance(row, Interface) or not part.is_plugged  # a plug has no use for a microphone
    }
    return frozenset(found) if len(found) == 1 else frozenset()


def gear_of_song(song: Song) -> tuple[OwnedGear, tuple[Item, ...]]:
    """Return what is owned for a song's parts, and the catalogue of its owner."""
    parts = parts_of_song(song)
    catalogue, at_hand = catalogue_and_gear_at_hand(parts[0].owner.gear_marks.all())
    owned = {item.id: owned_item(item) for item in at_hand}
    for part in parts:
        owned |= {item.id: item for item in part.owned_gear().items}
    textiles = tuple(
        Textile(material=soft.material, width_m=soft.width_m, height_m=soft.height_m) for soft in song.room.to_hang
    )
    return OwnedGear(items=tuple(owned.values()), kinds=song.core_owned_kinds, textiles=textiles), catalogue
