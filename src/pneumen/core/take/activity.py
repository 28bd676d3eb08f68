"""How loud something is while it sounds: the RMS of the frames that are not pauses."""

import math
from typing import Final

import numpy as np

from pneumen.core.take.findings import SILENT_BELOW_DBFS

FRAME_S: Final = 0.1
ACTIVE_WITHIN_DB: Final = 25.0


def active_rms_of_frames(power: np.ndarray, counts: np.ndarray) -> float:
    """Return the RMS over the frames within 25 dB of the loudest.

    Args:
        power: sum of squares of each frame, shape (frames,); counts: its samples.
    """
    mean_power = power / counts
    active = mean_power >= mean_power.max() * 10 ** (-ACTIVE_WITHIN_DB / 10)
    return math.sqrt(power[active].sum() / counts[active].sum())


def active_level_dbfs(samples: np.ndarray, sample_rate_hz: int) -> float | None:
    """Return the active RMS of a stretch in dBFS; None where it is silent.

    Args:
        samples: shape (channels, N): the loudest channel counts. Frames begin with the stretch; a last one of less
            than half a frame counts only where there is no other.
    """
    if not samples.size or np.abs(samples).max() < 10 ** (SILENT_BELOW_DBFS / 20):
        return None
    loudest = samples[int(np.square(samples).sum(axis=1).argmax())]
    frame = max(1, round(FRAME_S * sample_rate_hz))
    starts = np.arange(0, len(loudest), frame)
    counts = np.diff(np.append(starts, len(loudest)))
    power = np.add.reduceat(np.square(loudest), starts)
    judged = counts >= frame / 2 if len(starts) > 1 else np.ones(1, bool)
    return 20 * math.log10(active_rms_of_frames(power[judged], counts[judged]))
