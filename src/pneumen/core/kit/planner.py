"""From needs to kits: every kit worth buying, complete, and the one to recommend."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any, Final

from pneumen.core.delay import choose_buffer, round_trip_ms
from pneumen.core.errors import NothingFits, given
from pneumen.core.kit.accessories import SMALL_KINDS, Shelf, SmallThing
from pneumen.core.kit.coverings import Hanging, hangings_for
from pneumen.core.kit.enough import Worth, recommended_of
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.frontier import Point, unbeaten
from pneumen.core.kit.item import DEAREST, Item
from pneumen.core.kit.kinds import TABLED_BUFFERS
from pneumen.core.kit.levels import PartLevels, levels_of_part
from pneumen.core.kit.lines import KitLine, forgotten_kinds, line_of, place_of
from pneumen.core.kit.needs import Needs, OwnedGear
from pneumen.core.kit.offers import Offer, offers_of
from pneumen.core.kit.search import CENT, LEADING, DeviceKit, device_kits, things_of_hub, things_of_voice
from pneumen.core.line import Levels


@dataclass(frozen=True, slots=True, kw_only=True)
class Kit:
    """A complete kit and what it is predicted to do: its worst part's clean range and direct-to-room ratio.

    voices, parts, leads_db and bands_db stand in the needs' order; direct_to_reverberant_db is infinite where all is
    plugged in.
    """

    hub: Item | None
    voices: tuple[Voice, ...]
    parts: tuple[PartLevels, ...]
    leads_db: tuple[float, ...]
    bands_db: tuple[float, ...]
    hanging: Hanging
    lines: tuple[KitLine, ...]
    total: float
    total_of_devices: float
    clean_range_db: float
    direct_to_reverberant_db: float
    headroom_db: float
    round_trip_ms: float | None
    forgotten: tuple[str, ...]

    @property
    def overloads(self) -> tuple[int, ...]:
        """The parts that something in this kit may clip, at its lowest gain and within the part's band."""
        return tuple(number for number, part in enumerate(self.parts) if part.spare_db < self.bands_db[number])

    @property
    def worst(self) -> int:
        """The part whose clean range is the kit's."""
        return min(range(len(self.parts)), key=lambda number: self.parts[number].levels.clean_range_db)

    @property
    def noise_set_by(self) -> str:
        return self.parts[self.worst].levels.noise_set_by

    @property
    def microphone(self) -> Item | None:
        """The microphone of the first part."""
        return self.voices[0].microphone

    @property
    def interface(self) -> Item | None:
        return self.hub if self.hub and self.hub.kind == "interface" else None

    @property
    def booster(self) -> Item | None:
        return self.voices[0].booster

    @property
    def gain_db(self) -> float:
        return self.parts[0].gain_db

    @property
    def levels(self) -> Levels:
        return self.parts[0].levels


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Plan:
    """All kits worth buying, dearest first, the index of the recommended one, and whether that is enough."""

    kits: tuple[Kit, ...]
    recommended: int
    is_enough: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class _Choice:
    """A device kit with what is hung beside it, before its packing list is written."""

    devices: DeviceKit
    hanging: Hanging
    bundle: Item | None
    shelf: Shelf
    extras: tuple[Item, ...]

    @property
    def price(self) -> float:
        return round(self.devices.price + self.hanging.price + sum(item.cost for item in self.extras), CENT)

    @property
    def point(self) -> tuple[float, float, float]:
        return self.price, self.devices.clean_range_db, self.devices.room_lead_db + self.hanging.gain_db


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Frontier:
    """Every complete kit within the budget that no other beats, dearest first, written out only when asked for.

    points are (price, clean range, direct-to-room ratio) in the same order.
    """

    needs: Needs
    choices: tuple[_Choice, ...]
    points: tuple[Point, ...]

    def kit(self, number: int) -> Kit:
        """Return a kit with its packing list and levels."""
        return _kit(self.needs, self.choices[number], {})

    def kits(self) -> tuple[Kit, ...]:
        """Return all of them."""
        measured: dict[tuple, PartLevels] = {}
        return tuple(_kit(self.needs, choice, measured) for choice in self.choices)

    def recommended(self, among: Sequence[int] | None = None) -> int:
        """Return the number of the kit to recommend among some, of all where none are named."""
        numbers = range(len(self.choices)) if among is None else among
        known: dict[tuple[int, int, int], bool] = {}

        def overloads(place: int) -> bool:
            return any(_overloads(self.needs, self.choices[numbers[place]].devices, known))

        return numbers[recommended_of([self.worth(number) for number in numbers], overloads)]

    def worth(self, number: int) -> Worth:
        """Return what a kit is judged by."""
        needs, choice = self.needs, self.choices[number]
        price, clean_db, _ = choice.point
        leads = (
            needs.enough.lead_db(part.source) - lead_db - choice.hanging.gain_db
            for part, lead_db in zip(needs.parts, choice.devices.leads_of(needs), strict=True)
        )
        clean_short_db = max(needs.enough.clean_range_db - clean_db, 0.0)
        return Worth(price=price, clean_short_db=clean_short_db, lead_short_db=max(0.0, *leads))


