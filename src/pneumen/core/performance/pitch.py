"""The pitch of one voice or instrument over time, with how sure that is.

Reference: de Cheveigne and Kawahara, YIN, 2002 (the difference function); Mauch and Dixon, pYIN, 2014 (candidates over
all thresholds, and the likeliest way through them).
"""

from dataclasses import dataclass
from typing import Final

import numpy as np
import soxr
from scipy.fft import irfft, next_fast_len, rfft
from scipy.special import betainc

from pneumen.core.errors import require_within
from pneumen.core.peaks import parabola_shift

RATE_HZ: Final = 16_000
HIGH_HZ: Final = 1100.0
"""Above that the rate is doubled: a parabola through three samples of a short period errs by some cents."""
HOP_S: Final = 0.01
WINDOW_S: Final = 0.032
"""So much is compared with itself later."""
BINS_AN_OCTAVE: Final = 60
"""Twenty cents each."""
PRIOR: Final = (2.0, 18.0)
"""The thresholds' beta distribution, with a mean of 0.1."""
LAST_RESORT: Final = 0.01
"""What is given to the deepest dip where none lies under a threshold."""
SWITCH: Final = 0.01
"""The chance that voice turns into silence, or back, from one frame to the next."""
FASTEST_OCTAVES_PER_S: Final = 35.92
AT_ONCE: Final = 1500
"""A quarter of a minute is looked at together: what a ten-minute take would ask for lies in no memory."""
LEAST: Final = 1e-12
NOTHING: Final = (np.empty(0), np.empty(0))


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PitchTrack:
    """Pitch every hop_s seconds: hertz (nan where there is none) and how sure, 0 to 1; both of shape (frames,)."""

    hop_s: float
    hertz: np.ndarray
    sure: np.ndarray

    @property
    def cents(self) -> np.ndarray:
        """In cents over A 440."""
        return np.asarray(1200 * np.log2(self.hertz / 440.0))


