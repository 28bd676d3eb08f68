"""What a gain control does to the levels of a setup: they need not be worked out anew for each of its gains."""

from dataclasses import dataclass, replace

import numpy as np

from pneumen.core.line.levels import Levels, Steps


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class AlongGain:
    """Levels at several gains, dBFS and dB; roof_dbfs is the lowest ceiling that lies before the converter's."""

    peak_dbfs: np.ndarray
    clean_range_db: np.ndarray
    roof_dbfs: np.ndarray


def along_gain(levels: Levels, more_db: np.ndarray) -> AlongGain:
    """Return levels at gains that are so much higher than the one they were worked out for.

    What passes the control moves with it, signal, noise and ceiling alike; the last stage's ceiling is full scale.

    Args:
        more_db: shape (gains,), in dB; negative where the gain is lower.
    """
    moves = np.array([any(step.name == "gain" for step in steps) for steps in levels.noise_steps.values()])
    noises = np.array([*levels.noise_by_stage_dbfs.values()])[:, None] + moves[:, None] * more_db
    noise_dbfs = 10 * np.log10(np.sum(10 ** (noises / 10), axis=0))
    *before, last = levels.ceilings_dbfs
    roof = min((levels.ceilings_dbfs[stage] for stage in before), default=None)
    fixed = np.full(more_db.shape, levels.ceilings_dbfs[last])
    return AlongGain(
        peak_dbfs=levels.peak_dbfs + more_db,
        clean_range_db=levels.typical_dbfs + more_db - noise_dbfs,
        roof_dbfs=fixed if roof is None else roof + more_db,
    )


def at_gain(levels: Levels, more_db: float) -> Levels:
    """Return all levels at a gain that is so much higher than the one they were worked out for, steps and all."""
    found = along_gain(levels, np.array([more_db]))
    noise_steps = {stage: _moved(steps, more_db) for stage, steps in levels.noise_steps.items()}
    noises = {stage: sum(step.value for step in steps) for stage, steps in noise_steps.items()}
    *_, last = levels.ceilings_dbfs
    ceilings = {stage: level + (more_db if stage != last else 0.0) for stage, level in levels.ceilings_dbfs.items()}
    lowest = min(ceilings, key=lambda stage: ceilings[stage])
    peak_dbfs = levels.peak_dbfs + more_db
    return Levels(
        peak_dbfs=peak_dbfs,
        typical_dbfs=levels.typical_dbfs + more_db,
        quiet_dbfs=levels.quiet_dbfs + more_db,
        noise_dbfs=levels.typical_dbfs + more_db - float(found.clean_range_db[0]),
        noise_by_stage_dbfs=noises,
        noise_set_by=max(noises, key=lambda stage: noises[stage]),
        clean_range_db=float(found.clean_range_db[0]),
        headroom_db=ceilings[lowest] - peak_dbfs,
        ceilings_dbfs=ceilings,
        clips_first=lowest,
        gain_for_peak_db=levels.gain_for_peak_db,
        peak_steps=_moved(levels.peak_steps, more_db),
        noise_steps=noise_steps,
    )


def _moved(steps: Steps, more_db: float) -> Steps:
    return tuple(replace(one, value=one.value + more_db) if one.name == "gain" else one for one in steps)
