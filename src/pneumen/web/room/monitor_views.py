"""The page of a room's monitors: tried out without storing, kept when let go."""

from typing import ClassVar

from pneumen.core.errors import UnknownName
from pneumen.core.room import MonitorPlace, usual_place
from pneumen.web.fields import LengthField, PickField, StepForm
from pneumen.web.part.models import Part
from pneumen.web.room import monitoring
from pneumen.web.room.models import Room
from pneumen.web.room.monitoring import MonitorScreen
from pneumen.web.screen import Changes, Screen
from pneumen.wording.language import _

LENGTHS = ("middle", "behind", "spacing", "listen", "height", "ear", "desk")


class MonitorsForm(StepForm):
    problem_id = "monitors-problem"
    emptied = ("desk",)
    CORE: ClassVar = {f"{name}_m": name for name in LENGTHS}

    wall = PickField(_("Before the wall"), {wall: wall for wall in monitoring.BEFORE})
    middle = LengthField(_("Middle from the left"), far=True)
    behind = LengthField(_("Wall behind"), far=True)
    spacing = LengthField("Apart", far=True)
    listen = LengthField(_("You from their line"), far=True)
    height = LengthField(_("Tweeters up"), far=True)
    ear = LengthField(_("Ears up"), far=True)
    desk = LengthField(_("Desk’s top up"), far=True)

    wall.widget.attrs["data-reload"] = True
    desk.widget.attrs["placeholder"] = "none"


class MonitorsView(Screen[MonitorScreen]):
    slug, name = "room", "monitors"
    form_class = MonitorsForm

    def shown(self, part: Part, screen: MonitorScreen) -> Changes:
        return {"wall": screen.wall} | {name: getattr(screen.place, f"{name}_m") for name in LENGTHS}

    def present(self, part: Part, changes: Changes) -> MonitorScreen:
        return monitoring.monitor_screen(*_place(part.song.room, changes))

    def keep(self, part: Part, changes: Changes) -> None:
        monitoring.keep_monitors(part.song.room, *_place(part.song.room, changes))


def _place(room: Room, changes: Changes) -> tuple[str, MonitorPlace]:
    """Return wall and place with some of it changed; before another wall they start from the usual place.

    Raises:
        UnknownName, OutOfRange, Contradiction: naming what cannot be.
    """
    wall, place = monitoring.place_of(room)
    asked = changes.get("wall", wall)
    if asked not in monitoring.BEFORE:
        raise UnknownName("wall", asked, monitoring.BEFORE)
    size_m = monitoring.seen_size_m(room, asked)
    if asked != wall:
        return asked, usual_place(size_m)
    told = {f"{name}_m": changes[name] for name in LENGTHS if name in changes}
    return wall, monitoring.moved(place, size_m, **told)
