"""Recorded takes, and what they taught."""

from datetime import datetime
from typing import Any, ClassVar, Final, Self

import msgspec
from django.db import models
from django.db.models import Q
from django.utils import timezone

from pneumen.core.forecast import Mending
from pneumen.core.gain import judge_take, school_named
from pneumen.core.gear import Knob, Taper
from pneumen.core.live import Origin
from pneumen.core.performance import LAYER_KINDS, Study
from pneumen.core.setup import PlugLevels, SourceLevels
from pneumen.core.take import (
    LEVEL,
    MARKED,
    MARKS,
    NOISE,
    TAKE_KINDS,
    Correction,
    Measurement,
    PeakTrace,
    Played,
    TakeSettings,
    doubts_of,
)
from pneumen.core.verdict import Verdict
from pneumen.web.audio.models import AudioFile
from pneumen.web.job.models import Worked
from pneumen.web.owned import KeptManager, Owned, OwnedQuerySet, PutAway, choices_of
from pneumen.web.part.models import Part
from pneumen.web.song.models import Song

PLACED: Final = ("above_m", "aside_deg", "turned_deg", "pop_screen", "low_cut_hz")
"""What a snapshot's placement tells beside the distance."""

MEASURED: Final = ("measurement", "judged", "length_s", "peak_dbfs")
"""What judge() fills in."""
LOGGED: Final = ("number", "simulated", "kind", "section", *MARKED, "judged", "length_s", "put_away_day", "sitting")
"""What the log counts takes by: in an index, since in the row it lies behind all that was measured."""
HEAVY: Final = ("measurement", "peaks", "correction", "snapshot", "captured", "study", "chroma", "tone")
MARK_CHOICES = choices_of(dict.fromkeys(MARKS))


class Sitting(Owned):
    """One session of recording a song, from the first take to the last; hurt: it was ended for pain or hoarseness.

    set_up tells what was set up, setup_min how long that took.
    """

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="sittings")
    number = models.PositiveIntegerField()
    begun_at = models.DateTimeField(default=timezone.now)
    ended_at = models.DateTimeField(null=True, blank=True)
    hurt = models.BooleanField(default=False)
    set_up = models.CharField(max_length=1000, blank=True)
    setup_min = models.PositiveSmallIntegerField(null=True, blank=True)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["song", "number"], name="one_sitting_of_a_number")]
        ordering: ClassVar = ["-number"]


class TakeQuerySet(OwnedQuerySet):
    def for_log(self) -> Self:
        """In order of number, without what only a take's own page shows."""
        return self.defer(*HEAVY).order_by("number")


TakeManager = KeptManager.from_queryset(TakeQuerySet)


