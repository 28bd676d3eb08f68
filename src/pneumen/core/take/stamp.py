"""When and where in the song a file was recorded, as broadcast wave files tell it.

Reference: EBU Tech 3285, the broadcast audio extension chunk ("bext") of a WAV file.
"""

import struct
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import BinaryIO, Final

from pneumen.core.take.riff import chunks_of

CHUNK: Final = b"bext"
DATE_AT, TIME_AT, REFERENCE_AT = 320, 330, 338
"""Where the date, the time and the samples since midnight (or since the song's start) stand in the chunk."""
LEAST_BYTES: Final = 346
SEPARATORS: Final = str.maketrans("_. /:", "-----")


@dataclass(frozen=True, slots=True, kw_only=True)
class Stamp:
    """begun_at has no time zone: it is the recorder's own clock. reference_samples count from where that clock's
    timeline begins: midnight, or the song's start."""

    begun_at: datetime | None
    reference_samples: int


def stamp_of(path: Path) -> Stamp | None:
    """Return what a file tells of when it was recorded; None where it tells nothing.

    Damaged or missing chunks are no error: most files have none.
    """
    with path.open("rb") as file:
        chunk = _chunk(file)
    if chunk is None or len(chunk) < LEAST_BYTES:
        return None
    low, high = struct.unpack_from("<II", chunk, REFERENCE_AT)
    begun_at = _moment(chunk[DATE_AT : DATE_AT + 10], chunk[TIME_AT : TIME_AT + 8])
    return Stamp(begun_at=begun_at, reference_samples=low + (high << 32))


def _chunk(file: BinaryIO) -> bytes | None:
    head = file.read(12)
    if head[:4] not in (b"RIFF", b"RF64") or head[8:12] != b"WAVE":
        return None
    for chunk in chunks_of(file):
        if chunk.name == CHUNK:
            return file.read(min(chunk.length, LEAST_BYTES))
        if chunk.name == b"data" and chunk.length == 0xFFFFFFFF:
            return None
    return None


def _moment(date: bytes, time: bytes) -> datetime | None:
    """Read "yyyy-mm-dd" and "hh:mm:ss"; the standard lets recorders choose what stands between the figures."""
    try:
        text = f"{date.decode('ascii').translate(SEPARATORS)} {time.decode('ascii').translate(SEPARATORS)}"
        return datetime.strptime(text, "%Y-%m-%d %H-%M-%S")
    except (ValueError, UnicodeDecodeError):
        return None
