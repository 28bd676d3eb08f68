"""What to hang where: the best arrangement of the pieces there are over the places offered.

What counts is the room sound at the microphone, weighted for speech: the first images with the patterns, each losing
at the very spot where its path meets a hung piece, plus the statistical tail, which only the area shortens.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction, require_positive
from pneumen.core.room.box import AXIS_OF, Box, Covering, Patch
from pneumen.core.room.images import USUAL_ORDER
from pneumen.core.room.materials import Bands, require_coefficients
from pneumen.core.room.paths import paths_of
from pneumen.core.room.sound import SPEECH_WEIGHTS, Standing, heard_shares, tail_energy

MOST_PIECES: Final = 8
MOST_TRIED: Final = 60_000
"""So many arrangements are worked out at the most; beyond, the answer says how far it is proven."""
CHUNK: Final = 2048


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """Something soft to hang: its absorption and its size."""

    label: str
    absorption: Bands
    width_m: float
    height_m: float

    def __post_init__(self) -> None:
        require_coefficients("absorption", self.absorption)
        require_positive("width_m", self.width_m, 20)
        require_positive("height_m", self.height_m, 20)

    @property
    def area_m2(self) -> float:
        return self.width_m * self.height_m


@dataclass(frozen=True, slots=True, kw_only=True)
class Slot:
    """A place on a wall where one piece can hang: its middle, along the wall's first and second axis, in metres."""

    on: str
    middle_m: tuple[float, float]
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Hung:
    """One piece in one slot, and what it brings on top of those before it, in dB less room sound."""

    piece: Piece
    slot: Slot
    brings_db: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Arrangement:
    """The pieces hung, the most effective first; lead_db before and after; how far the best may lie beyond."""

    hung: tuple[Hung, ...]
    lead_before_db: float
    lead_after_db: float
    proven_within_db: float


def covering_of(box: Box, piece: Piece, slot: Slot) -> Covering:
    """Return a piece hung in a slot, moved and cut to what fits on the wall."""
    patch = patch_of(box, piece, slot)
    area = (patch[1] - patch[0]) * (patch[3] - patch[2])
    return Covering(on=slot.on, absorption=piece.absorption, area_m2=area, patch=patch)


def patch_of(box: Box, piece: Piece, slot: Slot) -> Patch:
    first, second = (box.size_m[axis] for axis in range(3) if axis != AXIS_OF[slot.on])
    low_u, high_u = _span(slot.middle_m[0], piece.width_m, first)
    low_v, high_v = _span(slot.middle_m[1], piece.height_m, second)
    return low_u, high_u, low_v, high_v


def _span(middle: float, length: float, side: float) -> tuple[float, float]:
    length = min(length, side)
    low = min(max(middle - length / 2, 0.0), side - length)
    return low, low + length


def best_arrangement(
    box: Box, place: Standing, pieces: Sequence[Piece], slots: Sequence[Slot], *, order: int = USUAL_ORDER
) -> Arrangement:
    """Return the best way to hang some pieces, each in one slot, no two in the same.

    Every arrangement that differs is tried where there are up to 60,000; else pieces go up one by one and are swapped
    as long as that helps, and proven_within_db tells how far off the best can be at most.

    Raises:
        Contradiction: for more pieces than can be hung, or no slot.
    """
    if not slots:
        raise Contradiction("slots", "must offer at least one place to hang something")
    if len(pieces) > MOST_PIECES:
        raise Contradiction("pieces", f"can be at most {MOST_PIECES}, were {len(pieces)}")
    task = _Task(box, place, list(pieces), list(slots), order)
    bare = task.energy(np.zeros((1, len(slots)), dtype=int))[0]
    states, complete = task.states()
    energies = task.energies(states)
    best = states[int(energies.argmin())]
    within = 0.0
    if not complete:
        best, energy = task.improved(best)
        within = max(0.0, 10 * float(np.log10(energy / task.least_energy())))
    return Arrangement(
        hung=tuple(task.in_order(best)),
        lead_before_db=_lead_db(bare),
        lead_after_db=_lead_db(float(task.energy(best[None])[0])),
        proven_within_db=within,
    )


