"""Whether a file was once an MP3 or the like: holes where the noise should be, frames of a transform coder, an edge.

What is recorded only ever adds to a room's and a preamp's noise: no band is emptier while something loud sounds than
in the pauses. A coder leaves out what the loud sound hides. Coders leave a second trace: in their own frames (one
transform in AAC and Vorbis, a bank of filters with one behind it in MP3), and in no others, a great many of its values
are exactly nothing.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial
from typing import Final

import numpy as np

from pneumen.core.fourier import fft, rfft
from pneumen.core.take.hybrid import GRANULE, lines_at_offsets

WINDOW: Final = 1024
BAND_HZ: Final = 500.0
LOWEST_HZ: Final = 3000.0
TOP_SHARE: Final = 0.42
"""Bands are looked at up to this share of the sample rate: converters' own filters begin there."""
HOLE_DB: Final = -8.0
"""So far under the pauses' noise lie a few of the quietest moments of a band (noise alone scatters by 4 dB)."""
HOLE_QUANTILE, FLOOR_QUANTILE = 0.02, 0.1
LEAST_HOLES: Final = 3
DEEP_DB: Final = -25.0
"""No compressor turns the noise down so far while something sounds."""
NOISE_OVER_DB: Final = 3.0
LEAST_BANDS: Final = 4
UNEVEN_DB: Final = 13.0
STEADY_DB: Final = 9.0
"""Noise in a band scatters by some 5 dB; the tail of a note falls."""
EMPTY_UNDER_DB: Final = 40.0
"""Bands so far under the others are empty in the pauses too: the coder's end, or a converter's."""
EDGE_HZ: Final = (15_000.0, 17_500.0)
NOISE_EDGE_HZ: Final = (3500.0, 17_500.0)
"""A sound may end anywhere of itself; a noise that ends steeply was cut off after it was recorded."""
SAMPLED_HZ: Final = (8000.0, 11_025.0, 12_000.0)
NEAR_SAMPLED: Final = 0.06
"""Where a file of half the rate, or a sampled instrument, ends of itself."""
EDGE_DB: Final = 25.0
EDGE_BANDS: Final = 2
FRAME: Final = 1024
"""Half the length of AAC's and Vorbis's long blocks at the usual rates."""
CODED_HZ: Final = (3000.0, 16_000.0)
LEAST_VALUE: Final = 1e-9
STANDS_OUT: Final = 9.0
"""The frame that stands out lies so many deviations under the others; in uncoded sounds none passes 4."""
GRANULE_HZ: Final = (1000.0, 16_000.0)
GRANULE_STANDS_OUT: Final = 10.0
"""In uncoded sounds none passes 5, in a synthesiser's 9."""
ALONE: Final = 5
ALONE_SHARE, GRANULE_ALONE_SHARE = 0.6, 0.42
"""Farther than so many samples from the lowest nothing lies more than so far down, of a coder's frames. (A held note of
a synthesiser lies 0.45 as far down a period before and after, hardly one MP3 of 70 so far.)"""
SEGMENT: Final = 3 * FRAME
"""So many samples hold every offset of every coder's frames."""
MOST_SEGMENTS: Final = 6
FIRST_SEGMENTS, WORTH_MORE = 3, 3.5
"""Where nothing stands out so far in the first of them, nothing will in all."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Segment:
    """SEGMENT samples of a file from one of them on."""

    start: int
    samples: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True)
class Coding:
    """What tells of a coder: edge_hz where the sound ends steeply near 16 kHz or below, None where it does not.

    noise_ends: the noise of the pauses ends there too. holes and frames are the two proofs.
    """

    edge_hz: float | None
    noise_ends: bool
    holes: bool
    frames: bool

    @property
    def is_edged(self) -> bool:
        if self.edge_hz is None:
            return False
        low_hz, high_hz = NOISE_EDGE_HZ if self.noise_ends else EDGE_HZ
        sampled = any(abs(self.edge_hz / hz - 1) < NEAR_SAMPLED for hz in SAMPLED_HZ)
        return low_hz <= self.edge_hz <= high_hz and not sampled


def coding_of(
    loud: Sequence[np.ndarray], quiet: Sequence[np.ndarray], segments: Sequence[Segment], sample_rate_hz: int
) -> Coding:
    """Return the traces of a lossy coder.

    Args:
        loud: pieces of a tenth of a second or so in which the take sounds.
        quiet: pieces from its pauses, those that are digitally empty left out; none where it never pauses.
        segments: some loud pieces, for the frames.

    Reference: holes follow from noises adding up (physics); frames are found as in Yang, Qu and Huang, Detecting
    double compression of audio, and its kin (from memory).
    """
    bands = _bands(loud, sample_rate_hz)
    if not bands.size:
        return Coding(edge_hz=None, noise_ends=False, holes=False, frames=False)
    noise = _bands(quiet, sample_rate_hz)
    noise_edge_hz = _edge_hz(noise.mean(axis=1)) if noise.size and _is_steady(noise) else None
    edge_hz = _edge_hz(bands.mean(axis=1)) if noise_edge_hz is None else noise_edge_hz
    return Coding(
        edge_hz=edge_hz,
        noise_ends=noise_edge_hz is not None,
        holes=_has_holes(bands, noise),
        frames=_frames_stand_out(segments, sample_rate_hz),
    )


def _bands(pieces: Sequence[np.ndarray], sample_rate_hz: int) -> np.ndarray:
    """Return the power of bands of 500 Hz in short windows, shape (bands, windows)."""
    top_hz = TOP_SHARE * sample_rate_hz
    count = int((top_hz - LOWEST_HZ) // BAND_HZ)
    rows = [
        np.lib.stride_tricks.sliding_window_view(piece, WINDOW)[:: WINDOW // 2]
        for piece in pieces
        if len(piece) >= WINDOW
    ]
    if not rows or count < EDGE_BANDS + 2:
        return np.empty((0, 0))
    spectra = rfft(np.concatenate(rows) * np.hanning(WINDOW), axis=1)
    power = np.square(spectra.real) + np.square(spectra.imag)
    edges = np.round((LOWEST_HZ + BAND_HZ * np.arange(count + 1)) * WINDOW / sample_rate_hz).astype(int)
    return np.add.reduceat(power, edges, axis=1)[:, :-1].T / WINDOW**2 + 1e-18


def _has_holes(loud: np.ndarray, quiet: np.ndarray) -> bool:
    """Return whether some bands are emptier in loud moments than in the pauses."""
    if not quiet.size:
        return False
    floor = 10 * np.log10(np.quantile(quiet, FLOOR_QUANTILE, axis=1, keepdims=True))
    kept = (floor[:, 0] > floor.max() - EMPTY_UNDER_DB) & (_spread_db(quiet) < STEADY_DB)
    over = (10 * np.log10(loud) - floor)[kept]
    under = np.sort(np.quantile(over, HOLE_QUANTILE, axis=1))[:LEAST_HOLES].mean() if kept.any() else 0.0
    return bool(under < DEEP_DB or (under < HOLE_DB and _is_uneven(over)))


def _spread_db(quiet: np.ndarray) -> np.ndarray:
    """Return by how much the level of each band scatters in the pauses."""
    low, high = np.quantile(10 * np.log10(quiet), (FLOOR_QUANTILE, 1 - FLOOR_QUANTILE), axis=1)
    return np.asarray(high - low)


def _is_steady(quiet: np.ndarray) -> bool:
    """Return whether the pauses hold nothing but noise in most bands."""
    return bool(np.median(_spread_db(quiet)) < STEADY_DB)


def _is_uneven(over: np.ndarray) -> bool:
    """Return whether within single moments some bands of mere noise are there and others are not.

    A compressor or limiter turns all of them down at once, however far.
    """
    noise = np.where(over < NOISE_OVER_DB, over, np.nan)
    noise = noise[:, np.count_nonzero(~np.isnan(noise), axis=0) >= LEAST_BANDS]
    if not noise.size:
        return False
    apart = np.nanquantile(noise, 0.9, axis=0) - np.nanquantile(noise, 0.1, axis=0)
    return bool(np.quantile(apart, 0.9) > UNEVEN_DB)


def _edge_hz(loud: np.ndarray) -> float | None:
    """Return the frequency over which nothing is left, None where a sound fades out towards the treble."""
    level = 10 * np.log10(loud)
    for band in range(1, len(level) - EDGE_BANDS):
        above = level[band + EDGE_BANDS - 1 :].max()
        if level[band - 1] - above >= EDGE_DB:
            return float(LOWEST_HZ + band * BAND_HZ)
    return None


@lru_cache(maxsize=1)
def _windows() -> tuple[np.ndarray, np.ndarray]:
    """Return AAC's Kaiser-Bessel-derived window (alpha 4) and Vorbis's, each 2 FRAME samples long."""
    kaiser = np.cumsum(np.kaiser(FRAME + 1, 4 * np.pi))
    rising = np.sqrt(kaiser[:-1] / kaiser[-1])
    sine = np.sin(np.pi * (np.arange(2 * FRAME) + 0.5) / (2 * FRAME))
    return np.concatenate([rising, rising[::-1]]), np.sin(np.pi / 2 * np.square(sine))


def _frames_stand_out(segments: Sequence[Segment], sample_rate_hz: int) -> bool:
    """Return whether at one offset of some coder's frames far more values are next to nothing than at all others."""
    transforms = (partial(_transformed, window=window, sample_rate_hz=sample_rate_hz) for window in _windows())
    filtered = partial(_filtered, sample_rate_hz=sample_rate_hz)
    return any(_stands_out(segments, one, STANDS_OUT, ALONE_SHARE) for one in transforms) or _stands_out(
        segments, filtered, GRANULE_STANDS_OUT, GRANULE_ALONE_SHARE
    )


