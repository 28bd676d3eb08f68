"""What was read or worked out last: a drag asks for the same rows many times a second while nothing is stored, and a
person goes to and fro between pages.

SQLite tells each connection whether another one has stored something since it last looked (`data_version`), and how
many rows it has changed itself. While both stand still, what was read is what would be read again, and the same follows
from it. Connections live as long as their thread, and so does what they keep.
"""

import pickle
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Final, TypeVar, cast

from django.db import connection

MOST_KEPT: Final = 24
"""How many each thread keeps; a part with its song and room is about 10 kB."""

MOST_WORKED_OUT: Final = 32
"""So many screens and what is around them each thread keeps beside them; a screen is some 100 kB."""

Rows = TypeVar("Rows")
Answer = TypeVar("Answer")
_Version = tuple[object, int, int]


class _Kept(threading.local):
    """What one thread has read, as bytes, so that whoever asks gets rows of their own to try things out on."""

    def __init__(self) -> None:
        self.version: _Version | None = None
        self.rows: OrderedDict[Hashable, bytes] = OrderedDict()
        self.answers: OrderedDict[Hashable, object] = OrderedDict()

    def look(self) -> None:
        """Forget everything where something was stored since; asked before anything is read, so that what is stored
        meanwhile makes the next one read anew."""
        now = version()
        if self.version != now:
            self.version = now
            self.rows.clear()
            self.answers.clear()


_kept = _Kept()


def as_read(key: Hashable, load: Callable[[], Rows]) -> Rows:
    """Return what `load` reads from the database alone, or what it read last where nothing was stored since.

    Inside a transaction it is always loaded: what is written there may yet be taken back.
    """
    if may_be_taken_back():
        return load()
    _kept.look()
    if key in _kept.rows:
        _kept.rows.move_to_end(key)
        return cast(Rows, pickle.loads(_kept.rows[key]))
    rows = load()
    _kept.rows[key] = pickle.dumps(rows, pickle.HIGHEST_PROTOCOL)
    while len(_kept.rows) > MOST_KEPT:
        _kept.rows.popitem(last=False)
    return rows


def as_worked_out(key: Hashable, work: Callable[[], Answer]) -> Answer:
    """Return what `work` makes of rows that `as_read` gave this request, or what it made of the very same ones last.

    It does not look again: what was stored since those rows were read is for the next request, which reads anew.

    Args:
        key: names whatever else it depends on, as the reader's habits.
    """
    if may_be_taken_back():
        return work()
    if key in _kept.answers:
        _kept.answers.move_to_end(key)
        return cast(Answer, _kept.answers[key])
    answer = _kept.answers[key] = work()
    while len(_kept.answers) > MOST_WORKED_OUT:
        _kept.answers.popitem(last=False)
    return answer


def may_be_taken_back() -> bool:
    """Return whether what is read now may hold what is written in an open transaction."""
    return connection.in_atomic_block


def version() -> _Version:
    """Return what changes with every change of the database, seen from this thread's connection."""
    with connection.cursor() as cursor:
        (stored_elsewhere,) = cursor.execute("PRAGMA data_version").fetchone()
    own = connection.connection  # kept itself, not its id: one that is opened anew counts from the start
    return own, stored_elsewhere, own.total_changes
