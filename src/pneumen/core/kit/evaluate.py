"""Every microphone through every interface for every part at once: clean range and direct-to-room ratio as arrays.

The stages are those of `line`, on arrays, so that thousands of chains take milliseconds; a test holds the two
together. Gain is set to bring the loudest peak to the part's aim, as `line` sets it.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final, Self

import numpy as np

from pneumen.core.errors import given
from pneumen.core.gear import Interface, Microphone, interface_from_sheet, microphone_from_sheet
from pneumen.core.hookup import PICKUP_LOAD_OHM
from pneumen.core.kit.accessories import SERVES_ONE
from pneumen.core.kit.catalogue import BOXED_OUTPUT_OHM, socket_of
from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import Needs, PartNeed
from pneumen.core.levels import LOWEST_DB, divider_db, power_sum_db
from pneumen.core.line import closeness_db, fall_db, microphone_dbu, room_on_peak_db, room_on_rms_db, whole_gain_db
from pneumen.core.setup import BOOSTED_OUTPUT_OHM

CANNOT: Final = -np.inf


@dataclass(frozen=True, slots=True, kw_only=True)
class Voice:
    """One way to take up a part: a microphone (perhaps boosted), or a plug (perhaps through a box).

    A pad is put in by hand, where a source overloads its input: no kit plans one.
    """

    microphone: Item | None = None
    booster: Item | None = None
    box: Item | None = None
    pad: Item | None = None

    @property
    def devices(self) -> tuple[Item, ...]:
        return tuple(item for item in (self.microphone, self.booster, self.box, self.pad) if item)

    @property
    def ids(self) -> tuple[str, ...]:
        return tuple(item.id for item in self.devices)

    @property
    def needs_phantom(self) -> bool:
        """Whether it works only with 48 V."""
        return bool(self.booster) or given("microphone", self.microphone).microphone_family.needs_phantom

    @property
    def hurt_by_phantom(self) -> bool:
        """Whether 48 V would destroy it; a booster keeps it away."""
        return not self.booster and given("microphone", self.microphone).microphone_family.hurt_by_phantom

    @property
    def pattern(self) -> str:
        item = self.microphone
        if item is None:
            return "omni"
        return item.pattern or (item.microphone_family.pattern if item.kind == "microphone" else "cardioid")

    @property
    def wants(self) -> tuple:
        """What decides its small things: its plug, its booster or box, and what lies in its own box."""
        item = self.microphone
        boxed = tuple(kind for kind in SERVES_ONE if kind in item.in_box) if item else ()
        plug = item and (item.kind, item.owned, item.family and item.microphone_family.plug)
        return plug, bool(self.booster), bool(self.box), boxed


def unboosted_of(voices: Sequence[Voice]) -> np.ndarray:
    """Return the number of the same microphone without its booster for each voice, its own where it has none."""
    plain = {voice.microphone.id: n for n, voice in enumerate(voices) if voice.microphone and not voice.booster}
    names = [voice.microphone.id if voice.microphone else "" for voice in voices]
    return np.array([plain.get(name, n) for n, name in enumerate(names)], dtype=int)


def room_lead_db(part: PartNeed, pattern: str) -> float:
    """Return a part's direct-to-room ratio with a pattern, nothing hung; infinite for what is plugged in."""
    if part.is_plugged:
        return math.inf
    return part.place(pattern).lead_db


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Heard:
    """What each of many microphones hears of a part where it would stand, its own noise being a sound before it."""

    aim_dbfs: float
    band_db: float
    peak_spl: np.ndarray
    typical_spl: np.ndarray
    noise_dba: np.ndarray

    def only(self, kept: np.ndarray) -> Self:
        """Return the same of some of them."""
        return replace(
            self, peak_spl=self.peak_spl[kept], typical_spl=self.typical_spl[kept], noise_dba=self.noise_dba[kept]
        )


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Microphones:
    """The data sheets of voices that are microphones, perhaps boosted: arrays of shape (voices,).

    unloaded_dbu is what comes out of 0 dB SPL; heard is by the number of a miked part.
    """

    voices: list[Voice]
    unloaded_dbu: np.ndarray
    output_ohm: np.ndarray
    own_dba: np.ndarray
    max_spl: np.ndarray
    need_phantom: np.ndarray
    hurt_by_phantom: np.ndarray
    heard: dict[int, Heard]

    @classmethod
    def of(cls, needs: Needs, voices: list[Voice]) -> Self:
        """Read the sheets of voices, none of them a plug."""
        items = [given("microphone", voice.microphone) for voice in voices]
        known = {one.id: microphone_from_sheet(one.family, one.sheet)[0] for one in items}
        sheets = [sheet for one in items if isinstance(sheet := known[one.id], Microphone)]
        boost_db = np.array([voice.booster.gain_db if voice.booster else 0.0 for voice in voices])
        own_dba, patterns = np.array([one.self_noise_dba for one in sheets]), [one.pattern for one in sheets]
        return cls(
            voices=voices,
            unloaded_dbu=microphone_dbu(np.array([one.sensitivity_mv_per_pa for one in sheets])) + boost_db,
            output_ohm=np.where(boost_db > 0, BOOSTED_OUTPUT_OHM, [one.impedance_ohm for one in sheets]),
            own_dba=own_dba,
            max_spl=np.array([one.max_spl_db for one in sheets]),
            need_phantom=np.array([voice.needs_phantom for voice in voices]),
            hurt_by_phantom=np.array([voice.hurt_by_phantom for voice in voices]),
            heard={n: _heard(part, patterns, own_dba) for n, part in enumerate(needs.parts) if not part.is_plugged},
        )

    def only(self, kept: np.ndarray) -> Self:
        """Return the same of some of them, by a mask."""
        return replace(
            self,
            voices=[voice for voice, stays in zip(self.voices, kept, strict=True) if stays],
            heard={number: heard.only(kept) for number, heard in self.heard.items()},
            **{name: getattr(self, name)[kept] for name in SHEET_COLUMNS},
        )


