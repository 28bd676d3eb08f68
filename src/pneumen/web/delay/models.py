"""What was seen of lost buffers on the real computer, and how late a played file came back."""

from typing import ClassVar

from django.db import models
from django.db.models import Q

from pneumen.core.delay import Loop as CoreLoop
from pneumen.core.delay import Seen
from pneumen.web.owned import Owned, choices_of
from pneumen.web.song.models import Song

THROUGH = ("program", "bare")
"""Measured through a recording program, which compensates, or bare: uncompensated, the whole way round."""


class BufferSeen(Owned):
    """A buffer at which it crackled, or held for some minutes."""

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="buffers_seen")
    buffer = models.PositiveIntegerField()
    crackled = models.BooleanField(default=False)
    minutes = models.FloatField(default=0)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(condition=Q(buffer__gte=1) & Q(buffer__lte=65_536), name="buffer_seen_in_range"),
            models.CheckConstraint(condition=Q(minutes__gte=0) & Q(minutes__lte=10_000), name="minutes_in_range"),
        ]
        ordering: ClassVar = ["buffer", "pk"]

    def to_core(self) -> Seen:
        return Seen(buffer=self.buffer, crackled=self.crackled, minutes=self.minutes)


class Loop(Owned):
    """A way round that was measured at a buffer and a rate; the newest of its song counts."""

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="loops")
    through = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(THROUGH)), default=THROUGH[0])
    simulated = models.BooleanField(default=False)
    buffer = models.PositiveIntegerField()
    sample_rate_hz = models.PositiveIntegerField()
    offset_samples = models.FloatField()
    confidence = models.FloatField()
    inverted = models.BooleanField(default=False)
    drift_ppm = models.FloatField(null=True, blank=True)
    measured_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering: ClassVar = ["-pk"]

    def to_core(self) -> CoreLoop:
        return CoreLoop(
            offset_samples=self.offset_samples,
            offset_ms=1000 * self.offset_samples / self.sample_rate_hz,
            confidence=self.confidence,
            polarity="inverted" if self.inverted else "same",
            drift_ppm=self.drift_ppm,
        )
