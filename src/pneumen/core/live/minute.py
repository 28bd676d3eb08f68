"""What the one-minute check tells, all at once: noise, level range, pops, esses, leak, and how the room rings."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import UnreadableFile
from pneumen.core.levels import FULL_SCALE_TOUCHED, frame_powers, ratio_to_db
from pneumen.core.live.guide import AGAIN, BACKING, CLAP, LOUDEST, SILENCE, SOFT, WORDS, Cut
from pneumen.core.room import clap_of
from pneumen.core.take import FloorMeter, FrameMeter, Frames, blasts_in, hisses_in

FRAME_S: Final = 0.05
ACTIVE_DB: Final = 20.0
"""What lies so far under a line's loudest moment does not count as sounding."""
NOISE_BAND_DB: Final = 1.5
RANGE_BAND_DB: Final = 2.0
"""How well some seconds tell a room's noise, and two lines a level range (estimates)."""
LEAK_SEEN_DB: Final = 1.0
"""A backing that lifts the noise by less is not to be told from it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Minute:
    """What the check told; None where a step is missing or does not tell.

    Levels in dBFS. noise_dbfs and leak_dbfs are A-weighted; leak_is_bound: the leak is at most that. range_db lies
    between the loudest and the soft line. pops counts the pops and harsh_s the harsh S among the words, as in any take.
    rt60_s is the room's.
    """

    peak_dbfs: float | None
    clips: bool
    typical_dbfs: float | None
    noise_dbfs: float | None
    clean_range_db: float | None
    range_db: float | None
    leak_dbfs: float | None
    leak_is_bound: bool
    rt60_s: float | None
    pops: int | None = None
    harsh_s: int | None = None
    noise_band_db: float = NOISE_BAND_DB
    range_band_db: float = RANGE_BAND_DB


def minute_of(samples: np.ndarray, sample_rate_hz: int, cuts: tuple[Cut, ...]) -> Minute:
    """Measure the steps of a one-minute check.

    Args:
        samples: one channel, shape (N,).
        cuts: where each step lies; the loudest line counts as it was with the gain set, if it was said again.
    """
    parts = {cut.step: _cut(samples, sample_rate_hz, cut) for cut in cuts}
    loudest = parts.get(AGAIN, parts.get(LOUDEST))
    peak_dbfs = None if loudest is None else ratio_to_db(float(np.abs(loudest).max()))
    typical_dbfs = None if loudest is None else _active_dbfs(loudest, sample_rate_hz)
    noise_dbfs = _noise_dbfs(parts, SILENCE, sample_rate_hz)
    soft_dbfs = _active_dbfs(parts[SOFT], sample_rate_hz) if SOFT in parts else None
    leak_dbfs, is_bound = _leak_dbfs(_noise_dbfs(parts, BACKING, sample_rate_hz), noise_dbfs)
    words = _in_frames(parts[WORDS], sample_rate_hz) if WORDS in parts else None
    return Minute(
        peak_dbfs=peak_dbfs,
        clips=loudest is not None and bool((np.abs(loudest) >= FULL_SCALE_TOUCHED).any()),
        typical_dbfs=typical_dbfs,
        noise_dbfs=noise_dbfs,
        clean_range_db=None if typical_dbfs is None or noise_dbfs is None else typical_dbfs - noise_dbfs,
        range_db=None if typical_dbfs is None or soft_dbfs is None else typical_dbfs - soft_dbfs,
        pops=None if words is None else sum(blast.in_word for blast in blasts_in(words, words=True)),
        harsh_s=None if words is None else sum(hiss.harsh for hiss in hisses_in(words)),
        leak_dbfs=leak_dbfs,
        leak_is_bound=is_bound,
        rt60_s=_rt60_s(parts, sample_rate_hz),
    )


def _cut(samples: np.ndarray, rate_hz: int, cut: Cut) -> np.ndarray:
    found = samples[round(cut.start_s * rate_hz) : round(cut.end_s * rate_hz)]
    if len(found) < FRAME_S * rate_hz:
        raise UnreadableFile(f"the {cut.step} step lies beyond its end", "move its cut into the recording")
    return found


def _noise_dbfs(parts: Mapping[str, np.ndarray], step: str, rate_hz: int) -> float | None:
    if step not in parts:
        return None
    meter = FloorMeter(rate_hz)
    meter(parts[step])
    return meter.floor_dbfs_a


def _leak_dbfs(with_backing_dbfs: float | None, noise_dbfs: float | None) -> tuple[float | None, bool]:
    """Return the leak alone: what the backing adds to the noise; where that is nothing, what it is at most."""
    if with_backing_dbfs is None or noise_dbfs is None:
        return None, False
    if with_backing_dbfs - noise_dbfs < LEAK_SEEN_DB:
        return noise_dbfs - 6.0, True  # by power a leak 6 dB under the noise lifts it by a decibel
    return float(10 * np.log10(10 ** (with_backing_dbfs / 10) - 10 ** (noise_dbfs / 10))), False


def _active_dbfs(samples: np.ndarray, rate_hz: int) -> float:
    """Return the RMS level of a line where it sounds."""
    power = _frames(samples, rate_hz)
    return ratio_to_db(float(np.sqrt(power[power > power.max() * 10 ** (-ACTIVE_DB / 10)].mean())))


def _in_frames(samples: np.ndarray, rate_hz: int) -> Frames:
    meter = FrameMeter(rate_hz)
    meter(samples)
    return meter.frames()


def _rt60_s(parts: Mapping[str, np.ndarray], rate_hz: int) -> float | None:
    if CLAP not in parts:
        return None
    try:
        return clap_of(parts[CLAP], rate_hz).rt60_s
    except UnreadableFile:
        return None


def _frames(samples: np.ndarray, rate_hz: int) -> np.ndarray:
    return frame_powers(samples, round(FRAME_S * rate_hz))
