"""Every device kit that no other beats, exactly, without trying them all.

A kit is a hub (an interface, a recorder, or none behind USB microphones), and for every part a voice: a microphone,
perhaps boosted, or a plug. One microphone may serve several parts that are not recorded together, so the parts are
shared out into classes, one microphone each. A kit's clean range is its worst part's, and so is its direct-to-room
ratio. So in an unbeaten kit every class has the cheapest microphone that holds the kit's own two figures; that leaves
for each hub, sharing and ratio one walk up the prices. Hubs and microphones that others beat outright never start.
"""

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from itertools import permutations, product
from operator import is_
from typing import Final

import numpy as np

from pneumen.core.kit.accessories import (
    Missing,
    Piece,
    Shelf,
)
from pneumen.core.kit.evaluate import CANNOT, Voice, room_lead_db
from pneumen.core.kit.frontier import HIGHEST_DB, SAME, Point, Reached, unbeaten
from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.offers import Offer
from pneumen.core.kit.outclassed import Rows
from pneumen.core.kit.sharings import sharings_of
from pneumen.core.kit.things import things_of_hub
from pneumen.core.kit.voice_prices import VoicePrices
from pneumen.core.kit.walks import Step, Walk, walks_of

CENT: Final = 6
"""Sums of prices are rounded to so many decimals, so that equal ones are equal."""
UNSURPASSED: Final = (HIGHEST_DB, math.inf)
"""A clean range and a direct-to-room ratio that no kit has."""
LEADING: Final = ("microphone", "interface", "recorder")
"""Kinds that decide a kit's figures."""
DEVICES: Final = (*LEADING, "booster", "di-box", "pad")
"""Kinds of which a kit has what its figures ask for; all others are small things, or beside it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceKit:
    """A hub, a voice for every class of parts, and the small things each needs; price is of all of it.

    pieces are the things there once that each class uses. unboosted are the parts that leave their voice's booster out.
    """

    hub: Item | None
    classes: tuple[tuple[int, ...], ...]
    voices: tuple[Voice, ...]
    pieces: tuple[tuple[Piece, ...], ...]
    price: float
    clean_range_db: float
    room_lead_db: float
    unboosted: frozenset[int] = frozenset()

    @property
    def point(self) -> Point:
        return self.price, self.clean_range_db, self.room_lead_db

    @property
    def voice_of_parts(self) -> tuple[Voice, ...]:
        """The voices in the order of the needs' parts."""
        found = {part: voice for parts, voice in zip(self.classes, self.voices, strict=True) for part in parts}
        found |= {part: replace(found[part], booster=None) for part in self.unboosted}
        return tuple(found[number] for number in range(len(found)))

    def leads_of(self, needs: Needs) -> tuple[float, ...]:
        """Return each part's direct-to-room ratio, nothing hung."""
        pairs = zip(needs.parts, self.voice_of_parts, strict=True)
        return tuple(room_lead_db(part, voice.pattern) for part, voice in pairs)


def device_kits(
    needs: Needs,
    shelf: Shelf,
    offers: Iterable[Offer],
    *,
    extra: float = 0.0,
    rivals: Iterable[DeviceKit] = (),
    is_last: Callable[[DeviceKit], bool] | None = None,
) -> list[DeviceKit]:
    """Return the device kits within the budget that neither each other nor a rival beats, cheapest first.

    Args:
        extra: is paid in any case, as a bundle is.
        rivals: kits known already.
        is_last: tells of a kit that none dearer is wanted.
    """
    sharings = list(sharings_of(needs))
    reached, found = Reached(_points(rivals, is_last)), []
    for offer in offers:
        for bound in _bound_to_must(needs, shelf, offer):
            hub_prices = extra + np.array([_hub_price(needs, shelf, hub) for hub in bound.hubs])
            hubs = _worth_trying(bound, hub_prices)
            walks = _Walks(bound, VoicePrices(needs, shelf, bound, sharings, hubs), hubs)
            for hub in hubs:
                kits = list(_kits_of_hub(needs, walks, hub, float(hub_prices[hub]), reached))
                reached.add(_points(kits, is_last))
                found += kits
    keep = unbeaten([kit.point for kit in found])
    return [found[number] for number in keep]


def _points(kits: Iterable[DeviceKit], is_last: Callable[[DeviceKit], bool] | None) -> Iterator[Point]:
    """Yield what kits reach; of one that is the last wanted also what leaves nothing to all that are dearer."""
    for kit in kits:
        yield kit.point
        if is_last and is_last(kit):
            yield kit.price, *UNSURPASSED


def _bound_to_must(needs: Needs, shelf: Shelf, offer: Offer) -> Iterator[Offer]:
    """Yield an offer once for each way to give the microphones that must be in the kit a part to record."""
    hub_ids = needs.must & {hub.id for hub in offer.hubs if hub}
    if hub_ids:
        offer = offer.with_hubs(lambda hub: hub is not None and hub.id in hub_ids)
    microphones = sorted(needs.must & {voice.microphone.id for voice in offer.voices if voice.microphone})
    leading = {item.id for kind in LEADING for item in shelf.things(kind)}
    if needs.must & leading - {*hub_ids, *microphones}:
        return
    for parts in permutations(range(len(needs.parts)), len(microphones)):
        yield offer.with_voices(dict(zip(parts, microphones, strict=True))) if microphones else offer


