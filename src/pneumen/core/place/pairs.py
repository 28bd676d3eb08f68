"""Two microphones: what they do to each other in mono, each with its null on the other's source, stereo pairs."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction, Length, require_positive, require_within
from pneumen.core.gear import PATTERNS, directivity_index_db, require_pattern
from pneumen.core.levels import SPEED_OF_SOUND_M_S, power_sum_db, ratio_to_db
from pneumen.core.verdict import Verdict

THREE_TO_ONE: Final = 3.0
"""Three times as far from each other as from their sources (common practice): 9.5 dB less leak."""
FELT_RIPPLE_DB: Final = 3.0
HARSH_RIPPLE_DB: Final = 7.0
"""A ripple in mono that is felt, and one that hollows the tone out (common practice, no source)."""
TURNS_DEG: Final = tuple(range(-40, 41, 5))
RISES_DEG: Final = tuple(range(-60, 61, 5))
FULL_SIDE_DB: Final = 15.0
FULL_SIDE_MS: Final = 1.12
"""What puts a sound all the way to one side (Williams, Unified Theory of Microphone Systems, 1987; from memory)."""
FLAT_DB: Final = -200.0
HIGHEST_NOTCH_HZ: Final = 16_000
MONO_SAFE_S: Final = 1 / (2 * HIGHEST_NOTCH_HZ)
"""A delay whose first notch lies above 16 kHz is none."""
LEAST_NULL_DB: Final = -20.0
"""No real null is deeper than this over the whole band (common practice, no source)."""
APART_DB: Final = 15.0
"""So far the own source is to stand over the other for a mix that stays free (common practice, no source)."""
AGREES_DB: Final = 1.0
AGREES_MS: Final = 0.1
"""So much may the sides of a recorder that faces one source differ (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class MonoSum:
    """One source in two microphones, added up: how much later it comes to one, the comb, what evens it out.

    align_samples is by how much the nearer one's track is to be delayed; softer_db how much softer the farther one is.
    """

    delay_ms: float
    align_samples: float
    softer_db: float
    notches_hz: tuple[float, float, float]
    ripple_db: float
    verdict: Verdict

    @property
    def combs(self) -> bool:
        """Whether a notch lies where it is heard."""
        return self.notches_hz[0] <= HIGHEST_NOTCH_HZ


def mono_sum_of(near_m: float, far_m: float, *, rate_hz: int, difference_db: float | None = None) -> MonoSum:
    """Return what one source does in the sum of two microphones.

    Args:
        difference_db: how much softer the farther one is in the sum; left out, the law of distance at equal gain.

    Reference: notches at (2n + 1) / (2 delay), ripple 20 log10((1 + g) / (1 - g)), Everest (from memory).
    """
    require_positive("near_m", near_m, 100)
    require_within("far_m", far_m, near_m, 100)
    delay_s = (far_m - near_m) / SPEED_OF_SOUND_M_S
    gain = near_m / far_m if difference_db is None else 10 ** (-abs(difference_db) / 20)
    gain = min(gain, 0.999)
    ripple_db = ratio_to_db((1 + gain) / (1 - gain))
    if delay_s < MONO_SAFE_S:
        verdict = Verdict.CLEAR
    else:
        verdict = (
            Verdict.CLEAR
            if ripple_db < FELT_RIPPLE_DB
            else Verdict.WATCH
            if ripple_db < HARSH_RIPPLE_DB
            else Verdict.MENDABLE
        )
    first, second, third = ((2 * n + 1) / (2 * max(delay_s, 1e-9)) for n in range(3))
    return MonoSum(
        delay_ms=1000 * delay_s,
        align_samples=delay_s * rate_hz,
        softer_db=-ratio_to_db(gain),
        notches_hz=(first, second, third),
        ripple_db=ripple_db,
        verdict=verdict,
    )


def sum_response_db(frequency_hz: np.ndarray, delay_s: float, gain: float) -> np.ndarray:
    """Return the response of a sound and its copy, later by a delay and at a gain, against the sound alone."""
    turned = gain * np.exp(-2j * np.pi * np.asarray(frequency_hz, dtype=float) * delay_s)
    return 20 * np.log10(np.maximum(np.abs(1 + turned), 10 ** (FLAT_DB / 20)))


@dataclass(frozen=True, slots=True, kw_only=True)
class PlacedMicrophone:
    """A microphone in the plane of mouth and instrument, seen from the side: ahead and up from the mouth.

    turned_deg is how far it looks above (or below) its own source; own_db what that costs of it; separation_db how far
    its own source lies over the other.
    """

    at_m: tuple[float, float]
    looks: tuple[float, float]
    turned_deg: float
    own_db: float
    separation_db: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SingerWhoPlays:
    """Two microphones, each with its null on the other source, and what is left of the other in each.

    ratio is how much farther the other source is than the own, the lesser of the two: three is asked for.
    """

    voice: PlacedMicrophone
    instrument: PlacedMicrophone
    ratio: float
    mono: MonoSum

    @property
    def verdict(self) -> Verdict:
        """Clear where either stands far over the other; watch where by as much as three to one gives."""
        least_db = min(self.voice.separation_db, self.instrument.separation_db)
        return (
            Verdict.CLEAR
            if least_db >= APART_DB
            else Verdict.WATCH
            if least_db >= ratio_to_db(THREE_TO_ONE)
            else Verdict.MENDABLE
        )


def singer_who_plays(
    instrument_m: tuple[float, float],
    *,
    voice_m: float,
    play_m: float,
    voice_pattern: str,
    play_pattern: str,
    level_difference_db: float = 0.0,
    critical_m: float | None = None,
    rate_hz: int = 48_000,
) -> SingerWhoPlays:
    """Return where two microphones hear least of each other's source, within what their own sources allow.

    No null takes out what the other source sends round the room: that comes from everywhere.

    Args:
        instrument_m: where the instrument sounds, ahead of and above the mouth (below: negative).
        voice_m, play_m: distances of the two microphones to their own sources.
        level_difference_db: by how much the voice is louder than the instrument at the same distance.
        critical_m: the room's critical distance, source and microphone taken as omni; None in the open.

    Raises:
        Contradiction: where mouth and instrument are in each other.
    """
    if math.hypot(*instrument_m) < 0.1:
        raise Contradiction("instrument", "must be at least {least} from the mouth", least=Length(0.1, near=True))
    require_pattern(voice_pattern)
    require_pattern(play_pattern)
    voice = _best((0.0, 0.0), instrument_m, voice_m, voice_pattern, level_difference_db, critical_m)
    play = _best(instrument_m, (0.0, 0.0), play_m, play_pattern, -level_difference_db, critical_m)
    over = [math.dist(voice.at_m, instrument_m) / voice_m, math.dist(play.at_m, (0.0, 0.0)) / play_m]
    leak_m = math.dist(play.at_m, (0.0, 0.0))
    mono = mono_sum_of(
        min(voice_m, leak_m), max(voice_m, leak_m), rate_hz=rate_hz, difference_db=max(play.separation_db, 0.0)
    )
    return SingerWhoPlays(voice=voice, instrument=play, ratio=min(over), mono=mono)


def _best(
    own: tuple[float, float],
    other: tuple[float, float],
    distance_m: float,
    pattern: str,
    louder_db: float,
    critical_m: float | None,
) -> PlacedMicrophone:
    """Try every place ahead of a source and every turn, and keep what separates best for the least turning."""
    require_positive("distance_m", distance_m, 10)
    # What the room brings of a source lies as high as its direct sound at the critical distance.
    room_db = -ratio_to_db(critical_m) - directivity_index_db(pattern) if critical_m else None
    found = [
        _placed(own, other, distance_m, pattern, louder_db, room_db=room_db, rise_deg=rise, turn_deg=turn)
        for rise in RISES_DEG
        for turn in TURNS_DEG
    ]
    return max(found, key=lambda one: (round(one.separation_db + 2 * one.own_db, 1), -abs(one.turned_deg)))


def _placed(
    own: tuple[float, float],
    other: tuple[float, float],
    distance_m: float,
    pattern: str,
    louder_db: float,
    *,
    room_db: float | None,
    rise_deg: float,
    turn_deg: float,
) -> PlacedMicrophone:
    rise = math.radians(rise_deg)
    at = own[0] + distance_m * math.cos(rise), own[1] + distance_m * math.sin(rise)
    towards = rise + math.pi + math.radians(turn_deg)
    looks = math.cos(towards), math.sin(towards)
    own_db, other_db = (_heard_db(pattern, at, looks, source) for source in (own, other))
    other_db -= ratio_to_db(math.dist(at, other))
    if room_db is not None:
        other_db = power_sum_db(other_db, room_db)
    return PlacedMicrophone(
        at_m=at,
        looks=looks,
        turned_deg=float(turn_deg),
        own_db=own_db,
        separation_db=louder_db + own_db - ratio_to_db(distance_m) - other_db,
    )


def _heard_db(pattern: str, at: tuple[float, float], looks: tuple[float, float], source: tuple[float, float]) -> float:
    away = source[0] - at[0], source[1] - at[1]
    cosine = (away[0] * looks[0] + away[1] * looks[1]) / max(math.hypot(*away), 1e-9)
    a = PATTERNS[pattern]
    return max(ratio_to_db(max(abs(a + (1 - a) * cosine), 1e-6)), LEAST_NULL_DB)


@dataclass(frozen=True, slots=True, kw_only=True)
class StereoPair:
    """Two microphones for one picture: angle between their axes and how far apart; one pattern for both."""

    pattern: str
    between_deg: float
    spacing_m: float

    def __post_init__(self) -> None:
        require_pattern(self.pattern)
        require_within("between_deg", self.between_deg, 0, 180)
        require_within("spacing_m", self.spacing_m, 0, 3)

    @property
    def outwards_deg(self) -> float:
        """How far each of the two is turned off the source in the middle."""
        return self.between_deg / 2


PAIRS: Final = {
    "coincident": ("Coincident, at one point", StereoPair(pattern="cardioid", between_deg=90, spacing_m=0.0)),
    "near": ("A hand apart and turned outwards", StereoPair(pattern="cardioid", between_deg=110, spacing_m=0.17)),
    "spaced": ("Spaced, side by side", StereoPair(pattern="omni", between_deg=0, spacing_m=0.5)),
}
"""Kinds of pairs to start from (common practice, no source)."""
USUAL_PAIR: Final = PAIRS["coincident"][1]
"""What a part in stereo starts from, safe in mono; a handheld recorder's own capsules are one (common practice)."""


def pair_differences(pair: StereoPair, angle_deg: np.ndarray, distance_m: float) -> tuple[np.ndarray, np.ndarray]:
    """Return how much louder (dB) and earlier (ms) a source is in one microphone of a pair than in the other.

    Args:
        angle_deg: off the middle, towards that one; any shape.
        distance_m: to the middle of the pair.
    """
    require_positive("distance_m", distance_m, 100)
    theta = np.radians(np.asarray(angle_deg, dtype=float))
    x, y = distance_m * np.sin(theta), distance_m * np.cos(theta)
    heard, paths = [], []
    for side in (1, -1):
        dx = x - side * pair.spacing_m / 2
        path = np.maximum(np.hypot(dx, y), 0.01)
        off = np.arctan2(dx, y) - side * math.radians(pair.between_deg) / 2
        a = PATTERNS[pair.pattern]
        weight = np.maximum(np.abs(a + (1 - a) * np.cos(off)), 1e-3)
        heard.append(20 * np.log10(weight / path))
        paths.append(path)
    return heard[0] - heard[1], 1000 * (paths[1] - paths[0]) / SPEED_OF_SOUND_M_S


def recording_angle_deg(pair: StereoPair, distance_m: float) -> float | None:
    """Return how far off the middle a source sounds all the way at the side; None where it never does.

    Level and time add up towards a full side: 15 dB or 1.12 ms alone.

    Reference: Williams (1987), simplified, from memory.
    """
    angles = np.arange(1.0, 180.5, 0.5)
    level, time = pair_differences(pair, angles, distance_m)
    share = level / FULL_SIDE_DB + time / FULL_SIDE_MS
    full = np.flatnonzero(share >= 1)
    return float(angles[full[0]]) if len(full) else None


@dataclass(frozen=True, slots=True, kw_only=True)
class StereoImage:
    """What a pair makes of a source, off the middle by some angle, and of its picture's edge.

    edge_deg is where a sound stands all the way at the side, None where none does; level_db and time_ms by how much the
    source is louder and earlier on its side; edge_comb_hz from where on a sound at the edge combs in mono, None where
    nothing is heard of it.
    """

    edge_deg: float | None
    level_db: float
    time_ms: float
    edge_comb_hz: float | None

    @property
    def sides_agree(self) -> bool:
        """Whether both sides hear the source alike, as a recorder that faces it does."""
        return abs(self.level_db) < AGREES_DB and abs(self.time_ms) < AGREES_MS

    @property
    def verdict(self) -> Verdict:
        return Verdict.CLEAR if self.edge_comb_hz is None else Verdict.WATCH


def stereo_image(pair: StereoPair, off_deg: float, distance_m: float) -> StereoImage:
    """Return what a pair makes of a source at an angle off its middle.

    Raises:
        OutOfRange: for a distance that cannot be.
    """
    edge_deg = recording_angle_deg(pair, distance_m)
    level, time = pair_differences(pair, np.array([off_deg, edge_deg or 90.0]), distance_m)
    edge_s = abs(float(time[1])) / 1000
    return StereoImage(
        edge_deg=edge_deg,
        level_db=float(level[0]),
        time_ms=float(time[0]),
        edge_comb_hz=None if edge_s < MONO_SAFE_S else 1 / (2 * edge_s),
    )
