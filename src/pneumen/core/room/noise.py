"""What a microphone hears of the noises in and around a room, hour by hour, and how to turn its null to them."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction, require_within
from pneumen.core.gear import PATTERNS, directivity_index_db
from pneumen.core.levels import power_sum_db, ratio_to_db
from pneumen.core.room.box import Box, Point
from pneumen.core.room.report import ring_time_middle_s
from pneumen.core.room.reverberation import critical_distance_m, ring_times_eyring_s

HOURS: Final = tuple(range(24))
NEAREST_M: Final = 0.1
SILENT_DBA: Final = -20.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Noise:
    """A source of noise in the room: where, how loud at 1 m in the open, and from which hour to which (24 h clock).

    From 22 to 6 goes over midnight; from 0 to 24 is always.
    """

    name: str
    place_m: Point
    level_dba: float
    from_hour: float = 0.0
    to_hour: float = 24.0

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise Contradiction("name", "of a noise must not be empty")
        require_within("level_dba", self.level_dba, 0, 130)
        require_within("from_hour", self.from_hour, 0, 24)
        require_within("to_hour", self.to_hour, 0, 24)

    def sounds_at(self, hour: float) -> bool:
        """Tell whether it is heard at an hour.

        >>> fan = Noise(name="oven fan", place_m=(1, 1, 1), level_dba=50, from_hour=22, to_hour=6)
        >>> fan.sounds_at(23), fan.sounds_at(5.5), fan.sounds_at(12)
        (True, True, False)
        """
        if self.from_hour <= self.to_hour:
            return self.from_hour <= hour < self.to_hour
        return hour >= self.from_hour or hour < self.to_hour


def noise_everywhere(
    noises: Iterable[Noise], volume_m3: float, ring_s: float, *, hour: float, background_dba: float
) -> float:
    """Return the diffuse noise of a room at an hour, in dBA: the background and what sounds by way of the room.

    A source is as loud everywhere as it is directly at the critical distance (Kuttruff, from memory).
    """
    sounding = [_by_way_of_the_room(one, volume_m3, ring_s) for one in noises if one.sounds_at(hour)]
    return power_sum_db(background_dba, *sounding)


def _by_way_of_the_room(noise: Noise, volume_m3: float, ring_s: float) -> float:
    return noise.level_dba - ratio_to_db(critical_distance_m(volume_m3, ring_s))


def hears(pattern: str, microphone_m: Point, axis: Sequence[float], from_m: Point) -> float:
    """Return what a microphone that looks along an axis passes of a sound from somewhere, 1 on axis.

    >>> hears("figure-8", (0, 0, 0), (1, 0, 0), (0, 2, 0))
    0.0
    """
    towards = np.array(from_m, dtype=float) - np.array(microphone_m, dtype=float)
    cosine = float(towards @ np.array(axis) / max(np.linalg.norm(towards) * np.linalg.norm(axis), 1e-9))
    return abs(PATTERNS[pattern] + (1 - PATTERNS[pattern]) * cosine)


@dataclass(frozen=True, slots=True, kw_only=True)
class Heard:
    """A noise as a microphone hears it: directly, after its pattern, and by way of the room."""

    noise: Noise
    direct_dba: float
    room_dba: float
    angle_deg: float

    @property
    def level_dba(self) -> float:
        return power_sum_db(self.direct_dba, self.room_dba)


def heard_of(
    box: Box, noises: Iterable[Noise], microphone_m: Point, axis: Sequence[float], pattern: str
) -> list[Heard]:
    """Return each noise as heard at a microphone that points along an axis, the loudest first.

    The room's share is diffuse: the source's level at the critical distance, less the pattern's index.
    """
    ring_s = ring_time_middle_s(ring_times_eyring_s(box))
    found = []
    for noise in noises:
        towards = np.array(noise.place_m) - np.array(microphone_m)
        distance = max(float(np.linalg.norm(towards)), NEAREST_M)
        cosine = float(towards @ np.array(axis) / max(np.linalg.norm(towards) * np.linalg.norm(axis), 1e-9))
        weight = abs(PATTERNS[pattern] + (1 - PATTERNS[pattern]) * cosine)
        direct = noise.level_dba - ratio_to_db(distance) + ratio_to_db(max(weight, 1e-6))
        room = SILENT_DBA
        if ring_s is not None:
            room = _by_way_of_the_room(noise, box.volume_m3, ring_s) - directivity_index_db(pattern)
        angle = math.degrees(math.acos(min(max(cosine, -1.0), 1.0)))
        found.append(Heard(noise=noise, direct_dba=direct, room_dba=room, angle_deg=angle))
    return sorted(found, key=lambda heard: -heard.level_dba)


def noise_at(
    box: Box,
    noises: Iterable[Noise],
    microphone_m: Point,
    axis: Sequence[float],
    pattern: str,
    *,
    hour: float,
    background_dba: float,
) -> float:
    """Return the noise at a microphone at an hour, in dBA: what sounds then, and a diffuse background."""
    sounding = [noise for noise in noises if noise.sounds_at(hour)]
    heard = [one.level_dba for one in heard_of(box, sounding, microphone_m, axis, pattern)]
    return power_sum_db(background_dba - directivity_index_db(pattern), *heard)


@dataclass(frozen=True, slots=True, kw_only=True)
class Aim:
    """A direction for the microphone: turned so far from the mouth, what it hears then, and what that saves."""

    turned_deg: float
    noise_dba: float
    saves_db: float


def best_aim(
    box: Box,
    noises: Sequence[Noise],
    microphone_m: Point,
    mouth_m: Point,
    pattern: str,
    *,
    hour: float,
    background_dba: float,
    most_deg: float = 30.0,
) -> Aim:
    """Return the turn, in the plane of the floor and within what the mouth allows, that hears least noise.

    Args:
        most_deg: how far the microphone may be turned off the mouth before the tone suffers.
    """
    require_within("most_deg", most_deg, 0, 90)
    towards = np.array(mouth_m, dtype=float) - np.array(microphone_m, dtype=float)

    def level(turn_deg: float) -> float:
        c, s = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))
        axis = (c * towards[0] - s * towards[1], s * towards[0] + c * towards[1], towards[2])
        return noise_at(box, noises, microphone_m, axis, pattern, hour=hour, background_dba=background_dba)

    turns = [float(turn) for turn in np.arange(-most_deg, most_deg + 0.5, 2.0)]
    straight = level(0.0)
    best = min(turns, key=lambda turn: (round(level(turn), 3), abs(turn)))
    return Aim(turned_deg=best, noise_dba=level(best), saves_db=straight - level(best))
