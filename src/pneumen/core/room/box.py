"""A room as a box: x runs west to east, y south to north, z up; what its walls are made of, hung with and hold."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction, Length, OutOfRange, UnknownName, require_positive, require_within
from pneumen.core.room.materials import BANDS_HZ, Bands, require_coefficients

WALLS: Final = ("west", "east", "south", "north", "floor", "ceiling")
"""In the order of the axes, at 0 and at the far end of each."""
AXIS_OF: Final[Mapping[str, int]] = MappingProxyType({wall: place // 2 for place, wall in enumerate(WALLS)})
LEAST_SIDE_M: Final = 0.5
LARGEST_SIDE_M: Final = 60.0
"""Smaller is no room, larger a hall: statistics and images of low order tell little of it."""
Point = tuple[float, float, float]
Patch = tuple[float, float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Covering:
    """Something hung on a wall; it takes the place of the wall's coefficients on its area.

    patch is where it hangs: low and high along the wall's first axis, then along its second (the axes of WALLS less
    the wall's own, in order), in metres; None where that is not known.
    """

    on: str
    absorption: Bands
    area_m2: float
    patch: Patch | None = None

    def __post_init__(self) -> None:
        if self.on not in WALLS:
            raise UnknownName("on", self.on, WALLS)
        require_coefficients("material", self.absorption)
        require_positive("area_m2", self.area_m2, 2000)


def _uncovered_m2(covering: Covering, over: Sequence[Covering]) -> float:
    """Return what is left to see of a covering under those that hang over it (which do not overlap themselves)."""
    if covering.patch is None:
        return covering.area_m2
    hidden = sum(common_m2(covering.patch, one.patch) for one in over if one.patch is not None)
    return max(covering.area_m2 - hidden, 0.0)


def common_m2(one: Patch, other: Patch) -> float:
    """Return the area two patches of one wall have in common."""
    across = min(one[1], other[1]) - max(one[0], other[0])
    up = min(one[3], other[3]) - max(one[2], other[2])
    return across * up if across > 0 and up > 0 else 0.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Box:
    """A room's shape and absorption, worked out once; two with the same walls and things in them are equal.

    wall_absorption (6 walls, 6 bands) is weighted by area over all that hangs there; bare_absorption leaves out what
    hangs at a known spot. A covering hangs over those before it: of an open door behind a duvet only the rest counts.

    Raises:
        OutOfRange, Contradiction, UnknownName: naming what cannot be and what would be right.
    """

    size_m: Point
    surfaces: Mapping[str, Bands]
    coverings: tuple[Covering, ...] = ()
    objects_m2: tuple[Bands, ...] = ()
    _key: tuple = field(init=False, repr=False)
    _hash: int = field(init=False, repr=False)
    absorption_m2: np.ndarray = field(init=False)
    surface_m2: float = field(init=False)
    wall_absorption: np.ndarray = field(init=False)
    bare_absorption: np.ndarray = field(init=False)

    def __post_init__(self) -> None:
        if len(self.size_m) != 3:
            raise Contradiction("size_m", "must hold three lengths: x, y, z")
        for side in self.size_m:
            if not LEAST_SIDE_M <= side <= LARGEST_SIDE_M:
                least, largest = Length(LEAST_SIDE_M), Length(LARGEST_SIDE_M)
                raise OutOfRange("size_m", side, "between {least} and {largest} a side", least=least, largest=largest)
        for wall in WALLS:
            if wall not in self.surfaces:
                raise Contradiction("surfaces", f"must tell the material of {wall}")
            require_coefficients(wall, self.surfaces[wall])
        for areas in self.objects_m2:
            if len(areas) != len(BANDS_HZ):
                raise Contradiction("absorption_m2", "must hold six areas, 125 Hz to 4 kHz")
            for area in areas:
                require_within("absorption_m2", area, 0, 200)
        surfaces = tuple((wall, tuple(self.surfaces[wall])) for wall in WALLS)
        object.__setattr__(self, "surfaces", MappingProxyType(dict(surfaces)))
        object.__setattr__(self, "_key", (tuple(self.size_m), surfaces, self.coverings, self.objects_m2))
        object.__setattr__(self, "_hash", hash(self._key))
        self._keep(self._mixed(self.coverings), self._mixed(tuple(one for one in self.coverings if one.patch is None)))

    def _mixed(self, coverings: tuple[Covering, ...]) -> np.ndarray:
        """Return each wall's coefficients weighted by area, shape (6 walls, 6 bands)."""
        mixed = []
        for wall in WALLS:
            area, hung = self.wall_area_m2(wall), [one for one in coverings if one.on == wall]
            seen = [_uncovered_m2(one, hung[number + 1 :]) for number, one in enumerate(hung)]
            covered = sum(seen)
            if covered > area * (1 + 1e-9):
                raise OutOfRange("coverings", covered, f"at most the {area:.3g} m2 of the {wall} wall")
            bare = (area - covered) * np.array(self.surfaces[wall])
            absorbed = sum(m2 * np.array(one.absorption) for m2, one in zip(seen, hung, strict=True))
            mixed.append((bare + absorbed) / area)
        return np.array(mixed)

    def _keep(self, wall_absorption: np.ndarray, bare_absorption: np.ndarray) -> None:
        areas = np.array([self.wall_area_m2(wall) for wall in WALLS])
        objects = sum((np.array(one) for one in self.objects_m2), np.zeros(len(BANDS_HZ)))
        for name, values in (
            ("wall_absorption", wall_absorption),
            ("bare_absorption", bare_absorption),
            ("absorption_m2", areas @ wall_absorption + objects),
        ):
            values.setflags(write=False)
            object.__setattr__(self, name, values)
        object.__setattr__(self, "surface_m2", float(areas.sum()))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Box) and self._key == other._key

    def __hash__(self) -> int:
        return self._hash

    @property
    def volume_m3(self) -> float:
        x, y, z = self.size_m
        return x * y * z

    def wall_area_m2(self, wall: str) -> float:
        first, second = (self.size_m[axis] for axis in range(3) if axis != AXIS_OF[wall])
        return first * second

    def require_inside(self, name: str, point: Point, margin_m: float = 0.0) -> None:
        """Refuse a point in or beyond a wall.

        Raises:
            OutOfRange: naming the axis and what would be right.
        """
        for axis, value, side in zip("xyz", point, self.size_m, strict=True):
            if not margin_m < value < side - margin_m:
                allowed = f"inside the room: more than {{least}} and less than {{most}} along {axis}"
                raise OutOfRange(name, value, allowed, least=Length(margin_m), most=Length(side - margin_m))
