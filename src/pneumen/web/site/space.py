"""Room on the disk: whether an error means that there is none, and a reserve that deleting can fall back on."""

import errno
import logging
import os
import shutil
from collections.abc import Callable
from pathlib import Path
from typing import Final, TypeVar

from django.conf import settings
from django.db import DatabaseError
from soundfile import SoundFileError

Result = TypeVar("Result")
RESERVE: Final = "reserve"
"""In the data folder: a file that holds nothing, so that its room is there when nothing else is."""
RESERVE_BYTES: Final = 8_000_000
LEFT_AT_START_BYTES: Final = 2 * RESERVE_BYTES
BLOCK: Final = bytes(1 << 16)
HARDLY_ANY_BYTES: Final = 200_000
"""With less than this free neither the database nor a recording can grow, whatever words their errors have."""
SHORT_BYTES: Final = 300_000_000
"""A take of half an hour, with the copy that arrives before it is stored."""


def free_bytes() -> int:
    """Return how much can still be written where the data is."""
    return shutil.disk_usage(settings.DATA).free


def is_full(error: BaseException | None) -> bool:
    """Return whether an error was raised because the disk is full."""
    while error is not None:
        if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
            return True
        if isinstance(error, DatabaseError) and "disk is full" in str(error):
            return True
        if isinstance(error, (DatabaseError, SoundFileError)) and free_bytes() < HARDLY_ANY_BYTES:
            return True
        error = error.__cause__ or error.__context__
    return False


def even_when_full(act: Callable[[], Result]) -> Result:
    """Do something that deletes; where the disk is full, with the reserve's room."""
    try:
        return act()
    except (OSError, DatabaseError) as error:
        if not is_full(error):
            raise
    _reserve().unlink(missing_ok=True)
    try:
        return act()
    finally:
        keep_reserve()


class BriefWhenFull(logging.Filter):
    """Leaves the traceback out of the log where all there is to say is that the disk is full."""

    def filter(self, record: logging.LogRecord) -> bool:
        if record.exc_info and is_full(record.exc_info[1]):
            record.exc_info = record.exc_text = None
        return True


def keep_reserve(*, leaving_bytes: int = 0) -> None:
    """Hold as much of the reserve as there is room for, but leave so much free."""
    try:
        with _reserve().open("ab") as file:
            while file.tell() < RESERVE_BYTES and free_bytes() >= leaving_bytes:
                file.write(BLOCK)
                file.flush()
            os.fsync(file.fileno())
    except OSError as error:
        if not is_full(error):
            raise


def _reserve() -> Path:
    return settings.DATA / RESERVE
