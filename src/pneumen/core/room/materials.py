"""What walls are made of and what stands in rooms: absorption by octave, each with where it comes from."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from types import MappingProxyType
from typing import Final, cast

import msgspec

from pneumen.core.errors import Contradiction, UnknownName, require_within

BANDS_HZ: Final = (125, 250, 500, 1000, 2000, 4000)
Bands = tuple[float, float, float, float, float, float]
WHERE: Final = ("wall", "floor", "ceiling", "opening", "covering")


def six_bands(values: Iterable[float]) -> Bands:
    """Return values by band as such.

    Raises:
        Contradiction: for another number than six.
    """
    found = tuple(values)
    if len(found) != len(BANDS_HZ):
        raise Contradiction("absorption_m2", "must hold six areas, 125 Hz to 4 kHz")
    return cast(Bands, found)


def require_coefficients(field: str, coefficients: tuple[float, ...]) -> None:
    """Refuse anything but six coefficients from 0 to 1.

    Raises:
        Contradiction, OutOfRange: naming the field.
    """
    if len(coefficients) != len(BANDS_HZ):
        raise Contradiction(field, f"must hold six coefficients, 125 Hz to 4 kHz, has {len(coefficients)}")
    for value in coefficients:
        require_within(field, value, 0, 1)


@dataclass(frozen=True, slots=True, kw_only=True)
class Material:
    """A surface: its absorption coefficient in each of BANDS_HZ, where it is found, and whose figures these are.

    row names the entry of the published table; estimates have none.
    """

    slug: str
    label: str
    where: str
    absorption: Bands
    origin: str
    row: str = ""

    def __post_init__(self) -> None:
        if self.where not in WHERE:
            raise UnknownName("where", self.where, WHERE)
        require_coefficients("absorption", self.absorption)


@dataclass(frozen=True, slots=True, kw_only=True)
class Furniture:
    """Something that stands in a room: its absorption area in m2 by band, and its size (along, deep, high)."""

    slug: str
    label: str
    absorption_m2: Bands
    size_m: tuple[float, float, float]
    origin: str


@dataclass(frozen=True, slots=True, kw_only=True)
class _Tables:
    materials: tuple[Material, ...]
    furniture: tuple[Furniture, ...]


@cache
def _tables() -> _Tables:
    return msgspec.json.decode(files("pneumen.core.data").joinpath("materials.json").read_bytes(), type=_Tables)


MATERIALS: Final[Mapping[str, Material]] = MappingProxyType({one.slug: one for one in _tables().materials})
FURNITURE: Final[Mapping[str, Furniture]] = MappingProxyType({one.slug: one for one in _tables().furniture})


def material_named(slug: str) -> Material:
    """Return a material of the table.

    Raises:
        UnknownName: naming the materials there are.
    """
    if slug not in MATERIALS:
        raise UnknownName("material", slug, tuple(MATERIALS))
    return MATERIALS[slug]
