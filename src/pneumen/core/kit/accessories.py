"""The small things a chain needs, each the cheapest that serves: a cable of the right plugs and length, a stand that
reaches the mouth, a filter, headphones that fit the socket, software for this system."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Final

from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import Needs, OwnedGear

MOUTH_STANDING_M: Final = 1.6
MOUTH_SITTING_M: Final = 1.25
"""How high a capsule has to reach (common practice, no source)."""
CABLE_M: Final = 3.0
LINE_CABLE_M: Final = 2.0
"""How long a cable has to be at the least, from a stand to a desk, from a desk to a loudspeaker (likewise)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SmallThing:
    """One thing a kit needs: where it comes from (shop, owned, or the box of the item named), and why."""

    kind: str
    item: Item | None
    price: float
    found_in: str
    why: str


class Missing(Exception):
    """No item of the catalogue serves a need."""

    def __init__(self, kind: str, what: str) -> None:
        super().__init__(what)
        self.kind = kind


WHYS: Final = {
    "boom-stand": "reaches a standing mouth, or an instrument; a desk stand does not",
    "desk-stand": "holds it on the table you sit at",
    "stand-clip": "holds the microphone on its stand",
    "pop-filter": "breaks the air of P and B before it hits the capsule",
    "xlr-cable": "microphone to interface, balanced",
    "instrument-cable": "from the instrument’s plug",
    "headphones": "closed: what you hear must not reach the microphone",
    "phones-adapter": "the socket is thick, the plug thin",
    "software": "records the input to a mono track",
    "memory-card": "takes the recording",
    "usb-cable": "to the computer",
    "monitor": "to hear the mix in the room",
    "line-cable": "from the interface to a monitor, balanced",
    "clamps": "hold what is hung",
    "pole": "carries what is hung",
}


class Shelf:
    """The small things of a catalogue, asked for the cheapest that serves; owned ones come first."""

    def __init__(
        self, needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...], given: frozenset[str] = frozenset()
    ) -> None:
        """Take in what there is; given are the ids a bundle brings along at no price of their own."""
        self._owned, self.given = owned, given
        self._items: dict[str, list[Item]] = {}
        mine = {item.id for item in owned.items}
        for item in (*owned.items, *(item for item in catalogue if item.id not in mine)):
            self._items.setdefault(item.kind, []).append(item)
        for items in self._items.values():
            items.sort(key=lambda item: (item.id not in needs.must, self.cost(item), item.id))
        self._found: dict[tuple[str, str], SmallThing] = {}

    def cost(self, item: Item) -> float:
        """Return what an item costs here."""
        return 0.0 if item.id in self.given else item.cost

    def things(self, kind: str) -> list[Item]:
        """Return the items of a kind, cheapest first."""
        return self._items.get(kind, [])

    def one(
        self, kind: str, *, boxes: Iterable[Item] = (), rule: str = "", fits: Callable[[Item], bool] | None = None
    ) -> SmallThing:
        """Return the cheapest of a kind that fits.

        Args:
            boxes: devices whose boxes may hold it.
            rule: names the rule in fits, so that the answer is looked for once.
            fits: what it must be able to do.

        Raises:
            Missing: where nothing serves.
        """
        for box in boxes:
            if kind in box.in_box:
                return SmallThing(kind=kind, item=None, price=0.0, found_in=box.name, why=WHYS[kind])
        if (kind, rule) not in self._found:
            self._found[kind, rule] = self._cheapest(kind, rule, fits or (lambda _: True))
        return self._found[kind, rule]

    def _cheapest(self, kind: str, rule: str, fits: Callable[[Item], bool]) -> SmallThing:
        if kind in self._owned.kinds:
            return SmallThing(kind=kind, item=None, price=0.0, found_in="owned", why=WHYS[kind])
        for item in self.things(kind):
            if fits(item):
                found_in = "owned" if item.owned else "shop"
                return SmallThing(kind=kind, item=item, price=self.cost(item), found_in=found_in, why=WHYS[kind])
        raise Missing(kind, f"no {kind} in the catalogue {rule or 'serves'}")


