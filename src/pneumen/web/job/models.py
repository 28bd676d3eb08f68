"""Work done beside the requests, as rows that survive a kill."""

from typing import ClassVar

from django.contrib.contenttypes.fields import GenericForeignKey, GenericRelation
from django.contrib.contenttypes.models import ContentType
from django.db import models
from django.db.models import Q

from pneumen.web.owned import Owned

WAITING, WORKING, DONE, FAILED = STATES = ("waiting", "working", "done", "failed")


class Job(Owned):
    """One piece of work for a row: measuring a take, cutting a trial.

    state goes waiting -> working -> done or failed; a worker that dies leaves working, which the next one takes up
    again while attempts allow it.
    """

    content_type = models.ForeignKey(ContentType, on_delete=models.CASCADE, related_name="+")
    object_id = models.PositiveBigIntegerField()
    target = GenericForeignKey("content_type", "object_id")
    state = models.CharField(max_length=10, default=WAITING)
    attempts = models.PositiveSmallIntegerField(default=0)
    cost = models.PositiveBigIntegerField(default=0)
    progress = models.FloatField(default=0)
    error = models.CharField(max_length=400, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["content_type", "object_id"], name="one_job_a_row"),
            models.CheckConstraint(condition=Q(state__in=STATES), name="known_state"),
        ]
        ordering: ClassVar = ["pk"]


class Worked(Owned):
    """A row that background work is done for, queued in the transaction that makes it."""

    WAITING, WORKING, DONE, FAILED = STATES

    jobs = GenericRelation(Job)

    class Meta:
        abstract = True

    @property
    def job(self) -> Job:
        return self.jobs.all()[0]

    @property
    def status(self) -> str:
        return self.job.state

    @property
    def progress(self) -> float:
        return self.job.progress

    @property
    def error(self) -> str:
        """Why it failed; empty where it did not."""
        return self.job.error
