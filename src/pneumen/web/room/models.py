"""A person's rooms: laid out from words or drawn by hand, with what stands, hangs, opens and sounds in them."""

from typing import Any, ClassVar, Self

from django.db import models, transaction
from django.db.models import Q

from pneumen.core.room import (
    FURNISHINGS,
    FURNITURE,
    MATERIALS,
    NOISES,
    OPENINGS,
    PARTITIONS,
    SIZES,
    SPECTRA,
    WALLS,
    Box,
    Layout,
    Noise,
    Placed,
    Soft,
    Space,
    layout_from_words,
    middle_rt60_s,
)
from pneumen.core.room import Neighbour as CoreNeighbour
from pneumen.core.room import Opening as CoreOpening
from pneumen.web.owned import Owned, OwnedQuerySet, choices_of

USUAL_SURFACES = {
    "floor": "wood-floor",
    "ceiling": "plasterboard-ceiling",
    **dict.fromkeys(("north", "east", "south", "west"), "plaster"),
}


def usual_surfaces() -> dict[str, str]:
    return dict(USUAL_SURFACES)


HEARD = ("furniture", "openings", "coverings", "noises")
CONTENTS = (*HEARD, "neighbours")
"""What is in a room, of that what is heard: rows of their own, so that two changes at once lose nothing."""


LAID_OUT = (
    "size",
    "furnishing",
    "size_x_m",
    "size_y_m",
    "size_z_m",
    "surfaces",
    "sloping",
    "drawn",
    "clap",
    "absorption_scale",
)
"""What going back to words stores."""


class RoomQuerySet(OwnedQuerySet):
    def whole(self) -> Self:
        """With all that is in the rooms."""
        return self.prefetch_related(*CONTENTS)


class Room(Owned):
    """A room: laid out from its words until it is drawn by hand.

    noise_change_db is how far its noise lies from what words and noises say, as takes and tidying taught,
    told_change_db the part of it that its person brought about. absorption_scale is what a clap told of the tables,
    clap all that it told, by band. monitors is where they stand, hour the hour of recording.
    """

    name = models.CharField(max_length=80)
    size = models.CharField(max_length=20, choices=choices_of(SIZES))
    furnishing = models.CharField(max_length=20, choices=choices_of(FURNISHINGS))
    noise = models.CharField(max_length=20, choices=choices_of(NOISES))
    noise_change_db = models.FloatField(default=0)
    noise_band_db = models.FloatField(null=True, blank=True)
    told_change_db = models.FloatField(default=0)

    drawn = models.BooleanField(default=False)
    size_x_m = models.FloatField(default=3.6)
    size_y_m = models.FloatField(default=3.0)
    size_z_m = models.FloatField(default=2.4)
    sloping = models.BooleanField(default=False)
    surfaces = models.JSONField(default=usual_surfaces)
    monitors = models.JSONField(null=True, blank=True)
    hour = models.FloatField(default=20)
    clap = models.JSONField(null=True, blank=True)
    absorption_scale = models.FloatField(default=1)

    objects: ClassVar[Any] = RoomQuerySet.as_manager()

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=Q(size_x_m__gte=0.5)
                & Q(size_x_m__lte=60)
                & Q(size_y_m__gte=0.5)
                & Q(size_y_m__lte=60)
                & Q(size_z_m__gte=0.5)
                & Q(size_z_m__lte=60),
                name="room_size_in_range",
            ),
            models.CheckConstraint(condition=Q(hour__gte=0) & Q(hour__lte=24), name="hour_in_range"),
            models.CheckConstraint(
                condition=Q(absorption_scale__gt=0) & Q(absorption_scale__lte=100), name="absorption_in_range"
            ),
        ]

    def __str__(self) -> str:
        return self.name

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Store the room; a new one that was not drawn is laid out from its words."""
        new = self._state.adding
        with transaction.atomic():
            super().save(*args, **kwargs)
            if new and not self.drawn:
                self.lay_out()

    @property
    def size_m(self) -> tuple[float, float, float]:
        return self.size_x_m, self.size_y_m, self.size_z_m

    @property
    def layout(self) -> Layout:
        """The room as it is drawn."""
        return Layout(
            size_m=self.size_m,
            surfaces=tuple((wall, self.surfaces.get(wall, USUAL_SURFACES[wall])) for wall in WALLS),
            furniture=tuple(row.to_core() for row in self.furniture.all()),
            soft=tuple(row.to_core() for row in self.coverings.all()),
            openings=tuple(row.to_core() for row in self.openings.all()),
            absorption_scale=self.absorption_scale,
        )

    @property
    def box(self) -> Box:
        """The room as it is now."""
        return self.layout.box

    @property
    def to_hang(self) -> list["Covering"]:
        """What is soft and there, and hangs nowhere yet."""
        return [row for row in self.coverings.all() if not row.on]

    def count_of(self, material: str) -> int:
        """How many soft things of a material are its person's own, hung or not."""
        return sum(row.material == material and not row.laid_out for row in self.coverings.all())

    @property
    def background_dba(self) -> float:
        """The noise from all around, in words."""
        return NOISES[self.noise][1]

    @property
    def rt60_s(self) -> float | None:
        """The reverberation time of the room as it is now, the mean of 500 Hz and 1 kHz."""
        return middle_rt60_s(self.box)

    def to_core(self) -> Space:
        return Space(
            box=self.box,
            background_dba=self.background_dba,
            noise_band_db=NOISES[self.noise][2] if self.noise_band_db is None else self.noise_band_db,
            furniture=tuple(row.to_core() for row in self.furniture.all()),
            noises=tuple(row.to_core() for row in self.noises.all()),
            hour=self.hour,
            noise_change_db=self.noise_change_db,
            quietened=self.told_change_db != 0,
        )

    @transaction.atomic
    def lay_out(self) -> None:
        """Draw the room anew as its words have it; who hears one and what sounds stay, what is soft is taken down."""
        layout = layout_from_words(self.size, self.furnishing)
        self.size_x_m, self.size_y_m, self.size_z_m = layout.size_m
        self.surfaces, self.sloping = dict(layout.surfaces), False
        self.drawn, self.clap, self.absorption_scale = False, None, 1.0
        self.save(update_fields=LAID_OUT)
        for rows in (self.furniture, self.openings, self.coverings.filter(laid_out=True)):
            rows.all().delete()
        self.coverings.update(on="")
        for one in layout.furniture:
            self.furniture.create(owner=self.owner, **Furniture.fields_of(one))
        for soft in layout.soft:
            self.coverings.create(owner=self.owner, laid_out=True, **Covering.fields_of(soft))


