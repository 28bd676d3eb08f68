"""Why: formula, figures put in, source."""

from dataclasses import dataclass

from pneumen.core.gain import School
from pneumen.core.gear import UsbMicrophone, directivity_index_db
from pneumen.core.levels import DBU_OVER_DBV_DB, divider_db, ratio_to_db
from pneumen.core.setup import PluggedSetup, Setup
from pneumen.core.take import Prediction
from pneumen.web.lengths import near
from pneumen.web.song.models import Part
from pneumen.web.song.outlook import Outlook
from pneumen.web.wording import figure


@dataclass(frozen=True, slots=True, kw_only=True)
class Why:
    """How a figure comes about: the formula, the figures put in, and whose formula it is."""

    title: str
    lines: tuple[str, ...]
    source: str


def whys_of(
    part: Part, outlook: Outlook, setup: Setup | PluggedSetup, prediction: Prediction, school: School
) -> tuple[Why, ...]:
    """Return how peak, noise and band come about, and what the school says."""
    return (
        _why_peak(part, outlook, setup, prediction),
        _why_noise(setup, prediction),
        _why_band(part, outlook, prediction),
        Why(
            title=f"The {school.label.lower()} school",
            lines=(
                school.reason,
                f"Window for the highest peak: {figure(school.low_dbfs)} to {figure(school.high_dbfs)} dBFS.",
            ),
            source="common practice, no source",
        ),
    )


def _why_peak(part: Part, outlook: Outlook, setup: Setup | PluggedSetup, prediction: Prediction) -> Why:
    if isinstance(setup, PluggedSetup):
        return _why_plugged_peak(part, outlook, setup, prediction)
    source, microphone = setup.source, setup.microphone
    fall = ratio_to_db(source.at_m / setup.distance_m)
    heard = source.peak_db_spl + fall
    origin = "measured in a take" if outlook.from_take else f"assumed: {part.source_facts.origin}"
    lines = [
        f"{figure(source.peak_db_spl)} dB SPL at {near(source.at_m)} ({origin})",
        f"20 log({near(source.at_m)} / {near(setup.distance_m)}) = {figure(fall, 1, sign=True)} dB: "
        f"{figure(heard)} dB SPL at the capsule",
    ]
    if isinstance(microphone, UsbMicrophone):
        lines.append(
            f"{figure(heard)} − {figure(microphone.full_scale_db_spl)} (full scale) {figure(microphone.gain_db, sign=True)} dB gain"
            f" = {figure(prediction.levels.peak_dbfs)} dBFS"
        )
        return Why(title="How the peak is worked out", lines=tuple(lines), source="point source; data-sheet convention")
    preamp = setup.preamp
    loss = divider_db(microphone.impedance_ohm, preamp.input_impedance_ohm)
    sensitivity = ratio_to_db(microphone.sensitivity_mv_per_pa / 1000)
    dbu = sensitivity + heard - 94 + DBU_OVER_DBV_DB + loss - microphone.pad_db - preamp.pad_db
    lines += [
        f"{microphone.sensitivity_mv_per_pa:.3g} mV/Pa is {figure(sensitivity, 1)} dBV at 94 dB; "
        f"{figure(loss, 1)} dB into {preamp.input_impedance_ohm:g} ohm: {figure(dbu, 1)} dBu",
        f"{figure(dbu, 1)} − {figure(preamp.max_input_dbu, 1)} (maximum input) + {figure(preamp.gain_db - preamp.gain_min_db)}"
        f" (gain) = {figure(prediction.levels.peak_dbfs)} dBFS",
    ]
    return Why(
        title="How the peak is worked out",
        lines=tuple(lines),
        source="point source; IEC 60268-4 for sensitivity (from memory); data-sheet convention for full scale",
    )


def _why_plugged_peak(part: Part, outlook: Outlook, setup: PluggedSetup, prediction: Prediction) -> Why:
    plug, box, preamp = setup.plug, setup.box, setup.preamp
    origin = "measured in a take" if outlook.from_take else f"assumed: {part.source_facts.origin}"
    load_ohm = box.input_impedance_ohm if box else preamp.input_impedance_ohm
    loss = divider_db(plug.output_ohm, load_ohm)
    dbu = plug.peak_dbu + loss
    lines = [
        f"{figure(plug.peak_dbu)} dBu at the plug, unloaded ({origin})",
        f"{plug.output_ohm:g} ohm into {load_ohm:g} ohm: {figure(loss, 1)} dB",
    ]
    if box:
        after = divider_db(box.output_ohm, preamp.input_impedance_ohm)
        dbu += box.gain_db + after
        lines.append(f"the DI box {figure(box.gain_db, 1, sign=True)} dB, into the preamp {figure(after, 1)} dB")
    gain_db = preamp.gain_db - preamp.gain_min_db
    lines.append(
        f"{figure(dbu, 1)} − {figure(preamp.max_input_dbu, 1)} (maximum input) + {figure(gain_db)} (gain)"
        f" = {figure(prediction.levels.peak_dbfs)} dBFS"
    )
    return Why(title="How the peak is worked out", lines=tuple(lines), source="voltage divider; data-sheet convention")


def _why_noise(setup: Setup | PluggedSetup, prediction: Prediction) -> Why:
    stages = prediction.levels.noise_by_stage_dbfs
    lines = [f"{stage}: {figure(level)} dBFS" for stage, level in stages.items()]
    source = "10 log of the summed powers"
    if not isinstance(setup, PluggedSetup):
        pattern = setup.microphone.pattern
        lines.append(
            f"The room's {figure(setup.room_noise_dba)} dBA reach a {pattern} "
            f"{figure(directivity_index_db(pattern), 1)} dB weaker from all around."
        )
        source += "; Q of the pattern, Beranek (from memory)"
    lines.append(f"Added by power: {figure(prediction.levels.noise_dbfs)} dBFS, A-weighted.")
    return Why(title="Where the noise comes from", lines=tuple(lines), source=source)


def _why_band(part: Part, outlook: Outlook, prediction: Prediction) -> Why:
    performer = "the performer, take to take" if outlook.from_take else "how loud the performer is"
    lines = [f"±{outlook.source_band_db:.1f} dB: {performer}"]
    if outlook.sheet_band_db:
        lines.append(f"±{outlook.sheet_band_db:.1f} dB: data sheets of this chain")
    else:
        lines.append("Data sheets no longer count: a take was measured through this very chain.")
    if outlook.gain_band_db:
        lines.append(f"±{outlook.gain_band_db:.1f} dB: a bare knob tells only a share of its turn")
    lines.append(
        f"Together ±{prediction.signal_band_db:.1f} dB for the signal, ±{prediction.noise_band_db:.1f} dB for the noise."
    )
    if not outlook.from_take:
        lines.append("A test take narrows this to about ±1.5 dB.")
    return Why(title="Why there is a band", lines=tuple(lines), source="root sum of squares, JCGM 100:2008")
