"""Taking recordings in and letting them go: file and row together, or neither."""

from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from django.core.files.uploadedfile import TemporaryUploadedFile, UploadedFile
from django.db import transaction
from django.db.models import ProtectedError

from pneumen.core.errors import UnreadableFile
from pneumen.core.take import open_recording
from pneumen.web.audio import files
from pneumen.web.audio.models import AudioFile
from pneumen.web.audio.put_away import put_away

Owner = Any
Sent = UploadedFile | Iterable[bytes]
"""A recording as a form brings it, or in pieces."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Incoming:
    """A whole, synced file that is not in the store yet."""

    path: Path
    checksum: str


@contextmanager
def received(sent: Sent) -> Iterator[Incoming]:
    """Write what somebody sends beside the store; whatever no row points to in the end is removed."""
    if isinstance(sent, TemporaryUploadedFile):
        with written(partial(files.take_over, sent)) as incoming:
            yield incoming
        return
    path, checksum = files.receive(sent.chunks() if isinstance(sent, UploadedFile) else sent)
    with _offered(Incoming(path=path, checksum=checksum)) as incoming:
        yield incoming


@contextmanager
def written(write: Callable[[Path], None]) -> Iterator[Incoming]:
    """Have a file of ours written, and offer it likewise."""
    path = files.incoming(".wav")
    try:
        write(path)
        with _offered(Incoming(path=path, checksum=files.checksum_of(path))) as incoming:
            yield incoming
    finally:
        path.unlink(missing_ok=True)


@contextmanager
def _offered(incoming: Incoming) -> Iterator[Incoming]:
    try:
        yield incoming
    except BaseException:
        _if_unused(incoming.checksum, put_away)  # it was in the store already, but its row was taken back
        raise
    finally:
        incoming.path.unlink(missing_ok=True)


@transaction.atomic
def keep(owner: Owner, incoming: Incoming) -> AudioFile:
    """Move a recording into the store; to be called in the transaction that points to it.

    One transaction writes at a time, so nobody lets the same bytes go between the file and its row.

    Raises:
        UnreadableFile: where it is no recording that can be read; nothing is stored then.
    """
    with open_recording(incoming.path) as recording:
        container, encoding = recording.container, recording.encoding
    size_bytes = incoming.path.stat().st_size
    files.put(incoming.path, incoming.checksum)
    row, _ = AudioFile.objects.get_or_create(
        owner=owner,
        checksum=incoming.checksum,
        defaults={"container": container, "encoding": encoding, "size_bytes": size_bytes},
    )
    return row


def samples_of(audio: AudioFile) -> int:
    """Return how many samples a recording promises, of all its channels: how much work it is to measure.

    One that cannot be read is none: that is soon told.
    """
    try:
        with open_recording(audio.path) as recording:
            return recording.frames * recording.channels
    except UnreadableFile:
        return 0


def release(*rows: AudioFile | None, for_good: bool = False) -> None:
    """Let recordings go that nothing points to any more; once that is stored, their files are put away or removed."""
    let_go = partial(Path.unlink, missing_ok=True) if for_good else put_away
    for row in {row.pk: row for row in rows if row is not None}.values():
        try:
            with transaction.atomic():
                AudioFile.objects.filter(pk=row.pk).delete()
        except ProtectedError:  # something else still points to it
            continue
        transaction.on_commit(partial(_if_unused, row.checksum, let_go))


@transaction.atomic
def _if_unused(checksum: str, let_go: Callable[[Path], None]) -> None:
    if not AudioFile.objects.filter(checksum=checksum).exists():
        let_go(files.path_of(checksum))


def release_unused(owner: Owner) -> None:
    """Let go of every recording of a person's that nothing points to any more."""
    release(*AudioFile.objects.mine(owner))
