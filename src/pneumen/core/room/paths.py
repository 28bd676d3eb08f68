"""Where the paths of the echoes meet the walls, so that a piece counts only for those that meet it."""

from dataclasses import dataclass

import numpy as np

from pneumen.core.room.box import WALLS, Box, Patch
from pneumen.core.room.images import USUAL_ORDER, images_up_to
from pneumen.core.room.sound import RoomSound, Standing, heard_shares, tail_of_box


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Paths:
    """The images heard at a microphone, and every spot where a path meets a wall.

    Shapes: energy (N, 6) against the direct sound, with what hangs there now; left (H, 6) what each meeting leaves of
    it; image (H,) which image a meeting belongs to, wall (H,) which of WALLS, at (H, 2) where on it.
    """

    energy: np.ndarray
    left: np.ndarray
    image: np.ndarray
    wall: np.ndarray
    at: np.ndarray

    def meeting(self, on: str, patch: Patch) -> np.ndarray:
        """Return the numbers of the meetings inside a patch of a wall."""
        return _inside(self.wall, self.at, on, patch)


def paths_of(box: Box, place: Standing, order: int = USUAL_ORDER) -> Paths:
    """Follow the straight line from a microphone (one place) to each image through the mirror rooms."""
    images, size = images_up_to(order), np.array(box.size_m)
    microphone, at = place.microphone_m[0], images.positions(place.source_m, box.size_m)[0]
    found = []
    for number, (cell, image) in enumerate(zip(images.cells[1:], at[1:], strict=True)):
        for axis in range(3):
            for step in range(1, abs(int(cell[axis])) + 1):
                plane = step if cell[axis] > 0 else 1 - step
                share = (plane * size[axis] - microphone[axis]) / (image[axis] - microphone[axis])
                found.append((number, 2 * axis + plane % 2, *(microphone + share * (image - microphone))))
    table = np.array(found)
    image, wall, spots = table[:, 0].astype(int), table[:, 1].astype(int), _folded(table[:, 2:], size)
    across = np.array([(1, 2), (0, 2), (0, 1)])[wall // 2]  # a wall's own axes
    spots = np.take_along_axis(spots, across, axis=1)
    heard = heard_shares(box, place, order)[0]
    left = _left(box, wall, spots)
    product = np.ones((len(heard) - 1, left.shape[1]))
    np.multiply.at(product, image, left)
    energy = (heard[1:] / max(heard[0], 1e-12))[:, None] * product
    return Paths(energy=energy, left=left, image=image, wall=wall, at=spots)


def _left(box: Box, wall: np.ndarray, at: np.ndarray) -> np.ndarray:
    """Return what each meeting leaves after the wall, or what hangs over it there, has had its share."""
    left = (1 - box.bare_absorption)[wall]
    for covering in box.coverings:
        if covering.patch is not None:
            left[_inside(wall, at, covering.on, covering.patch)] = 1 - np.array(covering.absorption)
    return left


def _inside(wall: np.ndarray, at: np.ndarray, on: str, patch: Patch) -> np.ndarray:
    u, v = at.T
    held = (u >= patch[0]) & (u <= patch[1]) & (v >= patch[2]) & (v <= patch[3])
    return np.flatnonzero((wall == WALLS.index(on)) & held)


def _folded(spots: np.ndarray, size: np.ndarray) -> np.ndarray:
    """Bring spots in mirror rooms back into the real one."""
    around = np.mod(spots, 2 * size)
    return np.where(around > size, 2 * size - around, around)


def room_sound_here(box: Box, place: Standing, *, order: int = USUAL_ORDER) -> RoomSound:
    """Return how much of the room is heard at one place, each echo losing to just what its path meets.

    room_sound, for many places at once, spreads what hangs over its whole wall instead.
    """
    paths = paths_of(box, place, order)
    direct = max(float(heard_shares(box, place, order)[0, 0]), 1e-12)
    return RoomSound(early=paths.energy.sum(axis=0)[None], tail=tail_of_box(box, place, order)[None] / direct)
