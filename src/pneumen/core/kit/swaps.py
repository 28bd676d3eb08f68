"""What money buys that is not counted in decibels: one device of a kit swapped for another that is more in some way."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from pneumen.core.kit.accessories import Missing, Shelf
from pneumen.core.kit.evaluate import Voice, phantom_serves
from pneumen.core.kit.item import Item
from pneumen.core.kit.levels import levels_of_part
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.offers import has_inputs, is_as_wished
from pneumen.core.kit.planner import Frontier
from pneumen.core.kit.search import DeviceKit
from pneumen.core.kit.written import Kit, price_of_devices, round_trip_of

MOST_MORE: Final = 100.0
"""Swaps are told up to so much more money."""
LEAST_LOSS_DB: Final = -0.5
"""A swap may not make any part noisier than that."""
QUICKER_MS: Final = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Swap:
    """One device for another: the trait it brings, what it costs more, and what it does in decibels and ms."""

    brings: str
    taken: Item
    instead_of: Item
    costs_more: float
    clean_change_db: float
    round_trip_change_ms: float | None


def swaps_of(frontier: Frontier, number: int, kit: Kit) -> tuple[Swap, ...]:
    """Return the cheapest swap for each thing that is not counted in decibels, cheapest first.

    Args:
        frontier: the kits.
        number: of the one whose devices are swapped.
        kit: the same, written out.
    """
    needs, devices, shelf = frontier.needs, frontier.choices[number].devices, frontier.choices[number].shelf
    best: dict[str, Swap] = {}
    for swap in (*_hub_swaps(needs, kit, devices, shelf), *_microphone_swaps(needs, kit, devices, shelf)):
        if swap.brings not in best or swap.costs_more < best[swap.brings].costs_more:
            best[swap.brings] = swap
    return tuple(sorted(best.values(), key=lambda swap: (swap.costs_more, swap.brings)))


HUB_TRAITS: Final[tuple[tuple[str, Callable[[Item, Item], bool]], ...]] = (
    ("inputs", lambda new, old: (new.mic_inputs or 1) > (old.mic_inputs or 1)),
    ("phantom-per-channel", lambda new, old: old.phantom == "shared" and new.phantom == "per-channel"),
    ("gain-scale", lambda new, old: old.family == "bare-knob" and new.family == "numbered"),
    ("gain", lambda new, old: (new.gain_max_db or 0) >= (old.gain_max_db or 0) + 6),
    ("headphones", lambda new, old: (new.phones_volt or 0) >= 1.4 * (old.phones_volt or 99)),
    ("sturdy-interface", lambda new, old: (new.sturdy or 0) > (old.sturdy or 9)),
)
MICROPHONE_TRAITS: Final[tuple[tuple[str, Callable[[Item, Item], bool]], ...]] = (
    ("bright", lambda new, old: new.tone == "bright" and old.tone in ("neutral", "dark")),
    ("dark", lambda new, old: new.tone == "dark" and old.tone in ("neutral", "bright")),
    ("neutral", lambda new, old: new.tone == "neutral" and old.tone in ("bright", "dark")),
    ("sturdy-microphone", lambda new, old: (new.sturdy or 0) > (old.sturdy or 9)),
)


def _hub_swaps(needs: Needs, kit: Kit, devices: DeviceKit, shelf: Shelf) -> Iterator[Swap]:
    old, now_ms = devices.hub, kit.round_trip_ms
    if old is None or old.kind != "interface":
        return
    for new in shelf.things("interface"):
        if new.id == old.id or not new.works_with(needs.computer) or not has_inputs(needs, new):
            continue
        brings = [trait for trait, holds in HUB_TRAITS if holds(new, old)]
        new_ms = round_trip_of(needs, new, devices.voices[0])
        if new_ms is not None and now_ms is not None and new_ms <= now_ms - QUICKER_MS:
            brings.append("round-trip")
        found = _tried(needs, kit, replace(devices, hub=new), shelf, new, old) if brings else None
        if found:
            yield from (replace(found, brings=trait) for trait in brings)


def _microphone_swaps(needs: Needs, kit: Kit, devices: DeviceKit, shelf: Shelf) -> Iterator[Swap]:
    for place, voice in enumerate(devices.voices):
        old = voice.microphone
        if old is None or old.kind != "microphone":
            continue
        for new in shelf.things("microphone"):
            brings = [trait for trait, holds in MICROPHONE_TRAITS if holds(new, old)]
            if not brings or not _in_its_place(needs, new, old):
                continue
            boosted = voice.booster if not new.microphone_family.needs_phantom else None
            voices = list(devices.voices)
            voices[place] = Voice(microphone=new, booster=boosted)
            found = _tried(needs, kit, replace(devices, voices=tuple(voices)), shelf, new, old)
            if found:
                yield from (replace(found, brings=trait) for trait in brings)


def _in_its_place(needs: Needs, new: Item, old: Item) -> bool:
    """Tell whether a microphone goes where another went: same plug, same pattern, so the room stays the same."""
    same_pattern = (new.pattern or new.microphone_family.pattern) == (old.pattern or old.microphone_family.pattern)
    same_plug = new.microphone_family.plug == old.microphone_family.plug
    return new.id != old.id and same_plug and same_pattern and is_as_wished(needs, new)


def _phantom_serves(needs: Needs, hub: Item, voice: Voice) -> bool:
    needed, hurts = np.array([voice.needs_phantom]), np.array([voice.hurt_by_phantom])
    return bool(phantom_serves([hub], needed, hurts, together=needs.most_at_once > 1)[0, 0])


def _tried(needs: Needs, kit: Kit, devices: DeviceKit, shelf: Shelf, new: Item, old: Item) -> Swap | None:
    """Return what a swap costs and does; None where it is too dear, no dearer, noisier, or does not serve."""
    try:
        more = price_of_devices(needs, shelf, devices) - kit.total_of_devices
    except Missing:
        return None
    if not 0 < more <= MOST_MORE:
        return None
    voice_of = devices.voice_of_parts
    change_db = 0.0
    for number, part in enumerate(needs.parts):
        voice = voice_of[number]
        if devices.hub and voice.microphone and not _phantom_serves(needs, devices.hub, voice):
            return None
        found = levels_of_part(needs, part, devices.hub, voice)
        if found is None or found.spare_db < part.band_db:
            return None
        change_db = min(change_db, found.levels.clean_range_db - kit.parts[number].levels.clean_range_db)
    if change_db < LEAST_LOSS_DB:
        return None
    trip = round_trip_of(needs, devices.hub, voice_of[0])
    trip_change = None if trip is None or kit.round_trip_ms is None else trip - kit.round_trip_ms
    return Swap(
        brings="",
        taken=new,
        instead_of=old,
        costs_more=more,
        clean_change_db=change_db,
        round_trip_change_ms=trip_change,
    )
