"""Queueing work, doing the next piece of it, and taking up what a killed worker left."""

import logging
from collections.abc import Callable, Mapping
from typing import Any, Final

from django.db import OperationalError, models, transaction
from django.db.models import F

from pneumen.core.errors import PneumenError, UnknownName
from pneumen.web.job.models import DONE, FAILED, WAITING, WORKING, Job, Worked

MOST_ATTEMPTS: Final = 2
SET_ASIDE: Final = "measuring this ended the program twice: it was set aside, and nothing was deleted"
UNEXPECTED: Final = "Pneumen could not measure this; the log tells more"
LEAST_STEP: Final = 0.05
"""Progress is stored in steps of so much."""
Tell = Callable[[float], None]
Work = Callable[[Any, Tell], None]
log = logging.getLogger("pneumen.worker")


def queue(row: Worked) -> Job:
    """Have work done for a row; to be called in the transaction that makes it."""
    return Job.objects.create(owner=row.owner, target=row)


def cancel(row: Worked) -> None:
    """Have nothing more done for a row that is not measured yet; a worker at it stops where it next tells its share."""
    row.jobs.exclude(state__in=(DONE, FAILED)).delete()


class Cancelled(Exception):
    """The work is not wanted any more."""


def work_on_next(works: Mapping[type[models.Model], Work]) -> bool:
    """Do the next piece of waiting work; False where there is none.

    Args:
        works: what to do for each kind of row; it is handed the row and a function to tell the share done.
    """
    with transaction.atomic():
        job = Job.objects.filter(state=WAITING).first()
        if job is None:
            return False
        Job.objects.filter(pk=job.pk).update(state=WORKING, progress=0, attempts=F("attempts") + 1)
    try:
        _work_of(job, works)(job.target, _teller(job))
    except Cancelled:
        pass
    except PneumenError as error:
        _end(job, FAILED, str(error))
    except OperationalError:  # the database is held longer than its timeout: try again
        _end(job, WAITING)
        raise
    except Exception:  # a fault in one take must not stop the others
        log.exception("a take or trial could not be measured")
        _end(job, FAILED, UNEXPECTED)
    else:
        _end(job, DONE)
    return True


def _work_of(job: Job, works: Mapping[type[models.Model], Work]) -> Work:
    model = job.content_type.model_class()
    if model is None or model not in works:
        raise UnknownName("kind of work", str(job.content_type), tuple(one.__name__ for one in works))
    return works[model]


def _teller(job: Job) -> Tell:
    told = 0.0

    def tell(share: float) -> None:
        nonlocal told
        if share - told >= LEAST_STEP:
            told = share
            if not Job.objects.filter(pk=job.pk).update(progress=share):
                raise Cancelled

    return tell


def _end(job: Job, state: str, error: str = "") -> None:
    progress = 1 if state == DONE else 0
    Job.objects.filter(pk=job.pk).update(state=state, error=error[:400], progress=progress)


@transaction.atomic
def take_up_again() -> None:
    """Queue anew what a killed worker left half done; what killed its worker twice is set aside."""
    left = Job.objects.filter(state=WORKING)
    left.filter(attempts__gte=MOST_ATTEMPTS).update(state=FAILED, error=SET_ASIDE)
    left.update(state=WAITING, progress=0)
