"""Recordings on disk, as rows that takes, trials and backing tracks point to."""

import uuid
from pathlib import Path
from typing import ClassVar

from django.db import models

from pneumen.web.audio import files
from pneumen.web.owned import Owned


class AudioFile(Owned):
    """A recording on disk by its checksum; the same bytes are one row for a person, whoever points to it."""

    checksum = models.CharField(max_length=64)
    container = models.CharField(max_length=20)
    encoding = models.CharField(max_length=40)
    size_bytes = models.PositiveBigIntegerField()

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["owner", "checksum"], name="one_row_a_recording")]

    @property
    def path(self) -> Path:
        return files.path_of(self.checksum)

    @property
    def content_type(self) -> str:
        """What a browser is told it is; empty where browsers cannot play it as it is."""
        return files.PLAYABLE.get((self.container, self.encoding), "")


class Ledger(models.Model):
    """What this database knows of its own age: one row.

    days counts the days on which the program ran, whatever the clock says: what was put away is old by these, so that
    a clock set forward makes nothing old. starts counts the starts; the data folder holds the same figure, which tells
    a database that is older than its folder. identity tells one database from another.
    """

    identity = models.UUIDField(default=uuid.uuid4)
    starts = models.PositiveIntegerField(default=0)
    days = models.PositiveIntegerField(default=0)
    last_day = models.DateField(null=True, blank=True)
