"""What is worth saying of a kit, gravest first: the room, the noise, boxes not needed, ears, ribbons."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from pneumen.core.gain import GOOD_CLEAN_RANGE_DB, POOR_CLEAN_RANGE_DB
from pneumen.core.kit.item import Item
from pneumen.core.kit.listening import (
    LOUD_ENOUGH_DB,
    loudest_in_headphones,
    lowest_mode_hz,
    monitor_peak_db,
)
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.planner import Kit
from pneumen.core.levels import safe_hours
from pneumen.core.part import Source
from pneumen.core.room import FAINT_ROOM_DB, LOUD_ROOM_DB
from pneumen.core.verdict import Verdict

DI_SHARE: Final = 0.2
"""A DI box is worth about a fifth of the instrument (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class KitFinding:
    """One thing worth saying, with what it is about: a stage, a source, an item, a level (dB SPL), a room."""

    kind: str
    verdict: Verdict
    stage: str = ""
    source: Source | None = None
    item: Item | None = None
    hub: Item | None = None
    level_db: float = 0.0
    safe_h: float = 0.0
    worth: float = 0.0
    volume_m3: float = 0.0
    lowest_hz: float = 0.0


def findings_of_kit(needs: Needs, kit: Kit) -> tuple[KitFinding, ...]:
    """Return what there is to say of a kit, gravest first."""
    found = [
        *_room(kit),
        *_noise(kit),
        *_direct(needs, kit),
        *_ears(kit),
        *_ribbons(kit),
        *_monitors(needs, kit),
    ]
    return tuple(sorted(found, key=lambda one: -one.verdict.gravity))


def _room(kit: Kit) -> Iterator[KitFinding]:
    lead_db = kit.direct_to_reverberant_db
    if lead_db < FAINT_ROOM_DB:
        yield KitFinding(kind="room-heard", verdict=Verdict.BAKED_IN if lead_db < LOUD_ROOM_DB else Verdict.WATCH)
    if kit.noise_set_by == "room":
        yield KitFinding(kind="room-sets-noise", verdict=Verdict.WATCH)


def _noise(kit: Kit) -> Iterator[KitFinding]:
    if kit.clean_range_db < GOOD_CLEAN_RANGE_DB:
        verdict = Verdict.MENDABLE if kit.clean_range_db < POOR_CLEAN_RANGE_DB else Verdict.WATCH
        yield KitFinding(kind="noise", verdict=verdict, stage=kit.noise_set_by)


def _direct(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    for part, voice in zip(needs.parts, kit.voices, strict=True):
        if part.source.direct is None:
            continue
        if voice.box is None:
            yield KitFinding(kind="di-not-needed", verdict=Verdict.CLEAR, source=part.source, hub=kit.hub)
        else:
            worth = DI_SHARE * part.source.direct.instrument_price
            yield KitFinding(kind="di-box", verdict=Verdict.CLEAR, source=part.source, item=voice.box, worth=worth)


def _ears(kit: Kit) -> Iterator[KitFinding]:
    headphones = next((line.item for line in kit.lines if line.kind == "headphones" and line.item), None)
    level_db = loudest_in_headphones(kit.hub, headphones) if kit.hub and headphones else None
    if level_db is not None:
        kind = "headphones-quiet" if level_db < LOUD_ENOUGH_DB else "headphones-loud"
        yield KitFinding(kind=kind, verdict=Verdict.WATCH, level_db=level_db, safe_h=safe_hours(level_db))


def _ribbons(kit: Kit) -> Iterator[KitFinding]:
    for voice in kit.voices:
        if voice.microphone and voice.microphone.microphone_family.hurt_by_phantom and not voice.booster:
            yield KitFinding(kind="ribbon-phantom", verdict=Verdict.STOP, item=voice.microphone, hub=kit.hub)
            return


def _monitors(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    if not needs.monitors:
        yield KitFinding(kind="monitors-later", verdict=Verdict.CLEAR)
        return
    volume_m3, lowest_hz = needs.room.volume_m3, lowest_mode_hz(needs.room.volume_m3)
    low = [line.item.low_hz for line in kit.lines if line.kind == "monitor" and line.item]
    too_low = any(low_hz is not None and 0 < low_hz < lowest_hz for low_hz in low)
    yield KitFinding(
        kind="monitors-for-room",
        verdict=Verdict.WATCH if too_low else Verdict.CLEAR,
        volume_m3=volume_m3,
        level_db=monitor_peak_db(volume_m3),
        lowest_hz=lowest_hz,
    )
