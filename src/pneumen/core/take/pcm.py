"""Samples into the whole numbers of a file, and files of them: exact, dithered where bits are taken away."""

import os
from pathlib import Path
from types import TracebackType
from typing import Final, Self

import numpy as np
import soundfile

FORMATS: Final = {"wav": "WAV", "aiff": "AIFF"}
BITS: Final = (16, 24)


def full_scale(bits: int) -> float:
    """Return the highest value that so many bits hold; the lowest is -1."""
    return 1 - 2.0 ** (1 - bits)


def lowering_for(highest: float, lowest: float, bits: int) -> float:
    """Return the gain, 1 or less, that is the least needed to keep samples within full scale."""
    over = max(highest / full_scale(bits), -lowest)
    return 1 / over if over > 1 + 1e-12 else 1.0


def codes_of(samples: np.ndarray, bits: int, dither: np.random.Generator | None = None) -> np.ndarray:
    """Return samples as whole numbers, rounded to the nearest.

    Args:
        samples: full scale 1, of any shape.
        dither: where given, a triangular dither of two steps' width is added before rounding: then the error is a
            steady noise of half a step RMS that does not follow the sound.

    Reference: Lipshitz, Wannamaker and Vanderkooy, Quantization and Dither, JAES 40 (1992); from memory.
    """
    scale = 2.0 ** (bits - 1)
    scaled = samples * scale
    if dither is not None:
        scaled = scaled + dither.random(samples.shape, np.float32) - dither.random(samples.shape, np.float32)
    return np.clip(np.rint(scaled), -scale, scale - 1).astype(np.int32)


class PcmFile:
    """A file of whole numbers, written piece by piece beside its target and renamed when it is closed in order.

    Raises:
        OSError: where it cannot be written; then nothing is left of it.
    """

    def __init__(self, path: Path, *, sample_rate_hz: int, channels: int, bits: int, kind: str = "wav") -> None:
        self._path, self._part, self._bits = path, path.with_name(f".{path.name}.part"), bits
        try:
            self._file = soundfile.SoundFile(
                self._part, "w", sample_rate_hz, channels, f"PCM_{bits}", format=FORMATS[kind]
            )
        except (soundfile.LibsndfileError, TypeError) as error:
            self._part.unlink(missing_ok=True)
            raise OSError(str(error)) from None

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        try:
            self._file.close()
            if kind is None:
                with self._part.open("rb+") as file:
                    os.fsync(file.fileno())
                os.replace(self._part, self._path)
        except soundfile.LibsndfileError as broken:
            raise OSError(str(broken)) from None
        finally:
            self._part.unlink(missing_ok=True)

    def write(self, codes: np.ndarray) -> None:
        """Write whole numbers of shape (channels, N)."""
        # Left-aligned in 32 bits the library takes them as they are: its floats would be scaled.
        aligned = np.ascontiguousarray(codes.T) << (32 - self._bits)
        try:
            self._file.write(aligned)
        except soundfile.LibsndfileError as error:
            raise OSError(str(error)) from None
