"""What is worth saying of a kit, gravest first: the room, the noise, boxes not needed, ears, ribbons."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast import judge_overload
from pneumen.core.gain import GOOD_CLEAN_RANGE_DB, POOR_CLEAN_RANGE_DB
from pneumen.core.kit.item import Item
from pneumen.core.kit.listening import (
    LOUD_ENOUGH_DB,
    loudest_in_headphones,
    lowest_mode_hz,
    monitor_peak_db,
)
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.written import Kit
from pneumen.core.levels import safe_hours
from pneumen.core.part import Source
from pneumen.core.room import judge_room
from pneumen.core.verdict import Verdict, worst_of

LOW_DB: Final = 3.0
"""A peak so far under its aim, with the control at its stop, is told."""
MOST_OF_WALLS: Final = 0.5
"""More of the walls behind textiles is told, with how dead it gets (common practice, no source)."""
CYMBALS_HZ: Final = 15_000.0
"""What ends below this leaves the shimmer of cymbals out (common practice, no source)."""
DI_SHARE: Final = 0.2
"""A DI box is worth about a fifth of the instrument (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class KitFinding:
    """One thing worth saying, with what it is about: a stage, a source, an item, a level, a room.

    level_db is in dB SPL, of a level-low the peak in dBFS.
    """

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
    rt60_s: float = 0.0
    short_db: float = 0.0


def findings_of_kit(needs: Needs, kit: Kit) -> tuple[KitFinding, ...]:
    """Return what there is to say of a kit, gravest first."""
    found = [
        *_overload(needs, kit),
        *_low(needs, kit),
        *_room(needs, kit),
        *_noise(kit),
        *_direct(needs, kit),
        *_ears(kit),
        *_ribbons(kit),
        *_microphones(needs, kit),
        *_channels(needs, kit),
        *_monitors(needs, kit),
    ]
    return tuple(sorted(found, key=lambda one: -one.verdict.gravity))


def _overload(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    """What is louder than believed by less than its band clips, whatever the gain."""
    for number in kit.overloads:
        part, voice, found = needs.parts[number], kit.voices[number], kit.parts[number]
        item = voice.microphone or voice.box or kit.hub
        yield KitFinding(
            kind="overload",
            verdict=judge_overload(found.spare_db, part.band_db),
            source=part.source,
            item=item,
            level_db=part.band_db,
            short_db=found.spare_db,
        )


def _low(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    for part, voice, found in zip(needs.parts, kit.voices, kit.parts, strict=True):
        short_db = part.aim_dbfs - found.levels.peak_dbfs
        if short_db > LOW_DB:
            item = kit.hub or voice.microphone  # whose control it is
            yield KitFinding(
                kind="level-low",
                verdict=Verdict.WATCH,
                source=part.source,
                item=item,
                level_db=found.levels.peak_dbfs,
                short_db=short_db,
            )


def _room(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    if kit.hanging.area_m2 > MOST_OF_WALLS * needs.room.walls_m2:
        yield KitFinding(kind="very-dead", verdict=Verdict.WATCH, rt60_s=kit.hanging.rt60_s)
    rooms = [judge_room(lead, part.source.dry_enough_db) for lead, part in zip(kit.leads_db, needs.parts, strict=True)]
    if (worst := worst_of(rooms)) is not Verdict.CLEAR:
        yield KitFinding(kind="room-heard", verdict=worst)
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
            price = part.instrument_price
            worth = DI_SHARE * (part.source.direct.instrument_price if price is None else price)
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


def _microphones(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    """What a microphone does not hear of a source, and one that pops easily before a mouth."""
    for part, voice in zip(needs.parts, kit.voices, strict=True):
        item, source = voice.microphone, part.source
        if item is None:
            continue
        lowest_hz = source.lowest_hz
        if item.low_hz is not None and item.low_hz > lowest_hz:
            yield KitFinding(kind="lows-missed", verdict=Verdict.WATCH, source=source, item=item, lowest_hz=lowest_hz)
        if item.high_hz is not None and item.high_hz < CYMBALS_HZ and source.transient == "sharp" and source.harsh:
            yield KitFinding(kind="highs-missed", verdict=Verdict.WATCH, source=source, item=item)
        if item.family == "small-condenser" and source.pops:
            yield KitFinding(kind="pops-easily", verdict=Verdict.WATCH, source=source, item=item)


def _channels(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    """A part that wishes for two channels and gets one, or gets them from two microphones set alike."""
    for part, voice in zip(needs.parts, kit.voices, strict=True):
        item = voice.microphone or kit.hub
        if part.channels < part.wished_channels:
            yield KitFinding(kind="mono-only", verdict=Verdict.WATCH, source=part.source, item=item)
        elif part.channels > 1:
            own = voice.microphone is not None and voice.microphone.kind == "recorder"
            kind = "stereo-plugged" if part.is_plugged else "stereo-built-in" if own else "stereo-pair"
            yield KitFinding(kind=kind, verdict=Verdict.CLEAR, source=part.source, item=item)


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
