"""What is to be sent of a song, and what was: to whom, of which takes."""

from pathlib import Path
from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils import timezone

from pneumen.core.send import CHANNELS
from pneumen.core.take import BITS, FORMATS
from pneumen.web.job.models import Worked
from pneumen.web.owned import Owned, choices_of
from pneumen.web.part.models import Part
from pneumen.web.song.models import AUDIENCES, Song
from pneumen.web.take.models import Take

RATES_HZ = (44_100, 48_000, 88_200, 96_000)


class SendPlan(Owned):
    """How a song is to be sent. audience, rate_hz and bits are empty where the song's own hold."""

    song = models.OneToOneField(Song, on_delete=models.CASCADE, related_name="send_plan")
    audience = models.CharField(max_length=20, blank=True, choices=choices_of(AUDIENCES))
    rate_hz = models.PositiveIntegerField(null=True, blank=True)
    bits = models.PositiveSmallIntegerField(default=24)
    format = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(FORMATS)), default="wav")
    with_backing = models.BooleanField(default=False)
    recipient = models.CharField(max_length=120, blank=True)
    note = models.CharField(max_length=4000, blank=True)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(condition=Q(rate_hz=None) | Q(rate_hz__in=RATES_HZ), name="send_rate"),
            models.CheckConstraint(condition=Q(bits__in=BITS), name="send_bits"),
        ]


class SendItem(Owned):
    """What its person said of one file that might go along: a part's take, or its track where take is empty.

    into is the key of the file it goes into, where the two do not overlap; empty where it is a file of its own.
    """

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="send_items")
    take = models.ForeignKey(Take, null=True, blank=True, on_delete=models.CASCADE, related_name="+")
    goes = models.BooleanField(default=True)
    name = models.CharField(max_length=120, blank=True)
    channels = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(CHANNELS)), default=CHANNELS[0])
    into = models.CharField(max_length=40, blank=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["part", "take"], name="one_item_a_take"),
            models.UniqueConstraint(fields=["part"], condition=Q(take=None), name="one_item_a_track"),
        ]
        ordering: ClassVar = ["pk"]


class Delivery(Worked):
    """A package that was made, or is being made: what it was made of, and its manifest once it is there.

    pack is the core's own document, with files of the store by their checksum; made_of names each file's source as it
    was then. sounds tells for each file how high it peaks in each second.
    """

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="deliveries")
    number = models.PositiveIntegerField()
    recipient = models.CharField(max_length=120, blank=True)
    pack = models.JSONField()
    made_of = models.JSONField(default=list)
    manifest = models.JSONField(null=True, blank=True)
    sounds = models.JSONField(default=list, blank=True)
    made_at = models.DateTimeField(default=timezone.now)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["song", "number"], name="one_delivery_of_a_number")]
        ordering: ClassVar = ["-number"]

    @property
    def folder(self) -> Path:
        """Where its package lies, with its zip and what is heard of it together."""
        return Path(settings.PACKAGES) / str(self.pk)

    @property
    def size_bytes(self) -> int:
        """What its files take on the disk; nothing once they were removed."""
        return sum(path.stat().st_size for path in self.folder.rglob("*") if path.is_file())

    @property
    def files(self) -> list[dict[str, Any]]:
        return self.manifest["files"] if self.manifest else []
