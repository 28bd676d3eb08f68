"""From needs to kits: every kit worth buying, complete, and the one to recommend."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import product
from typing import Any, Final

from pneumen.core.errors import NothingFits, given
from pneumen.core.kit.accessories import SMALL_KINDS, Shelf
from pneumen.core.kit.coverings import hangings_for
from pneumen.core.kit.enough import ALIKE_DB, Worth, recommended_of, worth_of
from pneumen.core.kit.frontier import Point, unbeaten
from pneumen.core.kit.item import DEAREST, Item
from pneumen.core.kit.levels import PartLevels, levels_of_part
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.offers import Offer, offers_of
from pneumen.core.kit.owned import OwnedGear
from pneumen.core.kit.search import DEVICES, LEADING, DeviceKit, device_kits
from pneumen.core.kit.things import dearest_small_things
from pneumen.core.kit.written import Choice, Kit, write_kit


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Plan:
    """All kits worth buying, dearest first, the index of the recommended one, and whether that is enough."""

    kits: tuple[Kit, ...]
    recommended: int
    is_enough: bool


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Frontier:
    """Every complete kit within the budget that no other beats, dearest first, written out only when asked for.

    points are (price, clean range, direct-to-room ratio) in the same order, worths what each is judged by, overload not
    yet counted. beside are the numbers of kits that others beat in figures, but that bear what those may clip at.
    """

    needs: Needs
    choices: tuple[Choice, ...]
    points: tuple[Point, ...]
    worths: tuple[Worth, ...]
    beside: frozenset[int] = frozenset()

    def kit(self, number: int) -> Kit:
        """Return a kit with its packing list and levels."""
        return write_kit(self.needs, self.choices[number], {})

    def kits(self, numbers: Iterable[int] | None = None) -> tuple[Kit, ...]:
        """Return some of them, all where none are named."""
        measured: dict[tuple, PartLevels] = {}
        chosen = range(len(self.choices)) if numbers is None else numbers
        return tuple(write_kit(self.needs, self.choices[number], measured) for number in chosen)

    def recommended(self, among: Sequence[int] | None = None) -> int:
        """Return the number of the kit to recommend among some, of all where none are named."""
        numbers = range(len(self.choices)) if among is None else among
        known = _worked_out_of(self)

        def overload_short_db(place: int) -> float:
            return _overload_short_db(self.needs, self.choices[numbers[place]].devices, known)

        return numbers[recommended_of([self.worths[number] for number in numbers], overload_short_db)]

    def worth(self, number: int) -> Worth:
        """Return what a kit is judged by."""
        short_db = _overload_short_db(self.needs, self.choices[number].devices, {})
        return replace(self.worths[number], overload_short_db=short_db)


def frontier_of(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> Frontier:
    """Return every kit worth buying; in mono, and told so, where none within the budget records what is wished.

    Raises:
        NothingFits: with the cheapest total that would work, None where no money would.
    """
    try:
        return _frontier_as_wished(needs, owned, catalogue)
    except NothingFits:
        if all(part.channels == 1 for part in needs.parts):
            raise
    mono = tuple(part.in_mono() for part in needs.parts)
    return _frontier_as_wished(replace(needs, parts=mono), owned, catalogue)


def _frontier_as_wished(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> Frontier:
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
    listed = [n for n in range(len(frontier.points)) if n == recommended or n not in frontier.beside]
    kits = frontier.kits(listed)
    return Plan(kits=kits, recommended=listed.index(recommended), is_enough=frontier.worth(recommended).is_enough)


def _frontier(needs: Needs, unbeaten: Iterable[Choice], beside: Iterable[Choice] = ()) -> Frontier:
    beside = list(beside)
    choices = sorted([*unbeaten, *beside], key=lambda choice: tuple(-figure for figure in choice.point))
    return Frontier(
        needs=needs,
        choices=tuple(choices),
        points=tuple(choice.point for choice in choices),
        worths=tuple(_worth(needs, one.devices, one.price, one.hanging.gain_db) for one in choices),
        beside=frozenset(number for number, choice in enumerate(choices) if any(choice is one for one in beside)),
    )


def _worth(needs: Needs, devices: DeviceKit, price: float, hung_db: float = 0.0) -> Worth:
    leads = zip(needs.parts, devices.leads_of(needs), strict=True)
    hung = ((part.source, lead_db + hung_db) for part, lead_db in leads)
    return worth_of(needs.enough, price, devices.clean_range_db, hung)


def _with_margin(found: Frontier, owned: OwnedGear, catalogue: tuple[Item, ...]) -> Frontier:
    """Where the kit to recommend may clip, list beside it the one to take instead, though it beats it in figures."""
    best = recommended_of(found.worths, lambda _: 0.0)
    if _overload_short_db(found.needs, found.choices[best].devices, {}) <= 0:
        return found
    spared = replace(found.needs, overload_spared=True)
    choices = [one for one in _choices(spared, owned, catalogue, to_enough=True) if one.price <= found.needs.budget]
    if not choices:
        return found
    clear = _frontier(found.needs, choices)
    return _frontier(found.needs, found.choices, [clear.choices[number] for number in _steps_to_enough(clear)])


def _steps_to_enough(frontier: Frontier) -> list[int]:
    """Return the kits that are recommended for some sum of money: from the cheapest on, each less short, to enough."""
    steps, least = list[int](), math.inf
    for number in reversed(range(len(frontier.points))):
        short_db = frontier.worth(number).short_db
        if short_db < least - ALIKE_DB:
            steps.append(number)
            least = short_db
        if short_db <= 0:
            break
    return steps


def _choices(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...], *, to_enough: bool = False) -> list[Choice]:
    """Return the unbeaten device kits joined with the unbeaten hangings, once plain and once with each bundle.

    Those that are dearer than one that is enough may be missing where only those up to enough are asked for.
    """

    def is_enough(devices: DeviceKit) -> bool:
        return _worth(needs, devices, devices.price).is_enough

    is_last = is_enough if to_enough else None
    catalogue = tuple(item for item in catalogue if item.id not in needs.never)
    shelf = Shelf(needs, owned, catalogue)
    by_id = {item.id: item for item in catalogue}
    wanted = (by_id[name] for name in sorted(needs.must) if name in by_id)
    extras = tuple(item for item in wanted if item.kind not in LEADING and item.kind not in SMALL_KINDS)
    offers = list(offers_of(needs, shelf))
    kits = device_kits(needs, shelf, offers, is_last=is_last)
    found: list[tuple[DeviceKit, Item | None, Shelf]] = [(kit, None, shelf) for kit in kits]
    paid = dearest_small_things(needs, shelf, offers)
    for bundle in (item for item in catalogue if item.kind == "bundle"):
        contents = [by_id[part] for part in bundle.in_box if part in by_id]
        if bundle.cost >= needs.budget or not _can_save(bundle, contents, paid):
            continue
        given, with_it = Shelf(needs, owned, catalogue, bundle), _offers_with(offers, contents)
        more = device_kits(needs, given, with_it, extra=bundle.cost, rivals=kits, is_last=is_last)
        found += [(kit, bundle, given) for kit in more]
    found = [found[number] for number in unbeaten([kit.point for kit, *_ in found])]
    joined = [
        Choice(devices=kit, hanging=hanging, bundle=bundle, shelf=its_shelf, extras=extras)
        for (kit, bundle, its_shelf), hanging in product(found, hangings_for(needs, owned, shelf))
    ]
    joined = [choice for choice in joined if choice.price <= needs.budget]
    return [joined[number] for number in unbeaten([choice.point for choice in joined])]


def _can_save(bundle: Item, contents: list[Item], paid: Mapping[str, float]) -> bool:
    """Tell whether a bundle may cost less than what a kit would buy instead, paying so much for small things."""
    worth = 0.0
    for item in contents:
        with_it = ("headphones", "phones-adapter") if item.kind == "headphones" else (item.kind,)
        instead = math.inf if item.kind in DEVICES else sum(paid.get(kind, 0.0) for kind in with_it)
        worth += min(item.shop_cost, instead)
    return worth > bundle.cost


def _offers_with(offers: list[Offer], contents: list[Item]) -> list[Offer]:
    """Return the offers a bundle belongs to: those of its interface, or of its microphone's plug."""
    ids = {item.id for item in contents}
    if any(item.kind == "interface" for item in contents):
        bound = [offer.with_hubs(lambda hub: hub is not None and hub.id in ids) for offer in offers]
        return [offer for offer in bound if offer.hubs]
    usb = any(item.kind == "microphone" and item.microphone_family.plug == "usb" for item in contents)
    return [offer for offer in offers if (offer.hubs[0] is None) == usb]


