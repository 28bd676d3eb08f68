"""Every complete kit the catalogue and what is owned can make, and the one to recommend.

Complete means nothing is missing that the chain needs. The recommended kit is the cheapest whose clean range and
direct-to-room ratio are both within 1 dB of the best that the money reaches; what is owned costs nothing.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.errors import NothingFits, UnknownName, require_within
from pneumen.core.kit.catalogue import Item, chain_of
from pneumen.core.line import Levels, levels_of
from pneumen.core.part import Source
from pneumen.core.place import StartingDistance, starting_distance
from pneumen.core.room import Room
from pneumen.core.setup import Chain, SourceLevels

GOOD_ENOUGH_DB: Final = 1.0
MOST_TOO_LOUD_DB: Final = 3.0
MOST_TOO_QUIET_DB: Final = 12.0
"""How far above or below -9 dBFS a kit's peak may stay with its control at the stop; distance does the rest."""
ROUTES: Final = ("any", "usb", "interface")


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnedGear:
    """What is there already: whole items with data sheets, and small things by kind."""

    items: tuple[Item, ...] = ()
    kinds: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True, kw_only=True)
class Needs:
    """What the kit is for. budget is in whatever currency the prices are in."""

    source: Source
    levels: SourceLevels
    room: Room
    budget: float
    route: str = "any"

    def __post_init__(self) -> None:
        require_within("budget", self.budget, 0, 1_000_000)
        if self.route not in ROUTES:
            raise UnknownName("route", self.route, ROUTES)


@dataclass(frozen=True, slots=True, kw_only=True)
class KitLine:
    """One line of the packing list; found_in says where a thing comes from: shop, owned, or the box of another."""

    kind: str
    item: Item | None
    price: float
    found_in: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Kit:
    """A complete kit with what it is predicted to do at its starting distance and gain.

    A recommended one also tells how many kits within the money it was chosen from, and the best clean range of them.
    """

    microphone: Item
    interface: Item | None
    booster: Item | None
    lines: tuple[KitLine, ...]
    total: float
    place: StartingDistance
    gain_db: float
    levels: Levels
    forgotten: tuple[str, ...]
    chosen_from: int = 1
    best_clean_range_db: float = 0.0

    @property
    def chain(self) -> Chain:
        return chain_of(self.microphone, self.interface, self.booster)


