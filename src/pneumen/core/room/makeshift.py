"""Makeshift booths: what a baffle, a screen, a V of cushions on a table or a tent of duvets keep of a room away.

Each side is taken as a patch of its own size on the wall it stands before, and as its own soft back in the room. A real
one leaks round its edges (estimate).
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

import numpy as np

from pneumen.core.room.box import Box, Covering
from pneumen.core.room.materials import material_named, six_bands
from pneumen.core.room.paths import room_sound
from pneumen.core.room.sound import Standing

BACK_SHARE: Final = 0.5
"""What the other side of a textile takes of what its front would (estimate)."""
AHEAD, BEHIND, LEFT, RIGHT, UP = "ahead", "behind", "left", "right", "up"


@dataclass(frozen=True, slots=True, kw_only=True)
class Makeshift:
    """A way to screen a performer: which sides, how large each, of what, and what it takes.

    up_minutes and down_minutes are what one person needs to set it up and to clear it away.
    """

    sides: tuple[str, ...]
    size_m: tuple[float, float]
    material: str
    up_minutes: int
    down_minutes: int


MAKESHIFTS: Final[Mapping[str, Makeshift]] = MappingProxyType(
    {
        "baffle": Makeshift(
            sides=(BEHIND,), size_m=(1.5, 1.9), material="blanket-folded", up_minutes=5, down_minutes=2
        ),
        "screen": Makeshift(sides=(AHEAD,), size_m=(0.6, 0.6), material="blanket-folded", up_minutes=3, down_minutes=1),
        "table-v": Makeshift(
            sides=(AHEAD, LEFT, RIGHT, UP),
            size_m=(0.6, 0.6),
            material="blanket-folded",
            up_minutes=8,
            down_minutes=4,
        ),
        "tent": Makeshift(
            sides=(AHEAD, BEHIND, LEFT, RIGHT, UP),
            size_m=(1.2, 1.6),
            material="duvet",
            up_minutes=15,
            down_minutes=8,
        ),
    }
)
"""Sizes, distances and minutes: common practice of the trade, no source."""


def makeshift_gain_db(box: Box, place: Standing, kind: Makeshift) -> float:
    """Return by how many decibels the direct sound leads the room's by more inside a makeshift booth."""
    shadows = [_shadow(box, place, kind, side) for side in kind.sides]
    area_m2 = len(kind.sides) * kind.size_m[0] * kind.size_m[1]
    absorption = material_named(kind.material).absorption
    back = six_bands(BACK_SHARE * area_m2 * one for one in absorption)
    screened = Box(
        size_m=box.size_m,
        surfaces=box.surfaces,
        coverings=(*box.coverings, *shadows),
        objects_m2=(*box.objects_m2, back),
    )
    bare, inside = (float(room_sound(one, place).lead_db[0]) for one in (box, screened))
    return inside - bare


def _shadow(box: Box, place: Standing, kind: Makeshift, side: str) -> Covering:
    """Return what a side covers of the wall it stands before: as much as it is large."""
    mouth = np.asarray(place.source_m[0], dtype=float)
    wall, axis = _wall(_direction(place, side))
    spans = []
    for other, length in zip([one for one in range(3) if one != axis], kind.size_m, strict=True):
        room = box.size_m[other]
        half = min(length, room) / 2
        middle = min(max(float(mouth[other]), half), room - half)
        spans += [middle - half, middle + half]
    area_m2 = (spans[1] - spans[0]) * (spans[3] - spans[2])
    absorption = material_named(kind.material).absorption
    patch = (spans[0], spans[1], spans[2], spans[3])
    return Covering(on=wall, absorption=absorption, area_m2=area_m2, patch=patch)


def _direction(place: Standing, side: str) -> np.ndarray:
    """Return where a side lies from the mouth; ahead is where the microphone is."""
    if side == UP:
        return np.array([0.0, 0.0, 1.0])
    ahead = np.asarray(place.microphone_m[0], dtype=float) - np.asarray(place.source_m[0], dtype=float)
    east, north = float(ahead[0]), float(ahead[1])
    length = math.hypot(east, north) or 1.0
    east, north = east / length, north / length
    turned = {AHEAD: (east, north), BEHIND: (-east, -north), LEFT: (-north, east), RIGHT: (north, -east)}
    return np.array([*turned[side], 0.0])


def _wall(towards: np.ndarray) -> tuple[str, int]:
    """Return the wall a direction points at most, and its axis."""
    axis = int(np.abs(towards).argmax())
    names = (("west", "east"), ("south", "north"), ("floor", "ceiling"))[axis]
    return names[int(towards[axis] > 0)], axis
