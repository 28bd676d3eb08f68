"""The stand-in's knob: a taper of its own, read a little unsteadily."""

from collections.abc import Sequence
from typing import Final

import numpy as np

LEFT_STOP_DBFS: Final = -74.0
RANGE_DB: Final = 54.0
SPREAD_DB: Final = 0.15
BENDS: Final = (0.6, 1.6)
"""A turn's share to a power between these is the share of the range: from early to late tapers (estimate)."""


def simulate_knob(shares: Sequence[float], *, seed: int) -> list[float]:
    """Return how loud one steady sound reads at shares of the turn, dBFS; the same seed is the same knob."""
    rng = np.random.default_rng([seed, 61])
    bend = rng.uniform(*BENDS)
    return [LEFT_STOP_DBFS + RANGE_DB * share**bend + SPREAD_DB * float(rng.normal()) for share in shares]
