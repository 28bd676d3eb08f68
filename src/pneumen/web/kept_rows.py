"""Rows as they were read last: a drag asks for the same ones many times a second while nothing is stored.

SQLite tells each connection whether another one has stored something since it last looked (`data_version`), and how
many rows it has changed itself. While both stand still, what was read is what would be read again. Connections live
as long as their thread, and so does what they keep.
"""

import pickle
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Final, TypeVar, cast

from django.db import connection

MOST_KEPT: Final = 16
"""How many each thread keeps; a part with its song and room is about 10 kB."""

Rows = TypeVar("Rows")
_Version = tuple[object, int, int]


class _Kept(threading.local):
    """What one thread has read, as bytes, so that whoever asks gets rows of their own to try things out on."""

    def __init__(self) -> None:
        self.version: _Version | None = None
        self.rows: OrderedDict[Hashable, bytes] = OrderedDict()


_kept = _Kept()


def as_read(key: Hashable, load: Callable[[], Rows]) -> Rows:
    """Return what `load` reads from the database alone, or what it read last where nothing was stored since.

    Inside a transaction it is always loaded: what is written there may yet be taken back.
    """
    if connection.in_atomic_block:
        return load()
    version = _version()  # asked before it is read, so that what is stored meanwhile makes the next one read anew
    if _kept.version != version:
        _kept.version = version
        _kept.rows.clear()
    if key in _kept.rows:
        _kept.rows.move_to_end(key)
        return cast(Rows, pickle.loads(_kept.rows[key]))
    rows = load()
    _kept.rows[key] = pickle.dumps(rows, pickle.HIGHEST_PROTOCOL)
    while len(_kept.rows) > MOST_KEPT:
        _kept.rows.popitem(last=False)
    return rows


def _version() -> _Version:
    """Return what changes with every change of the database, seen from this thread's connection."""
    with connection.cursor() as cursor:
        (stored_elsewhere,) = cursor.execute("PRAGMA data_version").fetchone()
    own = connection.connection  # kept itself, not its id: one that is opened anew counts from the start
    return own, stored_elsewhere, own.total_changes
