"""Recordings on disk, as rows that takes, trials and backing tracks point to."""

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
