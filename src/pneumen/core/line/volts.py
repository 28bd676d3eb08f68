"""The same level diagram in volts: what is on each cable, from the microphone or the plug to the converter."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.levels import FULL_SCALE_SINE_RMS_DB, power_sum_db
from pneumen.core.line.levels import Levels
from pneumen.core.line.way import way_of

ENTERS_AT: Final = {
    "room": "microphone",
    "microphone": "microphone",
    "instrument": "plug",
    "box": "box",
    "preamp": "input",
    "converter": "converter",
}
"""Where each stage's noise, and its ceiling, stands in volts."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Volts:
    """What is at one place, in dBu (RMS of a sine): the signal, the noise that enters there, and what it bears.

    noise_dbu is A-weighted, None where nothing enters; ceiling_dbu is None where nothing overloads. sets_noise and
    clips_first tell whether it is that stage.
    """

    place: str
    loudest_dbu: float
    typical_dbu: float
    quiet_dbu: float
    noise_dbu: float | None
    ceiling_dbu: float | None
    sets_noise: bool
    clips_first: bool


def volts_of(levels: Levels) -> tuple[Volts, ...]:
    """Return the levels at each place with a cable, in order; nothing behind a microphone with a converter of its own.

    Each is the level at the file, moved by what lies between: nothing is worked out a second time. At the converter
    full scale is what the input takes at its lowest gain.
    """
    full_scale = next((step.detail for step in levels.peak_steps if step.name == "maximum-input"), None)
    if full_scale is None:
        return ()
    places = [one for one in way_of(levels) if one.unit == "dBu"]
    moved = {one.place: one.level - levels.peak_dbfs for one in places} | {"converter": full_scale}
    return tuple(_at(place, by_db, levels) for place, by_db in moved.items())


def _at(place: str, by_db: float, levels: Levels) -> Volts:
    stages = [stage for stage, where in ENTERS_AT.items() if where == place]
    noises = [levels.noise_by_stage_dbfs[stage] for stage in stages if stage in levels.noise_by_stage_dbfs]
    ceilings = [levels.ceilings_dbfs[stage] for stage in stages if stage in levels.ceilings_dbfs]
    rms_by_db = by_db - FULL_SCALE_SINE_RMS_DB
    return Volts(
        place=place,
        loudest_dbu=levels.peak_dbfs + by_db,
        typical_dbu=levels.typical_dbfs + rms_by_db,
        quiet_dbu=levels.quiet_dbfs + rms_by_db,
        noise_dbu=power_sum_db(*noises) + rms_by_db if noises else None,
        ceiling_dbu=min(ceilings) + by_db if ceilings else None,
        sets_noise=levels.noise_set_by in stages,
        clips_first=levels.clips_first in stages,
    )
