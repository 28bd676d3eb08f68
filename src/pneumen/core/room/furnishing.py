"""What stands where in a room, and what its walls open to: furniture as absorbing patches, tables as mirrors.

Something low takes its absorption to the floor under it, something tall to the wall it stands against; what that
patch cannot hold, and what stands free, is spread as an object is.
"""

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import product
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction, Length, UnknownName, require_within
from pneumen.core.levels import SPEED_OF_SOUND_M_S
from pneumen.core.room.box import AXIS_OF, WALLS, Covering, Patch, Point, common_m2
from pneumen.core.room.materials import FURNITURE, MATERIALS, Bands, Furniture, material_named

TALL_M: Final = 1.2
AT_WALL_M: Final = 0.25
"""Nearer to a wall than this, something tall stands against it."""
GRID_M: Final = 0.1
TURNS: Final = (0, 90, 180, 270)
TABLES: Final = ("desk",)
"""What has a hard top that mirrors."""
TABLE_ABSORPTION: Final = 0.05
"""A wooden plate, 500 Hz to 4 kHz (estimate)."""
LEAST_AREA_M2: Final = 1e-6
"""A piece pushed into a wall has no side left to it."""
SLACK_M: Final = 0.5
"""A lead needs so much to lie loose at both ends (common practice, no source)."""
Footprint = tuple[float, float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """A piece of furniture with its middle on the plan, turned by quarters."""

    kind: str
    x_m: float
    y_m: float
    turned_deg: int = 0

    def __post_init__(self) -> None:
        if self.kind not in FURNITURE:
            raise UnknownName("furniture", self.kind, tuple(FURNITURE))
        if self.turned_deg not in TURNS:
            raise UnknownName("turned", str(self.turned_deg), tuple(str(turn) for turn in TURNS))

    @property
    def furniture(self) -> Furniture:
        return FURNITURE[self.kind]

    @property
    def footprint(self) -> Footprint:
        """West, east, south and north edge on the floor, in metres."""
        along, deep, _ = self.furniture.size_m
        across, up = (deep, along) if self.turned_deg % 180 else (along, deep)
        return self.x_m - across / 2, self.x_m + across / 2, self.y_m - up / 2, self.y_m + up / 2

    def stands_on(self, x_m: float, y_m: float) -> bool:
        """Tell whether a place on the plan lies under this."""
        west, east, south, north = self.footprint
        return west < x_m < east and south < y_m < north


def stood_in(pieces: Sequence[Placed], mouth_m: Point) -> Placed | None:
    """Return the piece that reaches up to a mouth where it is; None where one stands free, or on something low."""
    return next((one for one in pieces if one.stands_on(*mouth_m[:2]) and one.furniture.size_m[2] > mouth_m[2]), None)


def require_places(size_m: Point, pieces: Sequence[Placed]) -> None:
    """Refuse furniture in a wall or in each other.

    Raises:
        Contradiction: naming the piece and what is in its way.
    """
    for number, piece in enumerate(pieces):
        west, east, south, north = piece.footprint
        name = piece.furniture.label.split(",")[0]
        if min(west, south) < -1e-6 or east > size_m[0] + 1e-6 or north > size_m[1] + 1e-6:
            along, deep, _ = piece.furniture.size_m
            problem = "({along} by {deep}) would stand in a wall: move or turn it"
            raise Contradiction(name, problem, along=Length(along), deep=Length(deep))
        for other in pieces[:number]:
            if common_m2(piece.footprint, other.footprint) > 1e-4:
                raise Contradiction(name, f"would stand in {other.furniture.label.split(',')[0]}: move one of them")


def free_place(size_m: Point, others: Sequence[Placed], kind: str) -> Placed:
    """Return a place for one more piece, along a wall where there is one.

    Raises:
        Contradiction: where none is free.
    """
    for piece in _places(size_m, kind):
        try:
            require_places(size_m, [*others, piece])
        except Contradiction:
            continue
        return piece
    raise Contradiction(FURNITURE[kind].label, "finds no free place: move something or make the room larger")


def _places(size_m: Point, kind: str) -> Iterator[Placed]:
    """Yield places on a grid: with the long side to a wall first, and the farther from the middle the sooner."""
    spots = []
    for turned in (0, 90):
        _, east, _, north = Placed(kind=kind, x_m=0, y_m=0, turned_deg=turned).footprint
        xs, ys = (np.arange(half, side - half + 1e-9, GRID_M) for half, side in ((east, size_m[0]), (north, size_m[1])))
        for x, y in product(xs, ys):
            to_wall = min(x - east, size_m[0] - east - x) if turned else min(y - north, size_m[1] - north - y)
            off_middle = math.hypot(x - size_m[0] / 2, y - size_m[1] / 2)
            spots.append((to_wall > GRID_M, -off_middle, turned, round(float(x), 2), round(float(y), 2)))
    for _, _, turned, x, y in sorted(spots):
        yield Placed(kind=kind, x_m=x, y_m=y, turned_deg=turned)


def furnishing_of(size_m: Point, pieces: Sequence[Placed]) -> tuple[tuple[Covering, ...], tuple[Bands, ...]]:
    """Return furniture as coverings of floor and walls, and as objects what those cannot hold."""
    coverings, objects = [], []
    for piece in pieces:
        place = patch_under(size_m, piece)
        absorbs = np.array(piece.furniture.absorption_m2)
        if place is not None:
            on, patch = place
            area = (patch[1] - patch[0]) * (patch[3] - patch[2])
            held = np.minimum(absorbs / max(area, LEAST_AREA_M2), 1.0)
            coverings.append(Covering(on=on, absorption=tuple(held.tolist()), area_m2=area, patch=patch))
            absorbs = absorbs - held * area
        objects.append(tuple(np.maximum(absorbs, 0.0).tolist()))
    return tuple(coverings), tuple(objects)


def patch_under(size_m: Point, piece: Placed) -> tuple[str, Patch] | None:
    """Return the wall (or floor) a piece covers and where; None for what stands free and tall, or is a person."""
    west, east, south, north = piece.footprint
    height = min(piece.furniture.size_m[2], size_m[2])
    if piece.kind == "person":
        return None
    if height < TALL_M:
        return "floor", (west, east, south, north)
    gaps = {"west": west, "east": size_m[0] - east, "south": south, "north": size_m[1] - north}
    wall = min(gaps, key=lambda one: gaps[one])
    if gaps[wall] > AT_WALL_M:
        return None
    along = (west, east) if wall in ("south", "north") else (south, north)
    return wall, (*along, 0.0, height)


@dataclass(frozen=True, slots=True, kw_only=True)
class Opening:
    """A window or door in a wall: its middle along the wall, its width, where it begins and ends above the floor."""

    kind: str
    on: str
    along_m: float
    width_m: float
    low_m: float
    high_m: float

    def __post_init__(self) -> None:
        if material_named(self.kind).where != "opening":
            raise UnknownName("opening", self.kind, OPENINGS)
        if self.on not in WALLS[:4]:
            raise UnknownName("wall", self.on, WALLS[:4])
        require_within("width", self.width_m, 0.1, 20)
        if not 0 <= self.low_m < self.high_m:
            raise Contradiction("opening", "must end above where it begins")

    @property
    def patch(self) -> Patch:
        return self.along_m - self.width_m / 2, self.along_m + self.width_m / 2, self.low_m, self.high_m

    def covering(self, size_m: Point) -> Covering:
        """Return it as a covering of its wall.

        Raises:
            Contradiction: where it reaches beyond the wall.
        """
        length = size_m[1 - AXIS_OF[self.on]]
        low, high, _, top = self.patch
        if low < -1e-6 or high > length + 1e-6 or top > size_m[2] + 1e-6:
            problem = f"would reach beyond the {self.on} wall, {{length}} by {{height}}"
            raise Contradiction("opening", problem, length=Length(length), height=Length(size_m[2]))
        area = self.width_m * (self.high_m - self.low_m)
        absorption = material_named(self.kind).absorption
        return Covering(on=self.on, absorption=absorption, area_m2=area, patch=self.patch)


OPENINGS: Final = tuple(slug for slug, one in MATERIALS.items() if one.where == "opening")


@dataclass(frozen=True, slots=True, kw_only=True)
class TableEcho:
    """The echo off a table's top: after the direct sound, against it, on the plan."""

    delay_s: float
    gain: float
    at_m: tuple[float, float]


def table_echo(piece: Placed, source_m: Point, microphone_m: Point) -> TableEcho | None:
    """Return the echo a hard table top throws from source to microphone; None where none meets it.

    Reference: mirror image in a plane, gain d/(d + delta) sqrt(1 - alpha); the pattern is left out.
    """
    top = piece.furniture.size_m[2]
    over_source, over_microphone = source_m[2] - top, microphone_m[2] - top
    if piece.kind not in TABLES or min(over_source, over_microphone) <= 0:
        return None
    share = over_source / (over_source + over_microphone)
    x_m, y_m = (source_m[axis] + share * (microphone_m[axis] - source_m[axis]) for axis in range(2))
    if not piece.stands_on(x_m, y_m):
        return None
    direct = math.dist(source_m, microphone_m)
    mirrored = math.dist(source_m, (*microphone_m[:2], 2 * top - microphone_m[2]))
    gain = direct / mirrored * math.sqrt(1 - TABLE_ABSORPTION)
    return TableEcho(delay_s=(mirrored - direct) / SPEED_OF_SOUND_M_S, gain=gain, at_m=(x_m, y_m))


def lead_run_m(from_m: Point, tables: Iterable[Placed]) -> float | None:
    """Return how long a lead has to be from a point down to the floor, along it, and up to the nearest table.

    None where no table is drawn.
    """
    x_m, y_m, height_m = from_m
    runs = (
        height_m + math.hypot(table.x_m - x_m, table.y_m - y_m) + FURNITURE[table.kind].size_m[2] + SLACK_M
        for table in tables
        if table.kind in TABLES
    )
    return min(runs, default=None)