@lru_cache(maxsize=32)
def _worked_out_of(frontier: Frontier) -> dict[tuple, float]:
    """Return what of a frontier's overloads was worked out before: a drag of the money asks for the same few again.

    It is filled by _overload_short_db alone, with what follows from the frontier.
    """
    return {}


def _overload_short_db(needs: Needs, devices: DeviceKit, known: dict[tuple, float]) -> float:
    """Return what a kit's chains lack to bear their parts' bands; known keeps what was worked out before."""
    short = 0.0
    for number, (part, voice) in enumerate(zip(needs.parts, devices.voice_of_parts, strict=True)):
        key = (number, devices.hub and devices.hub.id, voice.ids)
        if key not in known:
            found = given("levels", levels_of_part(needs, part, devices.hub, voice))
            known[key] = part.band_db - found.spare_db
        short = max(short, known[key])
    return short


EASED: Final[dict[str, Any]] = {
    "monitors": False,
    "inputs_at_once": 1,
    "standing": False,
    "lent": False,
    "route": "any",
    "computer": "",
    "must": frozenset(),
    "never": frozenset(),
}
"""What each need may be eased to where nothing fits."""


def _eased(needs: Needs, name: str, eased: Any) -> Needs:  # noqa: ANN401 - whatever that need is told in
    if name == "inputs_at_once":  # whatever the parts say themselves
        needs = replace(needs, parts=tuple(replace(part, session=None) for part in needs.parts))
    return replace(needs, **{name: eased})


def _is_eased(needs: Needs, name: str, eased: Any) -> bool:  # noqa: ANN401
    return needs.most_at_once == 1 if name == "inputs_at_once" else bool(getattr(needs, name) == eased)


def _why_nothing_fits(needs: Needs, owned: OwnedGear, catalogue: tuple[Item, ...]) -> NothingFits:
    """Find the need that makes it so: drop one at a time and see what fits then."""
    anything = replace(needs, budget=DEAREST)
    cheapest = min((choice.price for choice in _choices(anything, owned, catalogue)), default=None)
    lifts = {}
    for name, eased in EASED.items():
        if _is_eased(needs, name, eased):
            continue
        prices = [choice.price for choice in _choices(_eased(anything, name, eased), owned, catalogue)]
        if prices and min(prices) <= needs.budget:
            lifts[name] = min(prices)
    return NothingFits(needs.budget, cheapest, lifts)
