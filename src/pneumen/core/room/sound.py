"""How much of the room is heard behind the direct sound: images up to an order, with the patterns, and the tail after.

Images alone overstate the direct sound's lead, statistics alone know no place. So the first reflections come as
images, each weighed by the patterns of source and microphone, and what is later comes from Eyring's decay. The tail
starts half a mean free path after the last order: a test against images of order 30 shows the sum to 0.2 dB.
"""

import math
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction, Length, require_within
from pneumen.core.gear import PATTERNS, directivity_factor
from pneumen.core.levels import SPEED_OF_SOUND_M_S
from pneumen.core.room.box import Box, Point
from pneumen.core.room.images import LEAST_DISTANCE_M, USUAL_ORDER, images_up_to
from pneumen.core.room.reverberation import SABINE_S_PER_M

SPEECH_WEIGHTS: Final = np.array([0.0, 0.0, 0.189, 0.269, 0.300, 0.242])
"""500 Hz to 4 kHz by their importance for speech (ANSI S3.5-1997, octave method, scaled to 1; from memory)."""
SPEECH_WEIGHTS.setflags(write=False)
DECAY: Final = 6 * math.log(10)
"""60 dB as a power: energy falls as exp(-DECAY t / T60)."""
MOST_SOURCE_FACTOR: Final = 3.0
TRANSPARENT_DB: Final = 60.0
"""A room that adds less than this is none (open air, or all walls open)."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Standing:
    """Who stands where: P places at once. Directions need not be of length 1.

    Shapes (P, 3) in metres: source, microphone, microphone_axis, source_axis. pattern is the microphone's;
    source_factor the source's directivity factor, taken as a first-order pattern.
    """

    source_m: np.ndarray
    microphone_m: np.ndarray
    microphone_axis: np.ndarray
    source_axis: np.ndarray
    pattern: str = "cardioid"
    source_factor: float = 1.0

    def __post_init__(self) -> None:
        require_within("source_factor", self.source_factor, 1, MOST_SOURCE_FACTOR)
        directivity_factor(self.pattern)

    def only(self, part: slice) -> "Standing":
        """Return some of the places."""
        return replace(
            self,
            source_m=self.source_m[part],
            microphone_m=self.microphone_m[part],
            microphone_axis=self.microphone_axis[part],
            source_axis=self.source_axis[part],
        )


def standing(
    source_m: Point,
    microphone_m: Point,
    *,
    pattern: str = "cardioid",
    source_factor: float = 1.0,
    microphone_axis: Point | None = None,
    source_axis: Point | None = None,
) -> Standing:
    """Return one place; microphone and source face each other unless told otherwise.

    Raises:
        Contradiction: for source and microphone in each other.
    """
    source, microphone = np.array([source_m], dtype=float), np.array([microphone_m], dtype=float)
    between = source - microphone
    if np.linalg.norm(between) < LEAST_DISTANCE_M:
        least = Length(LEAST_DISTANCE_M, near=True)
        raise Contradiction("microphone_m", "must be at least {least} from the source", least=least)
    return Standing(
        source_m=source,
        microphone_m=microphone,
        microphone_axis=between if microphone_axis is None else np.array([microphone_axis], dtype=float),
        source_axis=-between if source_axis is None else np.array([source_axis], dtype=float),
        pattern=pattern,
        source_factor=source_factor,
    )


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class RoomSound:
    """The room's energy against the direct sound's, shape (P, 6 bands): first reflections, what comes later, both.

    lead_db (P,) is the direct sound's lead over all of it, weighted for speech.
    """

    early: np.ndarray
    tail: np.ndarray

    @property
    def room(self) -> np.ndarray:
        return self.early + self.tail

    @property
    def lead_db(self) -> np.ndarray:
        return -10 * np.log10(np.maximum(self.room @ SPEECH_WEIGHTS, 10 ** (-TRANSPARENT_DB / 10)))

    @property
    def lead_by_band_db(self) -> np.ndarray:
        return -10 * np.log10(np.maximum(self.room, 10 ** (-TRANSPARENT_DB / 10)))


def tail_of_box(box: Box, places: Standing, order: int) -> np.ndarray:
    """Return a box's energy after the images, shape (6,); see tail_energy."""
    return tail_energy(
        box.volume_m3,
        box.surface_m2,
        box.absorption_m2,
        pattern=places.pattern,
        source_factor=places.source_factor,
        order=order,
    )


