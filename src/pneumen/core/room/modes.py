"""Standing waves of a box: where they lie, which fall together, and how strong each is at a place."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise, product
from typing import Final

from pneumen.core.errors import require_positive
from pneumen.core.levels import SPEED_OF_SOUND_M_S
from pneumen.core.room.box import Point

KINDS: Final = ("axial", "tangential", "oblique")
HIGHEST_HZ: Final = 200.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Mode:
    """A standing wave: its frequency, how many half waves lie along x, y and z, and its kind."""

    hz: float
    order: tuple[int, int, int]
    kind: str

    def pressure_at(self, place: Point, size_m: Point) -> float:
        """Return the pressure at a place against the strongest there is, -1 to 1 (rigid walls).

        >>> Mode(hz=40.8, order=(1, 0, 0), kind="axial").pressure_at((0.0, 1.0, 1.0), (4.2, 3.1, 2.4))
        1.0
        """
        pairs = zip(self.order, place, size_m, strict=True)
        return math.prod(math.cos(number * math.pi * at / side) for number, at, side in pairs)


def modes_of(size_m: Point, highest_hz: float = HIGHEST_HZ) -> tuple[Mode, ...]:
    """Return the modes of a box up to a frequency, lowest first.

    Reference: f = c/2 sqrt((nx/Lx)^2 + (ny/Ly)^2 + (nz/Lz)^2), Kuttruff, Room Acoustics (from memory).

    >>> [(round(mode.hz, 1), mode.order) for mode in modes_of((4.2, 3.1, 2.4), 60)]
    [(40.8, (1, 0, 0)), (55.3, (0, 1, 0))]
    """
    for side in size_m:
        require_positive("size_m", side)
    highest = [range(int(2 * highest_hz * side / SPEED_OF_SOUND_M_S) + 1) for side in size_m]
    found = []
    for nx, ny, nz in product(*highest):
        order = nx, ny, nz
        squares = sum((number / side) ** 2 for number, side in zip(order, size_m, strict=True))
        hz = SPEED_OF_SOUND_M_S / 2 * math.sqrt(squares)
        if 0 < hz <= highest_hz:
            found.append(Mode(hz=hz, order=order, kind=KINDS[sum(number > 0 for number in order) - 1]))
    return tuple(sorted(found, key=lambda mode: (mode.hz, mode.order)))


COINCIDENCE: Final = 0.05
"""Modes of one kind closer than this share of their frequency are heard as one, twice as strong (common practice)."""


def coincidences_of(modes: Iterable[Mode]) -> tuple[tuple[Mode, Mode], ...]:
    """Return pairs of neighbouring axial modes of different walls that fall together."""
    axial = [mode for mode in modes if mode.kind == "axial"]
    return tuple((low, high) for low, high in pairwise(axial) if high.hz - low.hz <= COINCIDENCE * low.hz)
