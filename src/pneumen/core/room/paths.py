"""Where the paths of the echoes meet the walls, so that what hangs there counts only for the paths that meet it."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from pneumen.core.levels import SPEED_OF_SOUND_M_S
from pneumen.core.room.box import AXIS_OF, WALLS, Box, Patch
from pneumen.core.room.images import USUAL_ORDER, images_up_to
from pneumen.core.room.sound import RoomSound, Standing, heard_shares, tail_of_box

LEAST_LEFT: Final = 1e-12
CHUNK: Final = 256
"""So many places at a time stay in the processor's cache."""
ACROSS: Final = tuple(tuple(one for one in range(3) if one != AXIS_OF[wall]) for wall in WALLS)
"""The two axes that lie in each of WALLS."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Meetings:
    """Which image (the source left out) meets which wall where, in the order of the images, shape (H,) each.

    plane is the wall's place in the lattice of mirror rooms, in lengths of its axis; starts (N,) where each image's
    meetings begin.
    """

    image: np.ndarray
    wall: np.ndarray
    plane: np.ndarray
    starts: np.ndarray


@lru_cache(maxsize=8)
def meetings_up_to(order: int) -> Meetings:
    """Return the meetings of all images up to an order."""
    rows = []
    for number, cell in enumerate(images_up_to(order).cells[1:]):
        for axis in range(3):
            for step in range(1, abs(int(cell[axis])) + 1):
                plane = step if cell[axis] > 0 else 1 - step
                rows.append((number, 2 * axis + plane % 2, plane))
    image, wall, plane = np.array(rows).T
    starts = np.flatnonzero(np.diff(image, prepend=-1))
    for array in (image, wall, plane, starts):
        array.setflags(write=False)
    return Meetings(image=image, wall=wall, plane=plane, starts=starts)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class WallMeetings:
    """The meetings with one of WALLS, in the order of meetings_up_to, whatever the size of the room.

    An image lies at shift (3, h) lengths of each axis plus turn (3, h) times where the source is. plane (h,) is the
    wall's place in the lattice; belongs (h, N) is one where a meeting is an image's own, else nought.
    """

    shift: np.ndarray
    turn: np.ndarray
    plane: np.ndarray
    belongs: np.ndarray


@lru_cache(maxsize=32)
def _meetings_with(order: int, wall: int) -> WallMeetings:
    met = meetings_up_to(order)
    here = met.wall == wall
    images, image = images_up_to(order), met.image[here]
    found = WallMeetings(
        shift=images.shift[1 + image].T,
        turn=images.turn[1 + image].T,
        plane=met.plane[here],
        belongs=(image[:, None] == np.arange(len(met.starts))).astype(float),
    )
    for array in (found.shift, found.turn, found.plane, found.belongs):
        array.setflags(write=False)
    return found


def spots_met(box: Box, places: Standing, order: int, wall: int) -> tuple[np.ndarray, np.ndarray]:
    """Return where the meetings with one of WALLS take place, along its own two axes, shape (P, h) each, in metres.

    They come in the order of meetings_up_to, of which they are those with this wall.
    """
    met = _meetings_with(order, wall)

    def image_along(axis: int) -> np.ndarray:
        return met.shift[axis] * box.size_m[axis] + met.turn[axis] * places.source_m[:, axis : axis + 1]

    axis, start = wall // 2, places.microphone_m[:, wall // 2][:, None]
    share = (met.plane * box.size_m[axis] - start) / (image_along(axis) - start)
    u_axis, v_axis = ACROSS[wall]

    def met_along(axis: int) -> np.ndarray:
        begin, there_and_back = places.microphone_m[:, axis : axis + 1], 2 * box.size_m[axis]
        along = begin + share * (image_along(axis) - begin)
        # Mirror rooms are folded back into the real one.
        return np.abs(along - there_and_back * np.rint(along / there_and_back))

    return met_along(u_axis), met_along(v_axis)


def _inside(u: np.ndarray, v: np.ndarray, patch: Patch) -> np.ndarray:
    return (u >= patch[0]) & (u <= patch[1]) & (v >= patch[2]) & (v <= patch[3])


def left_of_echoes(box: Box, places: Standing, order: int = USUAL_ORDER) -> np.ndarray:
    """Return what the walls, and what hangs where each path meets them, leave of every image, shape (P, N, 6)."""
    met = meetings_up_to(order)
    bare = np.log(np.maximum(1 - box.bare_absorption, LEAST_LEFT))
    of_walls = np.add.reduceat(bare[met.wall], met.starts, axis=0)
    counts, changes = [], []
    for wall, name in enumerate(WALLS):
        hung = [(one.patch, one.absorption) for one in box.coverings if one.on == name and one.patch is not None]
        if not hung:
            continue
        belongs = _meetings_with(order, wall).belongs
        u, v = spots_met(box, places, order, wall)
        free = np.ones(u.shape, dtype=bool)
        for patch, absorption in reversed(hung):  # the last hangs over those before it
            met_here = _inside(u, v, patch) & free
            free &= ~met_here
            counts.append(met_here @ belongs)
            changes.append(np.log(np.maximum(1 - np.array(absorption), LEAST_LEFT)) - bare[wall])
    if not counts:
        return np.repeat(np.exp(of_walls)[None], len(places.source_m), axis=0)
    found = np.stack(counts, axis=-1) @ np.stack(changes)
    found += of_walls
    return np.asarray(np.exp(found, out=found))


def room_sound(box: Box, places: Standing, *, order: int = USUAL_ORDER) -> RoomSound:
    """Return how much of the room is heard at each place, each echo losing to just what its path meets.

    Holds where the microphone stands outside the source's near field, in a room whose walls reflect as mirrors do and
    whose absorption is spread out; furnished rooms are less diffuse than this.

    Reference: Allen and Berkley (1979) for the images; Eyring (1930) for the tail.
    """
    heard = heard_shares(box, places, order)
    direct = np.maximum(heard[:, :1], LEAST_LEFT)
    early = [
        np.einsum("pn,pnb->pb", heard[part, 1:] / direct[part], left_of_echoes(box, places.only(part), order))
        for part in (slice(at, at + CHUNK) for at in range(0, len(heard), CHUNK))
    ]
    return RoomSound(early=np.concatenate(early), tail=tail_of_box(box, places, order) / direct)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Paths:
    """The images heard at one microphone, and every spot where a path meets a wall.

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
        u, v = self.at.T
        return np.flatnonzero((self.wall == WALLS.index(on)) & _inside(u, v, patch))


