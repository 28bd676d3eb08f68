"""Layers of one part: doubles, octaves and harmonies beside a lead, how tight each is, and whether it is one at all.

Places and limits are common practice, no source; how loose is too loose is an estimate.
"""

from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.fft import irfft, next_fast_len, rfft

from pneumen.core.errors import UnknownName
from pneumen.core.performance.timing import Tightness, pairs_between, tightness_of

LEAD, LEFT, RIGHT, OCTAVE, HARMONY_LEFT, HARMONY_RIGHT = LAYER_KINDS = (
    "lead",
    "double-left",
    "double-right",
    "octave",
    "harmony-left",
    "harmony-right",
)
PLACES: Final = {
    LEAD: 0,
    LEFT: -100,
    RIGHT: 100,
    OCTAVE: 0,
    HARMONY_LEFT: -50,
    HARMONY_RIGHT: 50,
}
"""Where each begins in the stereo picture: per cent to the right."""
LOOSE_MS: Final = 40.0
"""More than that smears consonants."""
LATE_MS: Final = 25.0
PHRASE_GAP_S: Final = 0.9
LEAST_IN_PHRASE: Final = 3
COPY: Final = 0.9
"""Two takes of one person are never so alike as waves; a copy is, whatever its level."""
ALIKE_HZ: Final = 6000
"""Fast enough that a part of a sample makes no difference in that band."""
ALIKE_BAND_HZ: Final = (80.0, 800.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class PhraseOffset:
    """One phrase of a layer: where it begins in the lead, and how much later it stands on the mean, in ms."""

    start_s: float
    offset_ms: float
    count: int


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerFit:
    """How a layer stands to the one it belongs to; phrases that lie LATE_MS and more off are worth moving."""

    tightness: Tightness
    phrases: tuple[PhraseOffset, ...]

    @property
    def loose(self) -> bool:
        return self.tightness.spread_ms > LOOSE_MS

    @property
    def off(self) -> tuple[PhraseOffset, ...]:
        return tuple(one for one in self.phrases if abs(one.offset_ms) >= LATE_MS)


def belongs_to(kind: str, present: tuple[str, ...]) -> str | None:
    """Return the layer that one is held against: the lead, or of a pair without a lead the other half.

    >>> belongs_to("double-right", ("double-left", "double-right"))
    'double-left'

    Raises:
        UnknownName: for a kind that is none.
    """
    if kind not in LAYER_KINDS:
        raise UnknownName("layer", kind, LAYER_KINDS)
    if kind == LEAD:
        return None
    if LEAD in present:
        return LEAD
    halves = {RIGHT: LEFT, HARMONY_RIGHT: HARMONY_LEFT}
    half = halves.get(kind)
    return half if half in present else None


def layer_fit(lead_s: np.ndarray, layer_s: np.ndarray) -> LayerFit | None:
    """Return how tight a layer is to its lead, as a whole and phrase by phrase; None where they share too little.

    What both recordings' offsets have in common is taken out: phrases are told against the layer's own median.
    """
    tightness = tightness_of(lead_s, layer_s)
    if tightness is None:
        return None
    lead, layer = np.asarray(lead_s, float), np.asarray(layer_s, float) - tightness.lag_ms / 1000
    pairs = np.array(pairs_between(lead, layer))
    breaks = np.flatnonzero(np.diff(pairs[:, 0]) > PHRASE_GAP_S) + 1
    phrases = []
    for some in np.split(pairs, breaks):
        if len(some) >= LEAST_IN_PHRASE:
            offset = float(np.median(some[:, 1] - some[:, 0]))
            phrases.append(PhraseOffset(start_s=float(some[0, 0]), offset_ms=1000 * offset, count=len(some)))
    return LayerFit(tightness=tightness, phrases=tuple(phrases))


def likeness_of(one: np.ndarray, other: np.ndarray) -> float:
    """Return how alike two takes are as waves, 0 to 1, at the lag where they are most alike.

    Args:
        one, other: mono at ALIKE_HZ; a copy is alike whatever its level, and so is one with its polarity turned.
    """
    shortest = min(len(one), len(other))
    if shortest < ALIKE_HZ // 4:
        return 0.0
    from scipy.signal import butter, sosfiltfilt  # takes a second to load, and few commands need it

    band = butter(2, ALIKE_BAND_HZ, "bandpass", fs=ALIKE_HZ, output="sos")
    first, second = (sosfiltfilt(band, np.asarray(each, float)) for each in (one, other))
    length = next_fast_len(len(first) + len(second), real=True)
    shared = irfft(rfft(first, length) * np.conj(rfft(second, length)), length)
    power = float(np.dot(first, first)) * float(np.dot(second, second))
    return float(np.abs(shared).max() / np.sqrt(power)) if power > 0 else 0.0


def is_copy(likeness: float) -> bool:
    """Return whether two takes are one and the same: few milliseconds apart are no sign of it, the wave is."""
    return likeness >= COPY