def choose_kit(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> Kit:
    """Return the recommended kit within the budget.

    Raises:
        NothingFits: with the cheapest total that would work, None where no money would.
    """
    kits = list(complete_kits(needs, owned, catalogue))
    within = [kit for kit in kits if kit.total <= needs.budget]
    if not within:
        cheapest = min((kit.total for kit in kits), default=None)
        because = "no microphone here can be brought up to level" if cheapest is None else "every kit costs more"
        raise NothingFits(needs.budget, cheapest, because)
    best_clean = max(kit.levels.clean_range_db for kit in within)
    best_direct = max(kit.place.direct_to_reverberant_db for kit in within)
    good = [
        kit
        for kit in within
        if kit.levels.clean_range_db >= best_clean - GOOD_ENOUGH_DB
        and kit.place.direct_to_reverberant_db >= best_direct - GOOD_ENOUGH_DB
    ]
    # No kit may be near the best in both; then the clean range decides.
    good = good or [kit for kit in within if kit.levels.clean_range_db >= best_clean - GOOD_ENOUGH_DB]
    chosen = min(good, key=lambda kit: (kit.total, -kit.levels.clean_range_db))
    return replace(chosen, chosen_from=len(within), best_clean_range_db=best_clean)


def complete_kits(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> Iterator[Kit]:
    """Yield every complete kit, whatever it costs. One's own microphone and interface come before the shop's."""
    boosters = [None, *_offers("booster", owned, catalogue)]
    for microphone in _offers("microphone", owned, catalogue):
        usb = microphone.microphone_family.plug == "usb"
        if not microphone.owned and needs.route not in ("any", "usb" if usb else "interface"):
            continue
        if usb:
            kit = _kit(needs, owned, catalogue, microphone, None, None)
            if kit:
                yield kit
            continue
        for interface in _offers("interface", owned, catalogue):
            for booster in boosters:
                if booster and microphone.microphone_family.needs_phantom:
                    continue  # a booster keeps the phantom power to itself
                kit = _kit(needs, owned, catalogue, microphone, interface, booster)
                if kit:
                    yield kit


def _offers(kind: str, owned: OwnedGear, catalogue: tuple[Item, ...]) -> list[Item]:
    """What is owned of a kind is used; only where nothing is owned does one buy."""
    mine = [item for item in owned.items if item.kind == kind]
    return mine or [item for item in catalogue if item.kind == kind]


def _kit(
    needs: Needs,
    owned: OwnedGear,
    catalogue: tuple[Item, ...],
    microphone: Item,
    interface: Item | None,
    booster: Item | None,
) -> Kit | None:
    chain = chain_of(microphone, interface, booster)
    place = starting_distance(needs.source, needs.room, chain.microphone.pattern)
    gain_db = _gain_for_aim(chain, needs, place.distance_m)
    if gain_db is None:
        return None
    setup = chain.setup(
        source=needs.levels, room_noise_dba=needs.room.noise_dba, distance_m=place.distance_m, gain_db=gain_db
    )
    lines = tuple(_lines(needs, owned, catalogue, microphone, interface, booster))
    return Kit(
        microphone=microphone,
        interface=interface,
        booster=booster,
        lines=lines,
        total=sum(line.price for line in lines),
        place=place,
        gain_db=gain_db,
        levels=levels_of(setup),
        forgotten=tuple(_forgotten(lines)),
    )


def _gain_for_aim(chain: Chain, needs: Needs, distance_m: float) -> float | None:
    """Return the gain that brings the peak to -9 dBFS, None where the control cannot come near it."""
    low, high = chain.gain_range_db
    setup = chain.setup(source=needs.levels, room_noise_dba=needs.room.noise_dba, distance_m=distance_m, gain_db=low)
    wanted = levels_of(setup).gain_for_peak_db["-9"]
    reachable = min(max(wanted, low), high)
    fits = -MOST_TOO_LOUD_DB <= wanted - reachable <= MOST_TOO_QUIET_DB
    return float(round(reachable)) if fits else None


def _lines(
    needs: Needs,
    owned: OwnedGear,
    catalogue: tuple[Item, ...],
    microphone: Item,
    interface: Item | None,
    booster: Item | None,
) -> Iterator[KitLine]:
    devices = [item for item in (microphone, interface, booster) if item]
    boxed = {kind: item for item in devices for kind in item.in_box if not item.owned}
    whys = {
        "microphone": "hears you",
        "interface": "amplifies, converts, and feeds the headphones",
        "booster": "lifts a weak microphone over the preamp's noise",
    }
    for item in devices:
        yield KitLine(
            kind=item.kind,
            item=item,
            price=0 if item.owned else item.price,
            found_in="owned" if item.owned else "shop",
            why=whys[item.kind],
        )
    for kind, why in _small_things(needs, microphone, interface, booster):
        if kind in owned.kinds:
            yield KitLine(kind=kind, item=None, price=0, found_in="owned", why=why)
        elif kind in boxed:
            yield KitLine(kind=kind, item=None, price=0, found_in=boxed[kind].name, why=why)
        else:
            item = min((item for item in catalogue if item.kind == kind), key=lambda item: item.price)
            yield KitLine(kind=kind, item=item, price=item.price, found_in="shop", why=why)


def _small_things(
    needs: Needs, microphone: Item, interface: Item | None, booster: Item | None
) -> Iterator[tuple[str, str]]:
    """What every chain needs besides its devices: kind and reason."""
    yield "boom-stand", "reaches a standing mouth, or an instrument; a desk stand does not"
    if needs.source.pops:
        yield "pop-filter", "breaks the air of P and B before it hits the capsule"
    if interface:
        yield "xlr-cable", "microphone to interface, balanced"
        if booster:
            yield "xlr-cable", "booster to interface"
    yield "headphones", "closed: what you hear must not reach the microphone"
    if interface and interface.phones_plug == "6.35 mm":
        yield "phones-adapter", "the interface has the thick socket, most headphones the thin plug"
    yield "software", "records the input to a mono track"


def _forgotten(lines: tuple[KitLine, ...]) -> Iterator[str]:
    """Kinds people commonly forget and this kit leaves out, each worth its price (common practice, no source)."""
    present = {line.kind for line in lines}
    if "xlr-cable" in present:
        yield "xlr-cable"
    for kind in ("shock-mount", "booth-materials"):
        if kind not in present:
            yield kind
