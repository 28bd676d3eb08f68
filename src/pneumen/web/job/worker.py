"""The worker process: measures takes and cuts trials beside the server, so that dragging never waits for it."""

import os
import sys
import time

IDLE_S = 0.25


def main(server_process: int) -> None:
    """Work until the server is gone."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "pneumen.web.site.settings")
    import django

    django.setup()
    from django.db import OperationalError, close_old_connections

    from pneumen.web.job.services import take_up_again, work_on_next
    from pneumen.web.job.works import WORKS

    take_up_again()
    while _is_alive(server_process):
        try:
            worked = work_on_next(WORKS)
        except OperationalError:  # the database is held longer than its timeout: try again
            worked = False
        if not worked:
            close_old_connections()
            time.sleep(IDLE_S)


def _is_alive(process: int) -> bool:
    return os.name == "nt" or os.getppid() == process


if __name__ == "__main__":
    main(int(sys.argv[1]))
