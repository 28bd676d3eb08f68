"""The worker process: measures takes and cuts trials beside the server, so that dragging never waits for it.

It sleeps until the server writes to its standard input; when that ends, the server is gone.
"""

import os
import sys
import threading
from typing import Final

RETRY_S: Final = 1.0
"""After the database could not be written."""


class _Bell:
    """Rung by the server for each piece of work; broken when the server is gone."""

    def __init__(self) -> None:
        self.broken = False
        self._rung = threading.Event()
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self) -> None:
        while os.read(sys.stdin.fileno(), 1):
            self._rung.set()
        self.broken = True
        self._rung.set()

    def wait(self, seconds: float | None = None) -> None:
        """Sleep until it is rung, or so long at the most."""
        self._rung.wait(seconds)
        self._rung.clear()


def main() -> None:
    """Work until the server is gone."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "pneumen.web.site.settings")
    import django

    django.setup()
    from django.db import OperationalError, close_old_connections

    from pneumen.core.memory import keep_freed_memory
    from pneumen.web.job.services import take_up_again, work_on_next
    from pneumen.web.job.works import WORKS

    keep_freed_memory()
    bell = _Bell()
    killed = True  # nobody else works: what is marked so at first was left by a worker that was killed
    while not bell.broken:
        try:
            take_up_again(killed=killed)
            killed = True
            worked = work_on_next(WORKS)
        except OperationalError:  # held longer than its timeout, or no space left: try again
            killed = False
            close_old_connections()
            bell.wait(RETRY_S)
            continue
        if not worked:
            close_old_connections()
            bell.wait()


if __name__ == "__main__":
    main()
