"""The figures of a part as it is set up, as every page shows them: one name, one unrounded value of the one result."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from pneumen.core.forecast import Outcome
from pneumen.core.levels import ratio_to_db
from pneumen.core.setup import SourceLevels


@dataclass(frozen=True, slots=True, kw_only=True)
class Figures:
    """A part's figures by name (docs of the command line: figures on pages); those that do not exist are left out."""

    part_id: int
    values: Mapping[str, float]


def figures_of(part_id: int, outcome: Outcome) -> Figures:
    """Return the figures of a part as it is set up; what is only tried out carries no such mark."""
    found = {**_of_levels(outcome), **_of_the_air(outcome), "round_trip_ms": outcome.setup.round_trip_ms}
    if outcome.setup.chain.gain_marking != "none":
        found["gain_db"] = outcome.gain_db
    there = {name: float(value) for name, value in found.items() if value is not None}
    return Figures(part_id=part_id, values=MappingProxyType(there))


def _of_levels(outcome: Outcome) -> dict[str, float | None]:
    levels, source = outcome.levels, outcome.setup.performance.levels
    found: dict[str, float | None] = {
        "peak_dbfs": levels.peak_dbfs,
        "typical_dbfs": levels.typical_dbfs,
        "noise_dbfs": levels.noise_dbfs,
        "clean_range_db": levels.clean_range_db,
        "headroom_db": levels.headroom_db,
    }
    if isinstance(source, SourceLevels):
        at_1m_db = ratio_to_db(source.at_m)
        found["source_peak_db_spl"] = source.peak_db_spl + at_1m_db
        found["source_typical_db_spl"] = source.typical_db_spl + at_1m_db
    return found


def _of_the_air(outcome: Outcome) -> dict[str, float | None]:
    air = outcome.air
    if air is None:
        return {}
    near, far = air.calm_m or (None, None)
    return {
        "distance_m": outcome.distance_m,
        "calm_from_m": near,
        "calm_to_m": far,
        "direct_to_reverberant_db": air.lead_db,
        "rt60_s": air.rt60_s,
        "critical_distance_m": air.critical_distance_m,
        "room_noise_dba": air.noise_dba,
        "proximity_db": air.felt["bass"],
        "sway_db": air.felt.get("sway"),
        "pop_m_per_s": air.felt.get("pops"),
    }
