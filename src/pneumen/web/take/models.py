"""Recorded takes, and what they taught."""

from typing import Any, ClassVar, Self

import msgspec
from django.db import models
from django.db.models import Q
from django.utils import timezone

from pneumen.core.forecast import Mending
from pneumen.core.gain import judge_take, school_named
from pneumen.core.gear import Knob, Taper
from pneumen.core.live import Origin
from pneumen.core.setup import PlugLevels, SourceLevels
from pneumen.core.take import LEVEL, NOISE, Correction, Measurement, doubts_of
from pneumen.core.verdict import Verdict
from pneumen.web.audio.models import AudioFile
from pneumen.web.job.models import Worked
from pneumen.web.owned import Owned, OwnedQuerySet, PutAway
from pneumen.web.part.models import Part


class Take(Worked, PutAway):
    """A recorded take: its file, an immutable snapshot of its setup, and what was measured.

    preview is a copy to listen to, where browsers cannot play the file itself. recorded is how its person says it was
    recorded where that differs from the snapshot (distance_m, gain_db, section, other_gear), and which outliers to
    trust; empty where it was as set, None before they were asked. captured is how it came in where it was recorded
    here (a core Origin).
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
    recorded = models.JSONField(null=True, blank=True)
    captured = models.JSONField(null=True, blank=True)
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

    @property
    def distance_m(self) -> float:
        """How far it was recorded from, as its person told or else as it was set."""
        return float((self.recorded or {}).get("distance_m", self.snapshot["distance_m"]))

    @property
    def gain_db(self) -> float:
        return float((self.recorded or {}).get("gain_db", self.snapshot["gain_db"]))

    @property
    def gain_range_db(self) -> tuple[float, float]:
        """What the control it was recorded with spans; takes of older versions tell no more than what any does."""
        low, high = self.snapshot.get("gain_range_db", (-60.0, 100.0))
        return low, high

    @property
    def knob(self) -> Knob:
        """The control it was recorded with, with its map as it was then."""
        low_db, high_db = self.gain_range_db
        taper = self.snapshot.get("taper")
        return Knob(low_db=low_db, high_db=high_db, taper=msgspec.convert(taper, Taper) if taper else None)

    @property
    def mendings(self) -> dict[str, Mending]:
        """What the model said of faults in the setup it was recorded with; nothing in takes of older versions."""
        return msgspec.convert(self.snapshot.get("mendings", {}), dict[str, Mending])

    @property
    def origin(self) -> Origin | None:
        """How it came in, where it was recorded here."""
        return msgspec.convert(self.captured, Origin) if self.captured else None

    @property
    def is_asked_about(self) -> bool:
        """Whether its person is still to tell how it was recorded: nothing is learnt before."""
        return bool(self.correction) and not self.simulated and self.recorded is None

    @property
    def doubts(self) -> frozenset[str]:
        """What of it lies so far off that it is not learnt unless its person says that it is so."""
        correction, measured = self.core_correction(), self.to_core()
        if correction is None or measured is None:
            return frozenset()
        told = self.snapshot["prediction"]
        found = doubts_of(
            correction,
            measured,
            expected_noise_dbfs=told["noise_dbfs"] + self.gain_db - self.snapshot["gain_db"],
            signal_band_db=told["signal_band_db"],
            noise_band_db=told["noise_band_db"],
        )
        if self.origin is not None and self.origin.alters_levels:
            found = (LEVEL, NOISE)
        return frozenset(found) - frozenset((self.recorded or {}).get("trusted", ()))


class LessonQuerySet(OwnedQuerySet):
    def with_take(self) -> Self:
        """With the take that taught it, without what only that take's own page shows."""
        return self.select_related("take").defer("take__outline", "take__correction")


class Lesson(Owned):
    """What a take taught about a part: how loud its performer is, or how loud its room. Plans start from the newest.

    levels (of the performer) are at 1 m or at the plug; noise_change_db is the room's noise as this chain hears it
    against what the room's words say. chain is the one it was learnt with, band_db its doubt there; absolute tells
    whether it holds for other chains too, with other_chain_band_db. undone: set aside by its person, to be had again.
    """

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="lessons")
    take = models.ForeignKey(Take, null=True, blank=True, on_delete=models.SET_NULL, related_name="lessons")
    what = models.CharField(max_length=10, choices=[(LEVEL, LEVEL), (NOISE, NOISE)], default=LEVEL)
    number = models.PositiveIntegerField(default=0)
    levels = models.JSONField(null=True, blank=True)
    noise_change_db = models.FloatField(null=True, blank=True)
    noise_dba = models.FloatField(null=True, blank=True)
    band_db = models.FloatField()
    other_chain_band_db = models.FloatField()
    absolute = models.BooleanField(default=False)
    chain = models.CharField(max_length=200)
    gain_db = models.FloatField(null=True, blank=True)
    distance_m = models.FloatField(null=True, blank=True)
    simulated = models.BooleanField(default=False)
    undone = models.BooleanField(default=False)
    created_at = models.DateTimeField(default=timezone.now)

    objects: ClassVar[Any] = LessonQuerySet.as_manager()

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=Q(what=LEVEL, levels__isnull=False) | Q(what=NOISE, noise_change_db__isnull=False),
                name="a_lesson_holds_what_it_teaches",
            ),
        ]
        ordering: ClassVar = ["-number", "-pk"]

    @property
    def source_levels(self) -> SourceLevels | PlugLevels:
        if self.part.is_plugged:
            return PlugLevels(**(self.levels or {}))
        return SourceLevels(**(self.levels or {}) | {"octaves_db": self.part.source_facts.octave_spectrum_db})