SHEET_COLUMNS: Final = ("unloaded_dbu", "output_ohm", "own_dba", "max_spl", "need_phantom", "hurt_by_phantom")


def _heard(part: PartNeed, patterns: list[str], own_dba: np.ndarray) -> Heard:
    names = sorted(set(patterns))
    which = np.array([names.index(one) for one in patterns], dtype=int)
    places, levels = [part.place(name) for name in names], part.miked_levels
    near = np.array(
        [
            closeness_db(levels.octaves_db, place.pattern, place.distance_m, extent_m=part.source.extent_m)
            for place in places
        ]
    )
    fall = fall_db(levels.at_m, np.array([place.distance_m for place in places])) + near
    over_room = np.array([place.lead_db for place in places]) + near
    crest_db = levels.peak_db_spl - levels.typical_db_spl
    return Heard(
        aim_dbfs=part.aim_dbfs,
        band_db=part.band_db,
        peak_spl=levels.peak_db_spl + (fall + room_on_peak_db(over_room, crest_db))[which],
        typical_spl=levels.typical_db_spl + (fall + room_on_rms_db(over_room))[which],
        noise_dba=power_sum_db(np.array([place.noise_dba for place in places])[which], own_dba),
    )


class MikedChains:
    """Microphones behind interfaces: what all parts share of the arithmetic, shape (hubs, voices)."""

    def __init__(self, needs: Needs, hubs: list[Item], microphones: Microphones) -> None:
        self._microphones, self._spared = microphones, needs.overload_spared
        self._boosted = np.array([voice.booster is not None for voice in microphones.voices])
        self._inputs = inputs = Inputs(hubs)
        load_db = divider_db(microphones.output_ohm, inputs.impedance_ohm)
        self._at_input_dbu = microphones.unloaded_dbu + load_db  # of 0 dB SPL
        self._fed = phantom_serves(
            hubs, microphones.need_phantom, microphones.hurt_by_phantom, together=needs.most_at_once > 1
        )

    def clean_ranges(self, part: int) -> np.ndarray:
        """Return the clean range of a part for each interface and microphone; CANNOT where a chain cannot serve.

        It cannot where 48 V is missing or would destroy it, where a booster is of no use since the gain is at its stop
        without it, and, where overload is to be spared, where something may clip within the part's band.
        """
        heard = self._microphones.heard[part]
        peak_dbu = heard.peak_spl + self._at_input_dbu
        gain_db, at_stop = self._inputs.gain_for(peak_dbu, heard.aim_dbfs)
        serves = self._fed & ~(at_stop & self._boosted)
        if self._spared:
            loudest_spl = heard.peak_spl + heard.band_db
            serves &= (loudest_spl <= self._microphones.max_spl) & self._inputs.bear(peak_dbu + heard.band_db)
        spl_to_file_db = self._at_input_dbu - self._inputs.max_input_dbu + gain_db
        noise = power_sum_db(heard.noise_dba + spl_to_file_db, *self._inputs.noises(gain_db))
        clean = heard.typical_spl + spl_to_file_db - noise
        return np.where(serves, clean, CANNOT)


