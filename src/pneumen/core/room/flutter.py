"""Flutter: echoes that follow each other between two bare parallel walls, and how far apart those stand."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.filters import RunningFilter, band_pass
from pneumen.core.levels import SPEED_OF_SOUND_M_S
from pneumen.core.peaks import parabola_shift

FLUTTER_BAND_HZ: Final = (1000.0, 4000.0)
ENVELOPE_S: Final = 0.0004
NEAREST_WALLS_M, FARTHEST_WALLS_M = 1.2, 8.0
HEARD_AS_FLUTTER: Final = 0.45
"""How alike the envelope must be to itself one period later (estimate, set on made rooms: without flutter 0.35)."""
AS_ALIKE: Final = 0.9
FINER_AS_ALIKE: Final = 0.75
LOBE: Final = 7
IN_BETWEEN: Final = 0.15
SOME_IN_BETWEEN: Final = 0.35
NARROW_ROOM_M: Final = 2.3
"""How wide a peak is in steps, what counts as an echo in between (for what is only told beside the reading: more),
and how near walls seldom stand (estimates)."""
FLUTTER_FROM_S, FLUTTER_LONG_S = 0.012, 0.5
LEAST_POWER: Final = 1e-30
FITS_M: Final = 0.25
"""So near a distance that is drawn a reading fits it (estimate: half a shelf and the tape's hand)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Flutter:
    """Echoes between two bare parallel walls: the distance between them, where they are heard."""

    found: bool
    spacing_m: float | None


NO_FLUTTER: Final = Flutter(found=False, spacing_m=None)


def flutter_of(decay: np.ndarray, rate_hz: int) -> tuple[Flutter, tuple[float, ...]]:
    """Return whether echoes follow each other at one period, and how far apart the walls that make it stand.

    Between walls L apart everything comes back after 2L/c, wherever clapper and ear stand, and after its multiples: of
    periods as good the shortest is taken. Off the middle the echoes come at two alternating strengths, so that half
    the period is worse. Midway it repeats after L/c, with nothing between the echoes: an even train too quick for the
    walls of a room is read so.

    Echoes that come evenly at d/c may be those of walls d apart, heard midway; d/2, heard close to one of them; or
    3d/2, heard a third of the way, where the echoes from both walls fall evenly between those that went round. The
    likeliest is the reading, the others are returned beside it.
    """
    envelope, step_s = _envelope(decay, rate_hz)
    shortest = round(2 * NEAREST_WALLS_M / SPEED_OF_SOUND_M_S / step_s)
    longest = min(round(2 * FARTHEST_WALLS_M / SPEED_OF_SOUND_M_S / step_s), len(envelope) // 2)
    alike = _likeness(envelope, longest)
    peaks = [lag for lag in range(shortest, longest - 1) if alike[lag - 1] < alike[lag] >= alike[lag + 1]]
    best = max((alike[lag] for lag in peaks), default=0.0)
    if best < HEARD_AS_FLUTTER:
        return NO_FLUTTER, ()
    # A period that falls between two steps is as good as one that falls on a step: peaks count by their tops.
    tops = {lag: _top(alike, lag) for lag in peaks}
    period = min(lag for lag, top in tops.items() if top >= AS_ALIKE * max(tops.values()))
    walked_m = float(period + parabola_shift(*alike[period - 1 : period + 2])) * step_s * SPEED_OF_SOUND_M_S
    midway = walked_m / 2 < NARROW_ROOM_M and _is_bare(alike, period)
    spacing_m = walked_m if midway else walked_m / 2
    parts = _even_parts(alike, period)
    even_m = walked_m / parts if parts else 0.0
    others = (one for one in (even_m, even_m / 2, 1.5 * even_m) if NEAREST_WALLS_M <= one <= FARTHEST_WALLS_M)
    return Flutter(found=True, spacing_m=spacing_m), tuple(one for one in others if abs(one - spacing_m) > FITS_M / 2)


def likely_walls(
    spacing_m: float, or_m: Sequence[float], walls: Mapping[str, float], *, fits_m: float = FITS_M
) -> tuple[str, float] | None:
    """Return which of a room's pairs of walls flutters, and how far apart it stands; None where none fits.

    Args:
        spacing_m, or_m: the reading, and what it may be as well.
        walls: the distance of each pair by its name.
    """
    for reading in (spacing_m, *or_m):
        name, distance_m = min(walls.items(), key=lambda pair: abs(pair[1] - reading))
        if abs(distance_m - reading) < fits_m:
            return name, distance_m
    return None


def frame_powers(power: np.ndarray, frame: int) -> np.ndarray:
    """Return the mean of each whole frame."""
    count = len(power) // frame
    return power[: count * frame].reshape(count, frame).mean(axis=1)


def _is_bare(alike: np.ndarray, period: int, most: float = IN_BETWEEN) -> bool:
    """Tell whether there is nothing between one echo and the next."""
    return bool(alike[LOBE : period - LOBE].max(initial=0.0) < most)


def _even_parts(alike: np.ndarray, period: int) -> int:
    """Return into how many even parts a period falls by its echoes: 1 to 3; 0 where there are others in between."""
    for parts in (3, 2):
        shorter = round(period / parts)
        if shorter > 2 * LOBE and alike[shorter - 2 : shorter + 3].max() >= FINER_AS_ALIKE * alike[period]:
            return parts if _is_bare(alike, shorter, SOME_IN_BETWEEN) else 0
    return 1 if _is_bare(alike, period, SOME_IN_BETWEEN) else 0


def _envelope(decay: np.ndarray, rate_hz: int) -> tuple[np.ndarray, float]:
    """Return the energy of 1 to 4 kHz in short steps, its decay taken out, and the step."""
    high_hz = min(FLUTTER_BAND_HZ[1], 0.45 * rate_hz)
    filtered = RunningFilter(band_pass(2, (FLUTTER_BAND_HZ[0], high_hz), rate_hz))(decay)
    step = max(1, round(ENVELOPE_S * rate_hz))
    first, last = round(FLUTTER_FROM_S * rate_hz), round((FLUTTER_FROM_S + FLUTTER_LONG_S) * rate_hz)
    power = frame_powers(np.square(filtered[first:last]), step)
    if len(power) < 100:
        return np.zeros(0), step / rate_hz
    level = 10 * np.log10(np.maximum(power, LEAST_POWER))
    span = 125  # some 50 ms: the slow fall, not the echoes in it
    smooth = np.convolve(np.pad(level, span // 2, mode="edge"), np.ones(span) / span, "valid")[: len(level)]
    flat = np.clip(level - smooth, -20, 20)
    # What has sunk to the noise tells nothing any more.
    alive = smooth > np.median(level[-len(level) // 5 :]) + 6
    end = int(np.argmin(alive)) if not alive.all() else len(flat)
    return flat[: max(end, 100)], step / rate_hz


def _likeness(envelope: np.ndarray, longest: int) -> np.ndarray:
    """Return the correlation of an envelope with itself at each lag, shape (longest,)."""
    found = np.zeros(max(longest, 1))
    for lag in range(1, longest):
        early, late = envelope[:-lag] - envelope[:-lag].mean(), envelope[lag:] - envelope[lag:].mean()
        found[lag] = float(early @ late / np.sqrt((early @ early) * (late @ late) + LEAST_POWER))
    return found


def _top(values: np.ndarray, at: int) -> float:
    """Return how high a peak reaches between samples, by a parabola through three."""
    left, middle, right = values[at - 1 : at + 2]
    bend = left - 2 * middle + right
    return float(middle - (left - right) ** 2 / (8 * bend)) if bend < 0 else float(middle)