def heard_shares(box: Box, places: Standing, order: int = USUAL_ORDER) -> np.ndarray:
    """Return what is heard of the direct sound and each image, walls left out, shape (P, N); 1 m on axis is 1."""
    return _heard(box.size_m, places, order)


def _heard(size_m: Point, places: Standing, order: int) -> np.ndarray:
    images = images_up_to(order)
    towards = images.positions(places.source_m, size_m) - places.microphone_m[:, None, :]  # (P, N, 3)
    squared = np.einsum("pnk,pnk->pn", towards, towards)
    heard = _weight(towards, squared, places.microphone_axis, PATTERNS[places.pattern])
    if places.source_factor > 1:
        # In a mirrored room the source is mirrored too: turn each ray back to where it left the real one.
        leaving = -images.turn * towards
        heard = heard * _weight(leaving, squared, places.source_axis, source_constant(places.source_factor))
    return heard / squared


def _weight(rays: np.ndarray, squared: np.ndarray, axes: np.ndarray, constant: float) -> np.ndarray:
    """Return the energy a first-order pattern passes of rays (P, N, 3) that come from (or go) there."""
    if constant == 1.0:
        return np.ones_like(squared)
    lengths = np.sqrt(squared) * np.linalg.norm(axes, axis=1)[:, None]
    cosine = np.einsum("pnk,pk->pn", rays, axes) / lengths
    return (constant + (1 - constant) * cosine) ** 2


def source_constant(factor: float) -> float:
    """Return the constant part of the first-order pattern with a directivity factor from 1 to 3.

    >>> round(source_constant(3.0), 3), round(source_constant(1.0), 3)
    (0.5, 1.0)
    """
    require_within("source_factor", factor, 1, MOST_SOURCE_FACTOR)
    return (1 + math.sqrt(max(1 - 4 * (1 - 3 / factor), 0.0))) / 4


def recorded_factor(factor: float, *, backwards: bool) -> float:
    """Return the directivity factor towards a microphone in front: on the axis, or behind a bell that points away.

    >>> round(recorded_factor(2.0, backwards=False), 2), round(recorded_factor(2.0, backwards=True), 2)
    (2.0, 0.27)
    """
    if not backwards:
        return factor
    inside = min(max(factor, 1.0), MOST_SOURCE_FACTOR)
    return inside * (2 * source_constant(inside) - 1) ** 2


def tail_energy(
    volume_m3: float,
    surface_m2: float,
    absorption_m2: np.ndarray,
    *,
    pattern: str,
    source_factor: float = 1.0,
    order: int = USUAL_ORDER,
) -> np.ndarray:
    """Return the energy after the images, on the scale where the direct sound on axis at 1 m is 1, shape (6,)."""
    mean = np.clip(absorption_m2 / surface_m2, 1e-9, 1 - 1e-9)
    rt60_by_band_s = SABINE_S_PER_M * volume_m3 / (-surface_m2 * np.log(1 - mean))
    mean_free_s = 4 * volume_m3 / surface_m2 / SPEED_OF_SOUND_M_S
    spread = 0.057**2 * volume_m3 * directivity_factor(pattern) * source_factor
    return rt60_by_band_s / spread * np.exp(-DECAY * (order + 0.5) * mean_free_s / rt60_by_band_s)


@dataclass(frozen=True, slots=True, kw_only=True)
class Comb:
    """What one reflection does to the tone: its first notch, how deep it goes, and the ripple from top to bottom."""

    first_notch_hz: float
    notch_db: float
    ripple_db: float


def comb_of(delay_s: float, gain: float) -> Comb:
    """Return the comb of a reflection that comes later by a delay, at a gain against the direct sound.

    Reference: notches at (2n + 1) / (2 delay), ripple 20 log10((1 + g) / (1 - g)), Everest (from memory).

    >>> comb = comb_of(0.001, 0.5)
    >>> round(comb.first_notch_hz), round(comb.ripple_db, 2), round(comb.notch_db, 2)
    (500, 9.54, -6.02)
    """
    require_within("gain", gain, 0, 0.999)
    return Comb(
        first_notch_hz=1 / (2 * max(delay_s, 1e-9)),
        notch_db=20 * math.log10(1 - gain),
        ripple_db=20 * math.log10((1 + gain) / (1 - gain)),
    )
