"""Which layout a data folder's database has, so that one this Pneumen cannot read is left as it is."""

import sqlite3
from pathlib import Path
from typing import Final

from pneumen.wording.language import _

DATABASE: Final = "pneumen.sqlite3"
FORMAT: Final = 3
"""Kept in the database's user_version. 3: every step has models of its own, lists are rows; before, 2 and 0."""


def unreadable(folder: Path) -> str:
    """Return why the database of a folder cannot be used, or nothing; it is only looked at."""
    path = folder / DATABASE
    try:
        if not path.exists():
            return ""
        version, tables, is_ours = _look_at(path)
    except OSError:
        return ""  # whether it can be written is asked next, and told in its own words
    except sqlite3.DatabaseError:
        return _("{path} is no database of Pneumen").format(path=path)
    if not tables or version == FORMAT:
        return ""
    if not is_ours:
        return _("{path} is the database of another program").format(path=path)
    age = _("an older") if version < FORMAT else _("a newer")
    return _("{folder} holds songs of {age} Pneumen, which this one cannot read; they were left as they are").format(
        folder=folder, age=age
    )


def mark(folder: Path) -> None:
    """Mark a new database before its tables are made, so that a start cut short does not leave one of no age."""
    database = sqlite3.connect(folder / DATABASE)
    try:
        if not _look_at(folder / DATABASE)[1]:
            database.execute(f"PRAGMA user_version = {FORMAT}")
            database.commit()
    finally:
        database.close()


def _look_at(path: Path) -> tuple[int, int, bool]:
    """Return a database's user_version, its number of tables, and whether they are of a Pneumen of whatever age."""
    database = sqlite3.connect(f"{path.as_uri()}?mode=ro", uri=True)
    try:
        (version,) = database.execute("PRAGMA user_version").fetchone()
        names = [name for (name,) in database.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
    finally:
        database.close()
    return version, len(names), bool({"django_migrations", "song_song"} & set(names))
