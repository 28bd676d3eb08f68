"""How a performer and a microphone stand to each other: one spelling for screens, takes, trials and spots."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import require_positive, require_within
from pneumen.core.room import Point

MOST_RISE: Final = 0.9
"""Of the distance, that the capsule may stand above or below the mouth."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Placement:
    """A mouth (or instrument), the way it faces, and the microphone before it.

    x_m and y_m are metres from the west and south wall, height_m is the mouth's, facing_deg runs clockwise from north.
    distance_m is to the capsule; aside_deg how far the microphone stands off the way one faces and turned_deg how far
    it is turned off the mouth, both clockwise seen from above; above_m how far the capsule is over the mouth.
    screen_before_m is the pop screen before the capsule.
    """

    x_m: float
    y_m: float
    distance_m: float
    height_m: float = 1.5
    facing_deg: float = 0.0
    above_m: float = 0.0
    aside_deg: float = 0.0
    turned_deg: float = 0.0
    pop_screen: bool = False
    screen_before_m: float = 0.09
    low_cut_hz: float = 0.0

    def __post_init__(self) -> None:
        require_positive("distance_m", self.distance_m, 100)
        require_within("aside_deg", self.aside_deg, -90, 90)
        require_within("turned_deg", self.turned_deg, -180, 180)
        require_within("low_cut_hz", self.low_cut_hz, 0, 400)

    @property
    def rise_m(self) -> float:
        """How far above the mouth the capsule comes to stand, within what the distance allows."""
        most = MOST_RISE * self.distance_m
        return min(max(self.above_m, -most), most)

    @property
    def ahead(self) -> tuple[float, float]:
        """The way one faces, on the plan."""
        return direction(self.facing_deg)

    @property
    def across_m(self) -> float:
        """The distance as seen from above."""
        return math.sqrt(max(self.distance_m**2 - self.rise_m**2, 1e-6))

    @property
    def mouth_m(self) -> Point:
        return self.x_m, self.y_m, self.height_m

    @property
    def microphone_m(self) -> Point:
        x, y = direction(self.facing_deg + self.aside_deg)
        return self.x_m + x * self.across_m, self.y_m + y * self.across_m, self.height_m + self.rise_m

    @property
    def axis(self) -> Point:
        """Where the microphone looks: at the mouth, turned so far."""
        x, y = direction(self.facing_deg + self.aside_deg + 180 + self.turned_deg)
        return x * self.across_m, y * self.across_m, -self.rise_m

    @property
    def off_mouth_deg(self) -> float:
        """How far off the mouth's axis the capsule stands, aside and above together."""
        return float(off_axis_deg(self.aside_deg, self.rise_m, self.distance_m))

    @property
    def screen_at_m(self) -> float:
        """How far before the capsule the screen comes to stand: halfway where the mouth is nearer than it would be."""
        return min(self.screen_before_m, self.distance_m / 2)


def direction(degrees: float) -> tuple[float, float]:
    """Return east and north of a compass bearing.

    >>> [round(one, 6) for one in direction(90)]
    [1.0, 0.0]
    """
    return math.sin(math.radians(degrees)), math.cos(math.radians(degrees))


def bearing_deg(east: float, north: float) -> float:
    """Return a direction on the plan as degrees clockwise from north.

    >>> bearing_deg(1, 0)
    90.0
    """
    return math.degrees(math.atan2(east, north)) % 360


def off_axis_deg(sideways_deg: float, above_m: float, distance_m: np.ndarray | float) -> np.ndarray:
    """Return the angle off the mouth's axis of a capsule that stands off to the side, and above or below.

    >>> [round(float(one), 1) for one in (off_axis_deg(0, 0.1, 0.2), off_axis_deg(30, 0, 0.2))]
    [30.0, 30.0]
    """
    distance = np.asarray(distance_m, dtype=float)
    if not (distance > 0).all():
        require_positive("distance_m", float(distance.min()), 100)
    rise = np.minimum(np.abs(above_m) / distance, 1.0)
    return np.degrees(np.arccos(np.cos(np.radians(sideways_deg)) * np.sqrt(1 - rise**2)))
