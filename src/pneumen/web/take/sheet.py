"""The session sheet: all that is needed to sit down again next week and get the same sound."""

from dataclasses import dataclass
from typing import Any, Final

import msgspec

from pneumen.core.place import Placement
from pneumen.web.comp.punch import Punch, punch_of
from pneumen.web.take.models import Sitting, Take
from pneumen.wording.controls import stands_at
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far, near
from pneumen.wording.log import ON

WALLS: Final = ("north", "east", "south", "west")
SQUARE_DEG: Final = 5.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetPart:
    """One part as it was last recorded in a session: what was set, where it stood, what came of it."""

    name: str
    take: int
    settings: tuple[tuple[str, str], ...]
    marks: tuple[tuple[str, str], ...]
    measured: tuple[tuple[str, str], ...]
    again: tuple[Punch, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """A session on paper."""

    sitting: Sitting
    room: str
    parts: tuple[SheetPart, ...]
    takes: int


def sheet_of(sitting: Sitting) -> Sheet:
    """Return the sheet of a session, each part as in its last take."""
    takes = Take.objects.filter(sitting=sitting).select_related("part").defer("peaks", "correction").order_by("number")
    last = {take.part_id: take for take in takes}
    room = sitting.song.room
    return Sheet(
        sitting=sitting,
        room=room.name,
        parts=tuple(_part(take) for take in sorted(last.values(), key=lambda take: take.part.position)),
        takes=len(takes),
    )


def _part(take: Take) -> SheetPart:
    placement = take.snapshot.get("placement")
    return SheetPart(
        name=take.part.name,
        take=take.number,
        settings=tuple(_settings(take, placement)),
        marks=tuple(_floor_marks(placement)) if placement else (),
        measured=tuple(_measured(take)),
        again=punch_of(take.part),
    )


def _settings(take: Take, placement: dict[str, Any] | None) -> list[tuple[str, str]]:
    found = [("Gear", str(take.snapshot["gear"]))]
    if placement:
        found += [
            ("Distance", near(take.distance_m)),
            (_("Above the mouth"), near(placement["above_m"])),
            (_("Beside the mouth"), _side(placement["aside_deg"])),
            (_("Turned off the mouth"), f"{figure(placement['turned_deg'])}°"),
            (
                _("Pop screen"),
                _("{placement} before it").format(placement=near(placement["screen_before_m"]))
                if placement["pop_screen"]
                else ON[False],
            ),
            ("Low-cut", f"{figure(placement['low_cut_hz'])} Hz" if placement["low_cut_hz"] else ON[False]),
        ]
    found.append(("Gain", _gain(take)))
    if take.snapshot.get("buffer"):
        found.append(("Buffer", f"{take.snapshot['buffer']} samples"))
    return found


def _side(aside_deg: float) -> str:
    if abs(aside_deg) < 0.5:
        return _("on its axis")
    return _("{aside_deg}° to the {which} of who sings or plays").format(
        aside_deg=figure(abs(aside_deg)), which="right" if aside_deg > 0 else "left"
    )


def _gain(take: Take) -> str:
    marking = take.snapshot["gain_marking"]
    if marking == "bare":
        return stands_at(take.knob.share_at(take.gain_db), take.control)
    return f"{figure(take.gain_db, 1)} dB" if marking == "db" else _("none to set")


def _floor_marks(told: dict[str, Any]) -> list[tuple[str, str]]:
    """Return where to put tape on the floor, and how high mouth and capsule are."""
    placement = msgspec.convert(told, Placement)
    x_m, y_m, height_m = placement.microphone_m
    return [
        ("You", _from_walls(placement.x_m, placement.y_m)),
        (_("You face"), _towards(placement.facing_deg)),
        (_("Mouth or instrument"), _("{height_m} over the floor").format(height_m=far(placement.height_m))),
        ("Capsule", _from_walls(x_m, y_m)),
        (_("Its height"), far(height_m)),
    ]


def _towards(facing_deg: float) -> str:
    """Name the wall one faces, or how far round from the north wall."""
    quarter = round(facing_deg / 90)
    if abs(facing_deg - 90 * quarter) <= SQUARE_DEG:
        return _("the {walls} wall").format(walls=WALLS[quarter % 4])
    return _("{facing_deg}° from the north wall, clockwise").format(facing_deg=figure(facing_deg % 360))


def _from_walls(x_m: float, y_m: float) -> str:
    return _("{x_m} from the west wall, {y_m} from the south wall").format(x_m=far(x_m), y_m=far(y_m))


def _measured(take: Take) -> list[tuple[str, str]]:
    measured = take.to_core()
    if measured is None:
        return []
    level, noise = measured.level, measured.noise
    rows = ((_("Highest peak"), level.sample_peak_dbfs), (_("Typical (active RMS)"), level.active_rms_dbfs))
    found = [(name, f"{figure(value, 1)} dBFS") for name, value in rows if value is not None]
    return found if noise.floor_dbfs_a is None else [*found, (_("Noise (A)"), f"{figure(noise.floor_dbfs_a, 1)} dBFS")]