def _lead_db(energy: float) -> float:
    return -10 * float(np.log10(max(energy, 1e-6)))


class _Task:
    """States are rows of one number a slot: 0 for nothing, else a kind of piece; alike pieces are one kind."""

    def __init__(self, box: Box, place: Standing, pieces: list[Piece], slots: list[Slot], order: int) -> None:
        self._box, self._place, self._order, self._slots = box, place, order, slots
        self._kinds = list(dict.fromkeys(pieces))
        self._counts = [pieces.count(kind) for kind in self._kinds]
        self._paths = paths_of(box, place, order)
        self._left, self._area = self._tables()
        self._direct = float(heard_shares(box, place, order)[0, 0])
        # Where no path meets a wall behind any slot, only the area counts: such slots are all the same.
        self._blind = [not (self._left[slot, 1:] != 1.0).any() for slot in range(len(slots))]

    def _tables(self) -> tuple[np.ndarray, np.ndarray]:
        """Return by slot and kind what is left of each image (S, K + 1, N, 6), and the absorption gained."""
        count, kinds = len(self._paths.energy), len(self._kinds) + 1
        left = np.ones((len(self._slots), kinds, count, 6))
        gained = np.zeros((len(self._slots), kinds, 6))
        for s, slot in enumerate(self._slots):
            for k, piece in enumerate(self._kinds, start=1):
                patch = patch_of(self._box, piece, slot)
                inside = self._paths.meeting(slot.on, patch)
                change = (1 - np.array(piece.absorption)) / np.maximum(self._paths.left[inside], 1e-6)
                np.multiply.at(left[s, k], self._paths.image[inside], change)
                gained[s, k] = with_hung(self._box, [(piece, slot)]).absorption_m2 - self._box.absorption_m2
        return left, gained

    def states(self) -> tuple[np.ndarray, bool]:
        """Return the arrangements that differ and use as many pieces as there is room for, as far as MOST_TRIED."""
        rows, left = np.zeros((1, 0), dtype=int), np.array([self._counts])
        to_place = min(sum(self._counts), len(self._slots))
        complete = True
        for number in range(len(self._slots)):
            grown, remaining = [np.column_stack([rows, np.zeros(len(rows), dtype=int)])], [left]
            for kind in range(len(self._kinds)):
                fits = left[:, kind] > 0
                if self._blind[number] and number and self._blind[number - 1]:
                    fits &= (rows[:, -1] > 0) & (rows[:, -1] <= kind + 1)  # alike slots are filled in order
                grown.append(np.column_stack([rows[fits], np.full(fits.sum(), kind + 1)]))
                less = left[fits].copy()
                less[:, kind] -= 1
                remaining.append(less)
            rows, left = np.concatenate(grown), np.concatenate(remaining)
            placed, open_slots = (rows > 0).sum(axis=1), len(self._slots) - number - 1
            useful = placed + open_slots >= (to_place if not any(self._blind) else 0)
            rows, left = rows[useful], left[useful]
            if len(rows) > MOST_TRIED:
                complete = False
                most = np.argsort(-(rows > 0).sum(axis=1), kind="stable")[: MOST_TRIED // 4]
                rows, left = rows[most], left[most]
        return rows, complete

    def energies(self, states: np.ndarray) -> np.ndarray:
        return np.concatenate([self.energy(states[at : at + CHUNK]) for at in range(0, len(states), CHUNK)])

    def energy(self, states: np.ndarray) -> np.ndarray:
        """Return the speech-weighted room energy of arrangements, shape (M,)."""
        energy = np.repeat(self._paths.energy[None], len(states), axis=0)
        gained = np.zeros((len(states), 6))
        for slot in range(len(self._slots)):
            kind = states[:, slot]
            if not kind.any():
                continue
            gained += self._area[slot, kind]
            if not self._blind[slot]:
                energy *= self._left[slot, kind]
        early = energy.sum(axis=1) @ SPEECH_WEIGHTS
        return early + self._tails(gained) @ SPEECH_WEIGHTS / self._direct

    def _tails(self, gained: np.ndarray) -> np.ndarray:
        rows, back = np.unique(np.round(gained, 6), axis=0, return_inverse=True)
        tails = [
            tail_energy(
                self._box.volume_m3,
                self._box.surface_m2,
                self._box.absorption_m2 + row,
                pattern=self._place.pattern,
                source_factor=self._place.source_factor,
                order=self._order,
            )
            for row in rows
        ]
        return np.array(tails)[back.ravel()]

    def improved(self, state: np.ndarray) -> tuple[np.ndarray, float]:
        """Swap slots for as long as that helps."""
        best, energy = state, float(self.energy(state[None])[0])
        while True:
            tried = []
            for one in range(len(best)):
                for other in range(one):
                    if best[one] != best[other]:
                        swapped = best.copy()
                        swapped[[one, other]] = swapped[[other, one]]
                        tried.append(swapped)
            if not tried:
                return best, energy
            energies = self.energies(np.array(tried))
            if energies.min() >= energy - 1e-12:
                return best, energy
            best, energy = tried[int(energies.argmin())], float(energies.min())

    def least_energy(self) -> float:
        """Return less than any arrangement can reach: every slot holding the best piece at once, all areas hung."""
        left = self._left[:, 1:].min(axis=1).prod(axis=0)
        early = (self._paths.energy * left).sum(axis=0) @ SPEECH_WEIGHTS
        gained = sum(count * self._area[:, kind + 1].max(axis=0) for kind, count in enumerate(self._counts))
        return float(early + self._tails(np.array([gained]))[0] @ SPEECH_WEIGHTS / self._direct)

    def in_order(self, state: np.ndarray) -> list[Hung]:
        """Return the pieces of an arrangement, at each step the one that brings most."""
        hung, now = [], np.zeros_like(state)
        before = _lead_db(float(self.energy(now[None])[0]))
        todo = [slot for slot in range(len(state)) if state[slot]]
        while todo:
            tried = np.array([np.where(np.arange(len(state)) == slot, state, now) for slot in todo])
            energies = self.energy(tried)
            place = int(energies.argmin())
            slot, after = todo.pop(place), _lead_db(float(energies[place]))
            now = tried[place]
            hung.append(Hung(piece=self._kinds[state[slot] - 1], slot=self._slots[slot], brings_db=after - before))
            before = after
        return hung


def usual_slots(
    box: Box, *, ceiling: bool = True, spacing_m: float = 1.5, blocked: Sequence[tuple[str, Patch]] = ()
) -> tuple[Slot, ...]:
    """Return places to hang things: side by side along every wall, at the height of a head, and under the ceiling.

    Args:
        blocked: walls and patches of them where something tall stands.
    """
    slots = []
    for wall in ("north", "east", "south", "west"):
        length = box.size_m[0 if wall in ("north", "south") else 1]
        count = max(1, int(length // spacing_m))
        for number in range(count):
            middle = (number + 0.5) * length / count
            label = f"{wall} wall, {_part_of(wall, number, count)}" if count > 1 else f"{wall} wall"
            half = length / count / 2
            if not any(on == wall and low < middle + half and high > middle - half for on, (low, high, *_) in blocked):
                slots.append(Slot(on=wall, middle_m=(middle, min(1.4, box.size_m[2] / 2)), label=label))
    if ceiling:
        slots.append(Slot(on="ceiling", middle_m=(box.size_m[0] / 2, box.size_m[1] / 2), label="under the ceiling"))
    return tuple(slots)


def _part_of(wall: str, number: int, count: int) -> str:
    """Say which part of a wall a slot is."""
    low, high = ("west end", "east end") if wall in ("north", "south") else ("south end", "north end")
    middle = "middle" if count == 3 else f"place {number + 1} of {count}"
    return {0: low, count - 1: high}.get(number, middle)


def with_hung(box: Box, hung: Sequence[tuple[Piece, Slot]]) -> Box:
    """Return a box with pieces hung in it as well."""
    more = tuple(covering_of(box, piece, slot) for piece, slot in hung)
    coverings = (*box.coverings, *more)
    return Box(size_m=box.size_m, surfaces=box.surfaces, coverings=coverings, objects_m2=box.objects_m2)
