"""What is there already: whole devices, small things by kind, and what is soft."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.errors import UnknownName, require_positive, require_within
from pneumen.core.kit.item import Item
from pneumen.core.kit.kinds import KIND_LABELS
from pneumen.core.room import material_named

MOST_TEXTILES: Final = 50


@dataclass(frozen=True, slots=True, kw_only=True)
class Textile:
    """Something soft that is there and hangs nowhere yet, as often as count says."""

    material: str
    width_m: float
    height_m: float
    count: int = 1

    def __post_init__(self) -> None:
        material_named(self.material)
        require_positive("width_m", self.width_m, 20)
        require_positive("height_m", self.height_m, 20)
        require_within("count", self.count, 1, MOST_TEXTILES)

    @property
    def area_m2(self) -> float:
        return self.count * self.width_m * self.height_m

    @property
    def absorption_m2(self) -> tuple[float, ...]:
        """The absorption area in each octave, of all of them together."""
        return tuple(self.area_m2 * share for share in material_named(self.material).absorption)


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnedGear:
    """What is there already: whole items with data sheets, and small things by kind, a kind as often as there are.

    Where there is plenty, one of each serves as often as it is needed.
    """

    items: tuple[Item, ...] = ()
    kinds: tuple[str, ...] = ()
    textiles: tuple[Textile, ...] = ()
    plenty: bool = False


DEVICE_KINDS: Final = ("microphone", "interface", "recorder", "booster", "inline-pad", "di-box", "covering")
"""Owning one of these, known by its kind alone, is owning a plain one."""
PLAIN_FAMILIES: Final = {"microphone": "dynamic", "interface": "bare-knob"}


def owned_gear(
    names: tuple[str, ...], catalogue: tuple[Item, ...], *, textiles: tuple[Textile, ...] = (), plenty: bool = False
) -> OwnedGear:
    """Return what is owned from kinds and ids of the catalogue.

    A microphone or interface known by its kind alone is taken for a dynamic, or one with a bare knob, as its family
    is; another device for the cheapest of its kind.

    Raises:
        UnknownName: for a name that is neither.
    """
    by_id = {item.id: item for item in catalogue}
    items, kinds = [], []
    for name in names:
        if name in by_id:
            items.append(owned_item(by_id[name]))
        elif name in PLAIN_FAMILIES:
            plain = KIND_LABELS[name]
            items.append(
                Item(
                    id=f"own-{name}",
                    kind=name,
                    name=f"Your {plain.lower()}",
                    price=0,
                    family=PLAIN_FAMILIES[name],
                    owned=True,
                )
            )
        elif name in DEVICE_KINDS:
            alike = sorted((item for item in catalogue if item.kind == name), key=lambda item: (item.cost, item.id))
            items += [owned_item(item) for item in alike[:1]]
        elif name in KIND_LABELS:
            kinds.append(name)
        else:
            raise UnknownName("owned", name, ("a kind (" + ", ".join(KIND_LABELS) + ")", "an id of the catalogue"))
    return OwnedGear(items=tuple(items), kinds=tuple(sorted(kinds)), textiles=textiles, plenty=plenty)


def owned_item(item: Item) -> Item:
    """Return an item as one's own: it costs nothing."""
    return replace(item, owned=True)


def cheapest_of(
    kind: str, owned: OwnedGear, catalogue: Iterable[Item], fits: Callable[[Item], bool] = lambda item: True
) -> Item | None:
    """Return what serves of a kind: what is owned first, else the cheapest to buy; None where nothing serves."""
    mine = {item.id: item for item in owned.items}
    there = [*mine.values(), *(item for item in catalogue if item.id not in mine)]
    alike = (item for item in there if item.kind == kind and fits(item))
    return min(alike, key=lambda item: (item.cost, item.id), default=None)
