"""How a room rings on after phrases, told from the take itself where its sounds end freely."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.take.frames import Frames

BANDS_HZ: Final = ((500.0, 1000.0), (1000.0, 2000.0), (2000.0, 4000.0))
SMOOTH: Final = 3
HEARD_DB: Final = 30.0
"""A decay begins within so much of the loudest moment of its band."""
FIRST_DB: Final = 8.0
"""The direct sound's own end: what falls this far first is left out."""
LEAST_FALL_DB: Final = 14.0
OVER_FLOOR_DB: Final = 8.0
STRAIGHT_DB: Final = 2.5
"""How far a decay may lie off its straight line."""
UP_AGAIN_DB: Final = 4.0
LEAST_FRAMES: Final = 6
TRY_AGAIN: Final = 3
"""A decay that is bent at first may be straight from so many frames on."""
LEAST_DECAYS: Final = 3
TOLD_S: Final = 0.5
"""From so long a reverberation time on a close take sounds of its room (contract)."""
FAST_QUANTILE: Final = 0.25
"""Of many ends the faster ones are the room's: a note that is let die away falls more slowly."""
ALIKE: Final = 1.35
LEAST_ALIKE: Final = 8
"""A room lets everything die away alike: the middle decay is no longer than the fastest ones by so much."""
SMOOTH_DB: Final = 0.55
"""A room's modes beat against each other as they die away; a string, a bell or a damped key falls in a clean line."""
OWN_FROM_S: Final = 0.9
LONGEST_S: Final = 1.3
"""Of sources nobody told of only this much is told as an echo: strings, bells and whole sections ring on for most of a
second, or for one and a half, by themselves (own measurements on sampled instruments)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Decay:
    """One free end of a sound in one band: when it begins, how fast it falls, how far off a straight line it lies."""

    start_s: float
    low_hz: float
    t60_s: float
    off_db: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Echo:
    """What a take tells of its room.

    t60_s is None where its ends do not tell; own where the source may ring so itself.
    """

    t60_s: float | None
    own: bool = False

    @property
    def told(self) -> bool:
        return self.t60_s is not None and self.t60_s > TOLD_S


def echo_of(frames: Frames, *, rings: bool | None = None) -> Echo:
    """Return how the room of a take rings on, as far as it can be told.

    Args:
        rings: whether the source rings on by itself, as strings and bells do; None where it is not known: then only
            sounds that all die away alike tell of a room, and still it may be their own.

    Reference: blind estimates take the fastest of the free decays (Ratnam et al., JASA 114, 2003; from memory).
    """
    decays = decays_in(frames)
    if len(decays) < LEAST_DECAYS:
        return Echo(t60_s=None)
    times_s = [one.t60_s for one in decays]
    fastest_s, t60_s, middle_s = (float(each) for each in np.quantile(times_s, (0.1, FAST_QUANTILE, 0.5)))
    if rings is False or t60_s <= TOLD_S:
        return Echo(t60_s=t60_s)
    if len(decays) < LEAST_ALIKE or middle_s > ALIKE * fastest_s or not OWN_FROM_S <= t60_s <= LONGEST_S:
        return Echo(t60_s=None)
    if np.quantile([one.off_db for one in decays], FAST_QUANTILE) < SMOOTH_DB:
        return Echo(t60_s=None)
    return Echo(t60_s=t60_s, own=True)


def decays_in(frames: Frames) -> list[Decay]:
    """Return the free decays of a take, all bands together."""
    found = []
    for low_hz, high_hz in BANDS_HZ:
        if high_hz > frames.top_hz:
            continue
        power = np.maximum(frames.band(low_hz, high_hz), 1e-14)
        if len(power) < 2 * SMOOTH:
            continue
        level = 10 * np.log10(np.convolve(power, np.full(SMOOTH, 1 / SMOOTH), "same"))
        found += _decays(level, low_hz, frames.step_s)
    return found


def _decays(level: np.ndarray, low_hz: float, step_s: float) -> list[Decay]:
    floor, top = float(np.percentile(level, 5)), float(level.max())
    falls = np.diff(level) < 0
    starts = np.flatnonzero((level[:-1] >= max(top - HEARD_DB, floor + FIRST_DB + LEAST_FALL_DB)) & falls)
    heights = level.tolist()
    found: list[Decay] = []
    ends: dict[int, int] = {}
    next_start = 0
    for at in starts.tolist():
        if at < next_start:
            continue
        if at not in ends:
            ends |= _ends(heights, at, floor + OVER_FLOOR_DB)
        end = ends[at]
        line = _line(level[at : end + 1], step_s) if heights[at] - heights[end] > FIRST_DB + LEAST_FALL_DB else None
        if line is not None:
            found.append(Decay(start_s=at * step_s, low_hz=low_hz, t60_s=line[0], off_db=line[1]))
        next_start = end + 1 if line is not None else at + TRY_AGAIN
    return found


def _ends(heights: list[float], at: int, floor: float) -> dict[int, int]:
    """Return the frame at which a decay that begins at a frame is lowest, before it comes up again.

    Whatever begins where it was lowest so far ends at the same frame: all those are told as well.
    """
    lowest, on_the_way, now = heights[at], [at], at + 1
    while now < len(heights) - 1 and heights[now] < lowest + UP_AGAIN_DB and heights[now] > floor:
        if heights[now] < lowest:
            lowest = heights[now]
            on_the_way.append(now)
        now += 1
    return dict.fromkeys(on_the_way, on_the_way[-1])


def _line(level: np.ndarray, step_s: float) -> tuple[float, float] | None:
    """Return the time a straight decay takes to fall by 60 dB, and how far it lies off its line; None where it is too
    short or bent."""
    begin = int(np.argmax(level < level[0] - FIRST_DB))
    rest = level[begin:]
    if begin == 0 or len(rest) < LEAST_FRAMES or rest[0] - rest[-1] < LEAST_FALL_DB:
        return None
    time_s = (np.arange(len(rest)) - (len(rest) - 1) / 2) * step_s
    about = rest - rest.mean()
    slope = float(time_s @ about) / float(time_s @ time_s)
    off_db = math.sqrt(float(np.square(about - slope * time_s).mean()))
    return None if slope >= 0 or off_db > STRAIGHT_DB else (-60 / slope, off_db)
