"""The filter bank of MPEG-1 audio, layer III, at every offset: in an MP3's own frames a great many of its values are
next to nothing, at all other offsets they are not.
"""

from functools import lru_cache
from typing import Final

import numpy as np

GRANULE: Final = 576
BANDS: Final = 32
LINES: Final = 18
TAPS: Final = 512
BLOCK: Final = 2 * LINES
LONGEST: Final = GRANULE - 1 + BANDS * (BLOCK - 1) + TAPS
"""Samples from which every offset within a granule can be worked out."""
WINDOW: Final = """
0 -1 -1 -1 -1 -1 -1 -2 -2 -2 -2 -3 -3 -4 -4 -5 -5 -6 -7 -7 -8 -9 -10 -11 -13 -14 -16 -17 -19 -21 -24 -26
-29 -31 -35 -38 -41 -45 -49 -53 -58 -63 -68 -73 -79 -85 -91 -97
-104 -111 -117 -125 -132 -139 -147 -154 -161 -169 -176 -183 -190 -196 -202 -208
213 218 222 225 227 228 228 227 224 221 215 208 200 189 177 163 146 127 106 83 57 29 -2 -36 -72 -111 -153 -197
-244 -294 -347 -401 -459 -519 -581 -645 -711 -779 -848 -919 -991 -1064 -1137 -1210 -1283 -1356 -1428 -1498 -1567
-1634 -1698 -1759 -1817 -1870 -1919 -1962 -2001 -2032 -2057 -2075 -2085 -2087 -2080 -2063
2037 2000 1952 1893 1822 1739 1644 1535 1414 1280 1131 970 794 605 402 185 -45 -288 -545 -814 -1095 -1388 -1692
-2006 -2330 -2663 -3004 -3351 -3705 -4063 -4425 -4788 -5153 -5517 -5879 -6237 -6589 -6935 -7271 -7597 -7910 -8209
-8491 -8755 -8998 -9219 -9416 -9585 -9727 -9838 -9916 -9959 -9966 -9935 -9863 -9750 -9592 -9389 -9139 -8840 -8492
-8092 -7640 -7134
6574 5959 5288 4561 3776 2935 2037 1082 70 -998 -2122 -3300 -4533 -5818 -7154 -8540 -9975 -11455 -12980 -14548
-16155 -17799 -19478 -21189 -22929 -24694 -26482 -28289 -30112 -31947 -33791 -35640 -37489 -39336 -41176 -43006
-44821 -46617 -48390 -50137 -51853 -53534 -55178 -56778 -58333 -59838 -61289 -62684 -64019 -65290 -66494 -67629
-68692 -69679 -70590 -71420 -72169 -72835 -73415 -73908 -74313 -74630 -74856 -74992 75038
"""
"""Half of the synthesis window in units of 2**-16, ISO/IEC 11172-3, table 3-B.3 (from memory; found to be the integers
in ffmpeg's library, and both filter banks together give back what went in to -84 dB)."""
BUTTERFLIES: Final = (-0.6, -0.535, -0.33, -0.185, -0.095, -0.041, -0.0142, -0.0037)
"""Between neighbouring bands, ISO/IEC 11172-3, table 3-B.9 (from memory)."""


@lru_cache(maxsize=1)
def synthesis_window() -> np.ndarray:
    """Return the whole synthesis window, shape (TAPS,)."""
    half = np.array(WINDOW.split(), dtype=float) / 2**16
    window = np.zeros(TAPS)
    window[: len(half)] = half
    sign = np.where(np.arange(1, len(half)) % 64, -1.0, 1.0)
    window[TAPS - np.arange(1, len(half))] = sign * half[1:]
    return window


@lru_cache(maxsize=1)
def _matrices() -> tuple[np.ndarray, np.ndarray]:
    """Return the polyphase matrix (64, BANDS) and the long blocks' transform with its window (BLOCK, LINES)."""
    band, line, place = np.arange(BANDS), np.arange(LINES)[:, None], np.arange(BLOCK)
    polyphase = np.cos((2 * band + 1) * (np.arange(64)[:, None] - 16) * np.pi / 64)
    transform = np.cos(np.pi / (2 * BLOCK) * (2 * place + 1 + LINES) * (2 * line + 1))
    return polyphase, (transform * np.sin(np.pi / BLOCK * (place + 0.5))).T


def subbands(samples: np.ndarray) -> np.ndarray:
    """Return the outputs of the polyphase filters with every sample as the newest, shape (N - TAPS + 1, BANDS)."""
    rows = np.lib.stride_tricks.sliding_window_view(samples, TAPS)[:, ::-1]
    folded = (rows * (synthesis_window() / BANDS)).reshape(len(rows), -1, 64).sum(axis=1)
    return np.asarray(folded @ _matrices()[0])


def lines_at_offsets(segment: np.ndarray) -> np.ndarray:
    """Return the frequency lines of a granule at each of its offsets in a segment, shape (GRANULE, BANDS * LINES).

    Args:
        segment: at least LONGEST samples.
    """
    filtered = subbands(segment[:LONGEST])
    step = filtered.strides[0]
    shape, strides = (GRANULE, BLOCK, BANDS), (step, BANDS * step, filtered.strides[1])
    blocks = np.lib.stride_tricks.as_strided(filtered, shape, strides, writeable=False).copy()
    blocks[:, 1::2, 1::2] *= -1  # every second band is upside down
    lines = np.einsum("obs,bl->osl", blocks, _matrices()[1], optimize=True)
    c = np.array(BUTTERFLIES)
    straight, across = 1 / np.sqrt(1 + c**2), c / np.sqrt(1 + c**2)
    upper, lower = lines[:, :-1, ::-1][:, :, : len(c)].copy(), lines[:, 1:, : len(c)].copy()
    lines[:, :-1, -1 : -len(c) - 1 : -1] = upper * straight + lower * across
    lines[:, 1:, : len(c)] = lower * straight - upper * across
    return np.asarray(lines.reshape(GRANULE, BANDS * LINES))
