"""Drawing a room, standing in it, hanging things, naming noises, taking in a clap."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

import msgspec
from django.db import transaction

from pneumen.core.errors import Contradiction, UnknownName, require_within
from pneumen.core.forecast import PartSetup, standing_at
from pneumen.core.place import MOST_RISE
from pneumen.core.rig import simulate_clap
from pneumen.core.room import (
    AXIS_OF,
    MATERIALS,
    WALLS,
    Arrangement,
    Box,
    Clap,
    Noise,
    Piece,
    Slot,
    Space,
    best_arrangement,
    clap_of,
    common_m2,
    covering_of,
    material_named,
    require_places,
    scale_for_rt60,
    usual_slots,
    with_hung,
)
from pneumen.core.take import open_recording
from pneumen.web.lengths import require_far, require_near
from pneumen.web.song.models import YOURS, Part, Room, Song
from pneumen.web.song.settle import settle
from pneumen.web.take import files

MOST_COVERINGS = 12
MOST_NOISES = 12
TOUCHING_M2 = 1e-3
FOLD_M = 0.5
"""So much of a piece may be folded over."""
LONGEST_CLAP_S = 60.0
MOST_PIECES = 8
HANG_WORDS = ("low", "middle", "high")


@transaction.atomic
def stand(part: Part, *, hour: float | None = None, **told: float) -> None:
    """Store what was changed of where performer and microphone stand, and the hour of recording.

    Args:
        told: fields of Placement: x_m, y_m, height_m, facing_deg, distance_m, aside_deg, above_m, turned_deg.

    Raises:
        OutOfRange: naming the field.
    """
    room = part.song.room
    check(part, **told)
    if hour is not None:
        require_within("hour", hour, 0, 24)
    fields = [name for name in ("distance_m", "aside_deg", "above_m", "turned_deg") if name in told]
    for name in fields:
        setattr(part, name, told[name])
    if {"distance_m", "aside_deg", "above_m"} & set(told):
        part.place_origin = YOURS
        fields.append("place_origin")
    if "height_m" in told:
        part.mouth_m = told["height_m"]
        fields.append("mouth_m")
    if {"x_m", "y_m", "facing_deg"} & set(told):
        here = settle(part, **{name: told[name] for name in ("x_m", "y_m", "facing_deg") if name in told}).placement
        part.stand_x_m, part.stand_y_m = told.get("x_m", here.x_m), told.get("y_m", here.y_m)
        part.facing_deg, part.stand_origin = told.get("facing_deg", here.facing_deg) % 360, YOURS
        fields += ["stand_x_m", "stand_y_m", "facing_deg", "stand_origin"]
    if fields:
        part.save(update_fields=fields)
    room.hour = room.hour if hour is None else hour
    room.save(update_fields=["hour", "furniture", "drawn"])


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
        require_near("distance", distance_m, facts.nearest_m, facts.farthest_m)
    if "above_m" in told:
        require_near("height over the mouth", told["above_m"], -MOST_RISE * distance_m, MOST_RISE * distance_m)
    for name, words, most in (("facing_deg", "facing", 360), ("aside_deg", "aside", 90), ("turned_deg", "turned", 180)):
        if name in told:
            require_within(words, told[name], -most, most)


@transaction.atomic
def draw(room: Room, *, size_m: tuple[float, float, float], surfaces: dict[str, str], sloping: bool) -> None:
    """Store a room's shape and walls; from now on the drawing counts, not the words.

    Raises:
        OutOfRange, UnknownName, Contradiction: naming what cannot be; nothing is stored then.
    """
    for wall in WALLS:
        material_named(surfaces.get(wall, ""))
    room.size_x_m, room.size_y_m, room.size_z_m = size_m
    room.surfaces = {wall: surfaces[wall] for wall in WALLS}
    room.sloping, room.drawn = sloping, True
    require_room(room)
    save(room)


def require_room(room: Room) -> None:
    """Refuse a room that cannot be: of no size, furniture in a wall, openings beyond it, too much hung."""
    forget_boxes(room)
    Box(size_m=room.size_m, surfaces={wall: MATERIALS[room.surfaces[wall]].absorption for wall in WALLS})
    require_places(room.size_m, [piece for _, piece in room.placed])
    if room.drawn:
        _check_room_on_walls(room, room.coverings)


def forget_boxes(room: Room) -> None:
    for name in ("bare_box", "box"):
        room.__dict__.pop(name, None)


def next_id(rows: list[dict[str, Any]]) -> int:
    return max((row["id"] for row in rows), default=0) + 1


def save(room: Room) -> None:
    forget_boxes(room)
    room.save()


@transaction.atomic
def add_covering(room: Room, *, label: str, material: str, width_m: float, height_m: float, count: int = 1) -> None:
    """Store that one has something soft, once or several times; it hangs nowhere yet."""
    name = " ".join(label.split())[:40] or material_named(material).label.split(",")[0]
    absorption = material_named(material).absorption
    Piece(label=name, absorption=absorption, width_m=width_m, height_m=height_m)  # refuses what cannot be
    require_within("how many", count, 1, MOST_COVERINGS)
    require_within("coverings", len(room.coverings) + count, 1, MOST_COVERINGS)
    size = {"width_m": width_m, "height_m": height_m}
    for number in range(1, count + 1):
        one = f"{name} {number}" if count > 1 else name
        row = {"id": next_id(room.coverings), "label": one, "material": material, "on": ""} | size
        room.coverings = [*room.coverings, row]
    room.drawn = True
    save(room)


@transaction.atomic
def remove_covering(room: Room, number: int) -> None:
    room.coverings, room.drawn = [row for row in room.coverings if row["id"] != number], True
    save(room)


@transaction.atomic
def hang(room: Room, number: int, on: str, u: float, v: float) -> None:
    """Hang a piece on a wall with its middle there, or take it down (on is empty).

    Raises:
        UnknownName, OutOfRange, Contradiction: for a wall or piece there is not, or a wall that is full.
    """
    row = next((row for row in room.coverings if row["id"] == number), None)
    if row is None:
        raise UnknownName("piece", str(number), tuple(str(row["id"]) for row in room.coverings))
    if on and on not in WALLS:
        raise UnknownName("wall", on, WALLS)
    if on:
        first, second = (side for axis, side in enumerate(room.size_m) if axis != AXIS_OF[on])
        _require_size(row, on, first, second)
        require_far("place along the wall", u, 0, first)
        require_far("place up the wall", v, 0, second)
    others = [row for row in room.coverings if row["id"] != number]
    placed = {**row, "on": on, "u": u, "v": v} if on else {**row, "on": ""}
    _check_room_on_walls(room, [*others, placed])
    room.coverings = [placed if row["id"] == number else row for row in room.coverings]
    room.drawn = True
    save(room)


def _require_size(row: dict[str, Any], on: str, first: float, second: float) -> None:
    """Refuse a piece that is larger than its wall by more than a fold takes up."""
    for size_m, side, word in ((row["width_m"], first, "wide"), (row["height_m"], second, "high")):
        if size_m > side + FOLD_M:
            where = on if on in ("floor", "ceiling") else f"{on} wall"
            raise Contradiction(row["label"], f"is {size_m:.2f} m {word}, the {where} only {side:.2f} m")


def _check_room_on_walls(room: Room, rows: list[dict[str, Any]]) -> None:
    """Refuse two pieces in each other's place, and more than a wall holds."""
    tried = Room(coverings=rows, size_x_m=room.size_x_m, size_y_m=room.size_y_m, size_z_m=room.size_z_m)
    hung = [(piece, slot, covering_of(room.bare_box, piece, slot)) for _, piece, slot in tried.pieces if slot]
    for number, (piece, _, one) in enumerate(hung):
        for other_piece, _, other in hung[:number]:
            if one.on == other.on and common_m2(one.patch, other.patch) > TOUCHING_M2:
                raise Contradiction(piece.label, f"would hang over {other_piece.label} there: move one of them")
        for on, patch in room.behind_furniture:
            if one.on == on and common_m2(one.patch, patch) > TOUCHING_M2:
                raise Contradiction(piece.label, "would hang behind something tall there: move one of them")
    with_hung(room.bare_box, [(piece, slot) for piece, slot, _ in hung])


