"""The models every step hangs on. Every row has an owner; `mine` is the only way to ask for rows."""

from contextlib import suppress
from functools import cached_property
from typing import ClassVar

import msgspec
from django.db import models
from django.db.models import Q

from pneumen.core.errors import UnknownName
from pneumen.core.gain import SCHOOLS
from pneumen.core.gear import MICROPHONE_FAMILIES
from pneumen.core.kit import COMPUTERS, TONES, Item, OwnedGear, RoomNeed, item_named
from pneumen.core.part import LOUDNESSES, ROLES, SOURCES, Source, guessed_levels, levels_over
from pneumen.core.part import Section as CoreSection
from pneumen.core.place import TASTES
from pneumen.core.setup import PlugLevels, SourceLevels
from pneumen.core.take import Correction
from pneumen.web.song.gear import GearMark, Interface, Microphone
from pneumen.web.song.owned import Owned, choices_of
from pneumen.web.song.preferences import Preferences
from pneumen.web.song.rooms import Room
from pneumen.web.song.trials import Trial, TrialSpot

__all__ = [
    "AUDIENCES",
    "Backing",
    "GearMark",
    "Interface",
    "Microphone",
    "Owned",
    "Part",
    "Preferences",
    "Room",
    "Section",
    "Song",
    "Take",
    "Trial",
    "TrialSpot",
    "room_need",
]

AUDIENCES = {
    "song": ("A song to release", 44_100, "24-bit at 44.1 kHz, the rate songs are released at."),
    "film": ("Film or video", 48_000, "24-bit at 48 kHz, the rate pictures run with."),
    "classical": ("A classical recording", 96_000, "24-bit at 96 kHz, as purists ask; 44.1 would sound the same."),
    "audition": ("An audition", 44_100, "24-bit at 44.1 kHz; any player opens it."),
    "mixer": ("A mix engineer", 48_000, "24-bit at 48 kHz unless they ask for another rate: ask first."),
}


def room_need(room: Room) -> RoomNeed:
    """Return a room as the planner sees it."""
    known = room.to_core()
    return RoomNeed(noise_dba=known.noise_dba, rt60_s=known.rt60_s, volume_m3=known.volume_m3)


class Song(Owned):
    """A song with its money, computer, room and audience; deleted ones stay until the undo is past."""

    name = models.CharField(max_length=120)
    budget = models.FloatField(default=0)
    route = models.CharField(max_length=20, default="any")
    computer = models.CharField(max_length=20, default="laptop")
    audience = models.CharField(max_length=20, choices=choices_of(AUDIENCES), default="song")
    room = models.ForeignKey(Room, on_delete=models.PROTECT, related_name="songs")
    owned_kinds = models.JSONField(default=list)
    system = models.CharField(max_length=20, blank=True, choices=choices_of(dict.fromkeys(COMPUTERS)))
    standing = models.BooleanField(default=True)
    renting = models.BooleanField(default=True)
    monitors = models.BooleanField(default=False)
    tone = models.CharField(max_length=10, blank=True, choices=choices_of(dict.fromkeys(TONES)))
    take_handling = models.BooleanField(default=True)
    monthly_fees = models.BooleanField(default=False)
    good_enough_db = models.FloatField(default=1)
    kit_must = models.JSONField(default=list)
    kit_never = models.JSONField(default=list)
    created_at = models.DateTimeField(auto_now_add=True)
    deleted_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(condition=Q(budget__gte=0) & Q(budget__lte=1_000_000), name="budget_in_range"),
            models.CheckConstraint(
                condition=Q(good_enough_db__gte=0) & Q(good_enough_db__lte=20), name="good_enough_in_range"
            ),
        ]
        ordering: ClassVar = ["created_at"]

    @property
    def sample_rate_hz(self) -> int:
        return AUDIENCES[self.audience][1]


class Backing(Owned):
    """The song's backing track: its file by checksum, what it is, its tempo, and where time zero lies in it."""

    song = models.OneToOneField(Song, on_delete=models.CASCADE, related_name="backing")
    original_name = models.CharField(max_length=200)
    checksum = models.CharField(max_length=64)
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


