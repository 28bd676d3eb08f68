"""Why: the steps a figure was computed from, as the core kept them, and whose formula it is."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast import Outcome
from pneumen.core.gain import School
from pneumen.core.line import Levels, Step
from pneumen.web.part.models import Part
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near

STEP_WORDS: Final = {
    "distance": _("distance"),
    "off-axis": _("turned off the source"),
    "proximity": _("proximity effect on the whole spectrum"),
    "low-cut": _("low-cut"),
    "room-sound": _("sound of the room itself, where the direct sound leads it by"),
    "sensitivity": _("sensitivity of the microphone"),
    "microphone-pad": _("pad of the microphone"),
    "preamp-pad": _("pad of the preamp"),
    "load": _("into the load"),
    "own-volume": _("the instrument’s own volume, against three quarters of its way"),
    "pedal": _("pedal"),
    "mixer": _("mixer"),
    "box": _("DI box"),
    "box-load": _("DI box into the preamp"),
    "maximum-input": _("maximum input, which is full scale"),
    "full-scale": _("full scale of the microphone"),
    "gain": _("gain"),
    "rms-scale": _("RMS of a full-scale sine"),
    "room-noise": _("noise of the room"),
    "diffuse": _("from all around, through the pattern"),
    "self-noise": _("self-noise"),
    "ein": _("equivalent input noise"),
    "dynamic-range": _("dynamic range"),
    "instrument-noise": _("noise of the instrument"),
    "box-noise": _("noise of the DI box"),
}
MEGOHM = 1e6
LEAST_STEP_DB: Final = 0.05
"""What does nothing is left out."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Why:
    """How a figure comes about: its steps in words, and whose formula it is."""

    title: str
    lines: tuple[str, ...]
    source: str


def whys_of(part: Part, outcome: Outcome) -> tuple[Why, ...]:
    """Return how peak, noise and band come about, and what the school says."""
    school = outcome.setup.school
    return (_why_peak(part, outcome), _why_noise(outcome.levels), _why_band(outcome), _why_school(school))


def step_told(step: Step) -> str:
    """Write one step: what it is, the figure it comes from, and what it adds."""
    words = STEP_WORDS.get(step.name, step.name)
    if step.unit in ("dBA", "dBu", "dB SPL") and step.detail is None:
        return f"{words}: {figure(step.value, 1)} {step.unit}"
    detail = ""
    if step.detail is not None:
        detail = f" ({_detail_told(step.detail, step.unit)})"
    return f"{words}{detail}: {figure(step.value, 1, sign=True)} dB"


def _detail_told(detail: float, unit: str) -> str:
    if unit == "m":
        return near(detail)
    if unit == "deg":
        return f"{figure(detail)}°"
    if unit == "ohm" and detail >= MEGOHM:
        return f"{detail / MEGOHM:.4g} Mohm"
    return f"{figure(detail, 1) if unit == 'dB' else f'{detail:.4g}'} {unit}"


def _told(steps: tuple[Step, ...]) -> list[str]:
    return [step_told(step) for step in steps if abs(step.value) >= LEAST_STEP_DB]


def _why_peak(part: Part, outcome: Outcome) -> Why:
    levels, setup = outcome.levels, outcome.setup
    origin = (
        _("measured in a take")
        if setup.performance.from_take
        else _("assumed: {origin}").format(origin=part.source_facts.origin)
    )
    source, *way = levels.peak_steps
    where = _(" at {detail}").format(detail=near(source.detail)) if source.detail else _(" at the plug, unloaded")
    return Why(
        title=_("How the peak is worked out"),
        lines=(
            f"{figure(source.value, 1)} {source.unit}{where} ({origin})",
            *_told(tuple(way)),
            _("Together: {peak_dbfs} dBFS").format(peak_dbfs=figure(levels.peak_dbfs, 1)),
        ),
        source=_("point source; IEC 60268-4 for sensitivity (from memory); voltage divider; data-sheet convention"),
    )


def _why_noise(levels: Levels) -> Why:
    worst = levels.noise_set_by
    stages = [f"{stage}: {figure(level, 1)} dBFS" for stage, level in levels.noise_by_stage_dbfs.items()]
    return Why(
        title=_("Where the noise comes from"),
        lines=(
            *stages,
            _("Added by power: {noise_dbfs} dBFS, A-weighted.").format(noise_dbfs=figure(levels.noise_dbfs, 1)),
            _("The {worst}, step by step: {noise_steps}.").format(
                worst=worst, noise_steps="; ".join(_told(levels.noise_steps[worst]))
            ),
        ),
        source=_("10 log of the summed powers; Q of the pattern, Beranek (from memory)"),
    )


def _why_band(outcome: Outcome) -> Why:
    performance = outcome.setup.performance
    performer = _("the performer, take to take") if performance.from_take else _("how loud the performer is")
    lines = [f"±{performance.band_db:.1f} dB: {performer}"]
    if outcome.sheet_band_db:
        lines.append(
            _("±{sheet_band_db:.1f} dB: data sheets of this chain").format(sheet_band_db=outcome.sheet_band_db)
        )
    else:
        lines.append(_("Data sheets no longer count: a take was measured through this very chain."))
    if outcome.gain_band_db:
        lines.append(
            _("±{gain_band_db:.1f} dB: a bare knob tells only a share of its turn").format(
                gain_band_db=outcome.gain_band_db
            )
        )
    if outcome.distance_band_db >= LEAST_STEP_DB:
        lines.append(
            _("±{distance_band_db:.1f} dB: distance to the grille or to the capsule").format(
                distance_band_db=outcome.distance_band_db
            )
        )
    lines.append(
        _("Together ±{signal_band_db:.1f} dB for the signal, ±{noise_band_db:.1f} dB for the noise.").format(
            signal_band_db=outcome.signal_band_db, noise_band_db=outcome.noise_band_db
        )
    )
    if not performance.from_take:
        lines.append(_("A test take narrows this to about ±3 dB."))
    return Why(title=_("Why there is a band"), lines=tuple(lines), source=_("root sum of squares, JCGM 100:2008"))


def _why_school(school: School) -> Why:
    return Why(
        title=_("Your own window") if school.is_own else _("The {lower} school").format(lower=school.label.lower()),
        lines=(
            school.reason,
            _("Window for the highest peak: {low_dbfs} to {high_dbfs} dBFS.").format(
                low_dbfs=figure(school.low_dbfs), high_dbfs=figure(school.high_dbfs)
            ),
        ),
        source=_("common practice, no source"),
    )
