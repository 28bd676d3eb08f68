"""Two channels that are no pair: alike, turned over, a little apart in level, or one with nothing but noise."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.take.findings import SILENT_BELOW_DBFS

ALIKE_DB: Final = -40.0
"""What is left of the louder channel, the other taken off it with the best gain and sign, in two alike."""
MOST_APART_DB: Final = 3.0
EQUAL_DB: Final = 0.05
NOISE_UNDER_DB: Final = 45.0
STEADY_DB: Final = 4.0
"""Noise whose loudest frames lie no farther over the usual is steady: no music is (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Pair:
    """What two channels are to each other: stereo, dual-mono or one-sided, and what more there is to say."""

    say: str = "stereo"
    cause: str = ""


def pair_between(peak: np.ndarray, rms: np.ndarray, product: float, frame_power: np.ndarray, active_rms: float) -> Pair:
    """Say what the two channels of a file are to each other.

    Args:
        peak, rms: of each channel, shape (2,), its own mean left out of the RMS.
        product: the mean of their products, likewise.
        frame_power: mean square of each channel in each 100 ms, shape (2, frames).
        active_rms: of the louder channel.
    """
    empty = peak < 10 ** (SILENT_BELOW_DBFS / 20)
    if empty.any() and not empty.all():
        return Pair(say="one-sided")
    quiet = int(rms.argmin())
    under_db = 20 * math.log10(active_rms / rms[quiet]) if rms[quiet] > 0 else math.inf
    if under_db > NOISE_UNDER_DB and is_steady(frame_power[quiet]):
        return Pair(say="one-sided", cause="noise-sided")
    return pair_of(float(rms[0]) ** 2, float(rms[1]) ** 2, product)


def pair_of(first_power: float, second_power: float, product: float) -> Pair:
    """Compare two channels that both sound, by their powers and the sum of their products (offsets left out)."""
    louder, quieter = max(first_power, second_power), min(first_power, second_power)
    if quieter <= 0:
        return Pair(say="dual-mono") if louder <= 0 else Pair()
    left = louder - product**2 / quieter
    apart_db = 10 * math.log10(louder / quieter)
    if left > louder * 10 ** (ALIKE_DB / 10) or apart_db > MOST_APART_DB:
        return Pair()
    if product < 0:
        return Pair(say="dual-mono", cause="inverted")
    return Pair(say="dual-mono", cause="unequal" if apart_db > EQUAL_DB else "")


def is_steady(frame_power: np.ndarray) -> bool:
    """Tell whether frames are so alike that they hold nothing but noise."""
    usual = float(np.median(frame_power))
    return usual > 0 and float(np.quantile(frame_power, 0.98)) <= usual * 10 ** (STEADY_DB / 10)