class Part(Owned):
    """One part of a song: who plays, how loud as far as is known, and the setup it is recorded with.

    known_* hold what a take taught: levels (at 1 m or at the plug), whether they are absolute or only hold for this
    knob, the chain they were learned with, and their bands with that chain and with any other. known_room_dba is the
    room's noise as this chain hears it; on a bare knob only its ratio to the level means anything. Parts of one
    session are recorded at the same time. off_* are degrees off the mouth's and the
    microphone's axis, to the right as the performer sees it unless off_to_left, and
    turned clockwise from above unless turned_left; above_m is the capsule over the mouth,
    pop_before_m the screen before the capsule, sheet_m where the data sheet's response was taken. stand_* are metres
    from the room's west and south wall (its middle where empty), facing_deg runs clockwise from north.
    """

    song = models.ForeignKey(Song, on_delete=models.CASCADE, related_name="parts")
    name = models.CharField(max_length=80)
    source = models.CharField(max_length=30, choices=choices_of(SOURCES))
    loudness = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(LOUDNESSES)), default="unknown")
    school = models.CharField(max_length=30, default=SCHOOLS[0].slug)
    role = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(ROLES)), default=ROLES[0])
    doubles = models.PositiveSmallIntegerField(default=0)
    session = models.PositiveSmallIntegerField(default=1)
    stand_x_m = models.FloatField(null=True, blank=True)
    stand_y_m = models.FloatField(null=True, blank=True)
    facing_deg = models.FloatField(default=0)
    mouth_m = models.FloatField(default=1.5)
    off_mouth_deg = models.FloatField(default=0)
    off_microphone_deg = models.FloatField(default=0)
    off_to_left = models.BooleanField(default=False)
    turned_left = models.BooleanField(default=False)
    above_m = models.FloatField(default=0)
    pop_screen = models.BooleanField(default=True)
    pop_before_m = models.FloatField(default=0.09)
    low_cut_hz = models.FloatField(default=0)
    zone = models.CharField(max_length=20, blank=True)
    taste = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(TASTES)), default="balanced")
    from_grille = models.BooleanField(default=False)
    sheet_m = models.FloatField(default=1)
    position = models.PositiveSmallIntegerField(default=0)
    answered = models.BooleanField(default=False)

    known_levels = models.JSONField(null=True, blank=True)
    known_band_db = models.FloatField(null=True, blank=True)
    known_source_band_db = models.FloatField(null=True, blank=True)
    known_absolute = models.BooleanField(default=False)
    known_chain = models.CharField(max_length=200, blank=True)
    known_gain_db = models.FloatField(null=True, blank=True)
    known_room_dba = models.FloatField(null=True, blank=True)
    known_room_band_db = models.FloatField(null=True, blank=True)
    known_from = models.ForeignKey("Take", null=True, blank=True, on_delete=models.SET_NULL, related_name="+")

    own_microphone = models.ForeignKey(Microphone, null=True, blank=True, on_delete=models.SET_NULL)
    own_interface = models.ForeignKey(Interface, null=True, blank=True, on_delete=models.SET_NULL)
    bought_microphone = models.CharField(max_length=60, blank=True)
    bought_interface = models.CharField(max_length=60, blank=True)
    bought_booster = models.CharField(max_length=60, blank=True)
    bought_box = models.CharField(max_length=60, blank=True)
    distance_m = models.FloatField(default=0.2)
    gain_db = models.FloatField(default=0)
    pinned = models.JSONField(null=True, blank=True)
    plugged = models.JSONField(default=list)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(condition=Q(distance_m__gt=0) & Q(distance_m__lte=100), name="distance_in_range"),
            models.CheckConstraint(
                condition=Q(off_mouth_deg__gte=0)
                & Q(off_mouth_deg__lte=90)
                & Q(off_microphone_deg__gte=0)
                & Q(off_microphone_deg__lte=180),
                name="angles_in_range",
            ),
            models.CheckConstraint(
                condition=Q(above_m__gte=-2)
                & Q(above_m__lte=2)
                & Q(pop_before_m__gte=0)
                & Q(pop_before_m__lte=1)
                & Q(low_cut_hz__gte=0)
                & Q(low_cut_hz__lte=400)
                & Q(sheet_m__gt=0)
                & Q(sheet_m__lte=1000),
                name="placement_in_range",
            ),
            models.CheckConstraint(condition=Q(mouth_m__gt=0) & Q(mouth_m__lte=3), name="mouth_in_range"),
            models.CheckConstraint(condition=Q(session__gte=1) & Q(session__lte=8), name="session_in_range"),
            models.CheckConstraint(condition=Q(gain_db__gte=-60) & Q(gain_db__lte=100), name="gain_in_range"),
        ]
        ordering: ClassVar = ["position", "id"]

    @property
    def source_facts(self) -> Source:
        return SOURCES[self.source]

    @property
    def is_plugged(self) -> bool:
        """Whether the instrument's plug is recorded, not its sound in the air."""
        return self.source_facts.direct is not None

    @property
    def microphone(self) -> Item | None:
        if self.is_plugged:
            return None
        if self.own_microphone:
            return self.own_microphone.to_core()
        return self._bought(self.bought_microphone)

    @property
    def interface(self) -> Item | None:
        if self.own_interface:
            return self.own_interface.to_core()
        return self._bought(self.bought_interface)

    @property
    def booster(self) -> Item | None:
        return None if self.is_plugged else self._bought(self.bought_booster)

    @property
    def box(self) -> Item | None:
        return self._bought(self.bought_box) if self.is_plugged else None

    @property
    def devices(self) -> tuple[Item, ...]:
        """All that the sound passes on its way into the file."""
        return tuple(item for item in (self.microphone, self.interface, self.booster, self.box) if item)

    def _bought(self, item_id: str) -> Item | None:
        """Return an item as its person's catalogue has it, else as it was built in; None where it is gone."""
        if not item_id:
            return None
        if item_id in self._changed_items:
            return self._changed_items[item_id]
        with suppress(UnknownName):
            return item_named(item_id)
        return None

    @cached_property
    def _changed_items(self) -> dict[str, Item]:
        rows = GearMark.objects.mine(self.owner_id).exclude(data=None)
        return {row.item_id: msgspec.convert(row.data, Item) for row in rows}

    @property
    def is_set_up(self) -> bool:
        """Whether there is a whole chain: a USB microphone, or another (or a plug) with an interface."""
        if self.is_plugged:
            return self.interface is not None
        microphone = self.microphone
        return microphone is not None and (microphone.microphone_family.plug != "xlr" or self.interface is not None)

    @property
    def chain_name(self) -> str:
        """Names the gear, to tell whether a take was recorded with the same."""
        return "+".join(item.id for item in self.devices)

    @cached_property
    def core_sections(self) -> tuple[CoreSection, ...]:
        return tuple(section.to_core() for section in self.sections.all())

    def known_source_levels(self) -> SourceLevels | PlugLevels | None:
        return (PlugLevels if self.is_plugged else SourceLevels)(**self.known_levels) if self.known_levels else None

    def guessed_source_levels(self) -> SourceLevels | PlugLevels:
        """Return what is expected over all sections, before a take told."""
        return levels_over(self.core_sections, guessed_levels(self.source, self.loudness).levels)

    def owned_gear(self) -> OwnedGear:
        usb = self.own_microphone and MICROPHONE_FAMILIES[self.own_microphone.family].plug == "usb"
        rows = (self.own_microphone, None if usb else self.own_interface)
        items = tuple(row.to_core() for row in rows if row)
        return OwnedGear(items=items, kinds=tuple(sorted(self.song.owned_kinds)))


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


