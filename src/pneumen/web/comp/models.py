"""The lyric sheet of a part: its lines, what each take holds of them, and the track that is made of the best."""

from typing import Any, ClassVar

import msgspec
from django.db import models
from django.db.models import Q

from pneumen.core.comp import CLEANUPS
from pneumen.core.send import LEVELS_DB, LOW_CUTS_HZ
from pneumen.core.take import MARKS, Measurement, PeakTrace
from pneumen.web.audio.models import AudioFile
from pneumen.web.job.models import Worked
from pneumen.web.owned import Owned, choices_of
from pneumen.web.part.models import Part
from pneumen.web.song.models import Song
from pneumen.web.take.models import Layer, Take

MARK_CHOICES = choices_of(dict.fromkeys(MARKS))


class SheetLine(Owned):
    """One line of the sheet: its words, or so many bars where there are none, and where it lies in the song.

    start_s and end_s are empty before the takes were laid to the lines. take is the chosen one.
    """

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="sheet_lines")
    position = models.PositiveSmallIntegerField()
    section = models.CharField(max_length=60, blank=True)
    words = models.CharField(max_length=500, blank=True)
    bars = models.FloatField(null=True, blank=True)
    start_s = models.FloatField(null=True, blank=True)
    end_s = models.FloatField(null=True, blank=True)
    take = models.ForeignKey(Take, null=True, blank=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=Q(start_s=None, end_s=None) | (Q(start_s__gte=0) & Q(end_s__gt=models.F("start_s"))),
                name="a_line_ends_after_it_begins",
            ),
            models.CheckConstraint(condition=Q(bars=None) | (Q(bars__gt=0) & Q(bars__lte=999)), name="line_bars"),
        ]
        ordering: ClassVar = ["position", "pk"]


class LineTake(Owned):
    """What one take holds of one line: its person's marks, and what was heard there.

    faults counts clipping and dropouts inside the phrase, others the other findings, kinds names them all. offset_ms
    is how much later it stands than the takes do on the mean, cents how far it lies over its own tuning, level_db how
    loud it is, tone how many dB its octaves lie over the other takes'; lag_s is taken out when it is laid into the
    song. sounds_in, sounds_out: it sounds at the line's edges.
    """

    line = models.ForeignKey(SheetLine, on_delete=models.CASCADE, related_name="takes")
    take = models.ForeignKey(Take, on_delete=models.CASCADE, related_name="lines")
    rhythm = models.CharField(max_length=10, blank=True, choices=MARK_CHOICES)
    feeling = models.CharField(max_length=10, blank=True, choices=MARK_CHOICES)
    pitch = models.CharField(max_length=10, blank=True, choices=MARK_CHOICES)
    holds = models.BooleanField(default=False)
    faults = models.PositiveSmallIntegerField(default=0)
    others = models.PositiveSmallIntegerField(default=0)
    kinds = models.CharField(max_length=200, blank=True)
    offset_ms = models.FloatField(null=True, blank=True)
    cents = models.FloatField(null=True, blank=True)
    level_db = models.FloatField(null=True, blank=True)
    tone = models.JSONField(default=list, blank=True)
    lag_s = models.FloatField(default=0)
    sounds_in = models.BooleanField(default=False)
    sounds_out = models.BooleanField(default=False)

    class Meta:
        constraints: ClassVar = [models.UniqueConstraint(fields=["line", "take"], name="one_row_a_line_and_take")]
        ordering: ClassVar = ["line", "take"]


class TakePlace(Owned):
    """Where a take lies in the song, as far as its file does not tell: by ear, or beside the other takes.

    tempo_off is how much slower it is than the one that leads, which the others are laid to (0.01 is one per cent).
    """

    take = models.OneToOneField(Take, on_delete=models.CASCADE, related_name="place")
    by_ear_s = models.FloatField(null=True, blank=True)
    drift_ppm = models.FloatField(null=True, blank=True)
    others_lag_s = models.FloatField(null=True, blank=True)
    tempo_off = models.FloatField(default=0)
    leads = models.BooleanField(default=False)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=(Q(by_ear_s=None) | (Q(by_ear_s__gte=-86_400) & Q(by_ear_s__lte=86_400)))
                & (Q(drift_ppm=None) | (Q(drift_ppm__gte=-1000) & Q(drift_ppm__lte=1000))),
                name="take_place_in_range",
            )
        ]


