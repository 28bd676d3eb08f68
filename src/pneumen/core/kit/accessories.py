"""The small things a chain needs, each the cheapest that serves: a cable of the right plugs and length, a stand that
reaches the mouth, a filter, headphones that fit the socket, software for this system."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.kit.item import Item
from pneumen.core.kit.lacks import monitor_lacks, software_lacks
from pneumen.core.kit.leads import CABLE_M, LINE_CABLE_M
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.owned import OwnedGear

MOUTH_STANDING_M: Final = 1.6
MOUTH_SITTING_M: Final = 1.25
"""How high a capsule has to reach (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SmallThing:
    """One thing a kit needs: where it comes from (shop, owned, or the box of the item named)."""

    kind: str
    item: Item | None
    price: float
    found_in: str


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Piece:
    """One small thing that is there once: owned (item None where only its kind is known), or in a bundle."""

    kind: str
    item: Item | None
    found_in: str
    number: int


SERVES_ONE: Final = (
    "stand-clip",
    "shock-mount",
    "desk-stand",
    "boom-stand",
    "pop-filter",
    "foam-windscreen",
    "xlr-cable",
    "instrument-cable",
)
"""Kinds of which every microphone or plug needs its own."""


class Missing(Exception):
    """No item of the catalogue serves a need."""

    def __init__(self, kind: str, what: str) -> None:
        super().__init__(what)
        self.kind = kind


SMALL_KINDS: Final = frozenset(
    {
        "boom-stand",
        "desk-stand",
        "stand-clip",
        "pop-filter",
        "xlr-cable",
        "instrument-cable",
        "headphones",
        "phones-adapter",
        "software",
        "memory-card",
        "usb-cable",
        "monitor",
        "line-cable",
        "clamps",
        "pole",
    }
)
"""What a chain needs beside its devices; it is asked of the shelf, never wished for."""


class Shelf:
    """The small things of a catalogue, asked for the cheapest that serves; owned ones come first."""

    def __init__(self, needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...], bundle: Item | None = None) -> None:
        """Take in what there is; a bundle brings its contents along at no price of their own."""
        self.plenty = owned.plenty
        self._one_at_a_time = needs.most_at_once == 1
        self._owned, self.given = owned, frozenset(bundle.in_box) if bundle else frozenset()
        self.pieces = tuple(_pieces(needs, owned, catalogue, bundle))
        self._items: dict[str, list[Item]] = {}
        theirs = [item for item in owned.items if owned.plenty or item.kind not in SERVES_ONE]
        mine = {item.id for item in theirs}
        for item in (*theirs, *(item for item in catalogue if item.id not in mine)):
            self._items.setdefault(item.kind, []).append(item)
        for items in self._items.values():
            items.sort(key=lambda item: (item.id not in needs.must, self.cost(item), item.id))
        self.bundled = frozenset(name for one in catalogue if one.kind == "bundle" for name in one.in_box)
        """Ids of what some bundle holds."""
        self._found: dict[tuple[str, str], SmallThing | None] = {}

    def cost(self, item: Item) -> float:
        """Return what an item costs here."""
        return 0.0 if item.id in self.given and item.kind not in SERVES_ONE else item.cost

    def next_cost(self, item: Item) -> float:
        """Return what one more piece of an item costs here: nothing where another like it is owned; infinite where
        one's own is the only one there is."""
        if item.owned and (self.plenty or self._has_twin(item)):
            return 0.0
        return float("inf") if item.owned and item.price <= 0 else item.shop_cost

    def _has_twin(self, item: Item) -> bool:
        """Tell whether another just like it is owned; where parts are recorded at once that one may be wanted there."""
        return self._one_at_a_time and any(
            one.id != item.id and one.kind == item.kind and replace(one, id=item.id, name=item.name) == item
            for one in self._owned.items
        )

    def things(self, kind: str) -> list[Item]:
        """Return the items of a kind, cheapest first."""
        return self._items.get(kind, [])

    def one(
        self,
        kind: str,
        *,
        boxes: Iterable[Item] = (),
        stock: list[Piece] | None = None,
        rule: str = "",
        fits: Callable[[Item], bool] | None = None,
    ) -> SmallThing:
        """Return the cheapest of a kind that fits.

        Args:
            boxes: devices whose boxes may hold it.
            stock: pieces that may be used up; the one used is taken out.
            rule: names the rule in fits, so that the answer is looked for once.
            fits: what it must be able to do.

        Raises:
            Missing: where nothing serves.
        """
        for box in boxes:
            if kind in box.in_box:
                return SmallThing(kind=kind, item=None, price=0.0, found_in=box.name)
        used = next((piece for piece in stock or () if piece.kind == kind), None)
        if stock is not None and used is not None:
            stock.remove(used)
            return SmallThing(kind=kind, item=used.item, price=0.0, found_in=used.found_in)
        if (kind, rule) not in self._found:
            self._found[kind, rule] = self._cheapest(kind, rule, fits or _any)
        found = self._found[kind, rule]
        if found is None:
            raise Missing(kind, f"no {kind} in the catalogue {rule or 'serves'}")
        return found

    def another(self, kind: str, *, rule: str, fits: Callable[[Item], bool]) -> SmallThing:
        """Return one more of a kind of which what is owned, or in a box, serves one person: the cheapest to buy.

        Raises:
            Missing: where nothing serves.
        """
        if self.plenty and kind in self._owned.kinds:
            return SmallThing(kind=kind, item=None, price=0.0, found_in="owned")
        found = min(
            (one for one in self.things(kind) if fits(one)), key=lambda one: (self.next_cost(one), one.id), default=None
        )
        if found is None:
            raise Missing(kind, f"no {kind} in the catalogue {rule}")
        free = found.owned and self.plenty
        return SmallThing(kind=kind, item=found, price=self.next_cost(found), found_in="owned" if free else "shop")

    def _cheapest(self, kind: str, rule: str, fits: Callable[[Item], bool]) -> SmallThing | None:
        if kind in self._owned.kinds and (self.plenty or kind not in SERVES_ONE):
            return SmallThing(kind=kind, item=None, price=0.0, found_in="owned")
        for item in self.things(kind):
            if fits(item):
                found_in = "owned" if item.owned else "shop"
                return SmallThing(kind=kind, item=item, price=self.cost(item), found_in=found_in)
        return None