class Take(Owned):
    """A recorded take: its file by checksum, an immutable snapshot of its setup, and what was measured.

    status goes waiting -> working -> done or failed; a worker that dies leaves working, which the next one
    takes up again.
    """

    WAITING, WORKING, DONE, FAILED = "waiting", "working", "done", "failed"

    part = models.ForeignKey(Part, on_delete=models.CASCADE, related_name="takes")
    number = models.PositiveIntegerField()
    simulated = models.BooleanField(default=False)
    original_name = models.CharField(max_length=200)
    checksum = models.CharField(max_length=64, blank=True)
    preview_checksum = models.CharField(max_length=64, blank=True)
    status = models.CharField(max_length=10, default=WAITING)
    progress = models.FloatField(default=0)
    error = models.CharField(max_length=400, blank=True)
    snapshot = models.JSONField()
    measurement = models.JSONField(null=True, blank=True)
    outline = models.JSONField(null=True, blank=True)
    correction = models.JSONField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["part", "number"], name="one_take_of_a_number"),
            models.CheckConstraint(
                condition=Q(status__in=("waiting", "working", "done", "failed")), name="known_status"
            ),
        ]
        ordering: ClassVar = ["-number"]

    def core_correction(self) -> Correction | None:
        if not self.correction:
            return None
        value = dict(self.correction)
        levels = value.pop("source")
        source = (SourceLevels if "at_m" in levels else PlugLevels)(**levels)
        return Correction(source=source, caveats=tuple(value.pop("caveats")), **value)