class CompTrack(Worked):
    """The track that is made of the chosen phrases: how it is to be made, and what came of it.

    made_of is the fingerprint of the choices it was made of, lineage which phrases of which files they were; seams and
    told are what joining said of it.
    """

    part = models.OneToOneField(Part, on_delete=models.CASCADE, related_name="track")
    cleanup = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(CLEANUPS)), default=CLEANUPS[0])
    breaths = models.BooleanField(default=True)
    match_levels = models.BooleanField(default=True)
    crossfade_ms = models.FloatField(default=20)
    seam_search_ms = models.FloatField(default=120)
    audio = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    measurement = models.JSONField(null=True, blank=True)
    peaks = models.BinaryField(null=True, blank=True)
    peak_s = models.FloatField(null=True, blank=True)
    made_of = models.CharField(max_length=64, blank=True)
    lineage = models.JSONField(default=list, blank=True)
    seams = models.JSONField(default=list, blank=True)
    told = models.JSONField(default=list, blank=True)
    listened = models.BooleanField(default=False)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=Q(crossfade_ms__gte=0)
                & Q(crossfade_ms__lte=1000)
                & Q(seam_search_ms__gte=0)
                & Q(seam_search_ms__lte=1000),
                name="track_in_range",
            )
        ]

    def to_core(self) -> Measurement | None:
        """Return what was measured of it; None before it was made."""
        return msgspec.convert(self.measurement, Measurement) if self.measurement else None

    @property
    def trace(self) -> PeakTrace | None:
        if self.peaks is None or self.peak_s is None:
            return None
        return PeakTrace(seconds_per_column=self.peak_s, peaks=bytes(self.peaks))


class LayerTrack(Worked):
    """A layer tightened to its lead: its phrases shifted, nothing stretched.

    made_of is the fingerprint of the takes and shifts it was made of, shifts what was moved by how much, in ms.
    """

    layer = models.OneToOneField(Layer, on_delete=models.CASCADE, related_name="track")
    audio = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    made_of = models.CharField(max_length=64, blank=True)
    shifts = models.JSONField(default=list, blank=True)


class Balance(Worked):
    """A balance to listen to: never sent. before is everything as it is, after as it was set.

    volumes are what brings both to one loudness.
    """

    song = models.OneToOneField(Song, on_delete=models.CASCADE, related_name="balance")
    before = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    after = models.ForeignKey(AudioFile, null=True, blank=True, on_delete=models.PROTECT, related_name="+")
    volumes = models.JSONField(default=list, blank=True)


class BalanceItem(Owned):
    """How one file is set in the balance; key is that of the file among those that are sent."""

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="balance_items")
    key = models.CharField(max_length=40)
    level_db = models.FloatField(default=0)
    place = models.FloatField(default=0)
    low_cut_hz = models.PositiveSmallIntegerField(default=0)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["song", "key"], name="one_balance_item_a_file"),
            models.CheckConstraint(
                condition=Q(level_db__gte=LEVELS_DB[0])
                & Q(level_db__lte=LEVELS_DB[1])
                & Q(place__gte=-100)
                & Q(place__lte=100)
                & Q(low_cut_hz__in=LOW_CUTS_HZ),
                name="balance_item_in_range",
            ),
        ]
        ordering: ClassVar = ["pk"]


def track_settings(track: CompTrack) -> dict[str, Any]:
    """Return how a track is to be made."""
    return {
        name: getattr(track, name) for name in ("cleanup", "breaths", "match_levels", "crossfade_ms", "seam_search_ms")
    }