@dataclass(frozen=True, slots=True, kw_only=True)
class Hanging:
    """The best arrangement of all that is there, the slot of each piece by its id, and the room as it would be then."""

    arrangement: Arrangement
    slots: dict[int, Slot]
    space: Space


def best_hanging(part: Part, setup: PartSetup) -> Hanging | None:
    """Return the best way to hang what is there for a part where it stands; None without pieces."""
    room = part.song.room
    if not room.coverings:
        return None
    # What lies on the floor is no curtain: it stays.
    loose = [(number, piece) for number, piece, slot in room.pieces if not (slot and slot.on == "floor")]
    kept = [(piece, slot) for _, piece, slot in room.pieces if slot and slot.on == "floor"]
    box = with_hung(room.bare_box, kept)
    slots = usual_slots(box, blocked=room.behind_furniture)
    if not loose or not slots:
        return None
    found = best_arrangement(box, standing_at(setup), [piece for _, piece in loose][:MOST_PIECES], slots)
    free, places = dict(loose), {}
    for one in found.hung:
        number = next(number for number, piece in free.items() if piece == one.piece)
        del free[number]
        places[number] = one.slot
    hung = with_hung(box, [(one.piece, one.slot) for one in found.hung])
    return Hanging(arrangement=found, slots=places, space=replace(setup.space, box=hung))


