"""The same level diagram for what is plugged in and not miked: instrument, perhaps a DI box, preamp, converter."""

from dataclasses import dataclass

from pneumen.core.errors import require_positive, require_within
from pneumen.core.gear import Converter, Preamp
from pneumen.core.levels import FULL_SCALE_SINE_RMS_DB, divider_db
from pneumen.core.line.levels import Levels, levels_from


@dataclass(frozen=True, slots=True, kw_only=True)
class PlugLevels:
    """An instrument's plug, unloaded: RMS levels, the level of a sine with its peak, its own noise (A)."""

    peak_dbu: float
    typical_dbu: float
    quiet_dbu: float
    output_ohm: float
    noise_dbu: float

    def __post_init__(self) -> None:
        require_positive("output_ohm", self.output_ohm, 1e7)
        require_within("noise_dbu", self.noise_dbu, -160, 20)


@dataclass(frozen=True, slots=True, kw_only=True)
class DiBox:
    """A DI box: gain_db (below 0 where it takes), the load it is, and its noise (A) and ceiling at its output."""

    gain_db: float
    input_impedance_ohm: float
    output_ohm: float
    noise_dbu: float
    max_output_dbu: float


def direct_levels_of(plug: PlugLevels, preamp: Preamp, converter: Converter, box: DiBox | None = None) -> Levels:
    """Work out every level from a plug to the file; preamp's input impedance is that of the input used.

    Returns:
        Levels with the stages source, box (where there is one), preamp and converter.

    >>> plug = PlugLevels(peak_dbu=0, typical_dbu=-13, quiet_dbu=-29, output_ohm=1000, noise_dbu=-88)
    >>> figures = {"ein_dbu": -128, "max_input_dbu": 9, "input_impedance_ohm": 1e6}
    >>> preamp = Preamp(gain_db=0, gain_min_db=0, gain_max_db=56, **figures)
    >>> round(direct_levels_of(plug, preamp, Converter(dynamic_range_db=108)).peak_dbfs, 2)
    -9.01
    """
    gain_db = preamp.gain_db - preamp.gain_min_db
    input_to_file_db = gain_db - preamp.max_input_dbu
    load_ohm = box.input_impedance_ohm if box else preamp.input_impedance_ohm
    output_to_file_db = input_to_file_db - preamp.pad_db
    if box:
        output_to_file_db += divider_db(box.output_ohm, preamp.input_impedance_ohm)
    plug_to_file_db = output_to_file_db + divider_db(plug.output_ohm, load_ohm) + (box.gain_db if box else 0.0)
    noises = {"source": plug.noise_dbu + plug_to_file_db + FULL_SCALE_SINE_RMS_DB}
    ceilings = {}
    if box:
        noises["box"] = box.noise_dbu + output_to_file_db + FULL_SCALE_SINE_RMS_DB
        ceilings["box"] = box.max_output_dbu + output_to_file_db
    noises["preamp"] = preamp.ein_dbu + input_to_file_db + FULL_SCALE_SINE_RMS_DB
    noises["converter"] = -converter.dynamic_range_db + FULL_SCALE_SINE_RMS_DB
    ceilings |= {"preamp": gain_db, "converter": 0.0}
    return levels_from(
        peak_dbfs=plug.peak_dbu + plug_to_file_db,
        typical_dbfs=plug.typical_dbu + plug_to_file_db + FULL_SCALE_SINE_RMS_DB,
        quiet_dbfs=plug.quiet_dbu + plug_to_file_db + FULL_SCALE_SINE_RMS_DB,
        noises=noises,
        ceilings=ceilings,
        gain_db=preamp.gain_db,
    )
