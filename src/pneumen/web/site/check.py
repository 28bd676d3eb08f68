"""A data folder held against itself: the database whole, every recording there and as it was, nothing left behind."""

import hashlib
import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from pneumen.web.site.backup import BLOCK_BYTES, is_recording, mark_as_known, recording_of
from pneumen.web.site.data_format import DATABASE
from pneumen.wording.language import _

PREFIX: Final = "pneumen-"
WHOSE: Final = (
    """SELECT song.name || ', ' || part.name || ', take ' || take.number FROM take_take AS take
    JOIN part_part AS part ON part.id = take.part_id JOIN song_song AS song ON song.id = part.song_id
    WHERE take.audio_id = ?""",
    """SELECT song.name || ', backing track' FROM part_backing AS backing
    JOIN song_song AS song ON song.id = backing.song_id WHERE backing.audio_id = ?""",
)
"""To whom a recording belongs."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """One thing that is not as it should be: what, and whether it was mended."""

    told: str
    mended: bool = False


def check_folder(folder: Path, *, mend: bool, put_orphans_away: bool = False) -> list[Found]:
    """Return what is wrong with a data folder.

    Args:
        mend: put in order what is safe: recordings that were put away and are needed come back, what a killed process
            left is removed. To be asked for only while holding the folder.
        put_orphans_away: also put away what belongs to no song. Under another database that would be all there is.
    """
    database = folder / DATABASE
    if not database.exists():
        return [
            Found(told=_("{database} is not there: ./pneumen restore brings a backup back").format(database=database))
        ]
    try:
        with closing(sqlite3.connect(f"{database.as_uri()}?mode=ro", uri=True, timeout=60)) as reading:
            found = list(_of_database(reading))
            if not found:
                found = [
                    *_of_recordings(reading, folder, mend),
                    *_of_orphans(reading, folder, mend and put_orphans_away),
                ]
    except sqlite3.DatabaseError as error:
        return [
            Found(
                told=_("{database} cannot be read ({error}): ./pneumen restore brings a backup back").format(
                    database=database, error=error
                )
            )
        ]
    found += _of_leftovers(folder, mend)
    if mend and all(one.mended for one in found):
        mark_as_known(folder)  # all is in order: folder and database belong together from here on
    return found


def _of_database(reading: sqlite3.Connection) -> Iterator[Found]:
    for (told,) in reading.execute("PRAGMA integrity_check").fetchall():
        if told != "ok":
            yield Found(told=_("the database is damaged: {told}").format(told=told))
    broken = {(table, parent) for table, _rest, parent, _rest in reading.execute("PRAGMA foreign_key_check").fetchall()}
    for table, parent in sorted(broken):
        yield Found(
            told=_("rows of {table} point to rows of {parent} that are not there").format(table=table, parent=parent)
        )


def _of_recordings(reading: sqlite3.Connection, folder: Path, mend: bool) -> Iterator[Found]:
    for pk, checksum, size in reading.execute("SELECT id, checksum, size_bytes FROM audio_audiofile").fetchall():
        stored = folder / "audio" / checksum[:2] / checksum
        whose = _whose(reading, pk)
        lies = recording_of(folder, checksum)
        if lies is None:
            yield Found(
                told=_("the recording of {whose} is not there ({checksum})").format(whose=whose, checksum=checksum)
            )
        elif _checksum_of(lies) != checksum or lies.stat().st_size != size:
            yield Found(
                told=_("the recording of {whose} is not as it was stored ({lies})").format(whose=whose, lies=lies)
            )
        elif lies != stored:
            if mend:
                stored.parent.mkdir(mode=0o700, exist_ok=True)
                os.replace(lies, stored)
            yield Found(told=_("the recording of {whose} had been put away").format(whose=whose), mended=mend)


def _whose(reading: sqlite3.Connection, pk: int) -> str:
    for asked in WHOSE:
        row = reading.execute(asked, (pk,)).fetchone()
        if row:
            return str(row[0])
    return _("a trial, or a copy to listen to")


def _of_orphans(reading: sqlite3.Connection, folder: Path, mend: bool) -> Iterator[Found]:
    known = {checksum for (checksum,) in reading.execute("SELECT checksum FROM audio_audiofile")}
    row = reading.execute("SELECT days FROM audio_ledger").fetchone()
    for path in sorted((folder / "audio").glob("*/*")):
        if is_recording(path.name) and path.parent.name == path.name[:2] and path.name not in known:
            if mend:
                os.replace(path, folder / "put-away" / f"{row[0] if row else 0}-{path.name}")
            told = (
                _("; it was put away")
                if mend
                else _(": --put-orphans-away puts it away, if this is the right database")
            )
            yield Found(told=_("{path} belongs to no song{told}").format(path=path, told=told), mended=mend)


def _of_leftovers(folder: Path, mend: bool) -> Iterator[Found]:
    for path in sorted((folder / "incoming").glob(f"{PREFIX}*")):
        if mend:
            path.unlink(missing_ok=True)
        yield Found(told=_("{path} was left by a process that was killed").format(path=path), mended=mend)


def _checksum_of(path: Path) -> str:
    digest = hashlib.sha256()
    with path.open("rb") as file:
        while block := file.read(BLOCK_BYTES):
            digest.update(block)
    return digest.hexdigest()
