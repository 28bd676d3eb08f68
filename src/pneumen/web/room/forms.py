"""What the Room screen asks for: where one stands, the room itself, and what is put into it."""

from collections.abc import Collection
from typing import Any, ClassVar

from pneumen.core.errors import PneumenError
from pneumen.core.room import (
    FURNITURE,
    MATERIALS,
    NOISY_THINGS,
    OPENINGS,
    PARTITIONS,
    SPECTRA,
    TURNS,
    WALLS,
    NoisyThing,
)
from pneumen.web.fields import CheckField, LengthField, NumberField, PickField, StepForm, TextField, WholeField
from pneumen.web.room import furnish, outward, services
from pneumen.web.room.models import Furniture, Room
from pneumen.wording.language import _

SIDE_WALLS = ("north", "east", "south", "west")
TURN_LABELS = {turn: f"{turn}°" for turn in TURNS}
ASKED_WALLS = ("floor", "ceiling", *SIDE_WALLS)


class StandForm(StepForm):
    """Where performer, microphone and furniture stand, and the hour of recording."""

    problem_id = "room-problem"
    CORE: ClassVar = {
        "from west": "stand_x",
        "from south": "stand_y",
        "height": "mouth",
        "height over the mouth": "above",
        "aside": "mic_x",
        "distance": "mic_x",
    }

    stand_x = LengthField(_("From west"), far=True)
    stand_y = LengthField(_("From south"), far=True)
    facing = NumberField("Facing", unit=_("° from north"), decimals=0)
    mouth = LengthField(_("Mouth height"), far=True)
    hour = NumberField("Hour", unit=_("0 to 24"))
    mic_x = LengthField(_("Microphone, west"), far=True)
    mic_y = LengthField(_("and south"), far=True)
    turned = NumberField("Turned", unit="degrees", signed=True)
    above = LengthField(_("Over the mouth"), signed=True)

    def __init__(self, *args: Any, sings: bool, furniture: list[Furniture], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        if not sings:
            self.fields["mouth"].label = _("It sounds at")
        for row in furniture:
            name = FURNITURE[row.kind].label
            self.fields |= {
                f"f{row.pk}_x": LengthField(_("{name}: from west").format(name=name), far=True),
                f"f{row.pk}_y": LengthField(_("{name}: from south").format(name=name), far=True),
                f"f{row.pk}_turned": PickField(f"{name}: turned", TURN_LABELS),
            }
        self._standing = furniture
        self.remember()

    def pieces(self) -> list[dict[str, Any]]:
        """Return the fields of each piece of furniture, to be shown."""
        return [
            {"row": row, "label": FURNITURE[row.kind].label}
            | {part: self[f"f{row.pk}_{part}"] for part in ("x", "y", "turned")}
            for row in self._standing
        ]


class RoomForm(StepForm):
    """A form that changes the room itself: it is sent by its own button and remembers nothing.

    name is the one its page has for it, opens the section it stands in.
    """

    problem_id = "room-problem"
    remembers = False
    name: ClassVar[str]
    opens: ClassVar[str]
    FREE: ClassVar[tuple[str, ...]] = ()
    """Fields that may be left empty."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            if isinstance(field, NumberField) and name not in self.FREE:
                field.required = True
                field.error_messages["required"] = _("{label} must not be empty.").format(label=field.label)

    def apply(self, room: Room) -> None:
        """Store what was asked for, or tell what cannot be."""
        if self.errors:
            return
        try:
            self.store(room, dict(self.cleaned_data))
        except PneumenError as error:
            self.refuse(error)

    def store(self, room: Room, told: dict[str, Any]) -> None:
        """Store what was asked for.

        Raises:
            PneumenError: for what cannot be.
        """
        raise NotImplementedError

    @staticmethod
    def remove(room: Room, number: int) -> None:
        """Take one of its kind off the list."""


class ShapeForm(RoomForm):
    name, opens = "shape_form", "shape"

    size_x = LengthField(_("West to east"), far=True)
    size_y = LengthField(_("South to north"), far=True)
    size_z = LengthField("High", far=True)
    sloping = CheckField(_("a sloping ceiling: the height given is its mean"))

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        labels = {slug: one.label for slug, one in MATERIALS.items()}
        self.fields |= {f"surface_{wall}": PickField(wall.capitalize(), labels) for wall in ASKED_WALLS}

    @classmethod
    def of(cls, room: Room) -> "ShapeForm":
        """Return the form as a room is."""
        size = dict(zip(("size_x", "size_y", "size_z"), room.size_m, strict=True))
        walls = {f"surface_{wall}": slug for wall, slug in room.layout.surfaces}
        return cls(shown=size | walls | {"sloping": room.sloping})

    def walls(self) -> list[Any]:
        return [self[f"surface_{wall}"] for wall in ASKED_WALLS]

    def store(self, room: Room, told: dict[str, Any]) -> None:
        size_m = (told["size_x"], told["size_y"], told["size_z"])
        surfaces = {wall: told[f"surface_{wall}"] for wall in WALLS}
        services.draw(room, size_m=size_m, surfaces=surfaces, sloping=told["sloping"])


class FurnitureForm(RoomForm):
    name, opens = "furniture_form", "furniture"

    kind = PickField(_("Put in"), {kind: one.label for kind, one in FURNITURE.items()})

    def store(self, room: Room, told: dict[str, Any]) -> None:
        furnish.add_furniture(room, told["kind"])

    remove = staticmethod(furnish.remove_furniture)


class OpeningForm(RoomForm):
    name, opens, prefix = "opening_form", "openings", "opening"
    FREE = ("low_m",)

    kind = PickField("What", {slug: MATERIALS[slug].label for slug in OPENINGS})
    on = PickField(_("In the wall"), {wall: wall for wall in SIDE_WALLS})
    along_m = LengthField(_("Middle along it"), far=True, initial=1)
    width_m = LengthField("Wide", far=True, initial=0.9)
    low_m = LengthField(_("Begins up"), far=True, initial=0)
    height_m = LengthField("High", far=True, initial=2)

    def store(self, room: Room, told: dict[str, Any]) -> None:
        low_m = told.pop("low_m") or 0.0
        furnish.add_opening(room, low_m=low_m, high_m=low_m + told.pop("height_m"), **told)

    remove = staticmethod(furnish.remove_opening)


class CoveringForm(RoomForm):
    name, opens, prefix = "covering_form", "hang", "covering"
    FREE = ("count",)

    material = PickField(_("Something soft"), initial="duvet")
    label = TextField(_("Its name"))
    width_m = LengthField("Wide", far=True, initial=1.4)
    height_m = LengthField("High", far=True, initial=2)
    count = WholeField(_("How many"), initial=1)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        soft = {slug: one for slug, one in MATERIALS.items() if one.where == "covering"}
        self.offer("material", [(slug, one.label) for slug, one in soft.items()])

    def store(self, room: Room, told: dict[str, Any]) -> None:
        count = told.pop("count")
        services.add_covering(room, count=1 if count is None else count, **told)

    remove = staticmethod(services.remove_covering)


class HangForm(RoomForm):
    name, opens = "hang_form", "hang"
    FREE = ("u", "v")

    piece = WholeField("Piece")
    on = PickField("Wall")
    u = LengthField(_("Place along the wall"), far=True, signed=True)
    v = LengthField(_("Place up the wall"), far=True, signed=True)

    def store(self, room: Room, told: dict[str, Any]) -> None:
        services.hang(room, told["piece"], told["on"], told["u"] or 0.0, told["v"] or 0.0)


SOMETHING = NoisyThing(label="", level_dba=45, spectrum="even")
"""What a noise is taken for that is no common thing; its name has to be told."""


SOUNDS = {"": _("as such things do")} | {slug: label for slug, (label, _rest) in SPECTRA.items()}


class NoiseForm(RoomForm):
    name, opens, prefix = "noise_form", "noises", "noise"

    FREE = ("level_dba",)

    thing = PickField(
        _("What it is"), {"": _("something else")} | {slug: one.label for slug, one in NOISY_THINGS.items()}
    )
    called = TextField(_("Its name, if another"))
    spectrum = PickField(
        _("Its sound"), {"": _("as such things do"), **{slug: label for slug, (label, _rest) in SPECTRA.items()}}
    )
    level_dba = NumberField(_("dBA at 1 m, if known"))
    from_hour = NumberField(_("From hour"), initial=0)
    to_hour = NumberField(_("To hour"), initial=24)
    x_m = LengthField(_("From west"), far=True, initial=0.5)
    y_m = LengthField(_("From south"), far=True, initial=0.5)
    z_m = LengthField("Up", far=True, initial=1)

    def store(self, room: Room, told: dict[str, Any]) -> None:
        thing = NOISY_THINGS.get(told.pop("thing"), SOMETHING)
        told["spectrum"] = told["spectrum"] or thing.spectrum
        if told["level_dba"] is None:
            told["level_dba"] = thing.level_dba
        services.add_noise(room, name=told.pop("called").strip() or thing.label, **told)

    remove = staticmethod(services.remove_noise)


class NeighbourForm(RoomForm):
    name, opens, prefix = "neighbour_form", "hears", "hears"

    called = TextField("Who")
    through = PickField("Through", {slug: label for slug, (label, _rest) in PARTITIONS.items()})
    wide_m = LengthField("Wide", far=True)
    high_m = LengthField("High", far=True)
    day_dba = NumberField(_("dBA there by day"), initial=35)
    night_dba = NumberField(_("dBA at night"), initial=30)
    night_from = NumberField(_("Night from hour"), initial=22)
    night_to = NumberField(_("to hour"), initial=7)

    @classmethod
    def of(cls, room: Room) -> "NeighbourForm":
        return cls(shown={"wide_m": room.size_x_m, "high_m": room.size_z_m})

    def store(self, room: Room, told: dict[str, Any]) -> None:
        area_m2 = told.pop("wide_m") * told.pop("high_m")
        outward.add_neighbour(room, name=" ".join(told.pop("called").split()), area_m2=area_m2, **told)

    remove = staticmethod(outward.remove_neighbour)


ROOM_FORMS = (ShapeForm, FurnitureForm, OpeningForm, CoveringForm, NoiseForm, NeighbourForm)


def room_forms(room: Room, drawn: Collection[str]) -> dict[str, RoomForm]:
    """Return the forms of the sections that are drawn, by the name the page has for each."""
    shown = (one for one in ROOM_FORMS if one.opens in drawn)
    return {one.name: one.of(room) if hasattr(one, "of") else one() for one in shown}
