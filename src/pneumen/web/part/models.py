"""A part of a song with its setup, its sections, and the song's backing track."""

from typing import TYPE_CHECKING, Any, ClassVar, Self

from django.apps import apps
from django.db import models
from django.db.models import Prefetch, Q

from pneumen.core.gain import SCHOOLS
from pneumen.core.gear import OWN_FAMILIES
from pneumen.core.kit import (
    OwnedGear,
)
from pneumen.core.part import LOUDNESSES, ROLES, guessed_levels, levels_over
from pneumen.core.part import Section as CoreSection
from pneumen.core.place import TASTES
from pneumen.core.setup import PlugLevels, SourceLevels
from pneumen.web.audio.models import AudioFile
from pneumen.web.owned import KeptManager, Owned, OwnedQuerySet, choices_of
from pneumen.web.part.gear import WithGear
from pneumen.web.room.models import HEARD
from pneumen.web.song.models import Song

if TYPE_CHECKING:
    from pneumen.web.take.models import Lesson

SAID = ("buffers_seen", "loops", "cue_mixes")
"""What was said of a song that its parts are worked out from."""
YOURS, TAKE = "yours", "take"
"""Who set a value: its person, or a take that was recorded with it; planned values have no origin."""


class PartQuerySet(OwnedQuerySet):
    def with_gear(self) -> Self:
        """With what its setup is worked out from beside song and room: gear, sections, lessons."""
        lessons = apps.get_model("take", "Lesson").objects.filter(undone=False).with_take()
        found = self.select_related("owner", "own_microphone", "other_microphone", "own_interface")
        told = ("sections", "owner__gear_marks", "own_interface__readings")
        return found.prefetch_related(*told, Prefetch("lessons", lessons))

    def whole(self) -> Self:
        """With song and room too, and what is in the room."""
        said = (*(f"song__{name}" for name in SAID), *(f"song__room__{name}" for name in HEARD))
        return self.with_gear().select_related("song__room").prefetch_related(*said)


PartManager = KeptManager.from_queryset(PartQuerySet)


