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
from pneumen.core.kit import (
    ASSUMED,
    COMPUTERS,
    TONES,
    Item,
    OwnedGear,
    assumed_interface,
    assumed_microphone,
    chain_of,
    item_named,
    owned_item,
    plugged_chain_of,
)
from pneumen.core.part import LOUDNESSES, ROLES, SOURCES, Source, guessed_levels, levels_over
from pneumen.core.part import Section as CoreSection
from pneumen.core.place import TASTES
from pneumen.core.setup import Chain, PlugLevels, SourceLevels
from pneumen.core.take import Correction
from pneumen.web.song.gear import GearMark, Interface, Microphone
from pneumen.web.song.owned import Owned, choices_of
from pneumen.web.song.preferences import Preferences
from pneumen.web.song.rooms import Room
from pneumen.web.song.trials import Trial, TrialSpot

__all__ = [
    "AUDIENCES",
    "TAKE",
    "YOURS",
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
]

YOURS, TAKE = "yours", "take"
"""Who set a value: its person, or a take that was recorded with it; planned values have no origin."""
AUDIENCES = {
    "song": ("A song to release", 44_100, "24-bit at 44.1 kHz, the rate songs are released at."),
    "film": ("Film or video", 48_000, "24-bit at 48 kHz, the rate pictures run with."),
    "classical": ("A classical recording", 96_000, "24-bit at 96 kHz, as purists ask; 44.1 would sound the same."),
    "audition": ("An audition", 44_100, "24-bit at 44.1 kHz; any player opens it."),
    "mixer": ("A mix engineer", 48_000, "24-bit at 48 kHz unless they ask for another rate: ask first."),
}


class Song(Owned):
    """A song with its money, computer, room and audience; deleted ones stay until the undo is past.

    kit_taken tells that its person chose the kit; else the recommended one follows every answer. kit_extras holds the
    ids of what was taken along with its devices, as things to hang.
    """

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
    kit_taken = models.BooleanField(default=False)
    kit_extras = models.JSONField(default=list)
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

    distance_m, above_m, aside_deg, where one stands (stand_*, facing_deg) and gain_db are empty where they are planned:
    then they are worked out anew each time (song/settle.py). Their origin says who set them: "yours" or "take", which
    froze what it was recorded with. A gain holds for the chain it was set for (gain_chain). aside_deg and turned_deg
    run clockwise from above; stand_* are metres from the room's west and south wall, facing_deg runs from north.

    known_* hold what a take taught: levels (at 1 m or at the plug), whether they are absolute or only hold for this
    knob, the chain they were learned with, and their bands with that chain and with any other; known_noise_change_db
    is the room's noise as this chain hears it against what the room's words say. Parts of one session are recorded at
    the same time.
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

    known_levels = models.JSONField(null=True, blank=True)
    known_band_db = models.FloatField(null=True, blank=True)
    known_source_band_db = models.FloatField(null=True, blank=True)
    known_absolute = models.BooleanField(default=False)
    known_chain = models.CharField(max_length=200, blank=True)
    known_gain_db = models.FloatField(null=True, blank=True)
    known_noise_change_db = models.FloatField(null=True, blank=True)
    known_noise_band_db = models.FloatField(null=True, blank=True)
    known_from = models.ForeignKey("Take", null=True, blank=True, on_delete=models.SET_NULL, related_name="+")

    own_microphone = models.ForeignKey(Microphone, null=True, blank=True, on_delete=models.SET_NULL)
    own_interface = models.ForeignKey(Interface, null=True, blank=True, on_delete=models.SET_NULL)
    bought_microphone = models.CharField(max_length=60, blank=True)
    bought_interface = models.CharField(max_length=60, blank=True)
    bought_booster = models.CharField(max_length=60, blank=True)
    bought_box = models.CharField(max_length=60, blank=True)
    gain_db = models.FloatField(null=True, blank=True)
    gain_chain = models.CharField(max_length=200, blank=True)
    gain_origin = models.CharField(max_length=10, blank=True)
    pinned = models.JSONField(null=True, blank=True)
    plugged = models.JSONField(default=list)

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
            models.CheckConstraint(condition=Q(session__gte=1) & Q(session__lte=8), name="session_in_range"),
            models.CheckConstraint(
                condition=Q(gain_db=None) | (Q(gain_db__gte=-60) & Q(gain_db__lte=100)), name="gain_in_range"
            ),
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
        """The microphone, the family's usual one where there is none yet; None for what is plugged in."""
        if self.is_plugged:
            return None
        taken = self._item(self.bought_microphone)
        own = self.own_microphone.to_core() if self.own_microphone else None
        return taken or own or assumed_microphone(self.source_facts)

    @property
    def interface(self) -> Item | None:
        """The interface, a usual one where there is none yet; None where the microphone needs none."""
        microphone = self.microphone
        if microphone and (microphone.kind == "recorder" or microphone.microphone_family.plug != "xlr"):
            return None
        taken = self._item(self.bought_interface)
        own = self.own_interface.to_core() if self.own_interface else None
        return taken or own or assumed_interface()

    @property
    def booster(self) -> Item | None:
        microphone = self.microphone
        if microphone is None or microphone.kind == "recorder" or microphone.microphone_family.plug != "xlr":
            return None
        return self._item(self.bought_booster)

    @property
    def box(self) -> Item | None:
        return self._item(self.bought_box) if self.is_plugged else None

    @property
    def devices(self) -> tuple[Item, ...]:
        """All that the sound passes on its way into the file."""
        return tuple(item for item in (self.microphone, self.interface, self.booster, self.box) if item)

    @property
    def assumed_devices(self) -> tuple[Item, ...]:
        """What is neither owned nor chosen, only taken for granted so that something can be computed."""
        return tuple(item for item in self.devices if item.id.startswith(ASSUMED))

    @property
    def has_own_chain(self) -> bool:
        """Whether its person described a whole chain for it on Start: then nothing is planned for it."""
        if self.is_plugged:
            return self.own_interface is not None
        if self.own_microphone is None:
            return False
        return MICROPHONE_FAMILIES[self.own_microphone.family].plug == "usb" or self.own_interface is not None

    def _item(self, item_id: str) -> Item | None:
        """Return an item as its person's catalogue has it, else as it was built in; None where it is gone."""
        if not item_id:
            return None
        for model, prefix in ((Microphone, "own-microphone-"), (Interface, "own-interface-")):
            if item_id.startswith(prefix):
                row = model.objects.mine(self.owner_id).filter(pk=item_id.removeprefix(prefix)).first()
                return row and row.to_core()
        mark = self._marks.get(item_id)
        with suppress(UnknownName):
            item = msgspec.convert(mark.data, Item) if mark and mark.data else item_named(item_id)
            return owned_item(item) if mark and mark.have else item
        return None

    @cached_property
    def _marks(self) -> dict[str, GearMark]:
        return {row.item_id: row for row in GearMark.objects.mine(self.owner_id)}

    def to_chain(self) -> Chain:
        """Return what the part's sound passes on its way into the file: there always is one."""
        if self.is_plugged:
            return plugged_chain_of(self.interface, self.box)
        return chain_of(self.microphone, self.interface, self.booster)

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