def frontier_of(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> Frontier:
    """Return every kit worth buying.

    Raises:
        NothingFits: with the cheapest total that would work, None where no money would.
    """
    choices = [choice for choice in _choices(needs, owned, catalogue) if choice.price <= needs.budget]
    if not choices:
        raise _why_nothing_fits(needs, owned, catalogue)
    found = _frontier(needs, choices)
    return found if needs.overload_spared else _with_margin(found, owned, catalogue)


def plan_kits(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> Plan:
    """Return every complete kit within the budget that no other beats, dearest first, and which to take.

    Raises:
        NothingFits: with the cheapest total that would work, None where no money would.
    """
    frontier = frontier_of(needs, owned, catalogue)
    recommended = frontier.recommended()
    return Plan(kits=frontier.kits(), recommended=recommended, is_enough=frontier.worth(recommended).is_enough)


def _frontier(needs: Needs, choices: list[_Choice]) -> Frontier:
    choices = sorted(choices, key=lambda choice: tuple(-figure for figure in choice.point))
    return Frontier(needs=needs, choices=tuple(choices), points=tuple(choice.point for choice in choices))


def _with_margin(found: Frontier, owned: OwnedGear, catalogue: tuple[Item, ...]) -> Frontier:
    """Where the kit to recommend may clip, list beside it the one to take instead, though it beats it in figures."""
    best = recommended_of([found.worth(number) for number in range(len(found.points))], lambda _: False)
    if not any(_overloads(found.needs, found.choices[best].devices, {})):
        return found
    spared = replace(found.needs, overload_spared=True)
    choices = [one for one in _choices(spared, owned, catalogue) if one.price <= found.needs.budget]
    if not choices:
        return found
    clear = _frontier(found.needs, choices)
    instead = clear.recommended()
    if found.worth(best).is_enough and not clear.worth(instead).is_enough:
        return found
    return _frontier(found.needs, [*found.choices, clear.choices[instead]])


def _choices(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> list[_Choice]:
    """Return the unbeaten device kits joined with the unbeaten hangings, once plain and once with each bundle."""
    catalogue = tuple(item for item in catalogue if item.id not in needs.never)
    shelf = Shelf(needs, owned, catalogue)
    by_id = {item.id: item for item in catalogue}
    wanted = (by_id[name] for name in sorted(needs.must) if name in by_id)
    extras = tuple(item for item in wanted if item.kind not in LEADING and item.kind not in SMALL_KINDS)
    plain = _Choice(devices=NO_DEVICES, hanging=NO_HANGING, bundle=None, shelf=shelf, extras=extras)
    offers = list(offers_of(needs, shelf))
    kits = device_kits(needs, shelf, offers)
    found = [replace(plain, devices=kit) for kit in kits]
    for bundle in (item for item in catalogue if item.kind == "bundle"):
        contents = [by_id[part] for part in bundle.in_box if part in by_id]
        if not bundle.cost < min(needs.budget, sum(item.cost for item in contents)):
            continue
        given, with_it = Shelf(needs, owned, catalogue, bundle), _offers_with(offers, contents)
        more = device_kits(needs, given, with_it, extra=bundle.cost, rivals=kits)
        found += [replace(plain, devices=kit, bundle=bundle, shelf=given) for kit in more]
    found = [found[number] for number in unbeaten([choice.point for choice in found])]
    hangings = hangings_for(needs, owned, shelf)
    joined = [replace(choice, hanging=hanging) for choice in found for hanging in hangings]
    joined = [choice for choice in joined if choice.price <= needs.budget]
    return [joined[number] for number in unbeaten([choice.point for choice in joined])]


def _offers_with(offers: list[Offer], contents: list[Item]) -> list[Offer]:
    """Return the offers a bundle belongs to: those of its interface, or of its microphone's plug."""
    ids = {item.id for item in contents}
    if any(item.kind == "interface" for item in contents):
        bound = [offer.with_hubs(lambda hub: hub is not None and hub.id in ids) for offer in offers]
        return [offer for offer in bound if offer.hubs]
    usb = any(item.kind == "microphone" and item.microphone_family.plug == "usb" for item in contents)
    return [offer for offer in offers if (offer.hubs[0] is None) == usb]


def _overloads(needs: Needs, devices: DeviceKit, known: dict[tuple[int, int, int], bool]) -> Iterator[bool]:
    """Yield for each part whether something may clip within its band; known keeps what was worked out before."""
    for number, (part, voice) in enumerate(zip(needs.parts, devices.voice_of_parts, strict=True)):
        key = (number, id(devices.hub), id(voice))
        if key not in known:
            found = given("levels", levels_of_part(needs, part, devices.hub, voice))
            known[key] = found.spare_db < part.band_db
        yield known[key]


def _kit(needs: Needs, choice: _Choice, measured: dict[tuple, PartLevels]) -> Kit:
    """Write a choice out; measured keeps the levels of parts seen with the same chain before."""
    devices = choice.devices
    voices = devices.voice_of_parts
    for number, voice in enumerate(voices):
        key = (number, id(devices.hub), id(voice))
        if key not in measured:
            measured[key] = given("levels", levels_of_part(needs, needs.parts[number], devices.hub, voice))
    parts = tuple(measured[number, id(devices.hub), id(voice)] for number, voice in enumerate(voices))
    lines = tuple(_lines(needs, choice))
    return Kit(
        hub=devices.hub,
        voices=voices,
        parts=parts,
        leads_db=tuple(lead_db + choice.hanging.gain_db for lead_db in choice.devices.leads_of(needs)),
        bands_db=tuple(part.band_db for part in needs.parts),
        hanging=choice.hanging,
        lines=lines,
        total=round(sum(line.price for line in lines), CENT),
        total_of_devices=price_of_devices(needs, choice.shelf, devices),
        clean_range_db=min(part.levels.clean_range_db for part in parts),
        direct_to_reverberant_db=choice.point[2],
        headroom_db=min(part.levels.headroom_db for part in parts),
        round_trip_ms=round_trip_of(needs, devices.hub, voices[0]),
        forgotten=tuple(forgotten_kinds(lines, miked=len(needs.plugged) < len(needs.parts))),
    )


def price_of_devices(needs: Needs, shelf: Shelf, devices: DeviceKit) -> float:
    """Return what a hub and voices cost with their small things, bundles and hangings left out.

    Raises:
        Missing: where the catalogue has none of a small thing.
    """
    items, things = _devices_and_things(needs, shelf, devices)
    return round(sum(map(shelf.cost, items)) + sum(thing.price for thing in things), CENT)


def _devices_and_things(needs: Needs, shelf: Shelf, devices: DeviceKit) -> tuple[list[Item], list[SmallThing]]:
    items = [devices.hub] if devices.hub else []
    things = list(things_of_hub(needs, shelf, devices.hub))
    for parts, voice, pieces in zip(devices.classes, devices.voices, devices.pieces, strict=True):
        items += [one for one in voice.devices if one.kind != "recorder"]
        things += things_of_voice(needs, shelf, voice, parts, pieces)
    return items, things


def round_trip_of(needs: Needs, hub: Item | None, voice: Voice) -> float | None:
    """Return the interface's (or USB microphone's) own round trip; None where no computer is in the way."""
    return round_trip_through(given("device", hub or voice.microphone), needs.computer_speed, needs.sample_rate_hz)


def round_trip_through(box: Item, computer_speed: str, sample_rate_hz: int) -> float | None:
    """Return the round trip through a device at the buffer a computer starts with; None for a recorder."""
    if box.kind == "recorder":
        return None
    samples = choose_buffer(computer_speed, sample_rate_hz).samples
    if box.round_trip_ms and samples in TABLED_BUFFERS:
        return box.round_trip_ms[TABLED_BUFFERS.index(samples)]
    told: dict[str, Any] = {"converters_ms": box.converters_ms, "safety_samples": box.safety_samples}
    return round_trip_ms(samples, sample_rate_hz, **{name: value for name, value in told.items() if value is not None})


def _lines(needs: Needs, choice: _Choice) -> Iterator[KitLine]:
    devices, bundle = choice.devices, choice.bundle
    inside, bundled_in = (set(bundle.in_box), bundle.name) if bundle else (set(), "")
    if bundle:
        yield KitLine(kind="bundle", item=bundle, price=bundle.cost, found_in=place_of(bundle))
    items, things = _devices_and_things(needs, choice.shelf, devices)
    items += [*choice.hanging.pieces, *choice.extras]
    things += choice.hanging.carried_by
    for item in items:
        line = line_of(item, choice.shelf.cost(item))
        yield replace(line, found_in=bundled_in) if item.id in inside else line
    for thing in things:
        bundled = thing.item is not None and thing.item.id in inside
        place = bundled_in if bundled else thing.found_in
        yield KitLine(kind=thing.kind, item=thing.item, price=thing.price, found_in=place)


EASED: Final[dict[str, Any]] = {
    "monitors": False,
    "inputs_at_once": 1,
    "standing": False,
    "route": "any",
    "computer": "",
    "must": frozenset(),
    "never": frozenset(),
}
"""What each need may be eased to where nothing fits."""


def _eased(needs: Needs, name: str, eased: Any) -> Needs:  # noqa: ANN401 - whatever that need is told in
    return replace(needs, **{name: eased})


def _why_nothing_fits(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> NothingFits:
    """Find the need that makes it so: drop one at a time and see what fits then."""
    anything = replace(needs, budget=DEAREST)
    cheapest = min((choice.price for choice in _choices(anything, owned, catalogue)), default=None)
    lifts = {}
    for name, eased in EASED.items():
        if getattr(needs, name) == eased:
            continue
        prices = [choice.price for choice in _choices(_eased(anything, name, eased), owned, catalogue)]
        if prices and min(prices) <= needs.budget:
            lifts[name] = min(prices)
    return NothingFits(needs.budget, cheapest, lifts)


NO_HANGING: Final = Hanging(
    textiles=(), pieces=(), carried_by=(), price=0.0, area_m2=0.0, absorption_m2=0.0, gain_db=0.0, rt60_s=0.0
)
NO_DEVICES: Final = DeviceKit(
    hub=None, classes=(), voices=(), pieces=(), price=0.0, clean_range_db=0.0, room_lead_db=0.0
)