def clean_ranges_plugged(needs: Needs, part: PartNeed, hubs: list[Item], voices: list[Voice]) -> np.ndarray:
    """Return the same for a plugged-in part: voices are boxes or none (the interface's own instrument input)."""
    direct, levels = given("direct", part.source.direct), part.plug_levels
    clean = np.full((len(hubs), len(voices)), CANNOT)
    for column, voice in enumerate(voices):
        box = voice.box
        inputs = Inputs(hubs) if box else Inputs.for_plug(hubs, passive=direct.passive)
        load_ohm = inputs.impedance_ohm if box is None else np.full((len(hubs), 1), box.input_impedance_ohm)
        level_db = divider_db(direct.output_ohm, load_ohm)
        fits = inputs.there & (not direct.passive or load_ohm >= PICKUP_LOAD_OHM)
        box_noise: np.ndarray | float = LOWEST_DB
        if box:
            output_ohm = box.impedance_ohm or BOXED_OUTPUT_OHM
            after_db = divider_db(output_ohm, inputs.impedance_ohm)
            at_output_dbu = levels.peak_dbu + level_db + given("gain_db", box.gain_db)
            most_dbu = box.max_output_dbu if box.max_output_dbu is not None else math.inf
            fits &= not needs.overload_spared or at_output_dbu + part.band_db <= most_dbu
            level_db = level_db + given("gain_db", box.gain_db) + after_db
            box_noise = box.noise_dbu + after_db
        gain_db, _ = inputs.gain_for(levels.peak_dbu + level_db, part.aim_dbfs)
        if needs.overload_spared:
            fits &= inputs.bear(levels.peak_dbu + level_db + part.band_db)
        to_file_db = gain_db - inputs.max_input_dbu
        sound = power_sum_db(levels.noise_dbu + level_db, box_noise) + to_file_db
        ranges = levels.typical_dbu + level_db + to_file_db - power_sum_db(sound, *inputs.noises(gain_db))
        clean[:, column] = np.where(fits, ranges, CANNOT)[:, 0]
    return clean


class Inputs:
    """The interfaces' inputs as columns, shape (hubs, 1): what a microphone, or an instrument, meets there."""

    def __init__(self, hubs: list[Item]) -> None:
        sheets = [interface_from_sheet(hub.family, hub.sheet)[0] for hub in hubs]
        there = [hub.mic_inputs is None or hub.mic_inputs > 0 for hub in hubs]
        self._read(sheets, [sheet.input_impedance_ohm for sheet in sheets], there)

    @classmethod
    def for_plug(cls, hubs: list[Item], *, passive: bool) -> Self:
        """Return the inputs an instrument is plugged into straight; where a hub has none its own sheet stands in."""
        inputs, sockets = cls(hubs), [socket_of(hub, passive=passive) for hub in hubs]
        pairs = list(zip(hubs, sockets, strict=True))
        inputs._read(
            [socket.interface if socket else interface_from_sheet(hub.family, hub.sheet)[0] for hub, socket in pairs],
            [socket.impedance_ohm if socket else hub.instrument_ohm for hub, socket in pairs],
            [socket is not None for socket in sockets],
        )
        return inputs

    def _read(self, sheets: list[Interface], impedances_ohm: list[float], there: list[bool]) -> None:
        def column(values: Sequence[float]) -> np.ndarray:
            return np.array(values, dtype=float)[:, None]

        self.impedance_ohm, self.there = column(impedances_ohm), column(there) > 0
        self.max_input_dbu = column([sheet.max_input_dbu for sheet in sheets])
        self.low, self.high = column([s.gain_min_db for s in sheets]), column([s.gain_max_db for s in sheets])
        self.step = column([sheet.gain_step_db for sheet in sheets])
        self.ein_dbu = column([sheet.ein_dbu for sheet in sheets])
        self.converter = column([-sheet.dynamic_range_db for sheet in sheets])

    def gain_for(self, peak_dbu: np.ndarray, aim_dbfs: float) -> tuple[np.ndarray, np.ndarray]:
        """Return the gain above the lowest that brings the peak to the aim, and whether even the lowest is too much."""
        wanted = aim_dbfs - (peak_dbu - self.max_input_dbu) + self.low
        return whole_gain_db(wanted, self.low, self.high, self.step) - self.low, wanted < self.low

    def bear(self, peak_dbu: np.ndarray) -> np.ndarray:
        """Tell whether a peak stays under full scale at the lowest gain."""
        return peak_dbu <= self.max_input_dbu

    def noises(self, gain_db: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Noise of preamp and of converter, on the scale where a signal's RMS is its level plus what follows."""
        return self.ein_dbu - self.max_input_dbu + gain_db, self.converter


def phantom_serves(hubs: list[Item], needed: np.ndarray, hurts: np.ndarray, *, together: bool) -> np.ndarray:
    """Tell where phantom power is there for what needs it and cannot reach what it would hurt, shape (hubs, voices)."""
    has = np.array([hub.phantom != "none" for hub in hubs])[:, None]
    shared = np.array([hub.phantom == "shared" for hub in hubs])[:, None]
    return (has | ~needed) & ~(shared & hurts & together)
