"""A data folder in one file and back: whole and checked, or not at all.

A backup is a ZIP: the database as SQLite's own online backup gives it, every recording it knows under its checksum, and
a manifest with the layout and the checksum of every file. The secret key is not in it.
"""

import hashlib
import json
import os
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

from pneumen.core.errors import PneumenError
from pneumen.web.site.data_format import DATABASE, FORMAT
from pneumen.wording.language import _

MANIFEST: Final = "manifest.json"
BACKUP_FORMAT: Final = 1
MOST_MANIFEST_BYTES: Final = 64 << 20
BLOCK_BYTES: Final = 1 << 20
CHECKSUM_LETTERS: Final = 64


class NoBackup(PneumenError):
    """A file that is no backup that can be restored; says why."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Made:
    """What a backup holds; missing are recordings the database knows and the folder has not."""

    recordings: int
    size_bytes: int
    missing: tuple[str, ...]


def nothing(_rest: str) -> None:
    """Tell nobody how far it is."""


def make_backup(folder: Path, target: Path, tell: Callable[[str], None] = nothing) -> Made:
    """Write a backup of a data folder, which may be in use; the target is there whole or not at all.

    Raises:
        NoBackup: where there is nothing to back up.
        OSError: where the target cannot be written.
    """
    if not (folder / DATABASE).exists():
        raise NoBackup(_("{folder} holds no database of Pneumen").format(folder=folder))
    handle, name = tempfile.mkstemp(dir=target.parent, prefix=f".{target.name}-")
    os.close(handle)
    fresh = Path(name)
    try:
        with tempfile.TemporaryDirectory(dir=target.parent, prefix=".pneumen-backup-") as beside:
            database = Path(beside) / DATABASE
            tell(_("copying the database"))
            _copy_database(folder / DATABASE, database)
            made = _write(folder, database, fresh, tell)
        tell(_("reading it back"))
        checked(fresh)
        os.replace(fresh, target)
    except BaseException:
        fresh.unlink(missing_ok=True)
        raise
    return made


def _copy_database(source: Path, target: Path) -> None:
    """Copy a database while others write to it, by SQLite's online backup."""
    with closing(sqlite3.connect(f"{source.as_uri()}?mode=ro", uri=True, timeout=60)) as live:
        with closing(sqlite3.connect(target)) as copy:
            live.backup(copy)
            copy.execute("PRAGMA journal_mode=DELETE")
            (told,) = copy.execute("PRAGMA integrity_check").fetchone()
    if told != "ok":
        raise NoBackup(_("{source} is damaged ({told}): ./pneumen check tells more").format(source=source, told=told))


def _write(folder: Path, database: Path, fresh: Path, tell: Callable[[str], None]) -> Made:
    known, missing, files = checksums_in(database), [], {}
    with zipfile.ZipFile(fresh, "w", zipfile.ZIP_STORED, allowZip64=True) as archive:
        files[DATABASE] = _add(archive, database, DATABASE)
        for number, checksum in enumerate(known, 1):
            tell(_("recording {number} of {known}").format(number=number, known=len(known)))
            recording = recording_of(folder, checksum)
            if recording is None:
                missing.append(checksum)
                continue
            name = f"audio/{checksum[:2]}/{checksum}"
            files[name] = _add(archive, recording, name)
        manifest = {"pneumen_backup": BACKUP_FORMAT, "layout": FORMAT, "files": files, "missing": missing}
        archive.writestr(MANIFEST, json.dumps(manifest, indent=1))
    with fresh.open("rb+") as file:
        os.fsync(file.fileno())
    return Made(recordings=len(files) - 1, size_bytes=fresh.stat().st_size, missing=tuple(missing))


def _add(archive: zipfile.ZipFile, source: Path, name: str) -> dict[str, Any]:
    digest, size = hashlib.sha256(), 0
    with source.open("rb") as file, archive.open(name, "w", force_zip64=True) as inside:
        while block := file.read(BLOCK_BYTES):
            digest.update(block)
            size += len(block)
            inside.write(block)
    return {"sha256": digest.hexdigest(), "bytes": size}


def checksums_in(database: Path) -> list[str]:
    """Return the recordings a database knows, each once."""
    with closing(sqlite3.connect(f"{database.as_uri()}?mode=ro", uri=True)) as reading:
        try:
            rows = reading.execute("SELECT DISTINCT checksum FROM audio_audiofile ORDER BY checksum").fetchall()
        except sqlite3.OperationalError:
            raise NoBackup(_("{database} holds no songs of Pneumen").format(database=database)) from None
    return [checksum for (checksum,) in rows]


def recording_of(folder: Path, checksum: str) -> Path | None:
    """Return where a recording lies: in the store, or among what was put away."""
    stored = folder / "audio" / checksum[:2] / checksum
    if stored.is_file():
        return stored
    return next((folder / "put-away").glob(f"*-{checksum}"), None)


def checked(path: Path) -> dict[str, dict[str, Any]]:
    """Return the files of a backup after reading all of it.

    Raises:
        NoBackup: where it is none, is damaged, or holds what no backup of ours does.
    """
    try:
        with zipfile.ZipFile(path) as archive:
            files = _manifest_of(archive)
            for name, told in files.items():
                if _digest(archive, name, told["bytes"]) != told["sha256"]:
                    raise NoBackup(_("{path} is damaged: {name} is not what was written").format(path=path, name=name))
    except (zipfile.BadZipFile, KeyError, EOFError, ValueError, RecursionError) as error:
        raise NoBackup(
            _("{path} is no backup of Pneumen, or cut short ({error})").format(path=path, error=error)
        ) from None
    return files


