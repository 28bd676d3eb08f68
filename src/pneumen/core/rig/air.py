"""What the air does between a performer and a microphone in a simulated room: an impulse response.

The direct sound counts 1 where closeness does nothing: how far it has fallen is the chain's business.
"""

from typing import Final

import numpy as np

from pneumen.core.gear import PATTERNS
from pneumen.core.levels import SPEED_OF_SOUND_M_S
from pneumen.core.rig.clap import in_band
from pneumen.core.room import BANDS_HZ, Box, Point, images_up_to, reverberation_times_eyring_s
from pneumen.core.setup import OCTAVES_HZ

IMAGE_ORDER: Final = 10
LONGEST_S: Final = 1.5
MOST_COLOUR_DB: Final = 20.0
LOWEST_HZ: Final = 30.0
DEEPEST_NULL: Final = 0.1
"""What even a null lets through, over the whole band (common practice, no source)."""
FIRST_ECHO_S: Final = 0.002
DIRECT_SAMPLES: Final = 8192
TILT_DB_PER_STEP: Final = 1.0
"""What one step of a zone's brightness is in dB an octave, up to three octaves from 1 kHz (estimate)."""


def air_of(
    box: Box,
    source_m: Point,
    microphone_m: Point,
    *,
    pattern: str,
    turned_deg: float = 0.0,
    bright: float = 0.0,
    rate_hz: int = 48_000,
    seed: int = 0,
) -> np.ndarray:
    """Return an impulse response that starts with the direct sound: closeness, angle and spot, echoes, tail.

    Args:
        turned_deg: how far the microphone is turned off the source, in the plane of the floor.
        bright: the zone's brightness, -2 to 2.

    Raises:
        OutOfRange: for a place in a wall.
    """
    box.require_inside("source_m", source_m)
    box.require_inside("microphone_m", microphone_m)
    between = np.array(source_m) - np.array(microphone_m)
    distance = float(np.linalg.norm(between))
    direct = _direct(pattern, distance, turned_deg, bright, rate_hz)
    echoes = _echoes(box, source_m, microphone_m, _turned(between, turned_deg), pattern, rate_hz, seed)
    out = np.zeros(max(len(direct), len(echoes)))
    out[: len(direct)] += direct
    out[: len(echoes)] += echoes
    return out


def _turned(between: np.ndarray, turned_deg: float) -> np.ndarray:
    c, s = np.cos(np.radians(turned_deg)), np.sin(np.radians(turned_deg))
    return np.array([c * between[0] - s * between[1], s * between[0] + c * between[1], between[2]])


def _direct(pattern: str, distance_m: float, turned_deg: float, bright: float, rate_hz: int) -> np.ndarray:
    """Return the near field of a first-order microphone and the spot's tilt, with minimum phase."""
    hertz = np.maximum(np.fft.rfftfreq(DIRECT_SAMPLES, 1 / rate_hz), LOWEST_HZ)
    a, k = PATTERNS[pattern], 2 * np.pi * hertz / SPEED_OF_SOUND_M_S
    near = a + (1 - a) * np.cos(np.radians(turned_deg)) * (1 + 1 / (1j * k * distance_m))
    octaves = np.clip(np.log2(hertz / 1000), -3, 3)
    return _minimum_phase(np.abs(near) * 10 ** (TILT_DB_PER_STEP * bright * octaves / 20))


def close_up(
    pattern: str, distance_m: float, *, off_axis_deg: float, extent_m: float, low_cut_hz: float, rate_hz: int
) -> np.ndarray:
    """Return an impulse response of what closeness and a low-cut do; 1 far off, whatever the angle.

    Args:
        extent_m: half the width of what sounds: its wave is as curved as that of a point farther off.
        low_cut_hz: of a low-cut of 12 dB an octave; 0 for none.
    """
    hertz = np.maximum(np.fft.rfftfreq(DIRECT_SAMPLES, 1 / rate_hz), LOWEST_HZ)
    a, k = PATTERNS[pattern], 2 * np.pi * hertz / SPEED_OF_SOUND_M_S
    towards = (1 - a) * np.cos(np.radians(off_axis_deg))
    near = np.abs(a + towards * (1 + 1 / (1j * k * np.hypot(distance_m, extent_m))))
    cut = 1 / np.sqrt(1 + (low_cut_hz / hertz) ** 4)
    return _minimum_phase(near / max(abs(a + towards), DEEPEST_NULL) * cut)


