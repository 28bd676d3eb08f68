"""Image sources of a box: where the echoes come from, and what each wall takes off them.

An image of order n lies in a mirrored room; it reaches the microphone in a straight line, having met one wall for
each room it passes. Reference: Allen and Berkley (1979), J. Acoust. Soc. Am. 65, 943-950.
"""

from dataclasses import dataclass
from functools import lru_cache
from itertools import product
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction, Length, require_within
from pneumen.core.gear import PATTERNS
from pneumen.core.levels import SPEED_OF_SOUND_M_S
from pneumen.core.room.box import WALLS, Box, Point

USUAL_ORDER: Final = 3
HIGHEST_ORDER: Final = 40
LEAST_DISTANCE_M: Final = 0.01
"""Nearer than this, source and microphone stand in each other."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Images:
    """The mirror rooms up to an order: cells (N, 3) of the lattice, and how often each of WALLS is met (N, 6).

    An image lies at shift (N, 3) lengths of the room, plus or minus where the source is: turn (N, 3) is 1 or -1, which
    is also how the mirror room is turned. The first is the source itself.
    """

    cells: np.ndarray
    shift: np.ndarray
    turn: np.ndarray
    hits: np.ndarray

    def positions(self, source_m: np.ndarray, size_m: Point) -> np.ndarray:
        """Return where the images lie, shape (..., N, 3) for sources of shape (..., 3)."""
        return self.shift * np.array(size_m) + self.turn * np.asarray(source_m)[..., None, :]

    def reflected(self, wall_absorption: np.ndarray) -> np.ndarray:
        """Return the share of energy that is left of each image in each band, shape (N, 6 bands)."""
        left = np.log(np.maximum(1 - wall_absorption, 1e-12))
        return np.exp(self.hits @ left)


@lru_cache(maxsize=8)
def images_up_to(order: int) -> Images:
    """Return the images up to an order, the source first, then by order.

    >>> len(images_up_to(1).cells), len(images_up_to(3).cells)
    (7, 63)
    """
    require_within("order", order, 0, HIGHEST_ORDER)
    span = range(-order, order + 1)
    cells = np.array([cell for cell in product(span, repeat=3) if sum(map(abs, cell)) <= order])
    cells = cells[np.argsort(np.abs(cells).sum(axis=1), kind="stable")]
    # Walking towards the far wall one meets it first, then the near one, by turns; and the other way round.
    ahead, behind = (np.abs(cells) + 1) // 2, np.abs(cells) // 2
    far, near = np.where(cells > 0, ahead, behind), np.where(cells > 0, behind, ahead)
    hits = np.stack([near, far], axis=2).reshape(len(cells), len(WALLS))
    odd = cells % 2
    found = Images(cells=cells, shift=(cells + odd).astype(float), turn=1.0 - 2 * odd, hits=hits)
    for array in (found.cells, found.shift, found.turn, found.hits):
        array.setflags(write=False)
    return found


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Echoes:
    """What reaches a microphone: delays after the direct sound, and levels against it.

    Shapes: delay_s (N,), share (N, 6 bands) of energy against the direct sound's; the first is the direct sound
    itself. order and hits tell how many walls, and which, each has met.
    """

    delay_s: np.ndarray
    share: np.ndarray
    order: np.ndarray
    hits: np.ndarray


def echoes_of(
    box: Box,
    source_m: Point,
    microphone_m: Point,
    *,
    pattern: str = "omni",
    aim: Point | None = None,
    order: int = USUAL_ORDER,
) -> Echoes:
    """Return what reaches a microphone, up to an order of reflection.

    Args:
        pattern: the microphone's; it weighs each echo by the angle it comes from.
        aim: where the microphone points, as a direction; at the source where left out.

    Raises:
        OutOfRange: for a place in a wall.
        Contradiction: for source and microphone in each other.
    """
    box.require_inside("source_m", source_m)
    box.require_inside("microphone_m", microphone_m)
    images, microphone = images_up_to(order), np.array(microphone_m)
    towards = images.positions(np.array(source_m), box.size_m) - microphone
    distance = np.linalg.norm(towards, axis=1)
    if distance[0] < LEAST_DISTANCE_M:
        least = Length(LEAST_DISTANCE_M, near=True)
        raise Contradiction("microphone_m", "must be at least {least} from the source", least=least)
    axis = towards[0] if aim is None else np.asarray(aim, dtype=float)
    cosine = towards @ axis / (distance * np.linalg.norm(axis))
    heard = (PATTERNS[pattern] + (1 - PATTERNS[pattern]) * cosine) ** 2 / distance**2
    direct = max(float(heard[0]), 1e-12)
    return Echoes(
        delay_s=(distance - distance[0]) / SPEED_OF_SOUND_M_S,
        share=(heard / direct)[:, None] * images.reflected(box.wall_absorption),
        order=np.abs(images.cells).sum(axis=1),
        hits=images.hits,
    )
