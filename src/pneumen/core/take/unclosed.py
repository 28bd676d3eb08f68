"""A WAV that was never closed: where a battery died, the header tells of no samples, and the sound is there."""

import io
import struct
from pathlib import Path
from typing import Final

from pneumen.core.take.riff import chunks_of, is_wave

OTHER_CHUNKS: Final = (b"LIST", b"id3 ", b"ID3 ", b"JUNK", b"bext", b"cue ", b"smpl", b"fact", b"PEAK", b"iXML")
"""What may follow the samples of a closed file: then it really holds none."""
LARGEST: Final = 2**32 - 1


class _Mended(io.RawIOBase):
    """A file with a few bytes of its head written over, only for who reads it through this."""

    def __init__(self, path: Path, over: dict[int, bytes]) -> None:
        super().__init__()
        self._file, self._over = path.open("rb"), over

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        return self._file.seek(offset, whence)

    def tell(self) -> int:
        return self._file.tell()

    def readinto(self, buffer: memoryview) -> int:  # type: ignore[override]
        begin = self._file.tell()
        count = self._file.readinto(buffer)
        for at, bytes_over in self._over.items():
            for number, byte in enumerate(bytes_over):
                if 0 <= at + number - begin < count:
                    buffer[at + number - begin] = byte
        return count

    def close(self) -> None:
        self._file.close()
        super().close()


def unclosed_wav(path: Path, size: int) -> io.BufferedReader | None:
    """Return a WAV that was never closed as it would be, closed; None where it is none.

    Args:
        size: of the file, in bytes.
    """
    with path.open("rb") as file:
        if not is_wave(file.read(12)):
            return None
        data = next((chunk for chunk in chunks_of(file) if chunk.name == b"data"), None)
        if data is None:
            return None
        left = size - data.start
        if data.length or left <= 0 or file.read(4) in OTHER_CHUNKS:
            return None
    over = {4: size - 8, data.start - 4: left}
    return io.BufferedReader(_Mended(path, {at: struct.pack("<I", min(many, LARGEST)) for at, many in over.items()}))