def pitch_of(
    samples: np.ndarray, sample_rate_hz: int, *, lowest_hz: float = 60.0, highest_hz: float = 1600.0
) -> PitchTrack:
    """Return the pitch of what sounds alone; of chords it tells one note or none.

    Args:
        samples: one channel, shape (N,).

    Raises:
        OutOfRange: for a range that cannot be told (20 Hz to 4 kHz, an octave at least).
    """
    require_within("lowest_hz", lowest_hz, 20, 2000)
    require_within("highest_hz", highest_hz, 2 * lowest_hz, 4000)
    rate_hz = RATE_HZ if highest_hz <= HIGH_HZ else 2 * RATE_HZ
    coarse = np.asarray(samples, np.float32)
    if rate_hz != sample_rate_hz:
        coarse = soxr.resample(coarse, sample_rate_hz, rate_hz)
    lags = int(rate_hz / lowest_hz) + 2
    window, hop = round(WINDOW_S * rate_hz), round(HOP_S * rate_hz)
    padded = np.pad(coarse, (window // 2, window + lags))
    count = max(0, len(coarse) // hop)
    frames = np.lib.stride_tricks.sliding_window_view(padded, window + lags)[::hop][:count]
    pieces = [
        _track(frames[first : first + AT_ONCE], window, lags, rate_hz, lowest_hz, highest_hz)
        for first in range(0, count, AT_ONCE)
    ]
    hertz, sure = (np.concatenate([np.empty(0), *each]) for each in zip(*pieces, strict=True)) if pieces else NOTHING
    return PitchTrack(hop_s=HOP_S, hertz=hertz, sure=sure)


def _track(
    frames: np.ndarray, window: int, lags: int, rate_hz: int, lowest_hz: float, highest_hz: float
) -> tuple[np.ndarray, np.ndarray]:
    """Return pitch and how sure it is of some frames, on the likeliest way through them."""
    bins = int(BINS_AN_OCTAVE * np.log2(highest_hz / lowest_hz)) + 1
    seen, tuned = np.zeros((2, len(frames), bins), np.float32)
    lag, places, chance = _dips(frames, window, lags, max(2, int(rate_hz / highest_hz)))
    _fill_in(places, rate_hz / lag, chance, lowest_hz, seen, tuned)
    way = _likeliest_way(seen)
    own = tuned[np.arange(len(frames)), np.maximum(way, 0)]
    return np.where((way >= 0) & (own > 0), own, np.nan), seen.sum(axis=1)


def _dips(frames: np.ndarray, window: int, lags: int, shortest: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the periods that come into question: lag in samples, frame, and how likely each is."""
    dips = _normalised_difference(frames, window, lags)
    inner = dips[:, 1:-1]
    is_dip = (inner < dips[:, :-2]) & (inner <= dips[:, 2:])
    is_dip[:, : shortest - 1] = False
    depth = np.where(is_dip, inner, np.inf)
    before = np.minimum.accumulate(depth, axis=1)
    before = np.concatenate([np.full((len(depth), 1), np.inf), before[:, :-1]], axis=1)
    # A threshold takes the first dip under it: only those deeper than all before are ever taken.
    rows, places = np.nonzero(is_dip & (inner < np.minimum(before, 1.0)))
    own, deepest = inner[rows, places], depth.min(axis=1)[rows]
    chance = _under(before[rows, places]) - _under(own) + np.where(own == deepest, LAST_RESORT * _under(own), 0.0)
    left, top, right = (dips[rows, places + shift] for shift in (0, 1, 2))
    return places + 1 + parabola_shift(left, top, right), rows, chance


def _fill_in(
    rows: np.ndarray, hertz: np.ndarray, chance: np.ndarray, lowest_hz: float, seen: np.ndarray, tuned: np.ndarray
) -> None:
    """Fill in how likely each bin is in each frame, and the candidate's own pitch within it."""
    bins = np.round(BINS_AN_OCTAVE * np.log2(hertz / lowest_hz)).astype(int)
    inside = (bins >= 0) & (bins < seen.shape[1])
    order = np.argsort(chance[inside])  # of two in one bin the likelier stays
    rows, bins, chance, hertz = (each[inside][order] for each in (rows, bins, chance, hertz))
    np.add.at(seen, (rows, bins), chance)
    tuned[rows, bins] = hertz


def _under(depth: np.ndarray) -> np.ndarray:
    return np.asarray(betainc(*PRIOR, np.clip(depth, 0.0, 1.0)))


def _normalised_difference(frames: np.ndarray, window: int, lags: int) -> np.ndarray:
    """Return YIN's cumulative mean normalised difference, shape (frames, lags)."""
    length = next_fast_len(window + lags, real=True)
    head = frames[:, :window]
    product = irfft(np.conj(rfft(head, length, axis=1)) * rfft(frames, length, axis=1), length, axis=1)[:, :lags]
    power = np.concatenate([np.zeros((len(frames), 1)), np.cumsum(np.square(frames, dtype=float), axis=1)], axis=1)
    energy = power[:, window : window + lags] - power[:, :lags]
    difference = np.maximum(energy[:, :1] + energy - 2 * product, 0.0)
    difference[:, 0] = 0.0
    total = np.cumsum(difference, axis=1)
    steps = np.arange(lags)
    # What is silent is like itself at every lag: that is no pitch.
    quiet = total < LEAST
    normalised = np.where(quiet, 1.0, difference * steps / np.where(quiet, 1.0, total))
    normalised[:, 0] = 1.0
    return np.asarray(normalised)


def _likeliest_way(seen: np.ndarray) -> np.ndarray:
    """Return the bin of each frame on the likeliest way, -1 where nothing has a pitch (Viterbi)."""
    count, bins = seen.shape
    if not count:
        return np.empty(0, int)
    reach = round(FASTEST_OCTAVES_PER_S * HOP_S * BINS_AN_OCTAVE)
    move = np.log(np.bartlett(2 * reach + 3)[1:-1] / (reach + 1)).astype(np.float32)
    stay, switch = np.log(1 - SWITCH), np.log(SWITCH)
    voiced_seen = np.log(np.maximum(seen, LEAST))
    silent_seen = np.log(np.maximum(1 - seen.sum(axis=1), LEAST) / bins)
    voiced = voiced_seen[0].copy()
    silent = np.full(bins, silent_seen[0], np.float32)
    came = np.empty((2, count, bins), np.int16)
    rows = np.arange(bins)
    pad = np.full((2, reach), -np.inf, np.float32)
    for frame in range(1, count):
        before = np.stack([voiced, silent])
        around = np.lib.stride_tricks.sliding_window_view(
            np.concatenate([pad, before, pad], axis=1), 2 * reach + 1, axis=1
        )
        ways = around + move
        best = ways.argmax(axis=2)
        reached = np.take_along_axis(ways, best[:, :, None], 2)[:, :, 0]
        step = rows + best - reach
        from_silent_up, from_voiced_down = (
            reached[1] + switch > reached[0] + stay,
            reached[0] + switch > reached[1] + stay,
        )
        voiced = voiced_seen[frame] + np.where(from_silent_up, reached[1] + switch, reached[0] + stay)
        silent = silent_seen[frame] + np.where(from_voiced_down, reached[0] + switch, reached[1] + stay)
        came[0, frame] = np.where(from_silent_up, step[1] + bins, step[0])
        came[1, frame] = np.where(from_voiced_down, step[0], step[1] + bins)
    return _backwards(came, np.concatenate([voiced, silent]), bins)


def _backwards(came: np.ndarray, last: np.ndarray, bins: int) -> np.ndarray:
    state, count = int(last.argmax()), came.shape[1]
    way = np.empty(count, int)
    for frame in range(count - 1, -1, -1):
        way[frame] = state if state < bins else -1
        if frame:
            state = int(came[state // bins, frame, state % bins])
    return way
