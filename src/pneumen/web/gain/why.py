"""Why: the steps a figure was computed from, as the core kept them, and whose formula it is."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.forecast import Outcome
from pneumen.core.gain import School
from pneumen.core.line import Levels, Step
from pneumen.web.part.models import Part
from pneumen.wording.figures import figure
from pneumen.wording.lengths import near

STEP_WORDS: Final = {
    "distance": "distance",
    "off-axis": "turned off the source",
    "proximity": "proximity effect on the whole spectrum",
    "low-cut": "low-cut",
    "room-sound": "sound of the room itself, where the direct sound leads it by",
    "sensitivity": "sensitivity of the microphone",
    "microphone-pad": "pad of the microphone",
    "preamp-pad": "pad of the preamp",
    "load": "into the load",
    "own-volume": "the instrument’s own volume, against three quarters of its way",
    "pedal": "pedal",
    "mixer": "mixer",
    "box": "DI box",
    "box-load": "DI box into the preamp",
    "maximum-input": "maximum input, which is full scale",
    "full-scale": "full scale of the microphone",
    "gain": "gain",
    "rms-scale": "RMS of a full-scale sine",
    "room-noise": "noise of the room",
    "diffuse": "from all around, through the pattern",
    "self-noise": "self-noise",
    "ein": "equivalent input noise",
    "dynamic-range": "dynamic range",
    "instrument-noise": "noise of the instrument",
    "box-noise": "noise of the DI box",
}
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
    return f"{figure(detail, 1) if unit == 'dB' else f'{detail:.4g}'} {unit}"


def _told(steps: tuple[Step, ...]) -> list[str]:
    return [step_told(step) for step in steps if abs(step.value) >= LEAST_STEP_DB]


def _why_peak(part: Part, outcome: Outcome) -> Why:
    levels, setup = outcome.levels, outcome.setup
    origin = "measured in a take" if setup.performance.from_take else f"assumed: {part.source_facts.origin}"
    source, *way = levels.peak_steps
    where = f" at {near(source.detail)}" if source.detail else " at the plug, unloaded"
    return Why(
        title="How the peak is worked out",
        lines=(
            f"{figure(source.value, 1)} {source.unit}{where} ({origin})",
            *_told(tuple(way)),
            f"Together: {figure(levels.peak_dbfs, 1)} dBFS",
        ),
        source="point source; IEC 60268-4 for sensitivity (from memory); voltage divider; data-sheet convention",
    )


def _why_noise(levels: Levels) -> Why:
    worst = levels.noise_set_by
    stages = [f"{stage}: {figure(level, 1)} dBFS" for stage, level in levels.noise_by_stage_dbfs.items()]
    return Why(
        title="Where the noise comes from",
        lines=(
            *stages,
            f"Added by power: {figure(levels.noise_dbfs, 1)} dBFS, A-weighted.",
            f"The {worst}, step by step: {'; '.join(_told(levels.noise_steps[worst]))}.",
        ),
        source="10 log of the summed powers; Q of the pattern, Beranek (from memory)",
    )


def _why_band(outcome: Outcome) -> Why:
    performance = outcome.setup.performance
    performer = "the performer, take to take" if performance.from_take else "how loud the performer is"
    lines = [f"±{performance.band_db:.1f} dB: {performer}"]
    if outcome.sheet_band_db:
        lines.append(f"±{outcome.sheet_band_db:.1f} dB: data sheets of this chain")
    else:
        lines.append("Data sheets no longer count: a take was measured through this very chain.")
    if outcome.gain_band_db:
        lines.append(f"±{outcome.gain_band_db:.1f} dB: a bare knob tells only a share of its turn")
    if outcome.distance_band_db >= LEAST_STEP_DB:
        lines.append(f"±{outcome.distance_band_db:.1f} dB: distance to the grille or to the capsule")
    lines.append(
        f"Together ±{outcome.signal_band_db:.1f} dB for the signal, ±{outcome.noise_band_db:.1f} dB for the noise."
    )
    if not performance.from_take:
        lines.append("A test take narrows this to about ±3 dB.")
    return Why(title="Why there is a band", lines=tuple(lines), source="root sum of squares, JCGM 100:2008")


def _why_school(school: School) -> Why:
    return Why(
        title=f"The {school.label.lower()} school",
        lines=(
            school.reason,
            f"Window for the highest peak: {figure(school.low_dbfs)} to {figure(school.high_dbfs)} dBFS.",
        ),
        source="common practice, no source",
    )
