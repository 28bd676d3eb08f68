"""Recorded takes, and what they taught."""

from typing import ClassVar

import msgspec
from django.db import models

from pneumen.core.gain import judge_take, school_named
from pneumen.core.setup import PlugLevels, SourceLevels
from pneumen.core.take import Correction, Measurement
from pneumen.core.verdict import Verdict
from pneumen.web.audio.models import AudioFile
from pneumen.web.job.models import Worked
from pneumen.web.owned import Owned, PutAway
from pneumen.web.part.models import Part


class Take(Worked, PutAway):
    """A recorded take: its file, an immutable snapshot of its setup, and what was measured.

    preview is a copy to listen to, where browsers cannot play the file itself.
    """

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="takes")
    number = models.PositiveIntegerField()
    simulated = models.BooleanField(default=False)
    original_name = models.CharField(max_length=200)
    audio = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    preview = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    snapshot = models.JSONField()
    measurement = models.JSONField(null=True, blank=True)
    outline = models.JSONField(null=True, blank=True)
    correction = models.JSONField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["part", "number"], name="one_take_of_a_number")]
        ordering: ClassVar = ["-number"]

    def to_core(self) -> Measurement | None:
        """Return what was measured; None before it was."""
        return msgspec.convert(self.measurement, Measurement) if self.measurement else None

    @property
    def verdict(self) -> Verdict | None:
        """How it stands in the window it was recorded for; None before it was measured."""
        measured = self.to_core()
        return judge_take(measured, school_named(self.snapshot["school"])) if measured else None

    def core_correction(self) -> Correction | None:
        if not self.correction:
            return None
        value = dict(self.correction)
        levels = value.pop("source")
        source = (SourceLevels if "at_m" in levels else PlugLevels)(**levels)
        return Correction(source=source, caveats=tuple(value.pop("caveats")), **value)


class Lesson(Owned):
    """What a take taught about a part: every plan starts from it until it is forgotten.

    levels are at 1 m or at the plug; absolute tells whether they hold for any chain, or only for this knob. chain is
    the one they were learnt with, band_db their doubt with it, source_band_db with any other. noise_change_db is the
    room's noise as this chain hears it against what the room's words say.
    """

    part = models.OneToOneField(Part, on_delete=models.CASCADE, related_name="lesson")
    take = models.ForeignKey(Take, null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    levels = models.JSONField()
    band_db = models.FloatField()
    source_band_db = models.FloatField()
    absolute = models.BooleanField(default=False)
    chain = models.CharField(max_length=200)
    gain_db = models.FloatField(null=True, blank=True)
    noise_change_db = models.FloatField(null=True, blank=True)
    noise_band_db = models.FloatField(null=True, blank=True)

    @property
    def source_levels(self) -> SourceLevels | PlugLevels:
        if self.part.is_plugged:
            return PlugLevels(**self.levels)
        return SourceLevels(**self.levels | {"octaves_db": self.part.source_facts.octave_spectrum_db})
