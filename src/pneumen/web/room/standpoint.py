"""Where a part's performer and microphone stand in its room, as it is stored or tried out."""

import math
from dataclasses import dataclass

from pneumen.core.room import Box, Spot, Standing, best_spots, noise_at, standing
from pneumen.core.room.sound import MOST_SOURCE_FACTOR
from pneumen.web.song.models import Part, Room
from pneumen.web.song.outlook import outlook_of

MARGIN_M = 0.15
"""Nobody's mouth, and no microphone, comes nearer to a wall."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Standpoint:
    """A mouth (or instrument), the way it faces, and the microphone before it."""

    x_m: float
    y_m: float
    height_m: float
    facing_deg: float
    distance_m: float
    pattern: str
    source_factor: float

    @property
    def ahead(self) -> tuple[float, float]:
        angle = math.radians(self.facing_deg)
        return math.sin(angle), math.cos(angle)

    @property
    def mouth_m(self) -> tuple[float, float, float]:
        return self.x_m, self.y_m, self.height_m

    @property
    def microphone_m(self) -> tuple[float, float, float]:
        x, y = self.ahead
        return self.x_m + x * self.distance_m, self.y_m + y * self.distance_m, self.height_m

    def place(self) -> Standing:
        return standing(self.mouth_m, self.microphone_m, pattern=self.pattern, source_factor=self.source_factor)


def standpoint_of(
    part: Part, box: Box, *, x_m: float | None = None, y_m: float | None = None, facing_deg: float | None = None
) -> Standpoint:
    """Return where a part stands, brought back into the room where it would stand in a wall."""
    width, depth, height = box.size_m
    x_m = part.stand_x_m if x_m is None else x_m
    y_m = part.stand_y_m if y_m is None else y_m
    facing_deg = part.facing_deg if facing_deg is None else facing_deg
    angle, reach = math.radians(facing_deg), min(part.distance_m, 0.8 * min(width, depth))
    ahead_x, ahead_y = reach * math.sin(angle), reach * math.cos(angle)
    return Standpoint(
        x_m=_inside(width / 2 if x_m is None else x_m, ahead_x, width),
        y_m=_inside(depth / 2 if y_m is None else y_m, ahead_y, depth),
        height_m=min(max(part.mouth_m, 0.1), height - 0.1),
        facing_deg=facing_deg % 360,
        distance_m=reach,
        pattern=_pattern(part),
        source_factor=min(max(part.source_facts.directivity_factor, 1.0), MOST_SOURCE_FACTOR),
    )


def noise_dba_at(room: Room, here: Standpoint, hour: float) -> float:
    """Return the noise at the microphone at an hour."""
    towards = tuple(-one for one in (*here.ahead, 0.0))
    return noise_at(
        room.box,
        room.noise_sources,
        here.microphone_m,
        towards,
        here.pattern,
        hour=hour,
        background_dba=room.background_dba,
    )


def spots_in(room: Room, here: Standpoint, **search: int) -> tuple[Spot, ...]:
    """Return the best places for who stands here, at this height and distance; search as best_spots takes it."""
    return best_spots(
        room.box,
        here.mouth_m,
        microphone_m=here.height_m,
        distance_m=here.distance_m,
        facing=here.ahead,
        pattern=here.pattern,
        source_factor=here.source_factor,
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
