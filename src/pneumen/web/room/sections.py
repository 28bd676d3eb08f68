"""The sections below the plan, one open at a time: only what is open is drawn, the others are fetched when opened."""

from dataclasses import dataclass
from typing import Final

from pneumen.web.room.models import Room
from pneumen.web.room.show import RoomScreen
from pneumen.wording.language import _
from pneumen.wording.lengths import far


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """A section: its place on the page, what it is called, what it holds in a word, and whether it is drawn."""

    slug: str
    label: str
    holds: str
    template: str
    is_open: bool
    is_drawn: bool


LABELS: Final = {
    "furniture": (_("What stands in it"), "furniture"),
    "hang": (_("What hangs, and what one has to hang"), "hang"),
    "openings": (_("Windows and doors"), "openings"),
    "shape": (_("Its size and walls"), "shape"),
    "noises": (_("Noises, and when they sound"), "noises"),
    "hears": (_("Who hears you, and when they sleep"), "neighbours"),
    "measured": (_("Measure it with a clap"), "clap"),
    "rooms": (_("Monitors, and other rooms of the home"), "which"),
}
ALWAYS_DRAWN: Final = "furniture"
"""Furniture is dragged on the plan, and its fields take what the drag says."""


def sections_of(screen: RoomScreen, rooms: int, opened: str) -> tuple[Section, ...]:
    """Return the sections of a room, the one asked for open."""
    holds = _holds(screen, rooms)
    return tuple(
        Section(
            slug=slug,
            label=label,
            holds=holds[slug],
            template=f"room/{template}.html",
            is_open=slug == opened,
            is_drawn=slug in (opened, ALWAYS_DRAWN),
        )
        for slug, (label, template) in LABELS.items()
    )


def _holds(screen: RoomScreen, rooms: int) -> dict[str, str]:
    room: Room = screen.room
    measured = _("in use") if screen.clap_in_use else "measured"
    return {
        "furniture": str(len(screen.placed)),
        "hang": str(len(room.coverings.all())),
        "openings": str(len(screen.openings)),
        "shape": _("{size_x_m} by {size_y_m} by {size_z_m}").format(
            size_x_m=far(room.size_x_m), size_y_m=far(room.size_y_m), size_z_m=far(room.size_z_m)
        ),
        "noises": str(len(room.noises.all())),
        "hears": str(len(room.neighbours.all())),
        "measured": measured if screen.clap_told else "",
        "rooms": str(rooms),
    }
