"""Harsh S: a hiss between 5 and 10 kHz that stands up to the voice about it."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.take.activity import ACTIVE_WITHIN_DB
from pneumen.core.take.frames import Frames, joined_runs

HISS_HZ: Final = (5000.0, 10_000.0)
MIDDLE_HZ: Final = (1000.0, 4000.0)
VOICE_HZ: Final = (250.0, 2000.0)
HISS_OVER_MIDDLE_DB: Final = 3.0
SMOOTH: Final = 3
HISS_S: Final = (0.05, 0.4)
"""An S lasts some 0.05 to 0.2 s (Klatt, JASA 59, 1976; from memory); shorter is a plectrum or a key."""
FALLEN_DB: Final = 12.0
NEAR_S: Final = 1.0
LOUDEST_SHARE: Final = 0.2
"""The voice about a hiss is the loudest fifth of a second before and after it."""
LEAST_FRAMES: Final = 5
LOUD_PERCENT: Final = 99
"""Where the loudest about a hiss is not active beside so loud a moment of the take, nobody speaks: it is noise."""
HARSH_DB: Final = -0.5
"""An S usually stays 4 to 12 dB under its vowels; from their level on it is harsh (own measurements; estimate)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Hiss:
    """One S: where it begins and ends, and its level beside the vowels about it."""

    start_s: float
    end_s: float
    beside_voice_db: float

    @property
    def harsh(self) -> bool:
        return self.beside_voice_db > HARSH_DB


def hisses_in(frames: Frames) -> list[Hiss]:
    """Return the hissing consonants of a take in order of time."""
    hiss, middle, voice = (frames.band(*band) for band in (HISS_HZ, MIDDLE_HZ, VOICE_HZ))
    if frames.top_hz < HISS_HZ[1] or hiss.size < SMOOTH:
        return []
    smooth = np.convolve(hiss, np.full(SMOOTH, 1 / SMOOTH), "same")
    places = np.flatnonzero(smooth > middle * 10 ** (HISS_OVER_MIDDLE_DB / 10))
    near, found = round(NEAR_S / frames.step_s), []
    least_voice = float(np.percentile(voice, LOUD_PERCENT)) * 10 ** (-ACTIVE_WITHIN_DB / 10)
    for first, last in _one_by_one(smooth, joined_runs(places, SMOOTH)):
        if not HISS_S[0] <= (last - first) * frames.step_s <= HISS_S[1]:
            continue
        around = np.sort(np.concatenate([voice[max(0, first - near) : first], voice[last : last + near]]))
        if around.size < LEAST_FRAMES:
            continue
        loudest = around[-max(LEAST_FRAMES, round(LOUDEST_SHARE * around.size)) :].mean()
        if loudest < least_voice:
            continue
        beside_db = 10 * np.log10(max(float(hiss[first:last].mean()), 1e-20) / max(float(loudest), 1e-20))
        found.append(Hiss(start_s=frames.at_s(first), end_s=frames.at_s(last), beside_voice_db=float(beside_db)))
    return found


def _one_by_one(hiss: np.ndarray, runs: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """Return the single hisses within runs of them: each is what lies within some decibels about its own top."""
    found, left = [], list(runs)
    while left:
        first, last = left.pop()
        if last - first < SMOOTH:
            continue
        top = first + int(hiss[first:last].argmax())
        strong = hiss[first:last] > hiss[top] * 10 ** (-FALLEN_DB / 10)
        begin = top - int(np.argmin(np.append(strong[: top - first + 1][::-1], False))) + 1
        end = top + int(np.argmin(np.append(strong[top - first :], False)))
        found.append((begin, end))
        left += [(first, begin), (end, last)]
    return sorted(found)
