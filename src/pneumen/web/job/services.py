"""Queueing work, doing the next piece of it, and taking up what a killed worker left."""

import logging
import math
import time
from collections.abc import Callable, Mapping
from typing import Any, Final

from django.db import OperationalError, models, transaction
from django.db.models import F, QuerySet

from pneumen.core.errors import PneumenError, UnknownName
from pneumen.web.job.models import DONE, FAILED, WAITING, WORKING, Job, Worked
from pneumen.web.site.space import is_full
from pneumen.wording.language import _

MOST_ATTEMPTS: Final = 2
SET_ASIDE: Final = _("measuring this ended the program twice: it was set aside, and nothing was deleted")
DISK_FULL: Final = _("the disk is full: free some space, then try again")
UNEXPECTED: Final = _("Pneumen could not measure this; the log tells more")
LOOK_S: Final = 1.0
"""So often a piece of work stores how far it is, and looks whether it is still wanted or a shorter one waits."""
SHORTER: Final = 4
"""Work so many times shorter is done in between."""
Tell = Callable[[float], None]
Work = Callable[[Any, Tell], None]
log = logging.getLogger("pneumen.worker")


def queue(row: Worked, cost: int = 0) -> Job:
    """Have work done for a row; to be called in the transaction that makes it.

    Args:
        cost: how many samples it is: what is short goes before what is long, and in between.
    """
    transaction.on_commit(wake)
    return Job.objects.create(owner=row.owner, target=row, cost=cost)


def try_again(row: Worked) -> None:
    """Have work done anew that failed."""
    row.jobs.filter(state=FAILED).update(state=WAITING, attempts=0, progress=0, error="")
    transaction.on_commit(wake)


def queue_anew(row: Worked, cost: int = 0) -> None:
    """Have work done for a row once more, whatever came of it before."""
    if not row.jobs.update(state=WAITING, attempts=0, progress=0, error="", cost=cost):
        queue(row, cost)
    transaction.on_commit(wake)


_wakers: list[Callable[[], None]] = []


def wake() -> None:
    """Wake the worker, where one runs beside this process."""
    for ring in _wakers:
        ring()


def wake_by(ring: Callable[[], None]) -> None:
    """Say how the worker of this process is woken."""
    _wakers[:] = [ring]


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
    return _work_on_shortest(Job.objects.filter(state=WAITING), works)


def _work_on_shortest(jobs: QuerySet[Job], works: Mapping[type[models.Model], Work]) -> bool:
    with transaction.atomic():
        job = jobs.order_by("cost", "pk").first()
        if job is None:
            return False
        Job.objects.filter(pk=job.pk).update(state=WORKING, progress=0, attempts=F("attempts") + 1)
    try:
        _work_of(job, works)(job.target, _teller(job, works))
    except Cancelled:
        pass
    except PneumenError as error:
        _end(job, FAILED, str(error))
    except OperationalError:  # held longer than its timeout, or no space left: it is taken up again
        raise
    except Exception as error:  # a fault in one take must not stop the others
        if is_full(error):
            log.warning(_("a take or trial could not be measured: the disk is full"))
            _end(job, FAILED, DISK_FULL)
        else:
            log.exception(_("a take or trial could not be measured"))
            _end(job, FAILED, UNEXPECTED)
    else:
        _end(job, DONE)
    return True


def _work_of(job: Job, works: Mapping[type[models.Model], Work]) -> Work:
    model = job.content_type.model_class()
    if model is None or model not in works:
        raise UnknownName(_("kind of work"), str(job.content_type), tuple(one.__name__ for one in works))
    return works[model]


def _teller(job: Job, works: Mapping[type[models.Model], Work]) -> Tell:
    shorter = Job.objects.filter(state=WAITING, cost__lt=job.cost / SHORTER)
    looked_s = -math.inf

    def tell(share: float) -> None:
        nonlocal looked_s
        if time.monotonic() - looked_s < LOOK_S:
            return
        if not Job.objects.filter(pk=job.pk).update(progress=share):
            raise Cancelled
        while _work_on_shortest(shorter, works):
            pass
        looked_s = time.monotonic()

    return tell


def _end(job: Job, state: str, error: str = "") -> None:
    progress = 1 if state == DONE else 0
    Job.objects.filter(pk=job.pk).update(state=state, error=error[:400], progress=progress)


@transaction.atomic
def take_up_again(*, killed: bool = True) -> None:
    """Queue anew what was left half done; what killed its worker twice is set aside.

    Args:
        killed: whether a worker ended over it; else the database could not be written, which is no fault of the file.
    """
    left = Job.objects.filter(state=WORKING)
    if killed:
        left.filter(attempts__gte=MOST_ATTEMPTS).update(state=FAILED, error=SET_ASIDE)
        left.update(state=WAITING, progress=0)
    else:
        left.update(state=WAITING, progress=0, attempts=F("attempts") - 1)