def _pieces(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...], bundle: Item | None) -> Iterator[Piece]:
    """Yield what is there once and can serve any microphone or plug; shorter cables and lower stands cannot."""
    known: list[tuple[str, Item | None, str]] = []
    if not owned.plenty:
        known = [(item.kind, item, "owned") for item in owned.items] + [(kind, None, "owned") for kind in owned.kinds]
    if bundle:
        inside = (item for item in catalogue if item.id in bundle.in_box)
        known += [(item.kind, item, bundle.name) for item in inside]
    height_m, long_enough = _height_m(needs), _is_long(needs.cable_m)
    serves = {
        "xlr-cable": _is_xlr(needs.cable_m),
        "instrument-cable": long_enough,
        "boom-stand": lambda item: item.reach_m >= height_m,
    }
    # What is owned and known by its kind alone is taken to serve: Hookup says how long a cable has to be.
    serving = [
        (k, item, place) for k, item, place in known if k in SERVES_ONE and (not item or serves.get(k, _any)(item))
    ]
    for number, (kind, item, found_in) in enumerate(serving):
        yield Piece(kind=kind, item=item, found_in=found_in, number=number)


def for_microphone(
    shelf: Shelf,
    needs: Needs,
    microphone: Item,
    parts: tuple[int, ...],
    *,
    boosted: bool = False,
    stock: list[Piece],
) -> Iterator[SmallThing]:
    """Yield what one microphone needs to stand ready for its parts, stock used up first; one's own has its clip."""
    boxes = (microphone,)
    yield _stand(shelf, needs, microphone, parts, stock)
    if (
        microphone.kind == "microphone"
        and not microphone.owned
        and not {"stand-clip", "shock-mount", "desk-stand"} & set(microphone.in_box)
    ):
        yield shelf.one("stand-clip", stock=stock)
    if any(needs.parts[part].source.pops for part in parts):  # foam takes little of a blast
        yield shelf.one("pop-filter", boxes=boxes, stock=stock)
    if microphone.kind == "microphone" and microphone.microphone_family.plug == "xlr":
        yield _xlr_cable(shelf, needs, stock, boxes)
        if boosted:
            yield shelf.one("xlr-cable", stock=stock, rule="is XLR to XLR", fits=lambda item: _plugs(item) == {"xlr"})


def _stand(shelf: Shelf, needs: Needs, microphone: Item, parts: tuple[int, ...], stock: list[Piece]) -> SmallThing:
    if not needs.standing and all(needs.parts[part].source.group == "voice" for part in parts):
        return shelf.one("desk-stand", boxes=(microphone,), stock=stock)
    height_m = _height_m(needs)
    return shelf.one(
        "boom-stand",
        boxes=(microphone,),
        stock=stock,
        rule=f"reaches {height_m:g} m",
        fits=lambda item: (item.reach_m or 0) >= height_m,
    )


