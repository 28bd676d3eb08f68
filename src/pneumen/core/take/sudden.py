"""What happens within a few samples: some are lost, something clicks, the ceiling is met, a peak lies between two."""

import os
import pickle
import signal
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final, NoReturn

import numpy as np

from pneumen.core.take.clicks import ClickWatch
from pneumen.core.take.clipping import ClippingWatch
from pneumen.core.take.dropouts import DropoutWatch
from pneumen.core.take.edges import block_edges
from pneumen.core.take.recording import Recording, code_step
from pneumen.core.take.true_peak import TruePeak

LONG_S: Final = 60.0
"""From so long a file on a second process is worth its start."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Sudden:
    """What was found in one channel.

    dropouts are (first sample, one after the last), clicks (at_s, dB over the rest), tops (first and last sample);
    true_peak is the highest between the samples.
    """

    true_peak: float
    dropouts: list[tuple[int, int]]
    clicks: list[tuple[float, float]]
    tops: list[tuple[int, int]]


class SuddenWatch:
    """Collects it from all channels: call take_in() with each block in turn, then found()."""

    def __init__(self, recording: Recording) -> None:
        channels, rate_hz = range(recording.channels), recording.sample_rate_hz
        self._least_step = recording.least_step
        self._dropouts = [DropoutWatch(rate_hz) for _ in channels]
        self._clicks = [ClickWatch(rate_hz) for _ in channels]
        self._tops = [ClippingWatch(rate_hz) for _ in channels]
        self._true_peaks = [TruePeak() for _ in channels]

    def take_in(self, block: np.ndarray) -> None:
        """Take in the next samples, shape (channels, samples)."""
        least_step = code_step(block, self._least_step)
        lows, highs, means = block.min(axis=1), block.max(axis=1), block.mean(axis=1)
        for channel, samples in enumerate(block):
            self._dropouts[channel](samples, least_step)
            self._clicks[channel](samples)
            low, high, mean = (float(each[channel]) for each in (lows, highs, means))
            self._tops[channel](samples, low, high, mean, least_step)
            self._true_peaks[channel](samples, max(-low, high))

    def found(self) -> tuple[Sudden, ...]:
        """Return what was found, one for each channel; no more is taken in after that."""
        for clicks in self._clicks:
            clicks.end()
        return tuple(
            Sudden(true_peak=peak.value, dropouts=dropouts.found, clicks=clicks.found, tops=tops.found)
            for peak, dropouts, clicks, tops in zip(
                self._true_peaks, self._dropouts, self._clicks, self._tops, strict=True
            )
        )


class SuddenBeside:
    """Collects it from a file in a process beside this one, which reads the file by itself; end() it in any case.

    It is forked: a new one would take a second to load what this one has loaded.

    Args:
        again: opens the file anew.
    """

    def __init__(self, again: Callable[[], Recording]) -> None:
        self._again = again
        receives, sends = os.pipe()
        self._process = os.fork()
        if not self._process:
            _send(again, sends)
        os.close(sends)
        self._answer = os.fdopen(receives, "rb")

    def found(self) -> tuple[Sudden, ...]:
        """Return what was found; where the process came to nothing, this one looks itself."""
        try:
            return tuple(pickle.load(self._answer))
        except (EOFError, pickle.UnpicklingError):
            return _sudden_in(self._again)

    def end(self) -> None:
        """Let go of the process, whether or not it was asked."""
        self._answer.close()
        os.kill(self._process, signal.SIGTERM)
        os.waitpid(self._process, 0)


def _sudden_in(again: Callable[[], Recording]) -> tuple[Sudden, ...]:
    with again() as recording:
        watch = SuddenWatch(recording)
        for block in recording.blocks(block_edges(recording)):
            watch.take_in(block)
        return watch.found()


def _send(again: Callable[[], Recording], sends: int) -> NoReturn:
    """Be the process beside: what is wrong with the file the other one tells."""
    try:
        found = pickle.dumps(_sudden_in(again), pickle.HIGHEST_PROTOCOL)
        with os.fdopen(sends, "wb") as answer:
            answer.write(found)
    finally:
        os._exit(0)
