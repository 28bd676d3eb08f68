"""A room as it is drawn: its walls, windows, doors and furniture, and everything soft with where it hangs."""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

from pneumen.core.errors import Contradiction, Length, OutOfRange, UnknownName
from pneumen.core.room.box import AXIS_OF, WALLS, Box, Patch, Point, common_m2
from pneumen.core.room.furnishing import Opening, Placed, furnishing_of, patch_under, require_places
from pneumen.core.room.hangings import Piece, Slot, patch_of, with_hung
from pneumen.core.room.materials import material_named
from pneumen.core.room.reverberation import scaled_bands, scaled_box

TOUCHING_M2: Final = 1e-3
FOLD_M: Final = 0.5
"""So much of a piece may be folded over (estimate)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Soft:
    """Something soft: what it is, of which material, how large, and where its middle hangs; nowhere if on is empty."""

    label: str
    material: str
    width_m: float
    height_m: float
    on: str = ""
    u: float = 0.0
    v: float = 0.0

    @property
    def slot(self) -> Slot | None:
        """Where it hangs."""
        return Slot(on=self.on, middle_m=(self.u, self.v), label="") if self.on else None

    def piece(self, absorption_scale: float = 1.0) -> Piece:
        """Return it as a piece to hang, its absorption scaled by what a clap told of the tables."""
        return Piece(
            label=self.label,
            absorption=scaled_bands(material_named(self.material).absorption, absorption_scale),
            width_m=self.width_m,
            height_m=self.height_m,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """A room as it is drawn: size, a material for each wall, what opens, what stands where and what hangs where.

    absorption_scale is what a clap told of the tables of materials: 1 takes them as they are.
    """

    size_m: Point
    surfaces: tuple[tuple[str, str], ...]
    furniture: tuple[Placed, ...] = ()
    soft: tuple[Soft, ...] = ()
    openings: tuple[Opening, ...] = ()
    absorption_scale: float = 1.0

    @property
    def hung(self) -> tuple[tuple[Piece, Slot], ...]:
        """The pieces that hang, each with where."""
        return tuple((one.piece(self.absorption_scale), one.slot) for one in self.soft if one.slot)

    @property
    def box(self) -> Box:
        """The room as it is."""
        return _box_of(self)

    @property
    def bare_box(self) -> Box:
        """The room with its windows, doors and furniture, nothing hung."""
        return _bare_box_of(replace(self, soft=()))

    @property
    def behind_furniture(self) -> list[tuple[str, Patch]]:
        """Walls and patches of them where something tall stands: nothing hangs there."""
        under = (patch_under(self.size_m, piece) for piece in self.furniture)
        return [one for one in under if one and one[0] != "floor"]


@lru_cache(maxsize=64)
def _bare_box_of(layout: Layout) -> Box:
    coverings, objects_m2 = furnishing_of(layout.size_m, layout.furniture)
    box = Box(
        size_m=layout.size_m,
        surfaces={wall: material_named(slug).absorption for wall, slug in layout.surfaces},
        coverings=(*(one.covering(layout.size_m) for one in layout.openings), *coverings),
        objects_m2=objects_m2,
    )
    return scaled_box(box, layout.absorption_scale)


@lru_cache(maxsize=64)
def _box_of(layout: Layout) -> Box:
    return with_hung(layout.bare_box, layout.hung)


def require_furnished(layout: Layout) -> None:
    """Refuse a room that cannot be: of no size, furniture in a wall or in other furniture, openings beyond a wall.

    Raises:
        OutOfRange, UnknownName, Contradiction: naming what cannot be.
    """
    for tried in (replace(layout, openings=(), furniture=()), layout):  # first the walls, then what is in them
        tried.bare_box  # noqa: B018 - it refuses what cannot be built
    require_places(layout.size_m, layout.furniture)


def require_hung(layout: Layout) -> None:
    """Refuse two pieces in each other's place, one behind something tall, and more than a wall holds.

    Raises:
        OutOfRange, Contradiction: naming the piece.
    """
    hung = [(piece, slot.on, patch_of(layout.bare_box, piece, slot)) for piece, slot in layout.hung]
    for number, (piece, on, patch) in enumerate(hung):
        for other_piece, other_on, other in hung[:number]:
            if on == other_on and common_m2(patch, other) > TOUCHING_M2:
                raise Contradiction(piece.label, f"would hang over {other_piece.label} there: move one of them")
        for wall, behind in layout.behind_furniture:
            if on == wall and common_m2(patch, behind) > TOUCHING_M2:
                raise Contradiction(piece.label, "would hang behind something tall there: move one of them")
    layout.box  # noqa: B018 - it refuses more than a wall holds


def require_hangable(size_m: Point, soft: Soft) -> None:
    """Refuse a piece on a wall there is not, beyond its wall, or larger than it by more than a fold takes up.

    Raises:
        UnknownName, OutOfRange, Contradiction: naming the wall, the place or the piece.
    """
    if soft.on not in WALLS:
        raise UnknownName("wall", soft.on, WALLS)
    first, second = (side for axis, side in enumerate(size_m) if axis != AXIS_OF[soft.on])
    for length_m, side, word in ((soft.width_m, first, "wide"), (soft.height_m, second, "high")):
        if length_m > side + FOLD_M:
            where = soft.on if soft.on in ("floor", "ceiling") else f"{soft.on} wall"
            problem = f"is {{length}} {word}, the {where} only {{side}}"
            raise Contradiction(soft.label, problem, length=Length(length_m), side=Length(side))
    for name, at_m, side in (("place along the wall", soft.u, first), ("place up the wall", soft.v, second)):
        if not 0 <= at_m <= side:
            raise OutOfRange(name, at_m, "between 0 and {side}", side=Length(side))


def require_apart(size_m: Point, opening: Opening, others: tuple[Opening, ...]) -> None:
    """Refuse a window or door beyond its wall, or over another.

    Raises:
        OutOfRange, Contradiction: naming what cannot be.
    """
    opening.covering(size_m)
    for other in others:
        if other.on == opening.on and common_m2(other.patch, opening.patch) > TOUCHING_M2 / 10:
            raise Contradiction("opening", f"would lie over another in the {opening.on} wall")
