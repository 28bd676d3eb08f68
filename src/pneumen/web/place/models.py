"""Blind trials: the same phrase at several spots, heard without labels, then revealed."""

from typing import ClassVar

from django.db import models
from django.db.models import Q

from pneumen.web.audio.models import AudioFile
from pneumen.web.job.models import Worked
from pneumen.web.owned import Owned
from pneumen.web.part.models import Part


class Trial(Worked):
    """A blind trial of a part. audio is the file, where one came for all spots, until it is cut."""

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="trials")
    number = models.PositiveIntegerField()
    simulated = models.BooleanField(default=False)
    audio = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    chosen = models.ForeignKey("TrialSpot", null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["part", "number"], name="one_trial_of_a_number")]
        ordering: ClassVar = ["-number"]


class TrialSpot(Owned):
    """One spot of a trial: where the microphone stood, its phrase as it came and as matched in loudness.

    heard_at is its place in the order it is played in, which nobody is told before the choice.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="spots")
    position = models.PositiveSmallIntegerField()
    heard_at = models.PositiveSmallIntegerField()
    label = models.CharField(max_length=80)
    zone = models.CharField(max_length=20, blank=True)
    distance_m = models.FloatField()
    aside_deg = models.FloatField(default=0)
    turned_deg = models.FloatField(default=0)
    above_m = models.FloatField(default=0)
    bright = models.FloatField(default=0)
    raw = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    audio = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    measured = models.JSONField(null=True, blank=True)
    matched_db = models.FloatField(default=0)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["trial", "heard_at"], name="one_spot_at_a_time"),
            models.CheckConstraint(condition=Q(distance_m__gt=0) & Q(distance_m__lte=100), name="spot_in_range"),
        ]
        ordering: ClassVar = ["position"]
