"""The level diagram: one setup in, every level referred to the file out, with the steps each came from."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gear import directivity_index_db, off_axis_db
from pneumen.core.levels import (
    FULL_SCALE_SINE_RMS_DB,
    divider_db,
    power_sum_db,
)
from pneumen.core.line.closeness import closeness_db, cut_db, cut_of_room_noise_db
from pneumen.core.line.room_sound import room_on_peak_db, room_on_rms_db
from pneumen.core.line.stages import fall_db, microphone_dbu
from pneumen.core.setup import LineSetup, MikedSetup, PluggedSetup, UsbSetup, XlrSetup

PEAK_TARGETS_DBFS: Final = (-6, -9, -12)
"""The peaks for which the needed gain is told: top, middle and foot of the three-quarter window."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One term of a level: steps add up to it. value in dB; detail is the figure it comes from, in its unit."""

    name: str
    value: float
    detail: float | None = None
    unit: str = "dB"


Steps = tuple[Step, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Levels:
    """Every level at the file. Peaks: a full-scale sine is 0; RMS figures and noises: it is -3.01.

    peak_steps add up to the peak, noise_steps of a stage to that stage's noise; the stages' powers add to the noise.
    """

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
    peak_steps: Steps
    noise_steps: dict[str, Steps]


def levels_of(setup: LineSetup) -> Levels:
    """Work out every level of a setup, from the source or the plug to the file.

    The source is a point (6.02 dB a doubling of distance), perhaps off the microphone's axis; where its spectrum is
    told, the proximity effect and a low-cut count on all its levels, and so does the room's sound where its share is
    told; 94 dB SPL is 1 Pa; room noise is diffuse. Holds outside the near field of the source, for a linear chain below
    its ceilings. A plug has the stages instrument, box (where there is one), preamp and converter.

    Returns:
        Levels in dBFS and dB. Noises are A-weighted.

    Reference: IEC 60268-4 for the microphone's level (from memory); thermal and converter figures as data
    sheets print them.

    >>> from pneumen.core.gear import UsbMicrophone
    >>> from pneumen.core.setup import SourceLevels, UsbSetup
    >>> voice = SourceLevels(peak_db_spl=108, typical_db_spl=94, quiet_db_spl=80, at_m=0.1)
    >>> usb = UsbMicrophone(full_scale_db_spl=120, self_noise_dba=18)
    >>> found = levels_of(UsbSetup(source=voice, distance_m=0.2, room_noise_dba=32, microphone=usb))
    >>> round(found.peak_dbfs, 2), [step.name for step in found.peak_steps]
    (-18.02, ['source', 'distance', 'off-axis', 'full-scale', 'gain'])
    """
    first: Steps
    on_peak: Steps = ()
    room_on_rms = 0.0
    match setup:
        case PluggedSetup():
            source = setup.plug.peak_dbu, setup.plug.typical_dbu, setup.plug.quiet_dbu
            first, path = (), _plugged_path(setup)
        case XlrSetup():
            source = setup.source.peak_db_spl, setup.source.typical_db_spl, setup.source.quiet_db_spl
            first, path = _through_the_air(setup), _analogue_path(setup)
        case UsbSetup():
            source = setup.source.peak_db_spl, setup.source.typical_db_spl, setup.source.quiet_db_spl
            first, path = _through_the_air(setup), _usb_path(setup)
    unit, detail = ("dBu", None) if isinstance(setup, PluggedSetup) else ("dB SPL", setup.source.at_m)
    if not isinstance(setup, PluggedSetup):
        on_peak, room_on_rms = _room_sound(setup, first)
    peak_steps = (Step(name="source", value=source[0], detail=detail, unit=unit), *first, *on_peak, *path.steps)
    to_file_db = _sum((*first, *path.steps)) + room_on_rms
    typical_dbfs, quiet_dbfs = (level + to_file_db + FULL_SCALE_SINE_RMS_DB for level in source[1:])
    noises = {stage: _sum(steps) for stage, steps in path.noises.items()}
    noise_dbfs, peak_dbfs = power_sum_db(*noises.values()), _sum(peak_steps)
    ceilings = path.ceilings_dbfs
    lowest = min(ceilings, key=lambda stage: ceilings[stage])  # the first of equals: on a tie the earliest stage
    return Levels(
        peak_dbfs=peak_dbfs,
        typical_dbfs=typical_dbfs,
        quiet_dbfs=quiet_dbfs,
        noise_dbfs=noise_dbfs,
        noise_by_stage_dbfs=noises,
        noise_set_by=max(noises, key=lambda stage: noises[stage]),
        clean_range_db=typical_dbfs - noise_dbfs,
        headroom_db=ceilings[lowest] - peak_dbfs,
        ceilings_dbfs=ceilings,
        clips_first=lowest,
        gain_for_peak_db={str(target): setup.gain_db + target - peak_dbfs for target in PEAK_TARGETS_DBFS},
        peak_steps=peak_steps,
        noise_steps=path.noises,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Path:
    """The steps from where the source is heard to the file's peak scale, noises and ceilings by stage."""

    steps: Steps
    noises: dict[str, Steps]
    ceilings_dbfs: dict[str, float]


RMS: Final = Step(name="rms-scale", value=FULL_SCALE_SINE_RMS_DB)


def _sum(steps: Steps) -> float:
    return sum(step.value for step in steps)


def _through_the_air(setup: MikedSetup) -> Steps:
    fall = fall_db(setup.source.at_m, setup.distance_m)
    pattern, octaves_db = setup.microphone.pattern, setup.source.octaves_db
    steps = [
        Step(name="distance", value=fall, detail=setup.distance_m, unit="m"),
        Step(name="off-axis", value=off_axis_db(pattern, setup.off_axis_deg), detail=setup.off_axis_deg, unit="deg"),
    ]
    if octaves_db is not None:
        near = closeness_db(
            octaves_db, pattern, setup.distance_m, off_axis_deg=setup.off_axis_deg, extent_m=setup.extent_m
        )
        steps.append(Step(name="proximity", value=near, detail=setup.distance_m, unit="m"))
        if setup.low_cut_hz:
            steps.append(
                Step(name="low-cut", value=cut_db(octaves_db, setup.low_cut_hz), detail=setup.low_cut_hz, unit="Hz")
            )
    return tuple(steps)


def _room_sound(setup: MikedSetup, through_the_air: Steps) -> tuple[Steps, float]:
    """Return what the room's sound adds to the peak, as a step, and to RMS levels, dB."""
    lead_db = setup.direct_to_reverberant_db
    if lead_db is None:
        return (), 0.0
    # Closeness lifts the direct sound alone, so it leads by so much more.
    over_room_db = lead_db + _sum(tuple(step for step in through_the_air if step.name == "proximity"))
    crest_db = setup.source.peak_db_spl - setup.source.typical_db_spl
    on_peak = Step(name="room-sound", value=room_on_peak_db(over_room_db, crest_db), detail=lead_db, unit="dB")
    return (on_peak,), room_on_rms_db(over_room_db)


def _room(setup: MikedSetup) -> Steps:
    steps = [
        Step(name="room-noise", value=setup.room_noise_dba, unit="dBA"),
        Step(name="diffuse", value=-directivity_index_db(setup.microphone.pattern)),
    ]
    if setup.low_cut_hz:
        steps.append(
            Step(name="low-cut", value=cut_of_room_noise_db(setup.low_cut_hz), detail=setup.low_cut_hz, unit="Hz")
        )
    return tuple(steps)


def _analogue_path(setup: XlrSetup) -> _Path:
    microphone, preamp = setup.microphone, setup.preamp
    sensitivity = microphone_dbu(microphone.sensitivity_mv_per_pa)
    loss = divider_db(microphone.impedance_ohm, preamp.input_impedance_ohm)
    to_volt = Step(name="sensitivity", value=sensitivity, detail=microphone.sensitivity_mv_per_pa, unit="mV/Pa")
    microphone_pad = Step(name="microphone-pad", value=-microphone.pad_db)
    to_input = (
        Step(name="load", value=loss, detail=preamp.input_impedance_ohm, unit="ohm"),
        Step(name="preamp-pad", value=-preamp.pad_db),
    )
    # A microphone's own noise and its overload are stated at its output, behind its pad.
    from_output = (to_volt, *to_input, *_preamp_steps(setup))
    steps = (to_volt, microphone_pad, *to_input, *_preamp_steps(setup))
    return _Path(
        steps=steps,
        noises={
            "room": (*_room(setup), *steps, RMS),
            "microphone": (Step(name="self-noise", value=microphone.self_noise_dba, unit="dBA"), *from_output, RMS),
            **_electronics(setup),
        },
        ceilings_dbfs={"microphone": microphone.max_spl_db + _sum(from_output), **_ceilings(setup)},
    )


def _preamp_steps(setup: XlrSetup | PluggedSetup) -> Steps:
    preamp = setup.preamp
    return (
        Step(name="maximum-input", value=-preamp.max_input_dbu, detail=preamp.max_input_dbu, unit="dBu"),
        Step(name="gain", value=preamp.gain_db - preamp.gain_min_db),
    )


def _electronics(setup: XlrSetup | PluggedSetup) -> dict[str, Steps]:
    converter = Step(name="dynamic-range", value=-setup.converter.dynamic_range_db)
    return {
        "preamp": (Step(name="ein", value=setup.preamp.ein_dbu, unit="dBu"), *_preamp_steps(setup), RMS),
        "converter": (converter, RMS),
    }


def _ceilings(setup: XlrSetup | PluggedSetup) -> dict[str, float]:
    return {"preamp": setup.preamp.gain_db - setup.preamp.gain_min_db, "converter": 0.0}


def _usb_path(setup: UsbSetup) -> _Path:
    """One ceiling: full scale, at any gain."""
    microphone = setup.microphone
    steps = (
        Step(
            name="full-scale", value=-microphone.full_scale_db_spl, detail=microphone.full_scale_db_spl, unit="dB SPL"
        ),
        Step(name="gain", value=microphone.gain_db),
    )
    return _Path(
        steps=steps,
        noises={
            "room": (*_room(setup), *steps, RMS),
            "microphone": (Step(name="self-noise", value=microphone.self_noise_dba, unit="dBA"), *steps, RMS),
        },
        ceilings_dbfs={"microphone": 0.0},
    )


def _told(*stages: tuple[str, float]) -> Steps:
    """Return the stages that do something as steps."""
    return tuple(Step(name=name, value=value) for name, value in stages if value)


def _plugged_path(setup: PluggedSetup) -> _Path:
    """From the plug's dBu: the load pulls it down, a box adds its own, the preamp the rest."""
    plug, preamp, box = setup.plug, setup.preamp, setup.box
    pad = Step(name="preamp-pad", value=-preamp.pad_db)
    noises: dict[str, Steps] = {}
    ceilings: dict[str, float] = {}
    steps: Steps
    if box is None:
        load = divider_db(plug.output_ohm, preamp.input_impedance_ohm)
        steps = (Step(name="load", value=load, detail=preamp.input_impedance_ohm, unit="ohm"), pad)
    else:
        load = divider_db(plug.output_ohm, box.input_impedance_ohm)
        after = divider_db(box.output_ohm, preamp.input_impedance_ohm)
        behind = (Step(name="box-load", value=after, detail=preamp.input_impedance_ohm, unit="ohm"), pad)
        from_box = (*behind, *_preamp_steps(setup))
        steps = (
            Step(name="load", value=load, detail=box.input_impedance_ohm, unit="ohm"),
            Step(name="box", value=box.gain_db),
            *behind,
        )
        noises["box"] = (Step(name="box-noise", value=box.noise_dbu, unit="dBu"), *from_box, RMS)
        ceilings["box"] = box.max_output_dbu + _sum(from_box)
    before = setup.before
    behind_it = _told(("pedal", before.pedal_db), ("mixer", before.mixer_db))
    steps = (*steps, *_preamp_steps(setup))
    instrument = (Step(name="instrument-noise", value=plug.noise_dbu, unit="dBu"), *behind_it, *steps, RMS)
    return _Path(
        steps=(*_told(("own-volume", before.own_volume_db)), *behind_it, *steps),
        noises={"instrument": instrument, **noises, **_electronics(setup)},
        ceilings_dbfs={**ceilings, **_ceilings(setup)},
    )
