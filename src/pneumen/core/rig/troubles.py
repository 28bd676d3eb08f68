"""What goes wrong on the way into the file: hum of a ground loop, buffers that the computer lost."""

from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from pneumen.core.errors import OutOfRange, require_within
from pneumen.core.levels import db_to_ratio
from pneumen.core.rig.simulate import SimulatedTake

HUM_DBFS: Final = -52.0
HUM_LINES_DB: Final = (-6.0, 0.0, -10.0, -8.0, -14.0, -12.0)
"""A ground loop's fundamental and multiples against the strongest (invented: rectifiers draw at twice the mains)."""
MAINS_HZ: Final = (50, 60)
FIRST_S: Final = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Troubles:
    """hum_hz: the mains a ground loop brings in, None where there is none. lost_a_minute: buffers of lost_samples each
    that the computer loses, on the mean."""

    hum_hz: int | None = None
    lost_a_minute: float = 0.0
    lost_samples: int = 128

    def __post_init__(self) -> None:
        if self.hum_hz is not None and self.hum_hz not in MAINS_HZ:
            raise OutOfRange("hum_hz", self.hum_hz, "50 or 60")
        require_within("lost_a_minute", self.lost_a_minute, 0, 100_000)
        require_within("lost_samples", self.lost_samples, 1, 65_536)


def with_troubles(take: SimulatedTake, troubles: Troubles, seed: int) -> SimulatedTake:
    """Return a take with what went wrong while it was recorded; the same seed loses the same buffers."""
    rng = np.random.default_rng([seed, 83])
    samples, count = take.samples.copy(), len(take.samples)
    if troubles.hum_hz is not None:
        hum = _hum(count, take.sample_rate_hz, troubles.hum_hz, rng)
        samples += hum[:, None] if samples.ndim == 2 else hum
    first = round(FIRST_S * take.sample_rate_hz)
    minutes = max(0, count - first) / take.sample_rate_hz / 60
    for begin in rng.integers(first, count, size=rng.poisson(troubles.lost_a_minute * minutes)):
        samples[begin : begin + troubles.lost_samples] = 0.0
    return replace(take, samples=np.clip(samples, -1, 1))


def _hum(count: int, rate_hz: int, mains_hz: int, rng: np.random.Generator) -> np.ndarray:
    time_s = np.arange(count) / rate_hz
    hum = np.zeros(count)
    for number, level_db in enumerate(HUM_LINES_DB, start=1):
        phase = rng.uniform(0, 2 * np.pi)
        hum += db_to_ratio(HUM_DBFS + level_db) * 2**0.5 * np.sin(2 * np.pi * number * mains_hz * time_s + phase)
    return hum
