"""All files of a delivery heard together, as they lie one above the other at the start of an empty project."""

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Final

import numpy as np

from pneumen.core.take import PcmFile, codes_of, full_scale, open_recording

BITS: Final = 16
BLOCK: Final = 1 << 17
SIDES: Final = 2


def write_together(files: Sequence[Path], target: Path) -> float:
    """Write the sum of files that all begin at zero, for the ear: stereo, lowered so far that nothing clips.

    Args:
        files: of one rate and length; mono stands in the middle.

    Returns:
        By how much it was lowered, in dB; 0 where it fits.

    Raises:
        UnreadableFile: for a file that cannot be read.
        OSError: where the target cannot be written.
    """
    peak = 0.0
    for block in _sums(files):
        peak = max(peak, float(np.abs(block).max(initial=0.0)))
    gain = min(1.0, full_scale(BITS) / peak) if peak else 1.0
    with open_recording(files[0]) as first:
        rate_hz = first.sample_rate_hz
    with PcmFile(target, sample_rate_hz=rate_hz, channels=SIDES, bits=BITS) as file:
        for block in _sums(files):
            file.write(codes_of(block * gain, BITS))
    return 20 * float(np.log10(gain))


def _sums(files: Sequence[Path]) -> Iterator[np.ndarray]:
    """Yield what all files add up to, in pieces of shape (2, N)."""
    opened = [open_recording(path) for path in files]
    try:
        frames = max(recording.frames for recording in opened)
        for start in range(0, frames, BLOCK):
            total = np.zeros((SIDES, min(BLOCK, frames - start)))
            for recording in opened:
                piece = recording.stretches(start, start + total.shape[1])
                total[:, : piece.shape[1]] += piece if len(piece) == SIDES else piece[:1]
            yield total
    finally:
        for recording in opened:
            recording.__exit__(None, None, None)
