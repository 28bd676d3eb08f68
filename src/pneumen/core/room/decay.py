"""The decay of a room out of one clap: reverberation time by octave, and the train of echoes between two bare walls.

Backward integration (Schroeder, 1965) of each octave, T20 from -5 to -25 dB (ISO 3382-2), EDT from 0 to -10 dB
(ISO 3382-1). The octaves are filtered backwards in time, so that their own ringing runs ahead of the decay and not
into it (Jacobsen and Rindel, 1987; from memory): that needs B T > 4 instead of 16.
"""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import UnreadableFile, require_within
from pneumen.core.filters import RunningFilter, band_pass
from pneumen.core.room.flutter import LEAST_POWER, NO_FLUTTER, Flutter, flutter_of, frame_powers
from pneumen.core.room.materials import BANDS_HZ

LEAST_BT: Final = 4.0
T20_DB: Final = (-5.0, -25.0)
EDT_DB: Final = (0.0, -10.0)
ABOVE_NOISE_DB: Final = 10.0
"""The lower end of a fit must lie so far above the noise (ISO 3382-1)."""
FRAME_S: Final = 0.01
LONGEST_S: Final = 6.0
BEFORE_S: Final = 0.02
LEAD_S: Final = 1.0
LEAST_AFTER_S: Final = 0.1
CLAP_OVER_FLOOR_DB: Final = 25.0
"""A clap's loudest 10 ms stand at least so far above the quieter half of the file."""
ATTACK_DB: Final = 15.0
"""Some 40 ms before its loudest moment a clap has not begun: what sounds there lies so far below."""
NEXT_CLAP_DB: Final = -12.0
NEXT_CLAP_S: Final = 0.3
NEXT_RISE_DB: Final = 8.0
BURIED_DB: Final = 5.0
"""What stands out of the noise by less is noise (its loudest 10 ms of a second lie some 3 dB over its median)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Clap:
    """What a clap tells. limited_by says for each band why a figure is missing: "", "noise" or "filter"."""

    bands_hz: tuple[int, ...]
    t20_s: tuple[float | None, ...]
    edt_s: tuple[float | None, ...]
    rt60_s: float | None
    noise_limited: bool
    flutter: Flutter
    limited_by: tuple[str, ...]
    flutter_or_m: tuple[float, ...] = ()
    """What the same flutter would mean heard elsewhere between the walls: see likely_walls."""


def clap_of(samples: np.ndarray, rate_hz: int) -> Clap:
    """Return reverberation time and flutter from a recording of a clap or a burst balloon; of one in noise, nothing.

    Args:
        samples: one channel, shape (N,).

    Raises:
        UnreadableFile: where there is no clap, or too little after it.
        OutOfRange: for a rate no recorder has.
    """
    require_within("sample_rate_hz", rate_hz, 8000, 192_000)
    edges = _decay_edges(samples, rate_hz)
    if edges is None:
        return BURIED
    start, stop = edges
    lead = max(0, start - round(LEAD_S * rate_hz))
    samples, start, stop = samples[lead:stop], start - lead, stop - lead
    bands = [_band(samples, start, stop, rate_hz, centre) for centre in BANDS_HZ]
    t20, edt = tuple(band.t20_s for band in bands), tuple(band.edt_s for band in bands)
    flutter, or_m = flutter_of(samples[start:stop], rate_hz)
    low, high = t20[BANDS_HZ.index(500)], t20[BANDS_HZ.index(1000)]
    return Clap(
        bands_hz=BANDS_HZ,
        t20_s=t20,
        edt_s=edt,
        rt60_s=None if low is None or high is None else (low + high) / 2,
        noise_limited=any(band.limited_by == "noise" for band in bands),
        flutter=flutter,
        limited_by=tuple(band.limited_by for band in bands),
        flutter_or_m=or_m,
    )


NOTHING = (None,) * len(BANDS_HZ)
BURIED: Final = Clap(
    bands_hz=BANDS_HZ,
    t20_s=NOTHING,
    edt_s=NOTHING,
    rt60_s=None,
    noise_limited=True,
    flutter=NO_FLUTTER,
    limited_by=("noise",) * len(BANDS_HZ),
)
"""What a clap tells that is buried in noise."""


def _decay_edges(samples: np.ndarray, rate_hz: int) -> tuple[int, int] | None:
    """Return where the loudest clap begins, and where its decay ends: at the next clap, or with the file.

    None where it hardly stands out of the noise.
    """
    frame = max(1, round(FRAME_S * rate_hz))
    power = frame_powers(np.square(samples), frame)
    if len(power) < round((LEAST_AFTER_S + BEFORE_S) / FRAME_S):
        raise UnreadableFile("the recording is shorter than a clap", "leave a second of silence before and after it")
    loudest, floor = int(power.argmax()), float(np.median(power))
    before = power[max(0, loudest - 6) : max(0, loudest - 2)].mean() if loudest > 2 else 0.0
    starts_at_once = before <= power[loudest] * 10 ** (-ATTACK_DB / 10)
    over_db = 10 * np.log10(max(power[loudest], LEAST_POWER) / max(floor, LEAST_POWER))
    if over_db <= CLAP_OVER_FLOOR_DB and _is_buried(power, loudest, floor):
        return None
    if power[loudest] <= 1e-12 or over_db <= CLAP_OVER_FLOOR_DB or not starts_at_once:
        raise UnreadableFile(
            "there is no clap in it",
            "clap once, as loud as you can, or burst a balloon, with a second of silence before and after",
        )
    around = np.abs(samples[max(0, (loudest - 1) * frame) : (loudest + 2) * frame])
    peak = int(around.argmax())
    start = max(0, (loudest - 1) * frame) + int(np.argmax(around[: peak + 1] > 0.1 * around[peak]))
    after, rise = power[loudest:], round(0.05 / FRAME_S)
    jumps = after[rise:] > after[:-rise] * 10 ** (NEXT_RISE_DB / 10)
    again = np.flatnonzero(jumps & (after[rise:] > after[0] * 10 ** (NEXT_CLAP_DB / 10))) + rise
    later = again[again > NEXT_CLAP_S / FRAME_S]
    stop = min(len(samples), start + round(LONGEST_S * rate_hz))
    if len(later):
        stop = min(stop, (loudest + int(later[0]) - 1) * frame)
    if stop - start < LEAST_AFTER_S * rate_hz:
        raise UnreadableFile("nothing is left of the room after the clap", "let the recording run on for a second")
    return start, stop


def _is_buried(power: np.ndarray, loudest: int, floor: float) -> bool:
    """Tell whether something short stands a little out of the noise, as a clap does that is too soft for it."""
    least = 10 ** (BURIED_DB / 10)
    around = [power[max(0, loudest - 6) : max(0, loudest - 2)], power[loudest + 8 : loudest + 16]]
    sides = [float(one.mean()) for one in around if len(one)]
    return floor > LEAST_POWER and len(sides) == 2 and all(power[loudest] > least * side for side in (floor, *sides))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Band:
    t20_s: float | None
    edt_s: float | None
    limited_by: str


def _band(samples: np.ndarray, start: int, stop: int, rate_hz: int, centre_hz: int) -> _Band:
    low, high = centre_hz / 2**0.5, centre_hz * 2**0.5
    if high >= 0.49 * rate_hz:
        return _Band(t20_s=None, edt_s=None, limited_by="filter")
    backwards = RunningFilter(band_pass(3, (low, high), rate_hz))(samples[:stop][::-1])
    power = np.square(backwards[::-1])
    noise = _noise_power(power, start, stop, rate_hz)
    curve, range_db = _decay_curve(power[start:stop], noise, rate_hz)
    t20 = _slope_s(curve, T20_DB, rate_hz) if range_db >= ABOVE_NOISE_DB - T20_DB[1] else None
    edt = _slope_s(curve, EDT_DB, rate_hz) if range_db >= ABOVE_NOISE_DB - EDT_DB[1] else None
    limited_by = "noise" if t20 is None or edt is None else ""
    t20, edt = (None if one is not None and one * (high - low) < LEAST_BT else one for one in (t20, edt))
    if not limited_by and (t20 is None or edt is None):
        limited_by = "filter"
    return _Band(t20_s=t20, edt_s=edt, limited_by=limited_by)


def _noise_power(power: np.ndarray, start: int, stop: int, rate_hz: int) -> float:
    """Return the quieter of what stands before the clap and at the end of its decay."""
    after = power[stop - max((stop - start) // 10, 1) : stop].mean()
    before = power[: max(0, start - round(BEFORE_S * rate_hz))]
    # A clap at the very start, and filters that run ahead of it, leave nothing to measure before.
    quiet = before[: len(before) * 3 // 4]
    return float(min(after, quiet.mean()) if len(quiet) > 0.1 * rate_hz else after)


def _decay_curve(power: np.ndarray, noise: float, rate_hz: int) -> tuple[np.ndarray, float]:
    """Return the backward integral in dB and how far the decay stands over the noise.

    The integral stops where the decay meets the noise; what would have come after is put back as the tail of the
    fitted decay, and the noise is taken out (Lundeby et al., 1995; Chu, 1978; from memory).
    """
    frame = max(1, round(FRAME_S * rate_hz))
    frames = np.maximum(frame_powers(power, frame), LEAST_POWER)
    level, floor_db = 10 * np.log10(frames), 10 * np.log10(max(noise, LEAST_POWER))
    loudest = int(level.argmax())
    range_db = float(level[loudest] - floor_db)
    below = np.flatnonzero(level[loudest:] < floor_db + ABOVE_NOISE_DB)
    knee = loudest + (int(below[0]) if len(below) else len(level) - loudest - 1)
    if knee - loudest < 2:
        return np.zeros(1), range_db
    seconds = (np.arange(loudest, knee) + 0.5) * FRAME_S
    slope, at_zero = np.polyfit(seconds, level[loudest:knee], 1)
    if slope >= -1:
        return np.zeros(1), 0.0
    cross_s = min((floor_db - at_zero) / slope, len(power) / rate_hz)
    cross = max(int(cross_s * rate_hz), frame)
    decay_s = -10 / np.log(10) / slope  # the time to fall by e in energy
    tail = 10 ** ((at_zero + slope * cross_s) / 10) * decay_s * rate_hz
    energy = np.cumsum((power[:cross] - noise)[::-1])[::-1] + tail
    return 10 * np.log10(np.maximum(energy / energy[0], LEAST_POWER)), range_db


def _slope_s(curve: np.ndarray, limits_db: tuple[float, float], rate_hz: int) -> float | None:
    """Return the time to fall by 60 dB at the slope between two levels; None where the curve does not reach."""
    high, low = limits_db
    below = np.flatnonzero(curve <= low)
    if not len(below):
        return None
    first = int(np.argmax(curve <= high)) if high < 0 else 0
    part = curve[first : int(below[0]) + 1]
    if len(part) < 8:
        return None
    slope = np.polyfit(np.arange(len(part)) / rate_hz, part, 1)[0]
    return float(-60 / slope) if slope < 0 else None
