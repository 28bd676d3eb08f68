"""One kit written out: its packing list, what it costs, and what it is predicted to do."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from pneumen.core.delay import DeviceDelay, plan_delay
from pneumen.core.errors import given
from pneumen.core.forecast import Outcome, judge_overload, spare_at_lowest_gain_db
from pneumen.core.kit.accessories import Shelf, SmallThing
from pneumen.core.kit.coverings import Hanging
from pneumen.core.kit.enough import Worth, worth_of
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.frontier import Point
from pneumen.core.kit.item import Item
from pneumen.core.kit.kinds import TABLED_BUFFERS
from pneumen.core.kit.levels import PartLevels, levels_of_part
from pneumen.core.kit.lines import KitLine, forgotten_kinds, line_of, place_of
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.search import CENT, DeviceKit
from pneumen.core.kit.things import devices_of, served, things_of_hub, things_of_voice
from pneumen.core.line import Levels
from pneumen.core.verdict import Verdict


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
        stand = [judge_overload(part.spare_db, band) for part, band in zip(self.parts, self.bands_db, strict=True)]
        return tuple(number for number, verdict in enumerate(stand) if verdict is not Verdict.CLEAR)

    def worth(self, needs: Needs) -> Worth:
        """Return what it is judged by, with its parts' figures as they stand here."""
        leads = ((part.source, lead_db) for part, lead_db in zip(needs.parts, self.leads_db, strict=True))
        lacking_db = max(band_db - part.spare_db for band_db, part in zip(self.bands_db, self.parts, strict=True))
        return worth_of(needs.enough, self.total, self.clean_range_db, leads, lacking_db)

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


def settled(kit: Kit, found: Sequence[Outcome]) -> Kit:
    """Return a kit with its parts as they would be set up with it, each where its own chain stands best.

    Args:
        found: the outcome of each part with the kit's chain, nothing hung.
    """
    parts = tuple(
        PartLevels(levels=one.levels, gain_db=one.gain_db, spare_db=spare_at_lowest_gain_db(one)) for one in found
    )
    leads_db = tuple((one.air.lead_db if one.air else math.inf) + kit.hanging.gain_db for one in found)
    return replace(
        kit,
        parts=parts,
        leads_db=leads_db,
        clean_range_db=min(part.levels.clean_range_db for part in parts),
        direct_to_reverberant_db=min(leads_db),
        headroom_db=min(part.levels.headroom_db for part in parts),
    )


@dataclass(frozen=True, kw_only=True, eq=False)
class Choice:
    """A device kit with what is hung beside it, before its packing list is written."""

    devices: DeviceKit
    hanging: Hanging
    bundle: Item | None
    shelf: Shelf
    extras: tuple[Item, ...]

    @cached_property
    def price(self) -> float:
        return round(self.devices.price + self.hanging.price + sum(item.cost for item in self.extras), CENT)

    @cached_property
    def point(self) -> Point:
        return self.price, self.devices.clean_range_db, self.devices.room_lead_db + self.hanging.gain_db


def write_kit(needs: Needs, choice: Choice, measured: dict[tuple, PartLevels]) -> Kit:
    """Write a choice out; measured keeps the levels of parts seen with the same chain before."""
    devices = choice.devices
    voices, parts = devices.voice_of_parts, list[PartLevels]()
    for number, voice in enumerate(voices):
        key = (number, devices.hub and devices.hub.id, voice.ids)
        if key not in measured:
            measured[key] = given("levels", levels_of_part(needs, needs.parts[number], devices.hub, voice))
        parts.append(measured[key])
    lines = tuple(_lines(needs, choice))
    return Kit(
        hub=devices.hub,
        voices=voices,
        parts=tuple(parts),
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
    return round(sum(price for _, price in items) + sum(thing.price for thing in things), CENT)


def _devices_and_things(
    needs: Needs, shelf: Shelf, devices: DeviceKit
) -> tuple[list[tuple[Item, float]], list[SmallThing]]:
    items = [(devices.hub, shelf.cost(devices.hub))] if devices.hub else []
    asked = list[list[SmallThing]]()
    for parts, voice, pieces in zip(devices.classes, devices.voices, devices.pieces, strict=True):
        items += devices_of(shelf, voice, needs.channels_for(parts))
        asked.append(things_of_voice(needs, shelf, voice, parts, pieces))
    return items, [*things_of_hub(needs, shelf, devices.hub), *served(needs, asked)]


def round_trip_of(needs: Needs, hub: Item | None, voice: Voice) -> float | None:
    """Return the interface's (or USB microphone's) own round trip; None where no computer is in the way."""
    return _round_trip_ms(given("device", hub or voice.microphone), needs)


def device_delay(box: Item) -> DeviceDelay:
    """Return what a device's sheet says of delay."""
    table = tuple(zip(TABLED_BUFFERS, box.round_trip_ms, strict=True)) if box.round_trip_ms else ()
    told: dict[str, Any] = {"converters_ms": box.converters_ms, "safety_samples": box.safety_samples}
    return DeviceDelay(
        measured_ms_by_buffer=table, **{name: value for name, value in told.items() if value is not None}
    )


def _round_trip_ms(box: Item, needs: Needs) -> float | None:
    """Return the round trip through a device with the needs' computer and buffer; None for a recorder."""
    if box.kind == "recorder":
        return None
    return plan_delay(device_delay(box), needs.computer_speed, needs.sample_rate_hz, buffer=needs.buffer).round_trip_ms


def _lines(needs: Needs, choice: Choice) -> Iterator[KitLine]:
    devices, bundle = choice.devices, choice.bundle
    inside, bundled_in = (set(bundle.in_box), bundle.name) if bundle else (set(), "")
    if bundle:
        yield KitLine(kind="bundle", item=bundle, price=bundle.cost, found_in=place_of(bundle))
    items, things = _devices_and_things(needs, choice.shelf, devices)
    items += [(item, choice.shelf.cost(item)) for item in (*choice.hanging.pieces, *choice.extras)]
    things += choice.hanging.carried_by
    for item, price in items:
        line = line_of(item, price)
        yield replace(line, found_in=bundled_in) if item.id in inside else line
    for thing in things:
        bundled = thing.item is not None and thing.item.id in inside
        place = bundled_in if bundled else thing.found_in
        yield KitLine(kind=thing.kind, item=thing.item, price=thing.price, found_in=place)
