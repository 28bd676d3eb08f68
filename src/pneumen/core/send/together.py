"""Files heard together: as a package holds them, or in a balance to listen to."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path
from typing import Final

import numpy as np

from pneumen.core.errors import require_within
from pneumen.core.levels import db_to_ratio
from pneumen.core.take import LaidTake, PcmFile, codes_of, full_scale, open_recording

BITS: Final = 16
BLOCK: Final = 1 << 17
SIDES: Final = 2
LEVELS_DB: Final = (-40.0, 12.0)
LOW_CUTS_HZ: Final = (0, 60, 80, 100, 120, 150)


@dataclass(frozen=True, slots=True, kw_only=True)
class Voice:
    """One file in a balance: where it lies, its level, its place in per cent to the right, its low-cut."""

    file: Path
    offset_s: float = 0.0
    drift_ppm: float | None = None
    level_db: float = 0.0
    place: float = 0.0
    low_cut_hz: int = 0

    def __post_init__(self) -> None:
        require_within("level_db", self.level_db, *LEVELS_DB)
        require_within("place", self.place, -100.0, 100.0)
        require_within("low_cut_hz", self.low_cut_hz, LOW_CUTS_HZ[0], LOW_CUTS_HZ[-1])

    @property
    def gains(self) -> np.ndarray:
        """Its gain left and right: equal power, so that a sound keeps its loudness wherever it stands.

        >>> Voice(file=Path("lead.wav")).gains.round(4).tolist()
        [0.7071, 0.7071]
        """
        angle = (self.place + 100) / 200 * np.pi / 2
        return np.asarray(db_to_ratio(self.level_db) * np.array([np.cos(angle), np.sin(angle)]))


def write_together(files: Sequence[Path], target: Path, *, rate_hz: int, frames: int) -> float:
    """Write the sum of files that all begin at zero, mono in the middle, as they lie in an empty project."""
    return write_balance([Voice(file=path) for path in files], target, rate_hz=rate_hz, frames=frames)


def write_balance(voices: Sequence[Voice], target: Path, *, rate_hz: int, frames: int) -> float:
    """Write files heard together, for the ear: stereo, lowered so far that nothing clips.

    Args:
        frames: how long it becomes, at rate_hz.

    Returns:
        By how much it was lowered, in dB; 0 where it fits.

    Raises:
        UnreadableFile: for a file that cannot be read.
        OSError: where the target cannot be written.
    """
    peak = 0.0
    for block in _sums(voices, rate_hz, frames):
        peak = max(peak, float(np.abs(block).max(initial=0.0)))
    gain = min(1.0, full_scale(BITS) / peak) if peak else 1.0
    with PcmFile(target, sample_rate_hz=rate_hz, channels=SIDES, bits=BITS) as file:
        for block in _sums(voices, rate_hz, frames):
            file.write(codes_of(block * gain, BITS))
    return 20 * float(np.log10(gain))


def _sums(voices: Sequence[Voice], rate_hz: int, frames: int) -> Iterator[np.ndarray]:
    """Yield what all voices add up to, in pieces of shape (2, N)."""
    opened = [open_recording(voice.file) for voice in voices]
    try:
        laid = [
            LaidTake(recording, rate_hz=rate_hz, offset_s=voice.offset_s, drift_ppm=voice.drift_ppm or 0.0)
            for recording, voice in zip(opened, voices, strict=True)
        ]
        cuts = [_LowCut(voice.low_cut_hz, rate_hz, one.channels) for voice, one in zip(voices, laid, strict=True)]
        for start, stop in pairwise([*range(0, frames, BLOCK), frames]):
            total = np.zeros((SIDES, stop - start))
            for voice, one, cut in zip(voices, laid, cuts, strict=True):
                piece = cut(one.stretch(start, stop))
                # A pair keeps its own picture: its place only tells its sides apart in level.
                total += (piece if len(piece) == SIDES else np.repeat(piece, SIDES, axis=0)) * voice.gains[:, None]
            yield total
    finally:
        for recording in opened:
            recording.__exit__(None, None, None)


class _LowCut:
    """A second-order high-pass, 12 dB per octave, that goes on from piece to piece; none at 0 Hz."""

    def __init__(self, cut_hz: int, rate_hz: int, channels: int) -> None:
        from scipy.signal import butter  # takes a second to load, and few commands need it

        self._sections = butter(2, cut_hz, "highpass", fs=rate_hz, output="sos") if cut_hz else None
        self._state = np.zeros((1, channels, 2))

    def __call__(self, samples: np.ndarray) -> np.ndarray:
        if self._sections is None:
            return samples
        from scipy.signal import sosfilt

        filtered, self._state = sosfilt(self._sections, samples, axis=1, zi=self._state)
        return np.asarray(filtered)
