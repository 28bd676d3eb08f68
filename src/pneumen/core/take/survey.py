"""What has to be known of a file before it is joined or delivered: its sides, its peak, clipping, a lossy past.

Everything here is what `measure` finds too, by the same functions; what a delivery does not ask for is left out.
"""

import math
from dataclasses import dataclass

import numpy as np

from pneumen.core.errors import UnreadableFile
from pneumen.core.take.activity import active_rms_of_frames
from pneumen.core.take.clipping import ClippingWatch
from pneumen.core.take.edges import FRAMES_PER_BLOCK, FRAMES_PER_S, block_edges, each_frame, frame_starts
from pneumen.core.take.faults import lossy_findings
from pneumen.core.take.findings import SILENT_BELOW_DBFS, Finding, clipping_findings
from pneumen.core.take.pair import Pair, pair_between
from pneumen.core.take.recording import Recording, code_step
from pneumen.core.take.second_look import SecondLook


@dataclass(frozen=True, slots=True, kw_only=True)
class Survey:
    """What a file holds. say is mono, dual-mono, one-sided, stereo or multi; cause tells more of a pair that is none.

    channel is the one with the most energy. findings are of clipping and of a lossy past.
    """

    say: str
    cause: str
    channel: int
    sample_peak: float
    findings: tuple[Finding, ...]

    @property
    def silent(self) -> bool:
        return self.sample_peak < 10 ** (SILENT_BELOW_DBFS / 20)

    @property
    def two_sided(self) -> bool:
        return self.say == "stereo"


def survey(recording: Recording, *, faults: bool = True) -> Survey:
    """Go through a recording once.

    Args:
        recording: opened anew: its blocks are read once only.
        faults: whether clipping and a lossy past are looked for too.

    Raises:
        UnreadableFile: where there are no samples or one is not a number.
    """
    gathered = _Gathered(recording, faults=faults)
    for block in recording.blocks(block_edges(recording)):
        gathered.take_in(block)
    if not gathered.samples:
        raise UnreadableFile("the file holds no samples", "record or export it anew")
    return gathered.result(recording)


def clipping_in(samples: np.ndarray, sample_rate_hz: int, least_step: float) -> list[Finding]:
    """Return the flat tops of a stretch, as findings in its own time.

    Args:
        samples: shape (channels, N), full scale 1.
        least_step: between the values its file can hold.
    """
    tops: set[tuple[int, int]] = set()
    block = sample_rate_hz * FRAMES_PER_BLOCK // FRAMES_PER_S
    for channel in samples:
        watch = ClippingWatch(sample_rate_hz)
        for start in range(0, len(channel), block):
            piece = channel[start : start + block]
            watch(piece, float(piece.min()), float(piece.max()), float(piece.mean()), least_step)
        tops.update(watch.found)
    return clipping_findings(sorted(tops), sample_rate_hz)


class _Gathered:
    """What adds up over the blocks of a file. Frames are 100 ms; arrays are (channels, frames)."""

    def __init__(self, recording: Recording, *, faults: bool) -> None:
        self.rate_hz, self.channels, self.samples = recording.sample_rate_hz, recording.channels, 0
        self._least_step = recording.least_step
        self._watches = [ClippingWatch(self.rate_hz) for _ in range(self.channels)] if faults else []
        self._peak, self._product = np.zeros(self.channels), 0.0
        self._squares: list[np.ndarray] = []
        self._sums: list[np.ndarray] = []
        self._counts: list[np.ndarray] = []
        self._silent: list[np.ndarray] = []

    def take_in(self, block: np.ndarray) -> None:
        starts = frame_starts(self.samples, block.shape[1], self.rate_hz)
        low, high = each_frame(np.minimum, block, starts), each_frame(np.maximum, block, starts)
        sums = each_frame(np.add, block, starts)
        self._sums.append(sums)
        self._squares.append(each_frame(np.add, np.square(block), starts))
        self._counts.append(np.diff(np.append(starts, block.shape[1])))
        self._silent.append(low == high)
        lowest, highest = low.min(axis=1), high.max(axis=1)
        self._peak = np.maximum(self._peak, np.maximum(-lowest, highest))
        if self.channels == 2:
            self._product += float(np.dot(block[0], block[1]))
        if self._watches:
            step, means = code_step(block, self._least_step), sums.sum(axis=1) / block.shape[1]
            for channel, watch in enumerate(self._watches):
                watch(block[channel], float(lowest[channel]), float(highest[channel]), float(means[channel]), step)
        self.samples += block.shape[1]

    def result(self, recording: Recording) -> Survey:
        sums, counts = np.hstack(self._sums), np.concatenate(self._counts)
        mean = sums.sum(axis=1) / self.samples
        # About the file's own mean: a constant offset is no sound.
        energy = np.hstack(self._squares) - 2 * mean[:, None] * sums + np.square(mean)[:, None] * counts
        energy = np.maximum(energy, 0)
        rms = np.sqrt(energy.sum(axis=1) / self.samples)
        channel = int(rms.argmax())
        say, pair = "mono" if self.channels == 1 else "multi", Pair()
        if self.channels == 2:
            product = self._product / self.samples - float(mean[0] * mean[1])
            active_rms = active_rms_of_frames(energy[channel], counts)
            pair = pair_between(self._peak, rms, product, energy / counts, active_rms)
            say = pair.say
        return Survey(
            say=say,
            cause=pair.cause,
            channel=channel,
            sample_peak=float(self._peak.max()),
            findings=self._findings(recording, channel, energy[channel] / counts, counts) if self._watches else (),
        )

    def _findings(
        self, recording: Recording, channel: int, power: np.ndarray, counts: np.ndarray
    ) -> tuple[Finding, ...]:
        tops = sorted({top for watch in self._watches for top in watch.found})
        whole = counts >= math.floor(self.rate_hz / FRAMES_PER_S)
        silent = np.hstack(self._silent)[channel]
        look = SecondLook(recording=recording, channel=channel, power=power[whole], silent=silent[whole])
        duration_s, is_lossy = self.samples / self.rate_hz, recording.is_lossy
        lossy = lossy_findings(look.coding(), self.rate_hz, duration_s, in_lossy_file=is_lossy, rides=False)
        return (*clipping_findings(tops, self.rate_hz), *lossy)