def _xlr_cable(shelf: Shelf, needs: Needs, stock: list[Piece], boxes: tuple[Item, ...] = ()) -> SmallThing:
    length_m = needs.cable_m
    boxes = boxes if length_m <= CABLE_M else ()  # what lies in a box is a usual one
    rule = f"is XLR to XLR and {length_m:g} m long"
    return shelf.one("xlr-cable", boxes=boxes, stock=stock, rule=rule, fits=_is_xlr(length_m))


def for_plug(shelf: Shelf, needs: Needs, *, boxed: bool, stock: list[Piece]) -> Iterator[SmallThing]:
    """Yield what a plugged-in instrument needs to reach the interface, stock used up first; a box stands beside it."""
    length_m = CABLE_M if boxed else needs.cable_m
    yield shelf.one("instrument-cable", stock=stock, rule=f"is {length_m:g} m long", fits=_is_long(length_m))
    if boxed:
        yield _xlr_cable(shelf, needs, stock)


def for_hub(shelf: Shelf, needs: Needs, hub: Item | None) -> Iterator[SmallThing]:
    """Yield what the interface, recorder or (without either) the computer needs beside the microphones."""
    boxes = (hub,) if hub else ()
    yield from _headphones(shelf, hub, boxes)
    for _ in range(needs.most_at_once - 1):  # whoever plays along has to hear
        yield shelf.another("headphones", rule="is closed", fits=_is_closed)
    if hub and hub.kind == "recorder":
        yield shelf.one("memory-card", boxes=boxes)
    else:
        yield shelf.one(
            "software",
            boxes=boxes if needs.computer != "tablet" else (),
            rule="serves these needs",
            fits=lambda item: not software_lacks(needs, item),
        )
    if hub and hub.kind == "interface" and not hub.owned:
        yield shelf.one("usb-cable", boxes=boxes)
    if needs.monitors and hub and hub.kind == "interface":
        for _ in range(2):
            yield shelf.one(
                "monitor",
                rule="is active, balanced and loud enough for this room",
                fits=lambda item: not monitor_lacks(needs, item),
            )
            yield shelf.one("line-cable", rule="is balanced and 2 m long", fits=_is_line)


def _headphones(shelf: Shelf, hub: Item | None, boxes: tuple[Item, ...]) -> Iterator[SmallThing]:
    """Closed headphones, with an adapter where plug and socket differ: the cheaper of the two ways."""
    if not hub or hub.phones_plug != "6.35 mm":
        yield shelf.one("headphones", boxes=boxes, rule="is closed with a thin plug", fits=_has_thin_plug)
        return
    ways = []
    for rule, fits in (("is closed with a thick plug", _has_thick_plug), ("is closed", _is_closed)):
        try:
            phones = shelf.one("headphones", boxes=boxes, rule=rule, fits=fits)
            thick = phones.item is not None and _has_thick_plug(phones.item)
            adapter = () if thick else (shelf.one("phones-adapter", boxes=boxes),)
            ways.append((phones, *adapter))
        except Missing as missing:
            fault = missing
    if not ways:
        raise fault
    yield from min(ways, key=lambda way: sum(thing.price for thing in way))


def _height_m(needs: Needs) -> float:
    return MOUTH_STANDING_M if needs.standing else MOUTH_SITTING_M


def _any(item: Item) -> bool:
    return True


def _is_closed(item: Item) -> bool:
    return item.closed is not False


def _has_thin_plug(item: Item) -> bool:
    return _is_closed(item) and item.phones_plug != "6.35 mm"


def _has_thick_plug(item: Item) -> bool:
    return _is_closed(item) and (item.phones_plug == "6.35 mm" or "phones-adapter" in item.in_box)


def _plugs(item: Item) -> set[str]:
    return {item.plug_from or "xlr", item.plug_to or "xlr"}


def _is_long(least_m: float) -> Callable[[Item], bool]:
    return lambda item: (item.length_m or 0) >= least_m


def _is_xlr(least_m: float) -> Callable[[Item], bool]:
    return lambda item: _plugs(item) == {"xlr"} and (item.length_m or 0) >= least_m


def _is_line(item: Item) -> bool:
    return (item.length_m or 0) >= LINE_CABLE_M and {item.plug_from, item.plug_to} <= {"trs", "xlr", ""}
