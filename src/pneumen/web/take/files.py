"""Audio on disk: by checksum, whole or not at all."""

import hashlib
import os
import tempfile
import time
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

import numpy as np
import soundfile
from django.conf import settings
from django.db.models import Q

PLAYABLE = {
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
STALE_S = 6 * 3600


def path_of(checksum: str) -> Path:
    return settings.AUDIO / checksum[:2] / checksum


def store(chunks: Iterable[bytes]) -> str:
    """Write to a temporary file, sync it, and rename it to its checksum, which is returned."""
    digest = hashlib.sha256()
    with tempfile.NamedTemporaryFile(dir=settings.INCOMING, delete=False) as file:
        try:
            for chunk in chunks:
                digest.update(chunk)
                file.write(chunk)
            file.flush()
            os.fsync(file.fileno())
        except BaseException:
            Path(file.name).unlink(missing_ok=True)
            raise
    target = path_of(digest.hexdigest())
    target.parent.mkdir(mode=0o700, exist_ok=True)
    os.replace(file.name, target)
    return digest.hexdigest()


def store_file(path: Path) -> str:
    """Move a finished file of ours into the store."""
    with path.open("rb") as file:
        checksum = store(iter(lambda: file.read(1 << 20), b""))
    path.unlink()
    return checksum


def incoming(suffix: str) -> Path:
    """Return a fresh name for a file that is about to be written."""
    handle, name = tempfile.mkstemp(dir=settings.INCOMING, suffix=suffix)
    os.close(handle)
    return Path(name)


def make_preview(checksum: str) -> str:
    """Write a 16-bit copy that every browser plays, block by block; return its checksum."""
    copy = incoming(".wav")
    with soundfile.SoundFile(path_of(checksum)) as source:
        channels = min(source.channels, 2)
        with soundfile.SoundFile(copy, "w", source.samplerate, channels, "PCM_16", format="WAV") as target:
            with suppress(soundfile.LibsndfileError):  # a damaged file is heard as far as it goes
                for block in source.blocks(1 << 16, dtype="float32", always_2d=True):
                    target.write(np.clip(block[:, :channels], -1, 1))
    return store_file(copy)


def sweep_orphans() -> None:
    """Remove what a killed process left: temporary files, and audio that no row refers to."""
    for leftover in settings.INCOMING.iterdir():
        if time.time() - leftover.stat().st_mtime > STALE_S or leftover.suffix == ".wav":
            leftover.unlink(missing_ok=True)
    for audio in settings.AUDIO.glob("*/*"):
        if not _is_used(audio.name):
            audio.unlink(missing_ok=True)


def drop_unused(*checksums: str) -> None:
    """Remove files that no row refers to any more."""
    for checksum in filter(None, checksums):
        if not _is_used(checksum):
            path_of(checksum).unlink(missing_ok=True)


def _is_used(checksum: str) -> bool:
    from pneumen.web.song.models import Backing, Take, Trial, TrialSpot

    takes = Take.objects.filter(Q(checksum=checksum) | Q(preview_checksum=checksum))
    spots = TrialSpot.objects.filter(Q(checksum=checksum) | Q(raw_checksum=checksum))
    whole = any(model.objects.filter(checksum=checksum).exists() for model in (Backing, Trial))
    return takes.exists() or spots.exists() or whole
