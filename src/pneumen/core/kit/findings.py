"""What is worth saying of a kit, gravest first: the room, the noise, boxes not needed, ears, ribbons."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from pneumen.core.errors import given
from pneumen.core.gain import GOOD_CLEAN_RANGE_DB, POOR_CLEAN_RANGE_DB
from pneumen.core.kit.listening import (
    LOUD_ENOUGH_DB,
    loudest_in_headphones,
    lowest_mode_hz,
    monitor_peak_db,
    safe_hours,
)
from pneumen.core.kit.needs import Needs, PartNeed
from pneumen.core.kit.planner import Kit
from pneumen.core.room import FAINT_ROOM_DB, LOUD_ROOM_DB
from pneumen.core.verdict import Verdict

DI_SHARE: Final = 0.2
"""A DI box is worth about a fifth of the instrument (common practice, no source)."""
SHORT_LEAD_M: Final = 5.0


@dataclass(frozen=True, slots=True, kw_only=True)
class KitFinding:
    """One thing worth saying."""

    kind: str
    verdict: Verdict
    advice: str


def findings_of_kit(needs: Needs, kit: Kit) -> tuple[KitFinding, ...]:
    """Return what there is to say of a kit."""
    found = [
        *_room(kit),
        *_noise(kit),
        *_direct(needs, kit),
        *_ears(kit),
        *_ribbons(needs, kit),
        *_monitors(needs, kit),
    ]
    return tuple(sorted(found, key=lambda one: -one.verdict.gravity))


def _room(kit: Kit) -> Iterator[KitFinding]:
    lead_db = kit.direct_to_reverberant_db
    if lead_db < FAINT_ROOM_DB:
        verdict = Verdict.BAKED_IN if lead_db < LOUD_ROOM_DB else Verdict.WATCH
        advice = "The room is heard behind the part and cannot be taken out again: hang something, or stand closer."
        yield KitFinding(kind="room-heard", verdict=verdict, advice=advice)
    if kit.noise_set_by == "room":
        advice = (
            "The room sets the noise: a dearer microphone would hear the same room. Choose the hour, or quieten it."
        )
        yield KitFinding(kind="room-sets-noise", verdict=Verdict.WATCH, advice=advice)


def _noise(kit: Kit) -> Iterator[KitFinding]:
    if kit.clean_range_db < GOOD_CLEAN_RANGE_DB:
        verdict = Verdict.MENDABLE if kit.clean_range_db < POOR_CLEAN_RANGE_DB else Verdict.WATCH
        yield KitFinding(
            kind="noise", verdict=verdict, advice=f"The clean range stays small; the {kit.noise_set_by} sets it."
        )


def _direct(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    for part, voice in zip(needs.parts, kit.voices, strict=True):
        if part.source.direct is not None:
            yield _without_box(part, kit) if voice.box is None else _with_box(part, voice.box.price, voice.box.active)


def _without_box(part: PartNeed, kit: Kit) -> KitFinding:
    load = given("interface", kit.hub).instrument_ohm / 1e6
    advice = (
        f"{part.source.label}: no DI box needed; this interface’s instrument input ({load:g} Mohm) takes it straight "
        f"from a lead under {SHORT_LEAD_M:g} m. A box pays where the lead is longer or the ground hums."
    )
    return KitFinding(kind="di-not-needed", verdict=Verdict.CLEAR, advice=advice)


def _with_box(part: PartNeed, price: float, active: bool | None) -> KitFinding:
    direct = given("direct", part.source.direct)
    fitting = (
        "an active one for a passive pickup" if direct.passive else "a passive one for an output with its own preamp"
    )
    worth = DI_SHARE * direct.instrument_price
    told = f"{part.source.label} goes through a DI box, {fitting}."
    if bool(active) != direct.passive:
        told = f"{part.source.label} goes through a DI box; {fitting} is the usual choice, this one serves here too."
    advice = f"{told} A fifth of the instrument, about {worth:g}, is what a box is worth by rule of thumb; this one costs {price:g}."
    return KitFinding(kind="di-box", verdict=Verdict.CLEAR, advice=advice)


def _ears(kit: Kit) -> Iterator[KitFinding]:
    headphones = next((line.item for line in kit.lines if line.kind == "headphones" and line.item), None)
    level_db = loudest_in_headphones(kit.hub, headphones) if kit.hub and headphones else None
    if level_db is None:
        return
    if level_db < LOUD_ENOUGH_DB:
        advice = f"These headphones reach only {level_db:.0f} dB SPL from this output: quiet over a loud voice."
        yield KitFinding(kind="headphones-quiet", verdict=Verdict.WATCH, advice=advice)
    else:
        minutes = 60 * safe_hours(level_db)
        time = f"{minutes:.0f} minutes" if minutes >= 1 else "less than a minute"
        advice = f"These headphones can reach {level_db:.0f} dB SPL here, safe for {time} a day (NIOSH, 1998): start from silence."
        yield KitFinding(kind="headphones-loud", verdict=Verdict.WATCH, advice=advice)


def _ribbons(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    for voice in kit.voices:
        if voice.microphone and voice.microphone.microphone_family.hurt_by_phantom and not voice.booster:
            shared = kit.hub is not None and kit.hub.phantom == "shared"
            more = " This interface has one switch for all inputs." if shared else ""
            advice = f"{voice.microphone.name}: phantom power may destroy it. 48 V stays off while it is plugged.{more}"
            yield KitFinding(kind="ribbon-phantom", verdict=Verdict.STOP, advice=advice)
            return


def _monitors(needs: Needs, kit: Kit) -> Iterator[KitFinding]:
    if not needs.monitors:
        advice = (
            "Monitors can wait: to record you need closed headphones. To mix later take active ones with a flat response, "
            "balanced from the interface, sized to the room."
        )
        yield KitFinding(kind="monitors-later", verdict=Verdict.CLEAR, advice=advice)
        return
    lowest_hz, loudest_db = lowest_mode_hz(needs.room.volume_m3), monitor_peak_db(needs.room.volume_m3)
    advice = (
        f"In {needs.room.volume_m3:.0f} m³ a monitor needs {loudest_db:.0f} dB peaks at 1 m. The lowest mode lies near "
        f"{lowest_hz:.0f} Hz: one that reaches below that only stirs up the room’s bass."
    )
    low = [line.item for line in kit.lines if line.kind == "monitor" and line.item and line.item.low_hz]
    too_low = any(item.low_hz is not None and item.low_hz < lowest_hz for item in low)
    yield KitFinding(kind="monitors-for-room", verdict=Verdict.WATCH if too_low else Verdict.CLEAR, advice=advice)