def _stands_out(
    segments: Sequence[Segment], emptiness: Callable[[np.ndarray], np.ndarray], least: float, alone_share: float
) -> bool:
    whole: np.ndarray | float = 0.0
    for count, segment in enumerate(segments[:MOST_SEGMENTS], 1):
        empty = emptiness(segment.samples)
        apart = np.roll(empty - np.median(empty), segment.start % len(empty))
        whole = whole + apart / max(float(np.median(np.abs(apart))), 1e-6)
        if count == FIRST_SEGMENTS and _lowest(np.asarray(whole)) > -WORTH_MORE:
            return False
    return bool(segments) and _lowest(np.asarray(whole)) < -least and _is_alone(np.asarray(whole), alone_share)


def _is_alone(whole: np.ndarray, share: float) -> bool:
    """Return whether the lowest value has no second like it: a sound that repeats itself has one each time."""
    at = int(whole.argmin())
    others = np.delete(np.roll(whole, -at), np.r_[0:ALONE, len(whole) - ALONE + 1 : len(whole)])
    return bool(others.min() > share * whole[at])


def _lowest(whole: np.ndarray) -> float:
    """Return by how many deviations the lowest value lies under the others."""
    deviation = 1.4826 * float(np.median(np.abs(whole)))
    return float(whole.min()) / deviation if deviation > 0 else 0.0


