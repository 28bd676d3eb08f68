"""A song, and how its person reads."""

from typing import Any, ClassVar, Self

from django.db import models
from django.db.models import Q

from pneumen.core.delay import LOADS
from pneumen.core.kit import COMPUTERS, ENOUGH_CLEAN_RANGE_DB, TONES
from pneumen.web.owned import KeptManager, OwnedQuerySet, PutAway, choices_of
from pneumen.web.room.models import HEARD, Room
from pneumen.web.song.preferences import Preferences
from pneumen.wording.language import _

__all__ = ["AUDIENCES", "Preferences", "Song"]

AUDIENCES = {
    "song": (_("A song to release"), 44_100, _("24-bit at 44.1 kHz, the rate songs are released at.")),
    "film": (_("Film or video"), 48_000, _("24-bit at 48 kHz, the rate pictures run with.")),
    "classical": (
        _("A classical recording"),
        96_000,
        _("24-bit at 96 kHz, as purists ask; 44.1 would sound the same."),
    ),
    "audition": (_("An audition"), 44_100, _("24-bit at 44.1 kHz; any player opens it.")),
    "mixer": (_("A mix engineer"), 48_000, _("24-bit at 48 kHz unless they ask for another rate: ask first.")),
}


class SongQuerySet(OwnedQuerySet):
    def whole(self) -> Self:
        """With room, what is in it, and what is owned and asked for."""
        rooms = (f"room__{name}" for name in HEARD)
        return self.select_related("room", "owner").prefetch_related("owned_kinds", "kit_marks", "kit_extras", *rooms)


SongManager = KeptManager.from_queryset(SongQuerySet)


class Song(PutAway):
    """A song with its money, computer, room and audience.

    kit_taken tells that its person chose the kit; else the recommended one follows every answer. money_short: no
    complete kit fitted the money when it was planned. buffer is empty where it is planned; plugin_samples are what
    plug-ins look ahead while recording, load how much is worked on then. metre is how many beats a bar has, key what it
    is told to whoever gets the files.
    """

    name = models.CharField(max_length=120)
    budget = models.FloatField(default=0)
    route = models.CharField(max_length=20, default="any")
    computer = models.CharField(max_length=20, default="laptop")
    audience = models.CharField(max_length=20, choices=choices_of(AUDIENCES), default="song")
    room = models.ForeignKey(Room, on_delete=models.PROTECT, related_name="songs")
    system = models.CharField(max_length=20, blank=True, choices=choices_of(dict.fromkeys(COMPUTERS)))
    standing = models.BooleanField(default=True)
    renting = models.BooleanField(default=True)
    monitors = models.BooleanField(default=False)
    tone = models.CharField(max_length=10, blank=True, choices=choices_of(dict.fromkeys(TONES)))
    take_handling = models.BooleanField(default=True)
    monthly_fees = models.BooleanField(default=False)
    lent = models.BooleanField(default=False)
    enough_clean_db = models.FloatField(default=ENOUGH_CLEAN_RANGE_DB)
    kit_taken = models.BooleanField(default=False)
    money_short = models.BooleanField(default=False)
    buffer = models.PositiveIntegerField(null=True, blank=True)
    plugin_samples = models.PositiveIntegerField(default=0)
    metre = models.PositiveSmallIntegerField(default=4)
    key = models.CharField(max_length=20, blank=True)
    load = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(LOADS)), default="plain")
    created_at = models.DateTimeField(auto_now_add=True)

    objects: ClassVar[Any] = SongManager()  # type: ignore[assignment]
    everything: ClassVar[Any] = SongQuerySet.as_manager()

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(condition=Q(budget__gte=0) & Q(budget__lte=1_000_000), name="budget_in_range"),
            models.CheckConstraint(
                condition=(Q(buffer=None) | (Q(buffer__gte=1) & Q(buffer__lte=65_536)))
                & Q(plugin_samples__lte=1_000_000),
                name="buffer_in_range",
            ),
            models.CheckConstraint(condition=Q(metre__gte=1) & Q(metre__lte=32), name="metre_in_range"),
            models.CheckConstraint(
                condition=Q(enough_clean_db__gte=0) & Q(enough_clean_db__lte=140), name="enough_in_range"
            ),
        ]
        ordering: ClassVar = ["created_at"]

    @property
    def sample_rate_hz(self) -> int:
        return AUDIENCES[self.audience][1]

    @property
    def core_owned_kinds(self) -> tuple[str, ...]:
        """The kinds of small things that are there, each as often as it is."""
        return tuple(row.kind for row in self.owned_kinds.all() for _ in range(row.count))

    @property
    def musts(self) -> tuple[str, ...]:
        """The ids of what must be in the kit."""
        return tuple(row.item_id for row in self.kit_marks.all() if row.wanted == "must")

    @property
    def nevers(self) -> tuple[str, ...]:
        """The ids of what must never be."""
        return tuple(row.item_id for row in self.kit_marks.all() if row.wanted == "never")
