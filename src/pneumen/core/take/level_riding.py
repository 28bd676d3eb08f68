"""Level riding: noise that rises between phrases, as a limiter, an automatic level or a hand on the gain lets it.

A room's noise does not know when somebody sings. Where all its bands come up together after every phrase, it was the
gain that rose; a breath or a tail has a colour of its own.
"""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.take.floor import runs_in
from pneumen.core.take.frames import Frames

BANDS_HZ: Final = ((500.0, 1000.0), (1000.0, 2000.0), (2000.0, 4000.0), (5000.0, 10_000.0))
UNDER_LOUDEST_DB: Final = 25.0
LEAST_PAUSE_S: Final = 0.6
LONG_PAUSE_S: Final = 1.2
"""Where there are pauses so long, shorter ones, half of which a tail fills, need not be asked."""
AFTER_S: Final = 0.12
"""So long the end of a sound may still reach into a pause."""
BEFORE_S: Final = 0.1
WINDOW_S: Final = 0.1
FALLS_DB: Final = 3.0
"""A pause whose end lies further under its beginning is the tail of a note, or a fade."""
BEGUN_SHARE: Final = 0.2
"""A gain recovers from the phrase's end on; a breath comes at the end of a pause."""
LEAP_SHARE: Final = 0.75
"""What comes up all at once is an edit or a gate, no gain that recovers."""
RISE_DB: Final = 2.5
"""A room's own noise keeps within that (common practice, no source)."""
MOST_DB: Final = 30.0
"""No gain recovers by more within a pause (estimate)."""
HELD_DB: Final = 4.0
"""A gain that came up stays up until the next phrase; a soft stroke dies away again."""
ALIKE_DB: Final = 2.0
MOST_BANDS: Final = 3
LEAST_PAUSES: Final = 2
MOST_SHARE: Final = 0.6
"""The noise rises in so many of the pauses at least."""


@dataclass(frozen=True, slots=True, kw_only=True)
class NoiseRise:
    """How many pauses could be looked at, and by how much the noise rises in one of them, dB."""

    pauses: int
    rise_db: float

    @property
    def rides(self) -> bool:
        return self.pauses >= LEAST_PAUSES and self.rise_db >= RISE_DB


def noise_rise(frames: Frames) -> NoiseRise:
    """Return how the noise moves within the pauses of a take; those in which something rings on tell nothing."""
    bands = np.array([frames.band(low, high) for low, high in BANDS_HZ if high <= frames.top_hz])
    whole = frames.band(250.0, 5000.0)
    if len(bands) < 2 or whole.size < LEAST_PAUSE_S / frames.step_s:
        return NoiseRise(pauses=0, rise_db=0.0)
    quiet = whole < whole.max() * 10 ** (-UNDER_LOUDEST_DB / 10)
    after, before = round(AFTER_S / frames.step_s), round(BEFORE_S / frames.step_s)
    window = round(WINDOW_S / frames.step_s)
    rises = []
    for first, last in runs_in(quiet):
        length_s = (last - first) * frames.step_s
        if first and length_s >= LEAST_PAUSE_S:  # before the first phrase nothing was held down
            levels = _levels_db(bands[:, first + after : last - before], window)
            rise_db = _rise_db(levels)
            if rise_db > MOST_DB:  # a word or a note begins
                continue
            if rise_db >= RISE_DB or not _rings_on(levels):
                rises.append((length_s, rise_db))
    long = [rise for rise in rises if rise[0] >= LONG_PAUSE_S]
    told = [rise_db for _, rise_db in (long if len(long) >= LEAST_PAUSES else rises)]
    if not told:
        return NoiseRise(pauses=0, rise_db=0.0)
    return NoiseRise(pauses=len(told), rise_db=float(np.quantile(told, 1 - MOST_SHARE)))


def _rings_on(levels: np.ndarray) -> bool:
    """Return whether a pause begins with the tail of a note that hides what its noise does."""
    over_least = levels - levels.min(axis=1, keepdims=True)
    return bool(np.median(over_least[:, -1]) < np.median(over_least[:, 0]) - FALLS_DB)


def _levels_db(bands: np.ndarray, window: int) -> np.ndarray:
    """Return the level of each band in windows of a pause, shape (bands, windows)."""
    count = bands.shape[1] // window
    power = bands[:, : count * window].reshape(len(bands), count, window).mean(axis=2)
    return np.asarray(10 * np.log10(np.maximum(power, 1e-14)))


def _rise_db(levels: np.ndarray) -> float:
    """Return by how much bands come up together within a pause, little by little; in one of them a note may ring."""
    best_db, most = 0.0, -min(MOST_BANDS, len(levels))
    middle = (levels.shape[1] - 1) // 2
    for earlier in range(levels.shape[1] - 1):
        change = np.sort(levels[:, earlier + 1 :] - levels[:, earlier : earlier + 1], axis=0)[most:]
        rise_db = _middle_row(change)
        alike = change[-1] - change[0] <= 2 * ALIKE_DB
        if not (alike & (rise_db > best_db)).any():
            continue
        leap_db = np.maximum.accumulate(_middle_row(np.sort(np.diff(levels[:, earlier:], axis=1), axis=0)[most:]))
        begun_db = rise_db[middle - earlier - 1] if earlier < middle else -np.inf
        little_by_little = alike & (leap_db <= LEAP_SHARE * rise_db)
        little_by_little &= (begun_db >= BEGUN_SHARE * rise_db) & (rise_db <= rise_db[-1] + HELD_DB)
        best_db = max(best_db, float(rise_db[little_by_little].max(initial=0.0)))
    return best_db


def _middle_row(rows: np.ndarray) -> np.ndarray:
    """Return the median of rows that are sorted by column."""
    return np.asarray((rows[(len(rows) - 1) // 2] + rows[len(rows) // 2]) / 2)