@transaction.atomic
def hang_best(part: Part) -> None:
    """Hang everything where it does most."""
    room, found = part.song.room, best_hanging(part, settle(part))
    if found is None:
        return
    rows = []
    for row in room.coverings:
        slot = found.slots.get(row["id"])
        if slot:
            rows.append({**row, "on": slot.on, "u": slot.middle_m[0], "v": slot.middle_m[1]})
        else:
            rows.append(row if row.get("on") == "floor" else {**row, "on": ""})
    room.coverings, room.drawn = rows, True
    save(room)


@transaction.atomic
def add_noise(room: Room, **said: Any) -> None:
    """Store a source of noise: name, x, y, z, level, from and to.

    Raises:
        OutOfRange, Contradiction: naming what cannot be.
    """
    place = (said["x"], said["y"], said["z"])
    noise = Noise(
        name=said["name"][:40],
        place_m=place,
        level_dba=said["level"],
        from_hour=said["from"],
        to_hour=said["to"],
        spectrum=said.get("spectrum", "even"),
    )
    for axis, value, side in zip("xyz", place, room.size_m, strict=True):
        require_far(f"place along {axis}", value, 0, side)
    require_within("noises", len(room.noises) + 1, 1, MOST_NOISES)
    room.noises = [*room.noises, {**said, "name": noise.name}]
    save(room)


@transaction.atomic
def remove_noise(room: Room, number: int) -> None:
    room.noises = [row for place, row in enumerate(room.noises) if place != number]
    save(room)


def take_in_clap(room: Room, chunks: Iterable[bytes]) -> Clap:
    """Read a clap's file and keep what it tells; the file itself is not kept.

    Raises:
        UnreadableFile: where it is no recording, or holds no clap.
    """
    checksum = files.store(chunks)
    try:
        with open_recording(files.path_of(checksum)) as recording:
            samples, rate_hz = recording.loudest_channel(LONGEST_CLAP_S), recording.sample_rate_hz
        return _keep_clap(room, clap_of(samples, rate_hz))
    finally:
        files.drop_unused(checksum)


def simulated_clap(part: Part) -> Clap:
    """Let the stand-in clap in this room, where the performer stands."""
    room, here = part.song.room, settle(part).placement
    return _keep_clap(room, clap_of(simulate_clap(room.box, here.mouth_m, here.microphone_m, seed=part.pk), 48_000))


@transaction.atomic
def _keep_clap(room: Room, clap: Clap) -> Clap:
    room.clap = msgspec.to_builtins(clap)
    room.save(update_fields=["clap"])
    return clap


def forget_clap(room: Room) -> None:
    room.clap, room.absorption_scale = None, 1.0
    forget_boxes(room)
    room.save(update_fields=["clap", "absorption_scale"])


def use_clap(room: Room, *, use: bool) -> None:
    """Let the measured reverberation time scale what the room absorbs, or go back to the tables."""
    if use and not (room.clap and room.clap["rt60_s"]):
        raise Contradiction("clap", "tells no reverberation time in the middle: clap again, louder")
    room.absorption_scale = 1.0
    forget_boxes(room)
    if use:
        room.absorption_scale = scale_for_rt60(room.box, room.clap["rt60_s"])
        forget_boxes(room)
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
        raise Contradiction("name", "of a room must not be empty")
    room = Room.objects.create(owner=song.owner, name=name, size="medium", furnishing="some", noise="unknown")
    use_room(song, room)
    return room
