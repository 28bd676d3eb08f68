"""The chunks a WAV or AIFF file is made of.

Reference: IBM and Microsoft, Multimedia Programming Interface and Data Specifications 1.0 (1991), RIFF; from memory.
"""

import struct
from collections.abc import Iterator
from typing import BinaryIO, Final, NamedTuple

MOST_CHUNKS: Final = 200
"""A file of more chunks before its sound is no recording."""
LITTLE, BIG = "<", ">"


class Chunk(NamedTuple):
    """A chunk's name, where its content begins, and how many bytes it is said to have."""

    name: bytes
    start: int
    length: int


def chunks_of(file: BinaryIO, order: str = LITTLE) -> Iterator[Chunk]:
    """Yield the chunks of a file one after the other, as far as it goes; the file may be moved about meanwhile.

    Args:
        order: of the bytes in a length, BIG in AIFF files.
    """
    at = 12
    for _ in range(MOST_CHUNKS):
        file.seek(at)
        head = file.read(8)
        if len(head) < 8:
            return
        chunk = Chunk(head[:4], at + 8, struct.unpack(order + "I", head[4:])[0])
        yield chunk
        at = chunk.start + chunk.length + chunk.length % 2


def is_wave(head: bytes) -> bool:
    """Tell whether a file that begins so is a WAV file; its large kinds (RF64) are not meant."""
    return head[:4] == b"RIFF" and head[8:12] == b"WAVE"
