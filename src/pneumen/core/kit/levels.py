"""The level diagram of one part in a kit, by the core's `line`, at the gain that suits it."""

from dataclasses import dataclass, replace

from pneumen.core.gear import Converter, Preamp, interface_from_sheet
from pneumen.core.kit.catalogue import chain_of
from pneumen.core.kit.evaluate import (
    AIM_DBFS,
    BOOSTED_OUTPUT_OHM,
    MOST_TOO_LOUD_DB,
    MOST_TOO_QUIET_DB,
    PICKUP_LOAD_OHM,
    Voice,
)
from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import Needs, PartNeed
from pneumen.core.line import DiBox, Levels, PlugLevels, direct_levels_of, levels_of
from pneumen.core.setup import Chain, SourceLevels


@dataclass(frozen=True, slots=True, kw_only=True)
class PartLevels:
    """A part's levels at the gain that brings its loudest peak near -9 dBFS."""

    levels: Levels
    gain_db: float


def levels_of_part(needs: Needs, part: PartNeed, hub: Item | None, voice: Voice) -> PartLevels | None:
    """Return a part's levels with a voice behind a hub; None where its gain cannot bring it near the aim."""
    if part.levels is None:
        return _plugged(part, hub, voice.box)
    chain = chain_of(voice.microphone, hub, voice.booster)
    return levels_at_aim(chain, part.levels, room_noise_dba=needs.room.noise_dba, distance_m=part.distance_m)


def levels_at_aim(chain: Chain, source: SourceLevels, *, room_noise_dba: float, distance_m: float) -> PartLevels | None:
    """Return a chain's levels at the gain that suits it; None where no gain brings the peak near the aim."""

    def at(gain_db: float) -> Levels:
        return levels_of(
            chain.setup(source=source, room_noise_dba=room_noise_dba, distance_m=distance_m, gain_db=gain_db)
        )

    low, high = chain.gain_range_db
    gain_db = _reached(low - at(low).peak_dbfs + AIM_DBFS, low, high)
    return None if gain_db is None else PartLevels(levels=at(gain_db), gain_db=gain_db)


def _plugged(part: PartNeed, hub: Item, box: Item | None) -> PartLevels | None:
    sheet, direct = interface_from_sheet(hub.family, hub.sheet)[0], part.source.direct
    own_input = hub.instrument_impedance_ohm or 1e6
    load_ohm = box.input_impedance_ohm if box else own_input
    if (direct.passive and load_ohm < PICKUP_LOAD_OHM) or (not box and not hub.instrument_inputs):
        return None
    plug = PlugLevels(
        peak_dbu=part.peak_dbu,
        typical_dbu=part.rms_dbu,
        quiet_dbu=part.rms_dbu - part.source.quiet_below_db,
        output_ohm=direct.output_ohm,
        noise_dbu=direct.noise_dbu,
    )
    di_box = box and DiBox(
        gain_db=box.gain_db,
        input_impedance_ohm=box.input_impedance_ohm,
        output_ohm=box.impedance_ohm or BOOSTED_OUTPUT_OHM,
        noise_dbu=box.noise_dbu,
        max_output_dbu=200.0 if box.max_output_dbu is None else box.max_output_dbu,
    )
    preamp: Preamp = sheet.preamp_at(sheet.gain_min_db)
    if not box:
        preamp = replace(preamp, input_impedance_ohm=own_input)
    converter = Converter(dynamic_range_db=sheet.dynamic_range_db)
    lowest = direct_levels_of(plug, preamp, converter, di_box)
    gain_db = _reached(preamp.gain_db - lowest.peak_dbfs + AIM_DBFS, sheet.gain_min_db, sheet.gain_max_db)
    if gain_db is None:
        return None
    levels = direct_levels_of(plug, replace(preamp, gain_db=gain_db), converter, di_box)
    return PartLevels(levels=levels, gain_db=gain_db)


def _reached(wanted: float, low: float, high: float) -> float | None:
    reachable = min(max(wanted, low), high)
    near = -MOST_TOO_LOUD_DB <= wanted - reachable <= MOST_TOO_QUIET_DB
    return min(max(float(round(reachable)), low), high) if near else None