class _Walks:
    """The walks of each class of parts behind each hub; those behind all hubs are begun together."""

    def __init__(self, offer: Offer, prices: VoicePrices, hubs: list[int]) -> None:
        self.offer, self.prices = offer, prices
        self._rows = {hub: row for row, hub in enumerate(hubs)}
        self._known: dict[tuple[tuple[int, ...], tuple[Piece, ...], frozenset[str]], list[Walk]] = {}

    def of(self, hub: int, parts: tuple[int, ...], pieces: tuple[Piece, ...], without: frozenset[str]) -> Walk:
        """Return the walk of some parts behind a hub, with pieces they need not buy and without some devices."""
        key = parts, pieces, without
        if key not in self._known:
            numbers = self.prices.useful_without(without)
            served = np.array(parts)
            clean = self.offer.clean_db[np.ix_(np.array(list(self._rows)), served, numbers)].min(axis=1)
            lead = self.offer.lead_db[np.ix_(served, numbers)].min(axis=0)
            self._known[key] = walks_of(numbers, self.prices.of(parts, pieces)[numbers], clean, lead)
        return self._known[key][self._rows[hub]]


def _kits_of_hub(needs: Needs, walks: _Walks, hub: int, hub_price: float, reached: Reached) -> Iterator[DeviceKit]:
    """Yield a hub's candidates: all that could be unbeaten, and some more."""
    offer, prices = walks.offer, walks.prices
    for classes, pieces in prices.shares:
        for without in _who_goes_without(needs, classes, prices.free):
            climbed = [walks.of(hub, *one) for one in zip(classes, pieces, without, strict=True)]
            for price, steps in _walk_up(needs.budget, hub_price, climbed, reached):
                yield DeviceKit(
                    hub=offer.hubs[hub],
                    classes=classes,
                    pieces=pieces,
                    voices=tuple(offer.voices[step.voice] for step in steps),
                    price=price,
                    clean_range_db=min(step.clean_db for step in steps),
                    room_lead_db=min(step.lead_db for step in steps),
                    unboosted=frozenset(
                        part
                        for parts, step in zip(classes, steps, strict=True)
                        for part in parts
                        if offer.leaves_booster_out(hub, part, step.voice)
                    ),
                )


def _who_goes_without(
    needs: Needs, classes: tuple[tuple[int, ...], ...], free: tuple[str, ...]
) -> Iterator[tuple[frozenset[str], ...]]:
    """Yield, for every class, the devices that cost nothing but are another's: of what is owned there is one only.

    Where nothing is recorded together this need not be asked: one microphone for both classes is then the cheaper way.
    """
    if len(classes) == 1 or needs.most_at_once == 1 or not free:
        yield tuple(frozenset() for _ in classes)
        return
    for owners in product(range(len(classes)), repeat=len(free)):
        yield tuple(
            frozenset(name for name, owner in zip(free, owners, strict=True) if owner != place)
            for place in range(len(classes))
        )


def _walk_up(
    budget: float, hub_price: float, walks: list[Walk], reached: Reached
) -> Iterator[tuple[float, tuple[Step, ...]]]:
    """Walk up the prices of one sharing behind one hub, for every room lead that could be held."""
    best_lead, stairs = min(walk.best_lead for walk in walks), []
    for lead in sorted({lead for walk in walks for lead in walk.leads if lead <= best_lead}, reverse=True):
        limits = [walk.limits(lead) for walk in walks]
        if (
            min(clean for _, clean in limits)
            <= reached.best_clean(hub_price + sum(low for low, _ in limits), lead) + SAME
        ):
            continue
        stairs, before = [walk.stairs(lead) for walk in walks], stairs
        if all(map(is_, stairs, before)) and before:
            continue  # giving way on the room lead brought nothing
        highest, surpassed = min(one.highest_db for one in stairs), float("-inf")
        price = hub_price + sum(low for low, _ in limits)
        while (known := reached.best_clean(price, lead)) > surpassed and highest > known + SAME:
            surpassed = known
            price = hub_price + sum(one.cheapest_above(known) for one in stairs)
        if highest <= known + SAME:
            continue
        thresholds = np.unique(np.concatenate([one.clean_db for one in stairs]))
        thresholds = thresholds[(thresholds <= highest + SAME) & (thresholds > surpassed)]
        places = [one.first_that_holds(thresholds) for one in stairs]
        prices = np.round(hub_price + sum(one.prices[place] for one, place in zip(stairs, places, strict=True)), CENT)
        clean_db = np.min([one.clean_db[place] for one, place in zip(stairs, places, strict=True)], axis=0)
        lead_db = np.min([one.lead_db[place] for one, place in zip(stairs, places, strict=True)], axis=0)
        for number in np.flatnonzero((prices <= budget) & ~reached.beat(prices, clean_db, lead_db)):
            alike = [one.of_one_price(int(place[number])) for one, place in zip(stairs, places, strict=True)]
            for steps in product(*alike):
                yield float(prices[number]), steps


def _worth_trying(offer: Offer, hub_prices: np.ndarray) -> list[int]:
    """Return the hubs no strictly cheaper one equals with every voice for every part, cheapest first."""
    flat = offer.clean_db.reshape(len(offer.hubs), -1)
    rows, kept = Rows(flat), list[int]()
    for hub in np.argsort(hub_prices, kind="stable"):
        if not np.isfinite(hub_prices[hub]) or not (flat[hub] > CANNOT).any():
            continue
        cheaper = np.array([other for other in kept if hub_prices[other] < hub_prices[hub]], dtype=int)
        if not rows.is_equalled(int(hub), cheaper):
            kept.append(int(hub))
    return kept


def _hub_price(needs: Needs, shelf: Shelf, hub: Item | None) -> float:
    try:
        return (shelf.cost(hub) if hub else 0.0) + sum(thing.price for thing in things_of_hub(needs, shelf, hub))
    except Missing:
        return float("inf")