def tail_of(rng: np.random.Generator, lead_db: float, rt60_s: float, rate_hz: int) -> np.ndarray:
    """Return an impulse response of the room's sound alone: noise that dies away, so far under a direct sound of 1.

    It begins 2 ms late, after the shortest way by a wall; reflections that stand apart are air_of's.
    """
    length = round(min(1.2 * rt60_s, LONGEST_S) * rate_hz) + 1
    tail = rng.standard_normal(length) * 10 ** (-3 * np.arange(length) / rate_hz / rt60_s)
    tail *= 10 ** (-lead_db / 20) / np.sqrt(np.square(tail).sum())
    return np.concatenate([np.zeros(round(FIRST_ECHO_S * rate_hz)), tail])


def with_octaves(
    performance: np.ndarray, octaves_db: tuple[float, ...], tilt_db_per_octave: float, rate_hz: int
) -> np.ndarray:
    """Return a performance filtered until its octaves lie as told, tilted about 1 kHz as this performer is."""
    centres = np.array(OCTAVES_HZ, dtype=float)
    spectrum, hertz = np.fft.rfft(performance), np.fft.rfftfreq(len(performance), 1 / rate_hz)
    power = np.square(np.abs(spectrum))
    bands = [(hertz >= one / 2**0.5) & (hertz < one * 2**0.5) for one in centres]
    has_db = 10 * np.log10([max(float(power[band].sum()), 1e-20) for band in bands])
    wanted_db = np.array(octaves_db) + tilt_db_per_octave * np.log2(centres / 1000)
    change_db = np.clip(wanted_db - wanted_db.max() - (has_db - has_db.max()), -MOST_COLOUR_DB, MOST_COLOUR_DB)
    along = np.interp(np.log2(np.maximum(hertz, LOWEST_HZ)), np.log2(centres), change_db)
    return np.fft.irfft(spectrum * 10 ** (along / 20), len(performance))


def _minimum_phase(magnitude: np.ndarray) -> np.ndarray:
    """Return the causal impulse response of a magnitude, from its cepstrum (Oppenheim and Schafer, from memory)."""
    cepstrum = np.fft.irfft(np.log(np.maximum(magnitude, 1e-6)))
    half = len(cepstrum) // 2
    fold = np.concatenate([[1.0], np.full(half - 1, 2.0), [1.0], np.zeros(half - 1)])
    return np.fft.irfft(np.exp(np.fft.rfft(cepstrum * fold)))


def _echoes(
    box: Box, source_m: Point, microphone_m: Point, axis: np.ndarray, pattern: str, rate_hz: int, seed: int
) -> np.ndarray:
    """Return images but the source itself, then noise that decays as Eyring says; against the direct sound's 1."""
    images = images_up_to(IMAGE_ORDER)
    towards = images.positions(np.array(source_m), box.size_m) - np.array(microphone_m)
    distance = np.linalg.norm(towards, axis=1)
    a = PATTERNS[pattern]
    heard = a + (1 - a) * towards @ axis / (distance * np.linalg.norm(axis))
    amplitude = np.sqrt(images.reflected(box.wall_absorption)) * (heard * distance[0] / distance)[:, None]
    rings = [one or 0.05 for one in reverberation_times_eyring_s(box)]
    length = round(min(max(1.2 * max(rings), 0.3), LONGEST_S) * rate_hz)
    place = (distance - distance[0]) / SPEED_OF_SOUND_M_S * rate_hz
    whole = place.astype(int)
    part, inside = place - whole, (whole + 1 < length) & (np.arange(len(place)) > 0)
    rng, out = np.random.default_rng([seed, 43]), np.zeros(length)
    join = round(0.7 * IMAGE_ORDER * 4 * box.volume_m3 / box.surface_m2 / SPEED_OF_SOUND_M_S * rate_hz)
    for band in range(len(BANDS_HZ)):
        found = np.zeros(length)
        np.add.at(found, whole[inside], (amplitude[:, band] * (1 - part))[inside])
        np.add.at(found, whole[inside] + 1, (amplitude[:, band] * part)[inside])
        out += in_band(_with_tail(found, join, rings[band], rate_hz, rng), band, rate_hz)
    return out


def _with_tail(found: np.ndarray, join: int, rt60_s: float, rate_hz: int, rng: np.random.Generator) -> np.ndarray:
    before = found[max(join - round(0.02 * rate_hz), 1) : join]
    if join >= len(found) or not before.any():
        return found
    seconds = np.arange(len(found) - join) / rate_hz
    noise = rng.standard_normal(len(seconds)) * np.sqrt(np.square(before).mean())
    return np.concatenate([found[:join], noise * 10 ** (-3 * seconds / rt60_s)])
