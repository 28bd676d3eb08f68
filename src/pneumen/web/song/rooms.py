"""A person's rooms: in words, or drawn to scale with walls, things in them, noises, and a clap's measurement."""

from dataclasses import replace
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
    furnishing_of,
    material_named,
    noise_everywhere,
    patch_under,
    ring_time_middle_s,
    ring_times_eyring_s,
    room_from_words,
    with_hung,
)
from pneumen.core.room import Room as CoreRoom
from pneumen.web.song.owned import Owned, choices_of

USUAL_SURFACES = {
    "floor": "wood-floor",
    "ceiling": "plasterboard-ceiling",
    **dict.fromkeys(("north", "east", "south", "west"), "plaster"),
}


def usual_surfaces() -> dict[str, str]:
    return dict(USUAL_SURFACES)


class Room(Owned):
    """A room in words; where it is drawn, its size and walls; once a take was measured, its noise as measured.

    told_change_db is by how much its person made it quieter since the words were chosen. furniture holds what stands
    where, openings windows and doors, coverings pieces that hang ("on", "u", "v") or lie there, noises what sounds
    when, neighbours who hears one; clap what a clap told, by band.
    """

    name = models.CharField(max_length=80)
    size = models.CharField(max_length=20, choices=choices_of(SIZES))
    furnishing = models.CharField(max_length=20, choices=choices_of(FURNISHINGS))
    noise = models.CharField(max_length=20, choices=choices_of(NOISES))
    measured_noise_dba = models.FloatField(null=True, blank=True)
    measured_noise_band_db = models.FloatField(null=True, blank=True)
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
    use_clap = models.BooleanField(default=False)

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
        ]

    @property
    def size_m(self) -> tuple[float, float, float]:
        return self.size_x_m, self.size_y_m, self.size_z_m

    @cached_property
    def bare_box(self) -> Box:
        """The room with its windows, doors and furniture, nothing hung."""
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
        return [(row["id"], _piece(row), _slot(row)) for row in self.coverings]

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
        """The noise from all around, in words or as a take measured it, less what was made quieter."""
        _, dba, _ = NOISES[self.noise]
        return dba + self.told_change_db

    @property
    def ring_s(self) -> float | None:
        """The ring time that counts: the clap's where it is to be used, else the computed one."""
        measured = self.clap["rt60_s"] if self.clap and self.use_clap else None
        return measured or ring_time_middle_s(ring_times_eyring_s(self.box))

    def _rings_s(self, middle_s: float) -> list[float]:
        """The ring time by band: as computed, or the measured middle for all where a clap is to count."""
        computed = ring_times_eyring_s(self.box)
        return [middle_s if self.use_clap or one is None else one for one in computed]

    @property
    def core_neighbours(self) -> list[tuple[int, Neighbour]]:
        """Who hears one, by id."""
        names = tuple(Neighbour.__dataclass_fields__)
        return [(row["id"], Neighbour(**{name: row[name] for name in names})) for row in self.neighbours]

    def to_core(self) -> CoreRoom:
        room = self._drawn_room() if self.drawn else None
        room = room or room_from_words(self.size, self.furnishing, self.noise)
        if self.measured_noise_dba is None:
            return room
        return replace(room, noise_dba=self.measured_noise_dba, noise_band_db=self.measured_noise_band_db)

    def _drawn_room(self) -> CoreRoom | None:
        ring_s = self.ring_s
        if ring_s is None:
            return None
        _, _, band_db = NOISES[self.noise]
        return CoreRoom(
            volume_m3=self.box.volume_m3,
            rt60_s=ring_s,
            noise_dba=noise_everywhere(
                self.noise_sources,
                self.box.volume_m3,
                self._rings_s(ring_s),
                hour=self.hour,
                background_dba=self.background_dba,
            ),
            noise_band_db=band_db,
        )


def _piece(row: dict[str, Any]) -> Piece:
    return Piece(
        label=row["label"],
        absorption=material_named(row["material"]).absorption,
        width_m=row["width_m"],
        height_m=row["height_m"],
    )


def _slot(row: dict[str, Any]) -> Slot | None:
    return Slot(on=row["on"], middle_m=(row["u"], row["v"]), label="") if row.get("on") else None
