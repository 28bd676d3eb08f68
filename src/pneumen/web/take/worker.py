"""The worker process: measures takes and cuts trials beside the server, so that dragging never waits for it."""

import logging
import os
import sys
import time

IDLE_S = 0.25
log = logging.getLogger("pneumen.worker")


def main(server_process: int) -> None:
    """Work until the server is gone."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "pneumen.web.site.settings")
    import django

    django.setup()
    from django.db import OperationalError, close_old_connections

    from pneumen.web.place import trials
    from pneumen.web.song.models import Take, Trial
    from pneumen.web.take import services

    services.take_up_again()
    trials.take_up_again()
    while _is_alive(server_process):
        try:
            worked = services.work_on_next() or trials.work_on_next()
        except OperationalError:  # the database is held longer than its timeout: try again
            worked = False
        except Exception:  # a fault in one take must not stop the others
            log.exception("a take or trial could not be measured")
            reason = "Pneumen could not measure this; the log tells more"
            for model in (Take, Trial):
                model.objects.filter(status=model.WORKING).update(status=model.FAILED, error=reason)
            worked = False
        if not worked:
            close_old_connections()
            time.sleep(IDLE_S)


def _is_alive(process: int) -> bool:
    return os.name == "nt" or os.getppid() == process


if __name__ == "__main__":
    main(int(sys.argv[1]))