class Take(Worked, PutAway):
    """A recorded take: its file, an immutable snapshot of its setup, and what was measured.

    preview is a copy to listen to, where browsers cannot play the file itself. recorded is how its person says it was
    recorded where that differs from the snapshot (distance_m, gain_db, other_gear), and which outliers to trust; empty
    where it was as set, None before they were asked. captured is how it came in where it was recorded here (a core
    Origin). backing is what was in the headphones, where something was. peaks and peak_s are its outline (a core
    PeakTrace), study what was heard of its timing and tuning, chroma which pitch classes sound when, tone how the
    octaves lie. kind and the marks are its person's own, empty where nothing was said; section is what was played,
    empty for all of it. recorded_at and time_reference_s are what the file's own time stamp tells: when it was begun,
    and where on the recorder's timeline, which begins at midnight or with the song.
    """

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="takes")
    number = models.PositiveIntegerField()
    simulated = models.BooleanField(default=False)
    original_name = models.CharField(max_length=200)
    audio = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    preview = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    backing = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    snapshot = models.JSONField()
    measurement = models.JSONField(null=True, blank=True)
    judged = models.CharField(max_length=10, blank=True, choices=[(one.value, one.value) for one in Verdict])
    length_s = models.FloatField(null=True, blank=True)
    peak_dbfs = models.FloatField(null=True, blank=True)
    peaks = models.BinaryField(null=True, blank=True)
    peak_s = models.FloatField(null=True, blank=True)
    correction = models.JSONField(null=True, blank=True)
    recorded = models.JSONField(null=True, blank=True)
    captured = models.JSONField(null=True, blank=True)
    sitting = models.ForeignKey(Sitting, null=True, blank=True, on_delete=models.SET_NULL, related_name="takes")
    kind = models.CharField(max_length=10, blank=True, choices=choices_of(dict.fromkeys(TAKE_KINDS)))
    section = models.CharField(max_length=60, blank=True)
    rhythm = models.CharField(max_length=10, blank=True, choices=MARK_CHOICES)
    feeling = models.CharField(max_length=10, blank=True, choices=MARK_CHOICES)
    pitch = models.CharField(max_length=10, blank=True, choices=MARK_CHOICES)
    remark = models.CharField(max_length=1000, blank=True)
    study = models.JSONField(null=True, blank=True)
    chroma = models.BinaryField(null=True, blank=True)
    tone = models.BinaryField(null=True, blank=True)
    recorded_at = models.DateTimeField(null=True, blank=True)
    time_reference_s = models.FloatField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    objects: ClassVar[Any] = TakeManager()  # type: ignore[assignment]
    everything: ClassVar[Any] = TakeQuerySet.as_manager()

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["part", "number"], name="one_take_of_a_number")]
        indexes: ClassVar = [models.Index(fields=["part", *LOGGED], name="what_the_log_counts")]
        ordering: ClassVar = ["-number"]

    def to_core(self) -> Measurement | None:
        """Return what was measured; None before it was."""
        return msgspec.convert(self.measurement, Measurement) if self.measurement else None

    @property
    def verdict(self) -> Verdict | None:
        """How it stands in the window it was recorded for; None before it was measured."""
        return Verdict(self.judged) if self.judged else None

    def judge(self, measured: Measurement) -> None:
        """Fill in what was measured, and how it stands."""
        self.measurement = msgspec.to_builtins(measured)
        self.length_s, self.peak_dbfs = measured.format.duration_s, measured.level.sample_peak_dbfs
        self.judged = judge_take(measured, school_named(self.snapshot["school"]))

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

    def to_study(self) -> Study | None:
        """Return what was heard of the performance; None before it was listened to."""
        return msgspec.convert(self.study, Study) if self.study else None

    @property
    def when(self) -> datetime:
        """When it was recorded, or else came in."""
        return self.recorded_at or self.created_at

    @property
    def trace(self) -> PeakTrace | None:
        """Its peaks over time, for drawing."""
        if self.peaks is None or self.peak_s is None:
            return None
        return PeakTrace(seconds_per_column=self.peak_s, peaks=bytes(self.peaks))

    @property
    def settings(self) -> TakeSettings:
        """How it was recorded, as far as its snapshot and its person tell."""
        placement = self.snapshot.get("placement") or {}
        return TakeSettings(
            gear=self.snapshot["gear"],
            distance_m=self.distance_m if "microphone" in self.snapshot["setup"] else None,
            gain_db=self.gain_db,
            buffer=self.snapshot.get("buffer"),
            section=self.section,
            **{name: placement.get(name) for name in PLACED},
        )

    @property
    def played(self) -> Played:
        """What is known of its sound before it is measured, its room as it was predicted."""
        room = self.snapshot["setup"].get("room", {})
        lead_db = room.get("direct_to_reverberant_db")
        return Played.of(self.part.source_facts, rt60_s=room.get("rt60_s"), lead_db=lead_db)

    @property
    def knob(self) -> Knob:
        """The control it was recorded with, with its map as it was then."""
        low_db, high_db = self.gain_range_db
        taper = self.snapshot.get("taper")
        return Knob(low_db=low_db, high_db=high_db, taper=msgspec.convert(taper, Taper) if taper else None)

    @property
    def control(self) -> str:
        """What its gain was set with."""
        return str(self.snapshot.get("control", "knob"))

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


def built(correction: Correction | None) -> Any:  # noqa: ANN401 - what JSON holds
    """Return a correction as a row keeps it."""
    return msgspec.to_builtins(correction) if correction else None


class Layer(Owned):
    """One layer of a part: what it is, where in the song, and the take that was chosen for it.

    likeness is how alike its take is to that of the layer it belongs to, as waves; None before both were there.
    in_headphones: it plays there while others of the part are recorded, in place of the song's backing.
    """

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="layers")
    kind = models.CharField(max_length=20, choices=choices_of(dict.fromkeys(LAYER_KINDS)))
    section = models.CharField(max_length=60, blank=True)
    take = models.ForeignKey(Take, null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    likeness = models.FloatField(null=True, blank=True)
    in_headphones = models.BooleanField(default=False)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["part", "kind", "section"], name="one_layer_of_a_kind_in_a_section"),
            models.UniqueConstraint(fields=["part"], condition=models.Q(in_headphones=True), name="one_layer_heard"),
        ]
        ordering: ClassVar = ["section", "pk"]


class WatchedFolder(Owned):
    """A folder that a recording program writes into: what is finished there after since becomes takes of a part.

    It is only read. problem is why the last look at it failed; empty where it did not.
    """

    part = models.OneToOneField(Part, on_delete=models.CASCADE, related_name="watched")
    path = models.CharField(max_length=1000)
    since = models.DateTimeField(default=timezone.now)
    problem = models.CharField(max_length=400, blank=True)


class LessonQuerySet(OwnedQuerySet):
    def with_take(self) -> Self:
        """With the take that taught it, without what only that take's own page shows."""
        return self.select_related("take").defer("take__peaks", "take__correction")


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