def _transformed(samples: np.ndarray, window: np.ndarray, sample_rate_hz: int) -> np.ndarray:
    """Return how empty a transform is at each offset of its frames: the mean natural logarithm of its values.

    The modified discrete cosine transform by a complex FFT (Princen and Bradley, 1987; from memory).
    """
    place, order = np.arange(2 * FRAME), np.arange(FRAME)
    rows = np.lib.stride_tricks.sliding_window_view(samples.astype(np.float32), 2 * FRAME)[:FRAME]
    turned = (window * np.exp(-0.5j * np.pi * place / FRAME)).astype(np.complex64)
    back = np.exp(-1j * np.pi * (0.5 + FRAME / 2) * (order + 0.5) / FRAME).astype(np.complex64)
    low, high = (min(FRAME, round(hz * 2 * FRAME / sample_rate_hz)) for hz in CODED_HZ)
    return _emptiness((fft(rows * turned, axis=1)[:, low:high] * back[low:high]).real)


def _filtered(samples: np.ndarray, sample_rate_hz: int) -> np.ndarray:
    """Return how empty MP3's bank of filters is at each offset of its granules."""
    low, high = (min(GRANULE, round(hz * 2 * GRANULE / sample_rate_hz)) for hz in GRANULE_HZ)
    return _emptiness(lines_at_offsets(samples)[:, low:high])


def _emptiness(values: np.ndarray) -> np.ndarray:
    return np.asarray(np.log(np.abs(values) + np.float32(LEAST_VALUE)).mean(axis=1))