class InRoom(Owned):
    """A row of what is in a room; its fields are those of the core's value, FIELDS."""

    FIELDS: ClassVar[tuple[str, ...]]

    class Meta:
        abstract = True
        ordering: ClassVar = ["pk"]

    @classmethod
    def fields_of(cls, value: object) -> dict[str, Any]:
        """Return a value of the core as the fields of a row."""
        return {name: getattr(value, name) for name in cls.FIELDS}

    def _values(self) -> dict[str, Any]:
        return {name: getattr(self, name) for name in self.FIELDS}


class Furniture(InRoom):
    """A piece of furniture where its middle stands."""

    FIELDS = ("kind", "x_m", "y_m", "turned_deg")

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="furniture")
    kind = models.CharField(max_length=30, choices=choices_of(FURNITURE))
    x_m = models.FloatField()
    y_m = models.FloatField()
    turned_deg = models.SmallIntegerField(default=0)

    def to_core(self) -> Placed:
        return Placed(**self._values())


class Opening(InRoom):
    """A window or a door in a wall."""

    FIELDS = ("kind", "on", "along_m", "width_m", "low_m", "high_m")

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="openings")
    kind = models.CharField(max_length=30, choices=choices_of(dict.fromkeys(OPENINGS)))
    on = models.CharField(max_length=10, choices=choices_of(dict.fromkeys(WALLS)))
    along_m = models.FloatField()
    width_m = models.FloatField()
    low_m = models.FloatField()
    high_m = models.FloatField()

    def to_core(self) -> CoreOpening:
        return CoreOpening(**self._values())


class Covering(InRoom):
    """Something soft one has; on is the wall it hangs on, with its middle at u, v; empty where it hangs nowhere.

    laid_out: it came with the room's words and goes with them.
    """

    FIELDS = ("label", "material", "width_m", "height_m", "on", "u", "v")

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="coverings")
    label = models.CharField(max_length=60)
    material = models.CharField(max_length=30, choices=choices_of(MATERIALS))
    width_m = models.FloatField()
    height_m = models.FloatField()
    on = models.CharField(max_length=10, blank=True, choices=choices_of(dict.fromkeys(WALLS)))
    u = models.FloatField(default=0)
    v = models.FloatField(default=0)
    laid_out = models.BooleanField(default=False)

    def to_core(self) -> Soft:
        return Soft(**self._values())


class NoiseSource(InRoom):
    """Something that sounds, where, how loud at 1 m, from which hour to which."""

    FIELDS = ("name", "level_dba", "from_hour", "to_hour", "spectrum")

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="noises")
    name = models.CharField(max_length=40)
    x_m = models.FloatField()
    y_m = models.FloatField()
    z_m = models.FloatField()
    level_dba = models.FloatField()
    from_hour = models.FloatField(default=0)
    to_hour = models.FloatField(default=24)
    spectrum = models.CharField(max_length=20, choices=choices_of(SPECTRA), default="even")

    @property
    def sound(self) -> str:
        """What it sounds like, in words."""
        return SPECTRA[self.spectrum][0]

    def to_core(self) -> Noise:
        return Noise(place_m=(self.x_m, self.y_m, self.z_m), **self._values())


class Neighbour(InRoom):
    """One who hears: through what, and how loud it may be there by day and at night."""

    FIELDS = ("name", "through", "area_m2", "day_dba", "night_dba", "night_from", "night_to")

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="neighbours")
    name = models.CharField(max_length=40)
    through = models.CharField(max_length=30, choices=choices_of(PARTITIONS))
    area_m2 = models.FloatField()
    day_dba = models.FloatField()
    night_dba = models.FloatField()
    night_from = models.FloatField()
    night_to = models.FloatField()

    @property
    def partition(self) -> str:
        """What is between, in words."""
        return PARTITIONS[self.through][0]

    def to_core(self) -> CoreNeighbour:
        return CoreNeighbour(**self._values())
