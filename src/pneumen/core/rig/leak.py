"""What comes out of the headphones into a take while its backing plays."""

from dataclasses import replace
from typing import Final

import numpy as np
import soxr

from pneumen.core.errors import require_within
from pneumen.core.filters import RunningFilter, band_pass
from pneumen.core.levels import db_to_ratio, frame_powers
from pneumen.core.rig.simulate import SimulatedTake

CUPS_HZ: Final = (300.0, 3000.0)
"""What of a backing comes out of closed cups (estimate)."""
LATE_S: Final = 0.0006
"""The cups hang about 20 cm from the microphone."""
FRAME_S: Final = 0.1
ACTIVE_DB: Final = 25.0


def with_leak(take: SimulatedTake, backing: np.ndarray, backing_rate_hz: int, *, leak_dbfs: float) -> SimulatedTake:
    """Return a take that was recorded while a backing played in the headphones.

    Args:
        backing: from where the take begins, shape (N,) or (N, channels); over where the take ends is left out.
        leak_dbfs: RMS of the leak in the file while the backing sounds.

    Raises:
        OutOfRange: for a leak that is no leak.
    """
    require_within("leak_dbfs", leak_dbfs, -160, 0)
    heard = backing.mean(axis=1) if backing.ndim == 2 else backing
    rate_hz = take.sample_rate_hz
    heard = soxr.resample(np.asarray(heard, float), backing_rate_hz, rate_hz)
    late = round(LATE_S * rate_hz)
    leak = np.zeros(len(take.samples))
    count = max(0, min(len(leak) - late, len(heard)))
    leak[late : late + count] = through_cups(heard[:count], rate_hz)
    power = frame_powers(leak, round(FRAME_S * rate_hz))
    if not power.size or power.max() <= 0:
        return take
    active = float(np.sqrt(power[power > power.max() * 10 ** (-ACTIVE_DB / 10)].mean()))
    leak *= db_to_ratio(leak_dbfs) / active
    samples = take.samples + (leak[:, None] if take.samples.ndim == 2 else leak)
    return replace(take, samples=np.clip(samples, -1, 1))


def through_cups(samples: np.ndarray, rate_hz: int) -> np.ndarray:
    """Return what of a sound comes out of closed cups."""
    return RunningFilter(band_pass(2, CUPS_HZ, rate_hz))(samples)