def for_microphone(
    shelf: Shelf, needs: Needs, microphone: Item, parts: tuple[int, ...], booster: Item | None
) -> Iterator[SmallThing]:
    """Yield what one microphone needs to stand ready for its parts; one's own has its clip."""
    boxes = (microphone,)
    yield _stand(shelf, needs, microphone, parts)
    if (
        microphone.kind == "microphone"
        and not microphone.owned
        and not {"stand-clip", "shock-mount", "desk-stand"} & set(microphone.in_box)
    ):
        yield shelf.one("stand-clip")
    if any(needs.parts[part].source.pops for part in parts) and "foam-windscreen" not in microphone.in_box:
        yield shelf.one("pop-filter", boxes=boxes)
    if microphone.kind == "microphone" and microphone.microphone_family.plug == "xlr":
        yield shelf.one("xlr-cable", boxes=boxes, rule="is XLR to XLR and 3 m long", fits=_is_xlr)
        if booster:
            yield shelf.one("xlr-cable", rule="is XLR to XLR", fits=lambda item: _plugs(item) == {"xlr"})


def _stand(shelf: Shelf, needs: Needs, microphone: Item, parts: tuple[int, ...]) -> SmallThing:
    if not needs.standing and all(needs.parts[part].source.group == "voice" for part in parts):
        return shelf.one("desk-stand", boxes=(microphone,))
    height_m = MOUTH_STANDING_M if needs.standing else MOUTH_SITTING_M
    return shelf.one(
        "boom-stand", boxes=(microphone,), rule=f"reaches {height_m:g} m", fits=lambda item: item.reach_m >= height_m
    )


def for_plug(shelf: Shelf, box: Item | None) -> Iterator[SmallThing]:
    """Yield what a plugged-in instrument needs to reach the interface."""
    yield shelf.one("instrument-cable", rule="is 3 m long", fits=lambda item: item.length_m >= CABLE_M)
    if box:
        yield shelf.one("xlr-cable", rule="is XLR to XLR and 3 m long", fits=_is_xlr)


def for_hub(shelf: Shelf, needs: Needs, hub: Item | None) -> Iterator[SmallThing]:
    """Yield what the interface, recorder or (without either) the computer needs beside the microphones."""
    boxes = (hub,) if hub else ()
    yield from _headphones(shelf, hub, boxes)
    if hub and hub.kind == "recorder":
        yield shelf.one("memory-card", boxes=boxes)
    else:
        yield shelf.one(
            "software",
            boxes=boxes if needs.computer != "tablet" else (),
            rule=f"runs on {needs.computer or 'this computer'} with {len(needs.parts) + 1} tracks",
            fits=lambda item: item.works_with(needs.computer) and (item.tracks or 0) > len(needs.parts),
        )
    if hub and hub.kind == "interface" and not hub.owned:
        yield shelf.one("usb-cable", boxes=boxes)
    if needs.monitors and hub and hub.kind == "interface":
        for _ in range(2):
            yield shelf.one("monitor", rule="is active and balanced", fits=_is_monitor)
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


def _is_closed(item: Item) -> bool:
    return item.closed is not False


def _has_thin_plug(item: Item) -> bool:
    return _is_closed(item) and item.phones_plug != "6.35 mm"


def _has_thick_plug(item: Item) -> bool:
    return _is_closed(item) and (item.phones_plug == "6.35 mm" or "phones-adapter" in item.in_box)


def _plugs(item: Item) -> set[str]:
    return {item.plug_from or "xlr", item.plug_to or "xlr"}


def _is_xlr(item: Item) -> bool:
    return _plugs(item) == {"xlr"} and item.length_m >= CABLE_M


def _is_line(item: Item) -> bool:
    return item.length_m >= LINE_CABLE_M and {item.plug_from, item.plug_to} <= {"trs", "xlr", ""}


def _is_monitor(item: Item) -> bool:
    return item.active is not False and item.balanced is not False
