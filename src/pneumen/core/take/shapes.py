"""What the shape of a sound tells, sample by sample: samples that were lost, clicks, and its short frames."""

import os
import pickle
import signal
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final, NoReturn

import numpy as np

from pneumen.core.take.clicks import ClickWatch
from pneumen.core.take.dropouts import DropoutWatch
from pneumen.core.take.edges import block_edges
from pneumen.core.take.frames import FrameMeter, Frames
from pneumen.core.take.recording import Recording, code_step

LONG_S: Final = 60.0
"""From so long a file on a second process is worth its start."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Shapes:
    """Of one channel: dropouts as (first, one after the last) sample, clicks as (at_s, dB over what is about them)."""

    dropouts: list[tuple[int, int]]
    clicks: list[tuple[float, float]]
    frames: Frames


class ShapeWatch:
    """Collects the shapes of all channels: call take_in() with each block in turn, then found()."""

    def __init__(self, recording: Recording) -> None:
        channels, rate_hz = range(recording.channels), recording.sample_rate_hz
        self._least_step = recording.least_step
        self._dropouts = [DropoutWatch(rate_hz) for _ in channels]
        self._clicks = [ClickWatch(rate_hz) for _ in channels]
        self._frames = [FrameMeter(rate_hz) for _ in channels]

    def take_in(self, block: np.ndarray) -> None:
        """Take in the next samples, shape (channels, samples)."""
        least_step = code_step(block, self._least_step)
        for channel, samples in enumerate(block):
            self._dropouts[channel](samples, least_step)
            self._clicks[channel](samples)
            self._frames[channel](samples)

    def found(self) -> tuple[Shapes, ...]:
        """Return what was found, one for each channel; no more is taken in after that."""
        for clicks in self._clicks:
            clicks.end()
        return tuple(
            Shapes(dropouts=dropouts.found, clicks=clicks.found, frames=frames.frames())
            for dropouts, clicks, frames in zip(self._dropouts, self._clicks, self._frames, strict=True)
        )


class ShapesBeside:
    """Collects the shapes of a file in a process beside this one, which reads the file by itself; end() it in any case.

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

    def found(self) -> tuple[Shapes, ...]:
        """Return what was found; where the process came to nothing, this one looks itself."""
        try:
            return tuple(pickle.load(self._answer))
        except (EOFError, pickle.UnpicklingError):
            return _shapes_of(self._again)

    def end(self) -> None:
        """Let go of the process, whether or not it was asked."""
        self._answer.close()
        os.kill(self._process, signal.SIGTERM)
        os.waitpid(self._process, 0)


def _shapes_of(again: Callable[[], Recording]) -> tuple[Shapes, ...]:
    with again() as recording:
        watch = ShapeWatch(recording)
        for block in recording.blocks(block_edges(recording)):
            watch.take_in(block)
        return watch.found()


def _send(again: Callable[[], Recording], sends: int) -> NoReturn:
    """Be the process beside: what is wrong with the file the other one tells."""
    try:
        found = pickle.dumps(_shapes_of(again), pickle.HIGHEST_PROTOCOL)
        with os.fdopen(sends, "wb") as answer:
            answer.write(found)
    finally:
        os._exit(0)
