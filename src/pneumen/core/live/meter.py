"""The level as it comes: a twentieth of a second at a time, the last seconds kept."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.levels import FULL_SCALE_TOUCHED, LOWEST_DB, ratio_to_db

PIECE_S: Final = 0.05
TRAIL_S: Final = 10.0
"""So long what was heard is remembered: the picture's width, and how long the loudest is held."""
FLOOR_OVER_S: Final = 0.5
"""The floor is the quietest half second of what is remembered: shorter gaps are between two words."""
FLOOR_AFTER_S: Final = 1.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """How loud a twentieth of a second was; over tells how many of its samples touched full scale."""

    seconds: float
    rms_dbfs: float
    peak_dbfs: float
    over: int = 0


def pieces_in(block: np.ndarray, sample_rate_hz: int) -> Iterator[np.ndarray]:
    """Yield a block (frames, channels) in pieces of a twentieth of a second; the last may be shorter."""
    frames = round(PIECE_S * sample_rate_hz)
    for start in range(0, len(block), frames):
        yield block[start : start + frames]


def piece_of(block: np.ndarray, sample_rate_hz: int) -> Piece:
    """Measure a piece (frames, channels) by its loudest channel."""
    sizes = np.abs(block)
    power = np.square(block, dtype=np.float64).mean(axis=0).max()
    return Piece(
        seconds=len(block) / sample_rate_hz,
        rms_dbfs=ratio_to_db(float(np.sqrt(power))),
        peak_dbfs=ratio_to_db(float(sizes.max())),
        over=int((sizes >= FULL_SCALE_TOUCHED).sum()),
    )


def with_piece(trail: tuple[Piece, ...], piece: Piece) -> tuple[Piece, ...]:
    """Return what is remembered once a piece has come."""
    most = round(TRAIL_S / PIECE_S)
    return (*trail[-most + 1 :], piece)


def floor_dbfs_of(trail: Sequence[Piece]) -> float | None:
    """Return the RMS level of the quietest half second that is remembered; None before there is enough to tell."""
    if sum(one.seconds for one in trail) < FLOOR_AFTER_S:
        return None
    power = 10 ** (np.array([one.rms_dbfs for one in trail]) / 10)
    width = round(FLOOR_OVER_S / PIECE_S)
    quietest = np.convolve(power, np.full(width, 1 / width), "valid").min()
    return max(float(10 * np.log10(quietest)), LOWEST_DB)


def held_dbfs_of(trail: Sequence[Piece]) -> float:
    """Return the highest peak that is remembered."""
    return max((one.peak_dbfs for one in trail), default=LOWEST_DB)
