"""What a microphone hears of the noises in and around a room, hour by hour, and how to turn its null to them."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction, UnknownName, require_within
from pneumen.core.gear import PATTERNS, directivity_index_db
from pneumen.core.levels import a_weighting_db, power_sum_db, ratio_to_db
from pneumen.core.room.box import Box, Point
from pneumen.core.room.materials import BANDS_HZ, Bands
from pneumen.core.room.reverberation import critical_distance_m, reverberation_times_eyring_s

HOURS: Final = tuple(range(24))
NEAREST_M: Final = 0.1
SILENT_DBA: Final = -20.0
SPECTRA: Final[Mapping[str, tuple[str, Bands]]] = MappingProxyType(
    {
        "even": ("even, as fans and pumps", (-3.0, -3.0, -3.0, -6.0, -9.0, -12.0)),
        "rumble": ("rumble, as traffic far off and ducts", (0.0, -7.0, -14.0, -21.0, -28.0, -35.0)),
        "hum": ("hum, as a fridge", (0.0, -4.0, -16.0, -26.0, -34.0, -42.0)),
        "voices": ("voices, music, a street close by", (-12.0, -3.0, 0.0, -5.0, -10.0, -16.0)),
        "hiss": ("hiss, as a laptop or steam", (-20.0, -14.0, -8.0, -3.0, 0.0, -1.0)),
    }
)
"""Octave levels of kinds of noise, unweighted, against their strongest (estimates)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class NoisyThing:
    """Something that commonly sounds at home: how loud at 1 m in the open, dBA, and its kind of noise."""

    label: str
    level_dba: float
    spectrum: str


NOISY_THINGS: Final[Mapping[str, NoisyThing]] = MappingProxyType(
    {
        "laptop": NoisyThing(label="Laptop, its fan running", level_dba=36, spectrum="hiss"),
        "desktop": NoisyThing(label="Desktop computer", level_dba=38, spectrum="even"),
        "fridge": NoisyThing(label="Fridge", level_dba=38, spectrum="hum"),
        "vent": NoisyThing(label="Ventilation outlet", level_dba=40, spectrum="even"),
        "fan": NoisyThing(label="Table fan, lowest speed", level_dba=45, spectrum="even"),
        "heating": NoisyThing(label="Radiator or heating pump", level_dba=32, spectrum="hum"),
        "street": NoisyThing(label="Street through a shut window", level_dba=38, spectrum="rumble"),
        "rain": NoisyThing(label="Rain on a roof window", level_dba=48, spectrum="hiss"),
        "neighbours": NoisyThing(label="Voices through the wall", level_dba=30, spectrum="voices"),
        "clock": NoisyThing(label="Clock", level_dba=25, spectrum="hiss"),
    }
)
"""Levels one would meet (estimates: a phone's level meter where it stands, or a test take, tells better)."""


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
    spectrum: str = "even"

    def __post_init__(self) -> None:
        if self.spectrum not in SPECTRA:
            raise UnknownName("spectrum", self.spectrum, tuple(SPECTRA))
        if not self.name.strip():
            raise Contradiction("name", "of a noise must not be empty")
        require_within("level_dba", self.level_dba, 0, 130)
        require_within("from_hour", self.from_hour, 0, 24)
        require_within("to_hour", self.to_hour, 0, 24)

    @property
    def bands_dba(self) -> np.ndarray:
        """Its A-weighted level in each octave band; together they are level_dba."""
        weighted = np.array(SPECTRA[self.spectrum][1]) + a_weighting_db(np.array(BANDS_HZ, dtype=float))
        return weighted + self.level_dba - 10 * np.log10((10 ** (weighted / 10)).sum())

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
    noises: Iterable[Noise], volume_m3: float, rt60_by_band_s: Sequence[float], *, hour: float, background_dba: float
) -> float:
    """Return the diffuse noise of a room at an hour, in dBA: the background and what sounds by way of the room.

    A source is as loud everywhere as it is directly at the critical distance, band by band (Kuttruff, from memory).

    Args:
        rt60_by_band_s: the reverberation time in each octave band.
    """
    sounding = [_sum(_by_way_of_the_room(one, volume_m3, rt60_by_band_s)) for one in noises if one.sounds_at(hour)]
    return power_sum_db(background_dba, *sounding)


def _by_way_of_the_room(noise: Noise, volume_m3: float, rt60_by_band_s: Sequence[float | None]) -> np.ndarray:
    """Return what comes by way of the room in each band; next to nothing in a band where nothing rings."""
    critical_m = np.array([critical_distance_m(volume_m3, one) if one else np.inf for one in rt60_by_band_s])
    return np.maximum(noise.bands_dba - 20 * np.log10(critical_m), SILENT_DBA)


def _sum(bands_dba: np.ndarray) -> float:
    return power_sum_db(*bands_dba.tolist())


def hears(pattern: str, microphone_m: Point, axis: Sequence[float], from_m: Point) -> float:
    """Return what a microphone that looks along an axis passes of a sound from somewhere, 1 on axis.

    >>> hears("figure-8", (0, 0, 0), (1, 0, 0), (0, 2, 0))
    0.0
    """
    towards = np.array(from_m, dtype=float) - np.array(microphone_m, dtype=float)
    cosine = float(towards @ np.array(axis) / max(np.linalg.norm(towards) * np.linalg.norm(axis), 1e-9))
    return abs(PATTERNS[pattern] + (1 - PATTERNS[pattern]) * cosine)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Heard:
    """A noise as a microphone hears it: directly, after its pattern, and by way of the room; both by octave band."""

    noise: Noise
    direct_bands_dba: np.ndarray
    room_bands_dba: np.ndarray
    angle_deg: float

    @property
    def direct_dba(self) -> float:
        return _sum(self.direct_bands_dba)

    @property
    def room_dba(self) -> float:
        return _sum(self.room_bands_dba)

    @property
    def bands_dba(self) -> np.ndarray:
        return 10 * np.log10(10 ** (self.direct_bands_dba / 10) + 10 ** (self.room_bands_dba / 10))

    @property
    def level_dba(self) -> float:
        return _sum(self.bands_dba)


def heard_of(
    box: Box, noises: Iterable[Noise], microphone_m: Point, axis: Sequence[float], pattern: str
) -> list[Heard]:
    """Return each noise as heard at a microphone that points along an axis, the loudest first.

    The room's share is diffuse: the source's level at the critical distance, less the pattern's index.
    """
    rt60_by_band_s = reverberation_times_eyring_s(box)
    found = []
    for noise in noises:
        towards = np.array(noise.place_m) - np.array(microphone_m)
        distance = max(float(np.linalg.norm(towards)), NEAREST_M)
        cosine = float(towards @ np.array(axis) / max(np.linalg.norm(towards) * np.linalg.norm(axis), 1e-9))
        weight = abs(PATTERNS[pattern] + (1 - PATTERNS[pattern]) * cosine)
        direct = noise.bands_dba - ratio_to_db(distance) + ratio_to_db(max(weight, 1e-6))
        room = _by_way_of_the_room(noise, box.volume_m3, rt60_by_band_s) - directivity_index_db(pattern)
        angle = math.degrees(math.acos(min(max(cosine, -1.0), 1.0)))
        found.append(Heard(noise=noise, direct_bands_dba=direct, room_bands_dba=room, angle_deg=angle))
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
