"""The watched folder: each file that a recording program finishes there becomes a take. The folder is only read."""

import logging
import os
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from django.conf import settings
from django.db import close_old_connections, transaction

from pneumen.core.errors import Contradiction, PneumenError
from pneumen.core.take import open_recording
from pneumen.web.audio.services import received
from pneumen.web.part.models import Part
from pneumen.web.take.many import is_recording_by_name, part_for
from pneumen.web.take.models import Take, WatchedFolder
from pneumen.web.take.services import take_in
from pneumen.wording.language import _

LOOK_S: Final = 1.0
"""So often a folder is looked at, while one is watched at all."""
STILL_LOOKS: Final = 2
"""A file is finished that is the same so many looks on end, and whole by its own header."""
GIVEN_UP_S: Final = 30.0
"""One that never closes its header is taken in as it is after so long without a change."""
MOST_FILES: Final = 20_000
CHUNK: Final = 1 << 20
log = logging.getLogger("pneumen.watch")


@transaction.atomic
def watch_folder(part: Part, path: str) -> WatchedFolder:
    """Have a folder watched for a part; what lies there already is left alone.

    Raises:
        Contradiction: naming what is wrong with the folder.
    """
    folder = Path(path.strip()).expanduser()
    if not path.strip() or not folder.is_absolute():
        raise Contradiction("folder", _("must be a whole path, as /home/me/recordings"))
    if not folder.is_dir():
        raise Contradiction("folder", _("{folder} is not there, or is no folder").format(folder=folder))
    if not os.access(folder, os.R_OK | os.X_OK):
        raise Contradiction("folder", _("{folder} cannot be read: allow it, or choose another").format(folder=folder))
    own = Path(settings.AUDIO).resolve().parent
    if folder.resolve() == own or own in folder.resolve().parents:
        raise Contradiction(
            "folder", _("is where Pneumen keeps its own data: choose the one your program records into")
        )
    WatchedFolder.objects.filter(part=part).delete()
    row = WatchedFolder.objects.create(owner=part.owner, part=part, path=str(folder))
    transaction.on_commit(look_now)
    return row


def unwatch(part: Part) -> None:
    WatchedFolder.objects.filter(part=part).delete()


@dataclass(slots=True)
class _Seen:
    """A file as it was seen last: since when (monotonic seconds) it is the same, for how many looks."""

    size: int
    changed_ns: int
    since_s: float
    looks: int = 1
    done: bool = False


class Watch:
    """What is remembered of one folder between two looks at it."""

    def __init__(self) -> None:
        self._seen: dict[str, _Seen] = {}

    def look(self, row: WatchedFolder) -> list[Take]:
        """Return the takes of all files that were finished since the last look.

        Raises:
            OSError: where the folder cannot be read.
        """
        found = []
        for path, told in _files(row):
            if self._is_finished(path, told):
                take = _taken_in(row.part, path)
                self._seen[path.name].done = True
                found += [take] if take else []
        return found

    def _is_finished(self, path: Path, told: os.stat_result) -> bool:
        seen = self._seen.get(path.name)
        if seen is None or (seen.size, seen.changed_ns) != (told.st_size, told.st_mtime_ns):
            self._seen[path.name] = _Seen(told.st_size, told.st_mtime_ns, time.monotonic())
            return False
        seen.looks += 1
        if seen.done or seen.looks < STILL_LOOKS or not told.st_size:
            return False
        return _is_whole(path) or time.monotonic() - seen.since_s > GIVEN_UP_S


def _files(row: WatchedFolder) -> Iterator[tuple[Path, os.stat_result]]:
    """Yield the recordings that were written since the folder is watched; links lead elsewhere and are left alone."""
    since_s = row.since.timestamp()
    with os.scandir(row.path) as entries:
        for _rest, entry in zip(range(MOST_FILES), entries, strict=False):
            if not is_recording_by_name(entry.name) or not entry.is_file(follow_symlinks=False):
                continue
            told = entry.stat(follow_symlinks=False)
            if told.st_mtime > since_s:
                yield Path(entry.path), told


def _is_whole(path: Path) -> bool:
    try:
        with open_recording(path) as recording:
            return not recording.truncated
    except PneumenError:  # its header is not written yet
        return False


def _taken_in(part: Part, path: Path) -> Take | None:
    """Take a file in as it is; None where it is there already, changed meanwhile, or is no recording."""
    before = path.stat()
    parts = list(Part.objects.whole().filter(song=part.song_id))
    belongs_to, section = part_for(path.name, part, parts)
    try:
        with received(_chunks(path)) as incoming:
            after = path.stat()
            if (before.st_size, before.st_mtime_ns) != (after.st_size, after.st_mtime_ns):
                return None
            with transaction.atomic():
                if Take.everything.filter(part=belongs_to, audio__checksum=incoming.checksum).exists():
                    return None
                return take_in(belongs_to, path.name, incoming, section)
    except PneumenError as error:
        log.warning("%s was not taken in: %s", path.name, error)
        return None


def _chunks(path: Path) -> Iterator[bytes]:
    with path.open("rb") as file:
        while chunk := file.read(CHUNK):
            yield chunk


_bell = threading.Event()


def look_now() -> None:
    """Have the watcher look at once; it sleeps for good while nothing is watched."""
    _bell.set()


class Watcher:
    """Looks at the watched folders from a thread beside the server."""

    def __init__(self) -> None:
        self._watches: dict[int, Watch] = {}
        self._stopping = False

    def start(self) -> None:
        threading.Thread(target=self._run, daemon=True, name="watcher").start()

    def stop(self) -> None:
        self._stopping = True
        _bell.set()

    def _run(self) -> None:
        while not self._stopping:
            _bell.clear()
            try:
                watched = self.look()
            except Exception:  # whatever goes wrong with one look must not end the watching
                log.exception(_("a watched folder could not be looked at"))
                watched = True
            close_old_connections()
            _bell.wait(LOOK_S if watched else None)

    def look(self) -> bool:
        """Look at every watched folder once; False where none is."""
        rows = list(WatchedFolder.objects.filter(part__put_away_day=None).select_related("part"))
        self._watches = {row.pk: self._watches.get(row.pk, Watch()) for row in rows}
        for row in rows:
            problem = ""
            try:
                self._watches[row.pk].look(row)
            except OSError as error:
                problem = f"{row.path}: {(error.strerror or 'cannot be read').lower()}"
            if problem != row.problem:
                WatchedFolder.objects.filter(pk=row.pk).update(problem=problem[:400])
        return bool(rows)


def told_of(part: Part) -> WatchedFolder | None:
    """Return the folder that is watched for a part."""
    return WatchedFolder.objects.filter(part=part).first()
