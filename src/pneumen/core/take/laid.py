"""A take as it lies in the song: any stretch of song time read from its file, at the song's rate."""

import math
from collections.abc import Sequence
from typing import Final

import numpy as np
import soxr

from pneumen.core.errors import UnreadableFile
from pneumen.core.take.recording import Recording
from pneumen.core.take.survey import Survey, survey

QUALITY: Final = "VHQ"
PIECE_S: Final = 10
MORE: Final = 64
"""A resampler may round up by some samples."""


def useful_sides(found: Survey) -> list[int]:
    """Return which channels of a file hold something of their own: of two alike, or one that is empty, the louder."""
    return [0, 1] if found.two_sided else [found.channel]


class LaidTake:
    """An open recording laid into the song.

    first and stop are the song's samples between which the file holds something; channels is how many it has there.

    Args:
        offset_s: where its first sample lies in the song.
        drift_ppm: positive where its recorder's clock was fast.
        sides: which of its channels are taken; left out, those that hold something of their own.

    Raises:
        UnreadableFile: where it has more than two channels, or no samples.
    """

    def __init__(
        self,
        recording: Recording,
        *,
        rate_hz: int,
        offset_s: float = 0.0,
        drift_ppm: float = 0.0,
        sides: Sequence[int] | None = None,
    ) -> None:
        require_a_part(recording)
        if sides is None:
            sides = useful_sides(survey(recording, faults=False)) if recording.channels > 1 else [0]
        self._recording, self._sides, self.channels = recording, list(sides), len(sides)
        self.own_rate_hz, self.drift_ppm = recording.sample_rate_hz, drift_ppm
        self.least_step = recording.least_step
        self.is_resampled = self.own_rate_hz != rate_hz or drift_ppm != 0
        self._resampled = self._at_rate(rate_hz) if self.is_resampled else None
        self.first = round(offset_s * rate_hz)
        self.stop = self.first + (recording.frames if self._resampled is None else self._resampled.shape[1])

    def stretch(self, first: int, stop: int) -> np.ndarray:
        """Return the song's samples from first to stop, shape (channels, N), zeros where the file holds none."""
        found = np.zeros((self.channels, max(stop - first, 0)))
        begin, end = max(first, self.first), min(stop, self.stop)
        if end > begin:
            piece = self._read(begin - self.first, end - self.first)
            found[:, begin - first : begin - first + piece.shape[1]] = piece
        return found

    def _read(self, begin: int, end: int) -> np.ndarray:
        if self._resampled is not None:
            return self._resampled[:, begin:end]
        return self._own(begin, end)

    def _own(self, begin: int, end: int) -> np.ndarray:
        piece = self._recording.stretches(begin, end)[self._sides]
        if not np.isfinite(piece).all():
            at_s = (begin + int(np.flatnonzero(~np.isfinite(piece).all(axis=0))[0])) / self.own_rate_hz
            raise UnreadableFile(f"the sample at {at_s:.3f} s is not a number", "export the file anew")
        return piece

    def _at_rate(self, rate_hz: int) -> np.ndarray:
        """Return the whole at the song's rate and by the song's clock, float32 of shape (channels, N)."""
        true_hz = self.own_rate_hz * (1 + self.drift_ppm * 1e-6)
        frames, step = self._recording.frames, PIECE_S * self.own_rate_hz
        found, filled = np.empty((self.channels, math.ceil(frames * rate_hz / true_hz) + MORE), np.float32), 0
        stream = soxr.ResampleStream(true_hz, rate_hz, self.channels, dtype="float32", quality=QUALITY)
        for begin in range(0, frames, step):
            piece = self._own(begin, min(begin + step, frames)).T.astype(np.float32)
            done = stream.resample_chunk(piece, last=begin + step >= frames)
            done = done.reshape(-1, self.channels).T[:, : found.shape[1] - filled]
            found[:, filled : filled + done.shape[1]] = done
            filled += done.shape[1]
        return found[:, :filled]


def require_a_part(recording: Recording) -> None:
    """Refuse what holds more than one part.

    Raises:
        UnreadableFile: where it has more than two channels.
    """
    if recording.channels > 2:
        raise UnreadableFile(f"the file has {recording.channels} channels", "export each part alone, mono or stereo")