class Part(WithGear):
    """One part of a song: who plays, how loud as far as is known, and the setup it is recorded with.

    distance_m, above_m, aside_deg, where one stands (stand_*, facing_deg) and gain_db are empty where they are planned:
    then they are worked out anew each time (settle.py). Their origin says who set them: "yours" or "take", which
    froze what it was recorded with. A gain holds for the chain it was set for (gain_chain). aside_deg and turned_deg
    run clockwise from above; stand_* are metres from the room's west and south wall, facing_deg runs from north.

    What takes taught are its lessons. Parts of one session are recorded at the same time.
    """

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="parts")
    name = models.CharField(max_length=80)
    loudness = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(LOUDNESSES)), default="unknown")
    school = models.CharField(max_length=30, default=SCHOOLS[0].slug)
    role = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(ROLES)), default=ROLES[0])
    doubles = models.PositiveSmallIntegerField(default=0)
    session = models.PositiveSmallIntegerField(default=1)
    stand_x_m = models.FloatField(null=True, blank=True)
    stand_y_m = models.FloatField(null=True, blank=True)
    facing_deg = models.FloatField(null=True, blank=True)
    stand_origin = models.CharField(max_length=10, blank=True)
    mouth_m = models.FloatField(default=1.5)
    distance_m = models.FloatField(null=True, blank=True)
    above_m = models.FloatField(null=True, blank=True)
    aside_deg = models.FloatField(null=True, blank=True)
    place_origin = models.CharField(max_length=10, blank=True)
    turned_deg = models.FloatField(default=0)
    pop_screen = models.BooleanField(default=True)
    screen_before_m = models.FloatField(default=0.09)
    low_cut_hz = models.FloatField(default=0)
    zone = models.CharField(max_length=20, blank=True)
    taste = models.CharField(max_length=10, choices=choices_of(TASTES), default="balanced")
    from_grille = models.BooleanField(default=False)
    sheet_m = models.FloatField(default=1)
    position = models.PositiveSmallIntegerField(default=0)
    answered = models.BooleanField(default=False)

    instrument_price = models.FloatField(null=True, blank=True)
    gain_db = models.FloatField(null=True, blank=True)
    gain_chain = models.CharField(max_length=200, blank=True)
    gain_origin = models.CharField(max_length=10, blank=True)
    pinned = models.JSONField(null=True, blank=True)

    objects: ClassVar[Any] = PartManager()  # type: ignore[assignment]
    everything: ClassVar[Any] = PartQuerySet.as_manager()

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=Q(distance_m=None) | (Q(distance_m__gt=0) & Q(distance_m__lte=100)), name="distance_in_range"
            ),
            models.CheckConstraint(
                condition=(Q(aside_deg=None) | (Q(aside_deg__gte=-90) & Q(aside_deg__lte=90)))
                & Q(turned_deg__gte=-180)
                & Q(turned_deg__lte=180),
                name="angles_in_range",
            ),
            models.CheckConstraint(
                condition=(Q(above_m=None) | (Q(above_m__gte=-2) & Q(above_m__lte=2)))
                & Q(screen_before_m__gte=0)
                & Q(screen_before_m__lte=1)
                & Q(low_cut_hz__gte=0)
                & Q(low_cut_hz__lte=400)
                & Q(sheet_m__gt=0)
                & Q(sheet_m__lte=1000),
                name="placement_in_range",
            ),
            models.CheckConstraint(condition=Q(mouth_m__gt=0) & Q(mouth_m__lte=3), name="mouth_in_range"),
            models.CheckConstraint(
                condition=Q(instrument_price=None) | Q(instrument_price__gte=0), name="instrument_price_in_range"
            ),
            models.CheckConstraint(
                condition=(Q(between_deg=None) | (Q(between_deg__gte=0) & Q(between_deg__lte=180)))
                & (Q(spacing_m=None) | (Q(spacing_m__gte=0) & Q(spacing_m__lte=3))),
                name="pair_in_range",
            ),
            models.CheckConstraint(condition=Q(session__gte=1) & Q(session__lte=8), name="session_in_range"),
            models.CheckConstraint(
                condition=Q(gain_db=None) | (Q(gain_db__gte=-60) & Q(gain_db__lte=100)), name="gain_in_range"
            ),
        ]
        ordering: ClassVar = ["position", "id"]

    @property
    def core_sections(self) -> tuple[CoreSection, ...]:
        return tuple(section.to_core() for section in self.sections.all())

    @property
    def learnt(self) -> "Lesson | None":
        """What the newest take taught of its performer that holds with this chain; None before one did."""
        return self.lesson("level", self.chain_name)

    def lesson(self, what: str, chain: str | None) -> "Lesson | None":
        """Return the newest lesson that holds with a chain, or with any (None)."""
        kept = (one for one in self.lessons.all() if one.what == what and not one.undone)
        return next((one for one in kept if one.absolute or one.chain == chain), None)

    @property
    def surely_known_levels(self) -> SourceLevels | PlugLevels | None:
        """What a take taught, where it holds for any chain and not only for the knob it was recorded with."""
        lesson = self.lesson("level", None)
        return lesson.source_levels if lesson else None

    def guessed_source_levels(self) -> SourceLevels | PlugLevels:
        """Return what is expected over all sections, before a take told."""
        guessed = guessed_levels(self.source, self.loudness).levels
        if isinstance(guessed, PlugLevels):
            return levels_over(self.core_sections, guessed)
        return levels_over(self.core_sections, guessed)

    def owned_gear(self) -> OwnedGear:
        whole = self.has_own_chain and self.own_microphone and OWN_FAMILIES[self.own_microphone.family].plug != "xlr"
        rows = (self.own_microphone, self.other_microphone, None if whole else self.own_interface)
        items = tuple(row.to_core() for row in rows if row)
        return OwnedGear(items=items, kinds=self.song.core_owned_kinds)


class Section(Owned):
    """One section of a part: its bars, its words, and how loud it is against the part's usual level."""

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="sections")
    name = models.CharField(max_length=60)
    bars = models.PositiveSmallIntegerField(default=8)
    loudness_db = models.FloatField(default=0)
    words = models.TextField(blank=True)
    position = models.PositiveSmallIntegerField(default=0)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(condition=Q(bars__gte=1) & Q(bars__lte=999), name="bars_in_range"),
            models.CheckConstraint(
                condition=Q(loudness_db__gte=-30) & Q(loudness_db__lte=15), name="section_loudness_in_range"
            ),
        ]
        ordering: ClassVar = ["position", "id"]

    def to_core(self) -> CoreSection:
        return CoreSection(name=self.name, bars=self.bars, loudness_db=self.loudness_db)


class Backing(Owned):
    """The song's backing track: its file, what it is, its tempo, and where time zero lies in it."""

    song = models.OneToOneField(Song, on_delete=models.CASCADE, related_name="backing")
    original_name = models.CharField(max_length=200)
    audio = models.ForeignKey(AudioFile, on_delete=models.PROTECT, related_name="+")
    sample_rate_hz = models.PositiveIntegerField()
    channels = models.PositiveSmallIntegerField()
    duration_s = models.FloatField()
    tempo_bpm = models.FloatField(null=True, blank=True)
    tempo_found = models.BooleanField(default=False)
    zero_s = models.FloatField(default=0)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=Q(tempo_bpm=None) | (Q(tempo_bpm__gte=20) & Q(tempo_bpm__lte=400)), name="tempo_in_range"
            ),
            models.CheckConstraint(condition=Q(zero_s__gte=0), name="zero_not_before_the_file"),
        ]
