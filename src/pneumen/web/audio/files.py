"""Audio on disk: by checksum, whole or not at all."""

import hashlib
import os
import tempfile
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Final

import numpy as np
import soundfile
from django.conf import settings
from django.core.files.uploadedfile import TemporaryUploadedFile

from pneumen.core.take import open_recording
from pneumen.web.site.backup import is_recording

PLAYABLE: Final = {
    ("WAV", "PCM_U8"): "audio/wav",
    ("WAV", "PCM_16"): "audio/wav",
    ("WAV", "PCM_24"): "audio/wav",
    ("WAV", "FLOAT"): "audio/wav",
    ("FLAC", "PCM_16"): "audio/flac",
    ("FLAC", "PCM_24"): "audio/flac",
    ("OGG", "VORBIS"): "audio/ogg",
    ("OGG", "OPUS"): "audio/ogg",
    ("MP3", "MPEG_LAYER_III"): "audio/mpeg",
}
"""What browsers play as it is, and under which name; of the rest a WAV copy is made to listen to."""
PREFIX: Final = "pneumen-"
"""Of our temporary files."""
BLOCK_BYTES: Final = 1 << 20


def path_of(checksum: str) -> Path:
    return settings.AUDIO / checksum[:2] / checksum


def stored() -> Iterator[Path]:
    """Yield every recording in the store; files of other programs are none."""
    for path in settings.AUDIO.glob("*/*"):
        if is_recording(path.name) and path.parent.name == path.name[:2] and path.is_file():
            yield path


def receive(chunks: Iterable[bytes]) -> tuple[Path, str]:
    """Write to a temporary file and sync it; return where it lies and its checksum."""
    digest = hashlib.sha256()
    with tempfile.NamedTemporaryFile(dir=settings.INCOMING, prefix=PREFIX, delete=False) as file:
        try:
            for chunk in chunks:
                digest.update(chunk)
                file.write(chunk)
            file.flush()
            os.fsync(file.fileno())
        except BaseException:
            Path(file.name).unlink(missing_ok=True)
            raise
    return Path(file.name), digest.hexdigest()


def take_over(upload: TemporaryUploadedFile, path: Path) -> None:
    """Make the file an upload was written to ours, without another copy."""
    os.replace(upload.temporary_file_path(), path)


def checksum_of(path: Path) -> str:
    """Return the checksum of a file of ours, synced to the disk."""
    digest = hashlib.sha256()
    with path.open("rb+") as file:
        while block := file.read(BLOCK_BYTES):
            digest.update(block)
        os.fsync(file.fileno())
    return digest.hexdigest()


def put(path: Path, checksum: str) -> None:
    """Rename a whole and synced file to its checksum."""
    target = path_of(checksum)
    target.parent.mkdir(mode=0o700, exist_ok=True)
    os.replace(path, target)


def incoming(suffix: str) -> Path:
    """Return a fresh name for a file that is about to be written."""
    handle, name = tempfile.mkstemp(dir=settings.INCOMING, prefix=PREFIX, suffix=suffix)
    os.close(handle)
    return Path(name)


def write_preview(path: Path, copy: Path) -> None:
    """Write a 16-bit copy that every browser plays, block by block."""
    with open_recording(path) as source:
        channels = min(source.channels, 2)
        with soundfile.SoundFile(copy, "w", source.sample_rate_hz, channels, "PCM_16", format="WAV") as target:
            for block in source.blocks(_edges(source.frames)):  # a damaged file is heard as far as it goes
                target.write(np.clip(block[:channels].T, -1, 1))


def _edges(frames: int) -> Iterator[int]:
    yield from range(1 << 16, frames, 1 << 16)
    yield frames


def sweep_incoming() -> None:
    """Remove the temporary files that a killed process left; to be called where no other one runs."""
    for leftover in (*settings.INCOMING.glob(f"{PREFIX}*"), *settings.INCOMING.glob("*.upload*")):
        leftover.unlink(missing_ok=True)
