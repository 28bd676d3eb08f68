"""What a take is looked at for a second time, once it is known where it sounds and where it pauses."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.take.bleed import Bleed, bleed_of
from pneumen.core.take.comb import LONGEST_S as COMB_S
from pneumen.core.take.comb import RATE_HZ as COMB_HZ
from pneumen.core.take.comb import Comb, comb_in
from pneumen.core.take.edges import FRAMES_PER_S
from pneumen.core.take.floor import FloorMeter, find_pauses, runs_in
from pneumen.core.take.lossy import MOST_SEGMENTS, SEGMENT, Coding, Segment, coding_of
from pneumen.core.take.mains import hum_in_pieces, looks_at
from pneumen.core.take.noise_parts import NoiseMeter
from pneumen.core.take.recording import Recording
from pneumen.core.take.resampled import resampled

LONGEST_PIECE_FRAMES: Final = 50
MOST_PIECES: Final = 60
LOUD_UNDER_DB: Final = 20.0
QUIET_SHARE: Final = 0.15
BLEED_HZ: Final = 16_000
"""Headphones leak little above half of that."""
BLEED_LONGEST_S: Final = 1200.0
"""Twenty minutes tell of a leak: both files lie in memory for it."""
PAUSE_UNDER_DB: Final = 9.0
LEAST_PAUSE_FRAMES: Final = 3


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SecondLook:
    """The loudest channel of a recording with the power of its whole 100 ms frames, shape (frames,).

    silent is true where a frame is digitally empty.
    """

    recording: Recording
    channel: int
    power: np.ndarray
    silent: np.ndarray

    def floor(self, weighted_power: np.ndarray) -> tuple[FloorMeter, NoiseMeter]:
        """Return the floor of the pauses, which are sought in the K-weighted power of the frames, and its parts."""
        meter, parts = FloorMeter(self.recording.sample_rate_hz), NoiseMeter(self.recording.sample_rate_hz)
        pieces = [
            (self._edge(piece), self._edge(min(piece + LONGEST_PIECE_FRAMES, stop)))
            for first, stop in find_pauses(weighted_power, self.silent)
            for piece in range(first, stop - 2, LONGEST_PIECE_FRAMES)  # a long pause never lies in memory whole
        ]
        # What a noise is made of some of them tell as well as all.
        told = set(_spread(np.arange(len(pieces)), MOST_PIECES).tolist())
        for number, (start, end) in enumerate(pieces):
            samples = self.recording.stretch(start, end, self.channel)
            if len(samples) == end - start:  # a damaged file may not give them a second time
                meter(samples)
                if number in told:
                    parts(samples)
        return meter, parts

    def hum_hz(self, active_rms_dbfs: float | None) -> float | None:
        """Return the frequency of the mains that hums; None where none does, or the file is too short to tell."""
        if active_rms_dbfs is None:
            return None
        rate_hz = self.recording.sample_rate_hz
        stretches = looks_at(self.recording.frames, rate_hz)
        pieces = (self.recording.stretch(start, stop, self.channel) for start, stop in stretches)
        return hum_in_pieces(pieces, rate_hz, active_rms_dbfs)

    def coding(self) -> Coding:
        """Return the traces of a lossy coder."""
        heard = np.flatnonzero(~self.silent & (self.power > 0))
        if not heard.size:
            return coding_of([], [], [], self.recording.sample_rate_hz)
        power = self.power[heard]
        loud = heard[power > power.max() * 10 ** (-LOUD_UNDER_DB / 10)]
        quiet = heard[power <= np.quantile(power, QUIET_SHARE)]
        loudest = np.sort(heard[np.argsort(power)[-max(MOST_SEGMENTS, len(heard) // 4) :]])
        starts = [self._edge(int(frame)) for frame in _spread(loudest, MOST_SEGMENTS)]
        segments = [
            Segment(start=start, samples=self.recording.stretch(start, start + SEGMENT, self.channel))
            for start in starts
        ]
        # What is mostly digital silence has next to nothing in every frame.
        whole = [one for one in segments if len(one.samples) == SEGMENT and np.count_nonzero(one.samples) > SEGMENT / 2]
        return coding_of(self._pieces(loud), self._pieces(quiet), whole, self.recording.sample_rate_hz)

    def comb(self) -> Comb | None:
        """Return the early reflection in spoken words."""
        return comb_in(resampled(self.recording, COMB_HZ, channel=self.channel, longest_s=COMB_S))

    def bleed(self, backing: Recording, active_rms: float) -> Bleed:
        """Return how much of a backing is in the pauses of the take."""
        take = resampled(self.recording, BLEED_HZ, channel=self.channel, longest_s=BLEED_LONGEST_S)
        heard = resampled(backing, BLEED_HZ, longest_s=BLEED_LONGEST_S)
        return bleed_of(take, heard, self.pauses(), BLEED_HZ, active_rms)

    def pauses(self) -> list[tuple[int, int]]:
        """Return where what is played pauses, whatever else is heard, in samples at BLEED_HZ."""
        if not self.power.size:
            return []
        active = self.power[self.power >= self.power.max() * 10**-2.5].mean()
        quiet = self.power < active * 10 ** (-PAUSE_UNDER_DB / 10)
        frame = BLEED_HZ // FRAMES_PER_S
        return [(first * frame, last * frame) for first, last in runs_in(quiet, LEAST_PAUSE_FRAMES)]

    def _pieces(self, frames: np.ndarray) -> list[np.ndarray]:
        return [
            self.recording.stretch(self._edge(int(frame)), self._edge(int(frame) + 1), self.channel)
            for frame in _spread(frames, MOST_PIECES)
        ]

    def _edge(self, frame: int) -> int:
        return round(frame * self.recording.sample_rate_hz / FRAMES_PER_S)


def _spread(frames: np.ndarray, most: int) -> np.ndarray:
    """Return at most so many of some frames, spread over all of them."""
    return frames[np.unique(np.linspace(0, len(frames) - 1, min(most, len(frames))).astype(int))]