def _manifest_of(archive: zipfile.ZipFile) -> dict[str, dict[str, Any]]:
    if archive.getinfo(MANIFEST).file_size > MOST_MANIFEST_BYTES:
        raise NoBackup(_("the manifest of this backup is too large to be one"))
    manifest = json.loads(archive.read(MANIFEST))
    if manifest["pneumen_backup"] != BACKUP_FORMAT or manifest["layout"] != FORMAT:
        raise NoBackup(_("this backup was made by another Pneumen, whose layout this one cannot read"))
    files = manifest["files"]
    strange = [name for name in files if not _is_ours(name)]
    if DATABASE not in files or strange:
        raise NoBackup(_("this backup holds {strange}").format(strange=strange[0] if strange else _("no database")))
    if sorted([*files, MANIFEST]) != sorted(archive.namelist()):
        raise NoBackup(_("this backup holds other files than its manifest tells"))
    return files


def _is_ours(name: str) -> bool:
    checksum = name.rpartition("/")[2]
    return name == DATABASE or (is_recording(checksum) and name == f"audio/{checksum[:2]}/{checksum}")


def is_recording(name: str) -> bool:
    """Tell whether a file is named as Pneumen names recordings, by their checksum."""
    return len(name) == CHECKSUM_LETTERS and set(name) <= set("0123456789abcdef")


def _digest(archive: zipfile.ZipFile, name: str, most: int) -> str:
    digest = hashlib.sha256()
    for block in _blocks(archive, name, most):
        digest.update(block)
    return digest.hexdigest()


def _blocks(archive: zipfile.ZipFile, name: str, most: int) -> Iterator[bytes]:
    """Yield a file block by block, never more than its manifest tells."""
    left = most
    with archive.open(name) as inside:
        while block := inside.read(min(BLOCK_BYTES, left + 1)):
            left -= len(block)
            if left < 0:
                raise NoBackup(_("{name} is larger than its manifest tells").format(name=name))
            yield block


def restore_backup(path: Path, folder: Path, tell: Callable[[str], None] = nothing) -> Path | None:
    """Put a backup in a data folder's place; what was there is kept beside it, and returned.

    To be called by the one program that holds the folder.

    Raises:
        NoBackup: where the file is not sound; nothing is changed then.
        OSError: where there is no space, or the folder cannot be written; likewise.
    """
    tell(_("reading the backup"))
    files = checked(path)
    needed, free = sum(told["bytes"] for told in files.values()), shutil.disk_usage(folder.parent).free
    if needed > free:
        raise NoBackup(
            _("{needed:.0f} MB are needed beside {folder}, {free:.0f} MB are free").format(
                needed=needed / 1e6, folder=folder, free=free / 1e6
            )
        )
    fresh = Path(tempfile.mkdtemp(dir=folder.parent, prefix=f".{folder.name}-restoring-"))
    try:
        with zipfile.ZipFile(path) as archive:
            for number, name in enumerate(files, 1):
                tell(_("file {number} of {files}").format(number=number, files=len(files)))
                _extract(archive, name, files[name]["bytes"], fresh / name)
        _require_sound(fresh / DATABASE)
        for place in ("audio", "incoming", "put-away"):
            (fresh / place).mkdir(mode=0o700, exist_ok=True)
        mark_as_known(fresh)
        return _swap(fresh, folder)
    except BaseException:
        shutil.rmtree(fresh, ignore_errors=True)
        raise


def _extract(archive: zipfile.ZipFile, name: str, most: int, target: Path) -> None:
    target.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    with target.open("wb") as file:
        for block in _blocks(archive, name, most):
            file.write(block)
        file.flush()
        os.fsync(file.fileno())


def _require_sound(database: Path) -> None:
    try:
        with closing(sqlite3.connect(database)) as reading:
            (told,) = reading.execute("PRAGMA integrity_check").fetchone()
            (layout,) = reading.execute("PRAGMA user_version").fetchone()
    except sqlite3.DatabaseError as error:
        raise NoBackup(_("the database in this backup cannot be read ({error})").format(error=error)) from None
    if told != "ok" or layout != FORMAT:
        raise NoBackup(
            _("the database in this backup is not sound ({told}, layout {layout})").format(told=told, layout=layout)
        )


def mark_as_known(folder: Path) -> None:
    """Have the folder know this very database, so that the next start trusts it."""
    with closing(sqlite3.connect(folder / DATABASE)) as reading:
        row = reading.execute("SELECT identity, starts FROM audio_ledger").fetchone()
    if row:
        identity = row[0]
        text = f"{identity[:8]}-{identity[8:12]}-{identity[12:16]}-{identity[16:20]}-{identity[20:]}"
        (folder / "starts.txt").write_text(f"{text} {row[1]}\n", encoding="utf-8")


def _swap(fresh: Path, folder: Path) -> Path | None:
    """Put a finished folder in another's place by two renames; the second one failing, the first is taken back."""
    fresh.chmod(0o700)
    if not folder.exists():
        os.replace(fresh, folder)
        return None
    number = 1
    while (before := folder.with_name(f"{folder.name}-before-restore-{number}")).exists():
        number += 1
    os.replace(folder, before)
    try:
        os.replace(fresh, folder)
    except BaseException:
        os.replace(before, folder)
        raise
    return before
