"""What is known of an input, by a line said softly, loudly, softly; and one-minute checks."""

from typing import ClassVar

import msgspec
from django.db import models
from django.utils import timezone

from pneumen.core.live import Cut, Minute, Origin
from pneumen.core.take import CUTS, RIDES, THINS, Riding
from pneumen.web.audio.models import AudioFile
from pneumen.web.owned import Owned
from pneumen.web.part.models import Part


class InputCheck(Owned):
    """One check of an input, by the name the browser gives it; the newest counts."""

    device = models.CharField(max_length=200)
    result = models.JSONField()
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering: ClassVar = ["-created_at", "-pk"]

    def to_core(self) -> Riding:
        return msgspec.convert(self.result, Riding)

    @property
    def alters(self) -> tuple[str, ...]:
        """What it does to the sound; nothing where it leaves it alone."""
        return tuple(what for what in self.to_core().found if what in (RIDES, CUTS, THINS))


class MinuteCheck(Owned):
    """A one-minute check of a part: its recording, where its steps lie, what they told, and what of it is in use."""

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="minutes")
    audio = models.ForeignKey(AudioFile, on_delete=models.PROTECT, related_name="+")
    steps = models.JSONField()
    cuts = models.JSONField()
    result = models.JSONField()
    origin = models.JSONField(null=True, blank=True)
    used = models.JSONField(default=list, blank=True)
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering: ClassVar = ["-created_at", "-pk"]

    def to_core(self) -> Minute:
        return msgspec.convert(self.result, Minute)

    def to_core_cuts(self) -> tuple[Cut, ...]:
        return tuple(msgspec.convert(one, Cut) for one in self.cuts)

    def to_core_origin(self) -> Origin | None:
        return msgspec.convert(self.origin, Origin) if self.origin else None
