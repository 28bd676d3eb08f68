"""A room as JSON, in the shape the command line promises."""

from dataclasses import dataclass
from typing import Any

from pneumen.core.errors import BadDocument, PneumenError
from pneumen.core.gear import require_pattern
from pneumen.core.reader import decode_object, read_as, unknown_keys
from pneumen.core.room.box import Box, Covering, Point
from pneumen.core.room.materials import Bands, material_named, require_coefficients, six_bands


@dataclass(frozen=True, slots=True, kw_only=True)
class _Surfaces:
    floor: str | tuple[float, ...]
    ceiling: str | tuple[float, ...]
    north: str | tuple[float, ...]
    south: str | tuple[float, ...]
    east: str | tuple[float, ...]
    west: str | tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class _Covering:
    on: str
    material: str | tuple[float, ...]
    area_m2: float


@dataclass(frozen=True, slots=True, kw_only=True)
class _Object:
    absorption_m2: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class _Room:
    size_m: tuple[float, float, float]
    surfaces: _Surfaces
    source_m: tuple[float, float, float]
    microphone_m: tuple[float, float, float]
    coverings: tuple[_Covering, ...] = ()
    objects: tuple[_Object, ...] = ()
    pattern: str = "omni"


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class RoomDocument:
    """A room with its source and microphone, and the keys that were left aside."""

    box: Box
    source_m: Point
    microphone_m: Point
    pattern: str
    ignored: tuple[str, ...]


def room_from_json(document: bytes) -> RoomDocument:
    """Read a room.

    Raises:
        BadDocument: naming what is missing, mistyped or impossible, and what would be right.
    """
    value = decode_object(document)
    room = read_as(_Room, value, "")
    ignored = [*unknown_keys(value, _Room, ""), *unknown_keys(value["surfaces"], _Surfaces, "surfaces")]
    for name, shape in (("coverings", _Covering), ("objects", _Object)):
        for number, one in enumerate(value.get(name, ())):
            ignored += unknown_keys(one, shape, f"{name}[{number}]")
    surfaces = {wall: _bands(f"surfaces.{wall}", getattr(room.surfaces, wall)) for wall in _Surfaces.__slots__}
    coverings = tuple(_covering(number, one) for number, one in enumerate(room.coverings))
    try:
        require_pattern(room.pattern)
        box = Box(
            size_m=room.size_m,
            surfaces=surfaces,
            coverings=coverings,
            objects_m2=tuple(six_bands(one.absorption_m2) for one in room.objects),
        )
    except PneumenError as error:
        raise BadDocument(str(error)) from None
    return RoomDocument(
        box=box,
        source_m=room.source_m,
        microphone_m=room.microphone_m,
        pattern=room.pattern,
        ignored=tuple(ignored),
    )


def _covering(number: int, one: _Covering) -> Covering:
    place = f"coverings[{number}]"
    absorption = _bands(f"{place}.material", one.material)
    try:
        return Covering(on=one.on, absorption=absorption, area_m2=one.area_m2)
    except PneumenError as error:
        raise BadDocument(f"{place}.{error}") from None


def _bands(place: str, material: Any) -> Bands:  # noqa: ANN401 - a name or six coefficients
    try:
        if isinstance(material, str):
            return material_named(material).absorption
        require_coefficients(place, material)
    except PneumenError as error:
        text = str(error)
        raise BadDocument(text if text.startswith(place) else f"{place}: {text}") from None
    return material
