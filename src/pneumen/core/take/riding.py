"""What an input does to the sound behind its person's back: told from one line said softly, loudly, softly."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import UnreadableFile
from pneumen.core.levels import LOWEST_DB, frame_powers

FRAME_S: Final = 0.02
HIGH_PASS_HZ: Final = 120.0
"""Hum and rumble stay out: they tell nothing of the gain at speech."""
HISS_HZ: Final = (9000.0, 16_000.0)
"""Where a vowel has next to nothing, so that the noise is heard between two sounds of a line."""
LINES: Final = 3
LINE_OVER_FLOOR_DB: Final = 12.0
LINE_UNDER_LOUDEST_DB: Final = 30.0
"""A soft line stands out by so much less than the loud one; noise that is turned up and down lies lower."""
JOINED_S: Final = 0.6
SHORTEST_LINE_S: Final = 0.4
LEAST_PAUSE_S: Final = 0.8
TAIL_S: Final = 0.4
"""So long a room may ring after a line."""
BEFORE_S: Final = 0.1
LEAST_LOUDER_DB: Final = 6.0
RIDES_DB: Final = 4.0
"""A room's own noise keeps within that over half a minute (common practice, no source)."""
CUTS_DB: Final = 7.0
NOISE_SCATTER_DB: Final = 10 * 0.5772156649 / np.log(10)
"""The power of noise in a narrow band is spread exponentially: its mean lies so far over that of its decibels, 2.51 dB
(Euler's constant)."""
SCATTER_DB: Final = 2.85
"""Noise whose bands are turned down one by one, as they come, scatters more; a room that changes a little does not."""
SCATTER_HZ: Final = (500.0, 8000.0)
UNTOUCHED, RIDES, CUTS, THINS, ALIKE = "untouched", "rides", "cuts", "thins", "alike"


@dataclass(frozen=True, slots=True, kw_only=True)
class Riding:
    """What the input does: untouched, rides (an automatic gain), cuts (a gate), thins (noise suppression), or alike.

    Alike: the loud line came out no louder, so either the input evens out or the lines were said alike. louder_db is
    by how much it came out louder; falls_db by how much the noise fell after it; cut_db by how much less noise there
    is in the pauses than between the sounds of a line. scatter_db tells whether noise in a pause is still noise.
    """

    found: tuple[str, ...]
    louder_db: float
    falls_db: float
    cut_db: float
    scatter_db: float


def riding_in(samples: np.ndarray, sample_rate_hz: int) -> Riding:
    """Tell what an input does to a line said softly, loudly and softly, a second of silence round each.

    Raises:
        UnreadableFile: where there are not three lines, or no pauses between them.
    """
    frame = round(FRAME_S * sample_rate_hz)
    level_db, hiss_db = (_levels(one, frame) for one in _bands(samples, sample_rate_hz))
    lines = _lines(level_db)
    if len(lines) != LINES:
        raise UnreadableFile(
            f"{len(lines)} lines are heard in it, not three", "say one line softly, loudly, softly, a second apart"
        )
    pauses = _pauses(lines, len(level_db))
    loud = [_active_db(level_db[first:stop]) for first, stop in lines]
    louder_db = loud[1] - (loud[0] + loud[2]) / 2
    floors = [_mean_db(level_db[first:stop]) for first, stop in pauses]
    falls_db = min(floors[0], floors[2]) - floors[1]
    between = np.percentile(np.concatenate([hiss_db[first:stop] for first, stop in lines]), 5)
    quiet = _mean_db(np.concatenate([hiss_db[first:stop] for first, stop in pauses]))
    cut_db = float(between) - quiet
    scatter_db = np.median([_scatter_db(samples[first * frame : stop * frame], frame) for first, stop in pauses])
    rules = (
        (louder_db < LEAST_LOUDER_DB, ALIKE),
        (falls_db > RIDES_DB, RIDES),
        (cut_db > CUTS_DB, CUTS),
        (scatter_db > SCATTER_DB, THINS),
    )
    return Riding(
        found=tuple(what for holds, what in rules if holds) or (UNTOUCHED,),
        louder_db=float(louder_db),
        falls_db=float(falls_db),
        cut_db=cut_db,
        scatter_db=float(scatter_db),
    )


def _bands(samples: np.ndarray, rate_hz: int) -> tuple[np.ndarray, np.ndarray]:
    """Return the sound without rumble, and its hiss."""
    from scipy.signal import butter, sosfilt  # takes a second to load, and few commands need it

    low, high = HISS_HZ[0], min(HISS_HZ[1], 0.45 * rate_hz)
    speech = sosfilt(butter(2, HIGH_PASS_HZ, "highpass", fs=rate_hz, output="sos"), samples)
    return speech, sosfilt(butter(6, (min(low, 0.5 * high), high), "bandpass", fs=rate_hz, output="sos"), samples)


def _levels(samples: np.ndarray, frame: int) -> np.ndarray:
    return 10 * np.log10(np.maximum(frame_powers(samples, frame), 10 ** (LOWEST_DB / 10)))


def _lines(level_db: np.ndarray) -> list[tuple[int, int]]:
    """Return where lines are said, as frames; what is close together is one."""
    floor_db = np.percentile(level_db, 10)
    threshold_db = max(floor_db + LINE_OVER_FLOOR_DB, np.percentile(level_db, 95) - LINE_UNDER_LOUDEST_DB)
    sounds = np.flatnonzero(level_db > threshold_db)
    if not len(sounds):
        return []
    apart = round(JOINED_S / FRAME_S)
    groups = np.split(sounds, np.flatnonzero(np.diff(sounds) > apart) + 1)
    return [(int(one[0]), int(one[-1]) + 1) for one in groups if (one[-1] - one[0] + 1) * FRAME_S >= SHORTEST_LINE_S]


def _pauses(lines: list[tuple[int, int]], count: int) -> list[tuple[int, int]]:
    """Return the pauses after each line, without what rings."""
    tail, before = round(TAIL_S / FRAME_S), round(BEFORE_S / FRAME_S)
    ends = [first - before for first, _ in lines[1:]] + [count]
    pauses = [(stop + tail, end) for (_, stop), end in zip(lines, ends, strict=True)]
    least = round((LEAST_PAUSE_S - TAIL_S) / FRAME_S)
    if any(end - first < least for first, end in pauses):
        raise UnreadableFile("it pauses too shortly", "leave a second of silence after each line, the last too")
    longest = round(1.5 / FRAME_S)
    return [(first, min(end, first + longest)) for first, end in pauses]


def _scatter_db(pause: np.ndarray, frame: int) -> float:
    """Return by how much the power of a pause's bands scatters about its own decibels; the middle one of the bands."""
    spectra = np.abs(np.fft.rfft(pause[: len(pause) // frame * frame].reshape(-1, frame) * np.hanning(frame), axis=1))
    hertz = np.fft.rfftfreq(frame, FRAME_S / frame)
    power = np.square(spectra[:, (hertz > SCATTER_HZ[0]) & (hertz < SCATTER_HZ[1])]) + 1e-20
    return float(np.median(10 * np.log10(power.mean(axis=0)) - (10 * np.log10(power)).mean(axis=0)))


def _active_db(level_db: np.ndarray) -> float:
    """Return how loud a line is where it sounds."""
    return _mean_db(level_db[level_db > level_db.max() - 20])


def _mean_db(level_db: np.ndarray) -> float:
    return float(10 * np.log10(np.mean(10 ** (level_db / 10))))