def paths_of(box: Box, place: Standing, order: int = USUAL_ORDER) -> Paths:
    """Follow the straight line from a microphone (one place) to each image through the mirror rooms."""
    met, heard = meetings_up_to(order), heard_shares(box, place, order)[0]
    at = np.zeros((len(met.wall), 2))
    for wall in range(len(WALLS)):
        u, v = spots_met(box, place, order, wall)
        at[met.wall == wall] = np.stack([u[0], v[0]], axis=1)
    left = (1 - box.bare_absorption)[met.wall]
    for one in box.coverings:
        if one.patch is not None:
            left[(met.wall == WALLS.index(one.on)) & _inside(at[:, 0], at[:, 1], one.patch)] = 1 - np.array(
                one.absorption
            )
    energy = (heard[1:] / max(heard[0], LEAST_LEFT))[:, None] * left_of_echoes(box, place, order)[0]
    return Paths(energy=energy, left=left, image=met.image, wall=met.wall, at=at)


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstEcho:
    """A reflection off one wall as a microphone hears it: how late, its energy by band against the direct sound."""

    wall: str
    delay_s: float
    share: tuple[float, ...]


def early_share(box: Box, place: Standing, within_s: float, order: int = 3) -> np.ndarray:
    """Return the energy of all reflections within a time against the direct sound's, patterns and all, shape (6,)."""
    heard = heard_shares(box, place, order)[0]
    left = left_of_echoes(box, place, order)[0]
    images = images_up_to(order).positions(place.source_m, box.size_m)[0]
    distance = np.linalg.norm(images - place.microphone_m[0], axis=1)
    early = (distance[1:] - distance[0]) / SPEED_OF_SOUND_M_S <= within_s
    energy = (heard[1:] / max(heard[0], LEAST_LEFT))[:, None] * left
    return np.asarray(energy[early].sum(axis=0))


def first_echoes(box: Box, place: Standing) -> tuple[FirstEcho, ...]:
    """Return the six first reflections at one place, each losing to what its path meets, patterns and all."""
    met, heard = meetings_up_to(1), heard_shares(box, place, 1)[0]
    left = left_of_echoes(box, place, 1)[0]
    energy = (heard[1:] / max(heard[0], LEAST_LEFT))[:, None] * left
    images = images_up_to(1).positions(place.source_m, box.size_m)[0]
    distance = np.linalg.norm(images - place.microphone_m[0], axis=1)
    return tuple(
        FirstEcho(
            wall=WALLS[int(met.wall[number])],
            delay_s=float(distance[number + 1] - distance[0]) / SPEED_OF_SOUND_M_S,
            share=tuple(energy[number].tolist()),
        )
        for number in range(len(energy))
    )
