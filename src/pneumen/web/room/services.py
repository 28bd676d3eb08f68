"""Drawing a room, standing in it, hanging things, naming noises, taking in a clap."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import msgspec
from django.db import transaction
from django.db.models import prefetch_related_objects

from pneumen.core.errors import Contradiction, PneumenError, UnknownName, require_within
from pneumen.core.forecast import PartSetup, standing_at
from pneumen.core.place import MOST_RISE
from pneumen.core.rig import simulate_clap
from pneumen.core.room import (
    AT_HAND,
    WALLS,
    Arrangement,
    Clap,
    Slot,
    Soft,
    Space,
    best_arrangement,
    clap_of,
    material_named,
    require_furnished,
    require_hangable,
    require_hung,
    scale_for_rt60,
    usual_slots,
    with_hung,
)
from pneumen.core.take import open_recording
from pneumen.web.audio.services import Sent, received
from pneumen.web.lengths import require_far, require_near
from pneumen.web.part.models import YOURS, Part
from pneumen.web.room.models import Covering, Furniture, NoiseSource, Room
from pneumen.web.settle import require_distance, settle
from pneumen.web.song.models import Song
from pneumen.wording.language import _

MOST_COVERINGS = 12
MOST_NOISES = 12
LONGEST_CLAP_S = 60.0
MOST_CLAP_SAMPLES = 5_760_000
MOST_PIECES = 8
Places = dict[int, tuple[float, float, int]]
"""Furniture by id: where its middle is, from west and south, and how it is turned."""


@transaction.atomic
def stand(part: Part, *, hour: float | None = None, moved: Places | None = None, **told: float) -> None:
    """Store what was changed of where performer, microphone and furniture stand, and the hour of recording.

    Args:
        moved: furniture by id, as furniture_at takes it.
        told: fields of Placement: x_m, y_m, height_m, facing_deg, distance_m, aside_deg, above_m, turned_deg.

    Raises:
        OutOfRange, Contradiction: naming the field, or what would stand in something else.
    """
    check(part, **told)
    if hour is not None:
        require_within("hour", hour, 0, 24)
        part.song.room.hour = hour
        part.song.room.save(update_fields=["hour"])
    if moved:
        for row in furniture_at(part.song.room, moved):
            row.save(update_fields=["x_m", "y_m", "turned_deg"])
        set_drawn(part.song.room)
    fields: list[str] = [name for name in ("distance_m", "aside_deg", "above_m", "turned_deg") if name in told]
    for name in fields:
        setattr(part, name, told[name])
    if {"distance_m", "aside_deg", "above_m"} & set(told):
        part.place_origin = YOURS
        fields.append("place_origin")
    if "height_m" in told:
        part.mouth_m = told["height_m"]
        fields.append("mouth_m")
    if {"x_m", "y_m", "facing_deg"} & set(told):
        stands: dict[str, Any] = {name: told[name] for name in ("x_m", "y_m", "facing_deg") if name in told}
        here = settle(part, **stands).placement
        part.stand_x_m, part.stand_y_m = told.get("x_m", here.x_m), told.get("y_m", here.y_m)
        part.facing_deg, part.stand_origin = told.get("facing_deg", here.facing_deg) % 360, YOURS
        fields += ["stand_x_m", "stand_y_m", "facing_deg", "stand_origin"]
    if fields:
        part.save(update_fields=fields)


def furniture_at(room: Room, moved: Places) -> list[Furniture]:
    """Move furniture in a room that is not stored thereby; return the rows that moved.

    Raises:
        Contradiction, OutOfRange, UnknownName: for what would stand in a wall or in something else; then it stays.
    """
    prefetch_related_objects([room], "furniture", "coverings", "openings")
    rows = [row for row in room.furniture.all() if row.pk in moved]
    before = {row.pk: (row.x_m, row.y_m, row.turned_deg) for row in rows}
    _set_places(rows, moved)
    try:
        require_furnished(room.layout)
        if room.drawn:
            require_hung(room.layout)
    except PneumenError:
        _set_places(rows, before)
        raise
    return rows


def _set_places(rows: list[Furniture], places: Places) -> None:
    for row in rows:
        row.x_m, row.y_m, row.turned_deg = places[row.pk]


def check(part: Part, **told: float) -> None:
    """Refuse places that cannot be, whichever fields of Standpoint are told."""
    room, facts = part.song.room, part.source_facts
    for name, words, high in (("x_m", "from west", room.size_x_m), ("y_m", "from south", room.size_y_m)):
        if name in told:
            require_far(words, told[name], 0, high)
    if "height_m" in told:
        require_far("height", told["height_m"], 0.2, min(2.5, room.size_z_m - 0.1))
    distance_m = told.get("distance_m") or part.distance_m or facts.usual_m
    if "distance_m" in told and not part.is_plugged:
        require_distance(part, distance_m)
    if "above_m" in told:
        require_near("height over the mouth", told["above_m"], -MOST_RISE * distance_m, MOST_RISE * distance_m)
    for name, words, most in (("facing_deg", "facing", 360), ("aside_deg", "aside", 90), ("turned_deg", "turned", 180)):
        if name in told:
            require_within(words, told[name], -most, most)


def fresh(room: Room) -> Room:
    """Return a room as it is stored now; within a transaction nobody changes it meanwhile."""
    return Room.objects.whole().get(pk=room.pk)


def set_drawn(room: Room) -> None:
    """From now on the drawing counts, not the words."""
    room.drawn = True
    room.save(update_fields=["drawn"])


@transaction.atomic
def draw(room: Room, *, size_m: tuple[float, float, float], surfaces: dict[str, str], sloping: bool) -> None:
    """Store a room's shape and walls; from now on the drawing counts, not the words.

    Raises:
        OutOfRange, UnknownName, Contradiction: naming what cannot be; nothing is stored then.
    """
    room = fresh(room)
    for wall in WALLS:
        material_named(surfaces.get(wall, ""))
    room.size_x_m, room.size_y_m, room.size_z_m = size_m
    room.surfaces = {wall: surfaces[wall] for wall in WALLS}
    room.sloping, room.drawn = sloping, True
    require_furnished(room.layout)
    require_hung(room.layout)
    room.save(update_fields=["size_x_m", "size_y_m", "size_z_m", "surfaces", "sloping", "drawn"])


@transaction.atomic
def add_covering(room: Room, *, label: str, material: str, width_m: float, height_m: float, count: int = 1) -> None:
    """Store that one has something soft, once or several times; it hangs nowhere yet."""
    room = fresh(room)
    name = " ".join(label.split())[:40] or material_named(material).label.split(",")[0]
    soft = Soft(label=name, material=material, width_m=width_m, height_m=height_m)
    soft.piece()  # refuses what cannot be
    require_within(_("how many"), count, 1, MOST_COVERINGS)
    require_within("coverings", room.coverings.count() + count, 1, MOST_COVERINGS)
    for number in range(1, count + 1):
        one = replace(soft, label=f"{name} {number}" if count > 1 else name)
        room.coverings.create(owner=room.owner, **Covering.fields_of(one))


@transaction.atomic
def keep_at_hand(room: Room, counts: Mapping[str, int]) -> None:
    """Store how many of the soft things of most homes are there, by material; of fewer, those that hang go last.

    Raises:
        OutOfRange: where there would be too many to hang.
    """
    for usual in AT_HAND:
        have = room.coverings.filter(material=usual.material, laid_out=False)
        more = counts.get(usual.material, have.count()) - have.count()
        if more > 0:
            told = {"label": usual.label, "material": usual.material}
            add_covering(room, width_m=usual.width_m, height_m=usual.height_m, count=more, **told)
        for row in have.order_by("on", "-pk")[: max(-more, 0)]:
            remove_covering(room, row.pk)


@transaction.atomic
def remove_covering(room: Room, number: int) -> None:
    hung = room.coverings.filter(pk=number).exclude(on="").exists()
    room.coverings.filter(pk=number).delete()
    if hung:
        set_drawn(room)


@transaction.atomic
def hang(room: Room, number: int, on: str, u: float, v: float) -> None:
    """Hang a piece on a wall with its middle there, or take it down (on is empty).

    Raises:
        UnknownName, OutOfRange, Contradiction: for a wall or piece there is not, or a wall that is full.
    """
    room = fresh(room)
    rows = {row.pk: row for row in room.coverings.all()}
    if number not in rows:
        raise UnknownName("piece", str(number), tuple(str(one) for one in rows))
    row = rows[number]
    row.on = on
    if on:
        row.u, row.v = u, v
        require_hangable(room.size_m, row.to_core())
    require_hung(room.layout)
    row.save(update_fields=["on", "u", "v"])
    set_drawn(room)


@dataclass(frozen=True, slots=True, kw_only=True)
class Hanging:
    """The best arrangement of all that is there, the slot of each piece by its id, and the room as it would be then."""

    arrangement: Arrangement
    slots: dict[int, Slot]
    space: Space


def best_hanging(part: Part, setup: PartSetup) -> Hanging | None:
    """Return the best way to hang what is there for a part where it stands; None without pieces."""
    room, layout = part.song.room, part.song.room.layout
    rows = list(room.coverings.all())
    # What lies on the floor is no curtain: it stays.
    lying = [row for row in rows if row.on == "floor"]
    loose = [(row.pk, row.to_core().piece(layout.absorption_scale)) for row in rows if row.on != "floor"]
    box = replace(layout, soft=tuple(row.to_core() for row in lying)).box
    slots = usual_slots(box, blocked=layout.behind_furniture)
    if not loose or not slots:
        return None
    found = best_arrangement(box, standing_at(setup), [piece for _rest, piece in loose][:MOST_PIECES], slots)
    free, places = dict(loose), {}
    for one in found.hung:
        number = next(number for number, piece in free.items() if piece == one.piece)
        del free[number]
        places[number] = one.slot
    hung = with_hung(box, [(one.piece, one.slot) for one in found.hung])
    return Hanging(arrangement=found, slots=places, space=replace(setup.drawn_space, box=hung))


@transaction.atomic
def hang_best(part: Part) -> None:
    """Hang everything where it does most."""
    found = best_hanging(part, settle(part))
    if found is None:
        return
    room = part.song.room
    for row in room.coverings.exclude(on="floor"):
        slot = found.slots.get(row.pk)
        row.on = slot.on if slot else ""
        row.u, row.v = slot.middle_m if slot else (row.u, row.v)
        row.save(update_fields=["on", "u", "v"])
    set_drawn(room)


@transaction.atomic
def add_noise(room: Room, **told: Any) -> None:
    """Store a source of noise: name, x_m, y_m, z_m, level_dba, from_hour, to_hour and spectrum.

    Raises:
        OutOfRange, Contradiction: naming what cannot be.
    """
    room = fresh(room)
    row = NoiseSource(owner=room.owner, room=room, **told | {"name": told["name"][:40]})
    place_m = row.to_core().place_m  # refuses what cannot be
    for axis, value, side in zip("xyz", place_m, room.size_m, strict=True):
        require_far(_("place along {axis}").format(axis=axis), value, 0, side)
    require_within("noises", room.noises.count() + 1, 1, MOST_NOISES)
    row.save()


@transaction.atomic
def remove_noise(room: Room, number: int) -> None:
    room.noises.filter(pk=number).delete()


def take_in_clap(room: Room, sent: Sent) -> Clap:
    """Read a clap's file and keep what it tells; the file itself is not kept.

    Raises:
        UnreadableFile: where it is no recording, or holds no clap.
    """
    with received(sent) as incoming, open_recording(incoming.path) as recording:
        rate_hz = recording.sample_rate_hz
        samples = recording.loudest_channel(min(LONGEST_CLAP_S, MOST_CLAP_SAMPLES / rate_hz))
    return keep_clap(room, clap_of(samples, rate_hz))


def simulated_clap(part: Part) -> Clap:
    """Let the stand-in clap in this room, where the performer stands."""
    room, here = part.song.room, settle(part).placement
    return keep_clap(room, clap_of(simulate_clap(room.box, here.mouth_m, here.microphone_m, seed=part.pk), 48_000))


@transaction.atomic
def keep_clap(room: Room, clap: Clap) -> Clap:
    """Keep what a clap tells; it is used once its person says so."""
    room.clap = msgspec.to_builtins(clap)
    room.save(update_fields=["clap"])
    return clap


def forget_clap(room: Room) -> None:
    room.clap, room.absorption_scale = None, 1.0
    room.save(update_fields=["clap", "absorption_scale"])


def use_clap(room: Room, *, use: bool) -> None:
    """Let the measured reverberation time scale what the room absorbs, or go back to the tables."""
    rt60_s = (room.clap or {}).get("rt60_s") or 0.0
    if use and not rt60_s:
        raise Contradiction("clap", _("tells no reverberation time in the middle: clap again, louder"))
    as_in_tables = replace(room.layout, absorption_scale=1.0)
    room.absorption_scale = scale_for_rt60(as_in_tables.box, rt60_s) if use else 1.0
    room.save(update_fields=["absorption_scale"])


@transaction.atomic
def use_room(song: Song, room: Room) -> None:
    song.room = room
    song.save(update_fields=["room"])


@transaction.atomic
def new_room(song: Song, name: str) -> Room:
    """Make a room of the person's home and record this song in it."""
    name = " ".join(name.split())[:80]
    if not name:
        raise Contradiction("name", _("of a room must not be empty"))
    room = Room.objects.create(owner=song.owner, name=name, size="medium", furnishing="some", noise="unknown")
    use_room(song, room)
    return room
