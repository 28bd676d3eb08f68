"""Where a part's performer and microphone stand in its room, as it is stored or tried out."""

import math
from dataclasses import dataclass
from typing import Any

from pneumen.core.place import MOST_RISE
from pneumen.core.room import Box, Point, Spot, Standing, best_spots, noise_at, standing
from pneumen.core.room.sound import MOST_SOURCE_FACTOR
from pneumen.web.song.models import Part, Room
from pneumen.web.song.outlook import outlook_of

MARGIN_M = 0.15
"""Nobody's mouth, and no microphone, comes nearer to a wall."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Standpoint:
    """A mouth (or instrument), the way it faces, and the microphone before it.

    aside_deg is how far the microphone stands off the way one faces, turned_deg how far it is turned off the mouth,
    both clockwise seen from above; above_m how far the capsule is over the mouth.
    """

    x_m: float
    y_m: float
    height_m: float
    facing_deg: float
    distance_m: float
    pattern: str
    source_factor: float
    aside_deg: float = 0.0
    turned_deg: float = 0.0
    above_m: float = 0.0
    backwards: bool = False

    @property
    def ahead(self) -> tuple[float, float]:
        return _direction(self.facing_deg)

    @property
    def across_m(self) -> float:
        """The distance as seen from above."""
        return math.sqrt(max(self.distance_m**2 - self.above_m**2, 1e-6))

    @property
    def mouth_m(self) -> Point:
        return self.x_m, self.y_m, self.height_m

    @property
    def microphone_m(self) -> Point:
        x, y = _direction(self.facing_deg + self.aside_deg)
        return self.x_m + x * self.across_m, self.y_m + y * self.across_m, self.height_m + self.above_m

    @property
    def axis(self) -> Point:
        """Where the microphone looks: at the mouth, turned so far."""
        x, y = _direction(self.facing_deg + self.aside_deg + 180 + self.turned_deg)
        return x * self.across_m, y * self.across_m, -self.above_m

    @property
    def radiates(self) -> Point:
        """Where the sound goes: ahead, or backwards out of a horn's bell."""
        x, y = self.ahead
        return (-x, -y, 0.0) if self.backwards else (x, y, 0.0)

    def place(self) -> Standing:
        return standing(
            self.mouth_m,
            self.microphone_m,
            pattern=self.pattern,
            source_factor=self.source_factor,
            microphone_axis=self.axis,
            source_axis=self.radiates,
        )


def _direction(degrees: float) -> tuple[float, float]:
    """East and north of a compass bearing."""
    return math.sin(math.radians(degrees)), math.cos(math.radians(degrees))


def bearing_deg(east: float, north: float) -> float:
    """Return a direction on the plan as degrees clockwise from north."""
    return math.degrees(math.atan2(east, north)) % 360


def standpoint_of(part: Part, box: Box, **tried: Any) -> Standpoint:
    """Return where a part stands, brought back into the room where it would stand in a wall.

    Args:
        tried: fields of Standpoint to try out in place of the stored ones (x_m, y_m, facing_deg, distance_m ...).
    """
    width, depth, height = box.size_m
    stored = {
        "x_m": width / 2 if part.stand_x_m is None else part.stand_x_m,
        "y_m": depth / 2 if part.stand_y_m is None else part.stand_y_m,
        "height_m": part.mouth_m,
        "facing_deg": part.facing_deg,
        "distance_m": part.distance_m,
        "aside_deg": -part.off_mouth_deg if part.off_to_left else part.off_mouth_deg,
        "turned_deg": -part.off_microphone_deg if part.turned_left else part.off_microphone_deg,
        "above_m": part.above_m,
    }
    told = stored | {name: value for name, value in tried.items() if value is not None}
    reach = min(told["distance_m"], 0.8 * min(width, depth))
    mouth_up = min(max(told["height_m"], 0.1), height - 0.1)
    rise = min(max(told["above_m"], -MOST_RISE * reach), MOST_RISE * reach)
    above = min(max(rise, 0.05 - mouth_up), height - 0.05 - mouth_up)
    facts = part.source_facts
    here = Standpoint(
        x_m=told["x_m"],
        y_m=told["y_m"],
        height_m=mouth_up,
        facing_deg=told["facing_deg"] % 360,
        distance_m=reach,
        pattern=_pattern(part),
        source_factor=min(max(facts.directivity_factor, 1.0), MOST_SOURCE_FACTOR),
        aside_deg=told["aside_deg"],
        turned_deg=told["turned_deg"],
        above_m=above,
        backwards=facts.radiates_back,
    )
    return _brought_inside(here, width, depth)


def _brought_inside(here: Standpoint, width: float, depth: float) -> Standpoint:
    x, y, _ = here.microphone_m
    values = {name: getattr(here, name) for name in Standpoint.__dataclass_fields__}
    inside = {"x_m": _inside(here.x_m, x - here.x_m, width), "y_m": _inside(here.y_m, y - here.y_m, depth)}
    return Standpoint(**(values | inside))


def noise_dba_at(room: Room, here: Standpoint, hour: float) -> float:
    """Return the noise at the microphone at an hour."""
    return noise_at(
        room.box,
        room.noise_sources,
        here.microphone_m,
        here.axis,
        here.pattern,
        hour=hour,
        background_dba=room.background_dba,
    )


def spots_in(room: Room, here: Standpoint, **search: int) -> tuple[Spot, ...]:
    """Return the best places for who stands here, at this height and distance; search as best_spots takes it."""
    return best_spots(
        room.box,
        here.mouth_m,
        microphone_m=here.microphone_m[2],
        distance_m=here.across_m,
        facing=here.ahead,
        pattern=here.pattern,
        source_factor=here.source_factor,
        backwards=here.backwards,
        blocked=[piece.footprint for _, piece in room.placed],
        **search,
    )


def _inside(at: float, ahead: float, side: float) -> float:
    """Keep a mouth and the microphone ahead of it between two walls."""
    margin = min(MARGIN_M, side / 10)
    low, high = margin - min(ahead, 0.0), side - margin - max(ahead, 0.0)
    return (low + high) / 2 if low > high else min(max(at, low), high)


def _pattern(part: Part) -> str:
    if part.is_plugged or not part.is_set_up:
        return "cardioid"
    return outlook_of(part).chain.microphone.pattern
