"""One program on a data folder: whoever comes second is told who holds it."""

import os
from pathlib import Path
from typing import Final

from filelock import FileLock, Timeout

from pneumen.wording.language import _

LOCK: Final = "in-use.lock"
HOLDER: Final = "in-use.txt"


class InUse(Exception):
    """Another program has this data folder open; says who."""


def hold(folder: Path, who: str) -> FileLock:
    """Take the folder for this process, until it ends or lets go; the system lets go where it is killed.

    Args:
        who: what is written for those who come second.

    Raises:
        InUse: with what the holder wrote.
    """
    lock = FileLock(folder / LOCK, timeout=0, mode=0o600)
    try:
        lock.acquire()
    except Timeout:
        raise InUse(_holder(folder)) from None
    (folder / HOLDER).write_text(_("process {getpid}, {who}\n").format(getpid=os.getpid(), who=who), encoding="utf-8")
    return lock


def _holder(folder: Path) -> str:
    try:
        return (folder / HOLDER).read_text(encoding="utf-8", errors="replace").strip()[:200] or _("another program")
    except OSError:
        return _("another program")
