"""Whether a small space sounds boxed in: few modes, reflections within 5 ms, and nothing that absorbs the low end."""

import math
from dataclasses import dataclass
from typing import Final

from pneumen.core.room.box import Box, Point
from pneumen.core.room.images import echoes_of
from pneumen.core.room.materials import BANDS_HZ
from pneumen.core.room.modes import coincidences_of, modes_of
from pneumen.core.verdict import Verdict

EARLY_S: Final = 0.005
LOUD_EARLY_DB: Final = -12.0
"""Reflections within 5 ms that together come nearer the direct sound than this colour it (common practice)."""
FEW_MODES: Final = 8
"""Fewer modes than this up to 150 Hz stand apart and are heard one by one (common practice, no source)."""
BASS_RINGS: Final = 2.5
"""The low end rings so much longer than the middle where only thin things hang (common practice, no source)."""
LOWEST_HZ: Final = 150.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Boxiness:
    """The three figures and what they add up to: clear, watch, or baked-in (two or three of them bad)."""

    modes: int
    coincidences_hz: tuple[float, ...]
    early_db: float
    bass_ratio: float
    faults: tuple[str, ...]
    verdict: Verdict


def boxiness_of(box: Box, source_m: Point, microphone_m: Point, pattern: str) -> Boxiness:
    """Return how boxed in a place sounds.

    Raises:
        OutOfRange, Contradiction: for places in a wall or in each other.
    """
    modes = modes_of(box.size_m, LOWEST_HZ)
    echoes = echoes_of(box, source_m, microphone_m, pattern=pattern, order=2)
    soon = (echoes.delay_s > 0) & (echoes.delay_s <= EARLY_S)
    energy = float(echoes.share[soon, BANDS_HZ.index(1000)].sum())
    early_db = 10 * math.log10(max(energy, 1e-6))
    low, middle = float(box.absorption_m2[0]), float(box.absorption_m2[2:4].mean())
    ratio = middle / max(low, 1e-6)
    faults = tuple(
        fault
        for holds, fault in (
            (len(modes) < FEW_MODES, "few-modes"),
            (early_db > LOUD_EARLY_DB, "early-reflections"),
            (ratio > BASS_RINGS, "bass-left"),
        )
        if holds
    )
    pairs = coincidences_of(modes)
    return Boxiness(
        modes=len(modes),
        coincidences_hz=tuple(low_mode.hz for low_mode, _ in pairs),
        early_db=early_db,
        bass_ratio=ratio,
        faults=faults,
        verdict=(Verdict.CLEAR, Verdict.WATCH, Verdict.BAKED_IN, Verdict.BAKED_IN)[len(faults)],
    )
