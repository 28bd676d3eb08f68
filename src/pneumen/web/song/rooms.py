"""A person's rooms: laid out from words or drawn by hand, with what stands, hangs and sounds in them."""

from functools import cached_property
from typing import Any, ClassVar

from django.db import models
from django.db.models import Q

from pneumen.core.room import (
    FURNISHINGS,
    NOISES,
    SIZES,
    WALLS,
    Box,
    Neighbour,
    Noise,
    Opening,
    Patch,
    Piece,
    Placed,
    Slot,
    Space,
    furnishing_of,
    layout_from_words,
    material_named,
    middle_rt60_s,
    patch_under,
    scaled_bands,
    scaled_box,
    with_hung,
)
from pneumen.web.song.owned import Owned, choices_of

USUAL_SURFACES = {
    "floor": "wood-floor",
    "ceiling": "plasterboard-ceiling",
    **dict.fromkeys(("north", "east", "south", "west"), "plaster"),
}


def usual_surfaces() -> dict[str, str]:
    return dict(USUAL_SURFACES)


class Room(Owned):
    """A room: laid out from its words until it is drawn by hand.

    noise_change_db is how far its noise lies from what words and noises say, as takes and tidying taught,
    told_change_db the part of it that its person brought about. absorption_scale is what a clap told of the tables.
    furniture holds what stands where, openings windows and doors, coverings pieces that hang ("on", "u", "v") or lie
    there, noises what sounds when, neighbours who hears one; clap what a clap told, by band.
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
    furniture = models.JSONField(default=list)
    openings = models.JSONField(default=list)
    coverings = models.JSONField(default=list)
    noises = models.JSONField(default=list)
    neighbours = models.JSONField(default=list)
    monitors = models.JSONField(null=True, blank=True)
    hour = models.FloatField(default=20)
    clap = models.JSONField(null=True, blank=True)
    absorption_scale = models.FloatField(default=1)

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

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Store the room; one that was never drawn is laid out from its words first."""
        if self._state.adding and not self.drawn:
            self.lay_out()
        super().save(*args, **kwargs)

    @property
    def size_m(self) -> tuple[float, float, float]:
        return self.size_x_m, self.size_y_m, self.size_z_m

    @cached_property
    def bare_box(self) -> Box:
        """The room with its windows, doors and furniture, nothing hung."""
        return scaled_box(self.unscaled_box, self.absorption_scale)

    @property
    def unscaled_box(self) -> Box:
        """The same as the tables have it, whatever a clap told."""
        coverings, objects_m2 = furnishing_of(self.size_m, [piece for _, piece in self.placed])
        return Box(
            size_m=self.size_m,
            surfaces={wall: material_named(self.surfaces.get(wall, USUAL_SURFACES[wall])).absorption for wall in WALLS},
            coverings=(*(opening.covering(self.size_m) for _, opening in self.core_openings), *coverings),
            objects_m2=objects_m2,
        )

    @property
    def placed(self) -> list[tuple[int, Placed]]:
        """The furniture, by id, where it stands."""
        return [
            (row["id"], Placed(kind=row["kind"], x_m=row["x"], y_m=row["y"], turned_deg=row["turned"]))
            for row in self.furniture
        ]

    @property
    def core_openings(self) -> list[tuple[int, Opening]]:
        """Windows and doors, by id."""
        names = ("kind", "on", "along_m", "width_m", "low_m", "high_m")
        return [(row["id"], Opening(**{name: row[name] for name in names})) for row in self.openings]

    @property
    def behind_furniture(self) -> list[tuple[str, Patch]]:
        """Walls and patches of them where something tall stands: nothing hangs there."""
        under = (patch_under(self.size_m, piece) for _, piece in self.placed)
        return [one for one in under if one and one[0] != "floor"]

    @cached_property
    def box(self) -> Box:
        """The room as it is now."""
        return with_hung(self.bare_box, [(piece, slot) for _, piece, slot in self.pieces if slot])

    @property
    def pieces(self) -> list[tuple[int, Piece, Slot | None]]:
        """Everything soft one has, by id, and where it hangs."""
        return [(row["id"], _piece(row, self.absorption_scale), _slot(row)) for row in self.coverings]

    @property
    def noise_sources(self) -> list[Noise]:
        return [
            Noise(
                name=row["name"],
                place_m=(row["x"], row["y"], row["z"]),
                level_dba=row["level"],
                from_hour=row["from"],
                to_hour=row["to"],
                spectrum=row.get("spectrum", "even"),
            )
            for row in self.noises
        ]

    @property
    def background_dba(self) -> float:
        """The noise from all around, in words."""
        return NOISES[self.noise][1]

    @property
    def rt60_s(self) -> float | None:
        """The reverberation time of the room as it is now, the mean of 500 Hz and 1 kHz."""
        return middle_rt60_s(self.box)

    @property
    def core_neighbours(self) -> list[tuple[int, Neighbour]]:
        """Who hears one, by id."""
        names = tuple(Neighbour.__dataclass_fields__)
        return [(row["id"], Neighbour(**{name: row[name] for name in names})) for row in self.neighbours]

    def to_core(self) -> Space:
        return Space(
            box=self.box,
            background_dba=self.background_dba,
            noise_band_db=NOISES[self.noise][2] if self.noise_band_db is None else self.noise_band_db,
            furniture=tuple(piece for _, piece in self.placed),
            noises=tuple(self.noise_sources),
            hour=self.hour,
            noise_change_db=self.noise_change_db,
            quietened=self.told_change_db != 0,
        )

    def lay_out(self) -> None:
        """Draw the room as its words have it; it is not stored thereby."""
        layout = layout_from_words(self.size, self.furnishing)
        self.size_x_m, self.size_y_m, self.size_z_m = layout.size_m
        self.surfaces, self.openings, self.sloping = dict(layout.surfaces), [], False
        self.furniture = [
            {"id": number, "kind": one.kind, "x": one.x_m, "y": one.y_m, "turned": one.turned_deg}
            for number, one in enumerate(layout.furniture, start=1)
        ]
        self.coverings = [
            {"id": number, **{name: getattr(one, name) for name in SOFT_FIELDS}}
            for number, one in enumerate(layout.soft, start=1)
        ]
        self.drawn, self.clap, self.absorption_scale = False, None, 1.0
        for name in ("bare_box", "box"):
            self.__dict__.pop(name, None)


SOFT_FIELDS = ("label", "material", "width_m", "height_m", "on", "u", "v")


def _piece(row: dict[str, Any], scale: float) -> Piece:
    return Piece(
        label=row["label"],
        absorption=scaled_bands(material_named(row["material"]).absorption, scale),
        width_m=row["width_m"],
        height_m=row["height_m"],
    )


def _slot(row: dict[str, Any]) -> Slot | None:
    return Slot(on=row["on"], middle_m=(row["u"], row["v"]), label="") if row.get("on") else None
