"""The level diagram: one setup in, every level referred to the file out."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gear import directivity_index_db, off_axis_db
from pneumen.core.levels import (
    FULL_SCALE_SINE_RMS_DB,
    SPL_OF_ONE_PASCAL_DB,
    dbv_to_dbu,
    divider_db,
    power_sum_db,
    ratio_to_db,
)
from pneumen.core.setup import PluggedSetup, Setup

PEAK_TARGETS_DBFS: Final = (-6, -9, -12)
"""The peaks for which the needed gain is told: top, middle and foot of the three-quarter window."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Levels:
    """Every level at the file. Peaks: a full-scale sine is 0; RMS figures and noises: it is -3.01."""

    peak_dbfs: float
    typical_dbfs: float
    quiet_dbfs: float
    noise_dbfs: float
    noise_by_stage_dbfs: dict[str, float]
    noise_set_by: str
    clean_range_db: float
    headroom_db: float
    ceilings_dbfs: dict[str, float]
    clips_first: str
    gain_for_peak_db: dict[str, float]


def levels_of(setup: Setup | PluggedSetup) -> Levels:
    """Work out every level of a setup, from the source or the plug to the file.

    The source is a point (6.02 dB a doubling of distance), perhaps off the microphone's axis; 94 dB SPL is 1 Pa; room
    noise is diffuse. Holds outside the near field of the source, for a linear chain below its ceilings. A plug has the
    stages instrument, box (where there is one), preamp and converter.

    Returns:
        Levels in dBFS and dB. Noises are A-weighted.

    Reference: IEC 60268-4 for the microphone's level (from memory); thermal and converter figures as data
    sheets print them.

    >>> from pneumen.core.gear import UsbMicrophone
    >>> from pneumen.core.setup import SourceLevels
    >>> voice = SourceLevels(peak_db_spl=108, typical_db_spl=94, quiet_db_spl=80, at_m=0.1)
    >>> usb = UsbMicrophone(full_scale_db_spl=120, self_noise_dba=18)
    >>> round(levels_of(Setup(source=voice, distance_m=0.2, room_noise_dba=32, microphone=usb)).peak_dbfs, 2)
    -18.02
    """
    if isinstance(setup, PluggedSetup):
        source = setup.plug.peak_dbu, setup.plug.typical_dbu, setup.plug.quiet_dbu
        to_file_db, noises, ceilings = _plugged_stages(setup)
    else:
        source = setup.source.peak_db_spl, setup.source.typical_db_spl, setup.source.quiet_db_spl
        to_file_db, noises, ceilings = _usb_stages(setup) if setup.preamp is None else _analogue_stages(setup)
        to_file_db += ratio_to_db(setup.source.at_m / setup.distance_m)
        to_file_db += off_axis_db(setup.microphone.pattern, setup.off_axis_deg)
    peak_dbfs = source[0] + to_file_db
    typical_dbfs, quiet_dbfs = (level + to_file_db + FULL_SCALE_SINE_RMS_DB for level in source[1:])
    noise_dbfs = power_sum_db(*noises.values())
    lowest = min(ceilings, key=ceilings.get)  # the first of equals, so on a tie the earliest stage
    return Levels(
        peak_dbfs=peak_dbfs,
        typical_dbfs=typical_dbfs,
        quiet_dbfs=quiet_dbfs,
        noise_dbfs=noise_dbfs,
        noise_by_stage_dbfs=noises,
        noise_set_by=max(noises, key=noises.get),
        clean_range_db=typical_dbfs - noise_dbfs,
        headroom_db=ceilings[lowest] - peak_dbfs,
        ceilings_dbfs=ceilings,
        clips_first=lowest,
        gain_for_peak_db={str(target): setup.gain_db + target - peak_dbfs for target in PEAK_TARGETS_DBFS},
    )


Stages = tuple[float, dict[str, float], dict[str, float]]


def _analogue_stages(setup: Setup) -> Stages:
    """Return dB from SPL to the peak scale of the file, noises and ceilings by stage, for an XLR chain."""
    microphone, preamp = setup.microphone, setup.preamp
    bare_dbu = dbv_to_dbu(ratio_to_db(microphone.sensitivity_mv_per_pa / 1000) - SPL_OF_ONE_PASCAL_DB)
    loss_db = divider_db(microphone.impedance_ohm, preamp.input_impedance_ohm) - preamp.pad_db
    preamp_gain_db = preamp.gain_db - preamp.gain_min_db
    input_to_file_db = preamp_gain_db - preamp.max_input_dbu
    # A microphone's own noise and its overload are stated at its output, behind its pad.
    output_to_file_db = bare_dbu + loss_db + input_to_file_db
    to_file_db = output_to_file_db - microphone.pad_db
    room_db = setup.room_noise_dba - directivity_index_db(microphone.pattern)
    noises = {
        "room": room_db + to_file_db + FULL_SCALE_SINE_RMS_DB,
        "microphone": microphone.self_noise_dba + output_to_file_db + FULL_SCALE_SINE_RMS_DB,
        "preamp": preamp.ein_dbu + input_to_file_db + FULL_SCALE_SINE_RMS_DB,
        "converter": -setup.converter.dynamic_range_db + FULL_SCALE_SINE_RMS_DB,
    }
    ceilings = {
        "microphone": microphone.max_spl_db + output_to_file_db,
        "preamp": preamp_gain_db,
        "converter": 0.0,
    }
    return to_file_db, noises, ceilings


def _usb_stages(setup: Setup) -> Stages:
    """Return the same for a USB microphone, whose one ceiling is full scale at any gain."""
    microphone = setup.microphone
    to_file_db = microphone.gain_db - microphone.full_scale_db_spl
    room_db = setup.room_noise_dba - directivity_index_db(microphone.pattern)
    noises = {
        "room": room_db + to_file_db + FULL_SCALE_SINE_RMS_DB,
        "microphone": microphone.self_noise_dba + to_file_db + FULL_SCALE_SINE_RMS_DB,
    }
    return to_file_db, noises, {"microphone": 0.0}


def _plugged_stages(setup: PluggedSetup) -> Stages:
    """Return the same from the plug's dBu: the load pulls it down, a box adds its own, the preamp the rest."""
    plug, preamp, box = setup.plug, setup.preamp, setup.box
    preamp_gain_db = preamp.gain_db - preamp.gain_min_db
    input_to_file_db = preamp_gain_db - preamp.max_input_dbu
    at_input_to_file_db = input_to_file_db - preamp.pad_db
    noises, ceilings = {}, {}
    if box is None:
        to_file_db = divider_db(plug.output_ohm, preamp.input_impedance_ohm) + at_input_to_file_db
    else:
        at_input_to_file_db += divider_db(box.output_ohm, preamp.input_impedance_ohm)
        to_file_db = divider_db(plug.output_ohm, box.input_impedance_ohm) + box.gain_db + at_input_to_file_db
        noises["box"] = box.noise_dbu + at_input_to_file_db + FULL_SCALE_SINE_RMS_DB
        ceilings["box"] = box.max_output_dbu + at_input_to_file_db
    noises = {
        "instrument": plug.noise_dbu + to_file_db + FULL_SCALE_SINE_RMS_DB,
        **noises,
        "preamp": preamp.ein_dbu + input_to_file_db + FULL_SCALE_SINE_RMS_DB,
        "converter": -setup.converter.dynamic_range_db + FULL_SCALE_SINE_RMS_DB,
    }
    return to_file_db, noises, {**ceilings, "preamp": preamp_gain_db, "converter": 0.0}
