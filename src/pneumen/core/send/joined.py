"""Several tracks in one file: only where they do not sound at once."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from pneumen.core.errors import UnreadableFile
from pneumen.core.take import LaidTake

FRAME_S: Final = 0.1
UNDER_DB: Final = 40.0
"""A track sounds where it comes within so much of its own loudest; its tail and its room do not count."""
LEAST_FRAMES: Final = 2


class JoinedTracks:
    """Several laid tracks as one, read like any of them.

    Raises:
        UnreadableFile: where two of them sound at once, naming when.
    """

    def __init__(self, tracks: Sequence[LaidTake], rate_hz: int) -> None:
        self._tracks = tracks
        self.first, self.stop = min(one.first for one in tracks), max(one.stop for one in tracks)
        self.channels = max(one.channels for one in tracks)
        self.is_resampled = any(one.is_resampled for one in tracks)
        self.least_step = min(one.least_step for one in tracks)
        first = next((one for one in tracks if one.is_resampled), tracks[0])
        self.own_rate_hz, self.drift_ppm = first.own_rate_hz, first.drift_ppm
        at = self._sound_at_once(rate_hz)
        if at is not None:
            raise UnreadableFile(
                f"two tracks that are to be one file both sound at {at / rate_hz:.1f} s",
                "join only what does not overlap, or send a file of each",
            )

    def stretch(self, first: int, stop: int) -> np.ndarray:
        """Return the song's samples from first to stop, shape (channels, N): mono stands on both sides of a pair."""
        total = np.zeros((self.channels, max(stop - first, 0)))
        for one in self._tracks:
            total += one.stretch(first, stop)
        return total

    def _sound_at_once(self, rate_hz: int) -> int | None:
        """Return the first sample of the song from which two tracks sound together; None where none do."""
        frame = max(1, round(FRAME_S * rate_hz))
        count = -(-(self.stop - self.first) // frame)
        peaks = np.zeros((len(self._tracks), count))
        for number, one in enumerate(self._tracks):
            for place in range((one.first - self.first) // frame, -(-(one.stop - self.first) // frame)):
                start = self.first + place * frame
                peaks[number, place] = np.abs(one.stretch(start, start + frame)).max(initial=0.0)
        loudest = peaks.max(axis=1, keepdims=True)
        sounds = (peaks > loudest * 10 ** (-UNDER_DB / 20)) & (loudest > 0)
        together = sounds.sum(axis=0) > 1
        runs = np.convolve(together, np.ones(LEAST_FRAMES), "valid") == LEAST_FRAMES
        return self.first + int(np.argmax(runs)) * frame if runs.any() else None
