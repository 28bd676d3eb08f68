"""What a gain control does to the levels of a setup: they need not be worked out anew for each of its gains."""

from dataclasses import dataclass

import numpy as np

from pneumen.core.line.levels import Levels


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class AlongGain:
    """Levels at several gains, dBFS and dB.

    roof_dbfs is the lowest ceiling that lies before the converter's, ceiling_dbfs the lowest of all.
    """

    peak_dbfs: np.ndarray
    clean_range_db: np.ndarray
    roof_dbfs: np.ndarray
    ceiling_dbfs: np.ndarray


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
    roofs = fixed if roof is None else roof + more_db
    return AlongGain(
        peak_dbfs=levels.peak_dbfs + more_db,
        clean_range_db=levels.typical_dbfs + more_db - noise_dbfs,
        roof_dbfs=roofs,
        ceiling_dbfs=np.minimum(roofs, fixed),
    )
