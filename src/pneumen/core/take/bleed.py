"""Bleed: how much of the backing came out of the headphones into the microphone.

In the pauses of a take only the room and the leak are heard. What of a pause follows from the backing by any fixed
filter is the leak: the coherent part of its power. The backing may begin elsewhere and run by another clock, so each
pause is laid against it anew.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.fourier import fast_length, irfft, rfft
from pneumen.core.levels import ratio_to_db

COARSE_HZ: Final = 8000
"""The search for the offset works at about that rate."""
SEARCH_HZ: Final = (150.0, 3500.0)
LEAST_PEAK: Final = 30.0
"""So many deviations over the usual a peak is no chance."""
SPREAD_S: Final = 0.002
EVEN_S: Final = 0.1
EVEN_TO: Final = 0.01
COLOUR_HZ: Final = 60.0
NEAR_S: Final = 0.02
"""How far from the whole's lag a pause may lie: clocks drift."""
NEAR_BY_S: Final = 0.0005
CLOCK_PPM: Final = 150.0
"""Two clocks of audio devices run no further apart (common practice, no source)."""
LEAST_PAUSE_S: Final = 0.25
SEGMENT_S: Final = 0.04
LEAST_SEGMENTS: Final = 12
FRAME_S: Final = 0.02
HEARD_UNDER_DB: Final = 30.0
"""The backing sounds where it comes within so much of its loudest moment."""
HOLDS_SHARE: Final = 0.35
"""Where so much of all that sounds follows from the backing, it was mixed in: no headphones leak like that."""
PIECE_S: Final = 5.0
SPARSE_SHARE: Final = 0.3
SPARSE_UNDER_DB: Final = 15.0
CLICK_OVER_NOISE_DB: Final = 6.0
PLAIN: Final = 6.0
"""A pause whose likeness stands so many times over the usual tells where the backing lies in it."""
PLAIN_LAG_MS, COARSE_LAG_MS = 5.0, 15.0
"""How far off the lag may be where several pauses tell it, for what the headphones and the way from
them add; and where only the whole take does, under drifting clocks (estimates: on made takes within 0.2 and 8 ms)."""
LEAST_PLAIN: Final = 4
LEAST_SPAN_S: Final = 10.0
NEAR_CLOCK_S: Final = 0.0005
CLOCK_TO_PPM: Final = 15.0
"""A clock that is not known better than so is not told."""
SAME_CLOCK: Final = 3.0
SAME_PPM: Final = 3.0
"""Within so many of its own deviations a drift is none, and within so many ppm: less than 1 ms in a song."""
SURELY: Final = 4.0
"""A coherence so many times that of chance is believed."""
SILENT: Final = 1e-6


@dataclass(frozen=True, slots=True, kw_only=True)
class Bleed:
    """How the backing stands in a take.

    level_db is its level beside the take's active RMS, where the backing sounds and the take pauses; None where none
    of it is found. coherence is the share of the pauses' power that follows from the backing. lag_s is how much
    later it stands in the take, at its beginning. holds: the take holds the backing itself. clicks: it stands alone,
    as a click does. lag_band_ms: how far off lag_s may be. drift_ppm: how much too fast the take's clock ran, None
    where it is the same or cannot be told.
    """

    level_db: float | None
    coherence: float
    lag_s: float
    holds: bool
    clicks: bool
    lag_band_ms: float = 0.0
    drift_ppm: float | None = None


NO_BLEED: Final = Bleed(level_db=None, coherence=0.0, lag_s=0.0, holds=False, clicks=False)


def bleed_of(
    take: np.ndarray, backing: np.ndarray, pauses: Sequence[tuple[int, int]], sample_rate_hz: int, active_rms: float
) -> Bleed:
    """Return how much of a backing is in the pauses of a take.

    Args:
        take: one channel, shape (N,).
        backing: one channel of the same rate; it may begin earlier or later.
        pauses: first sample and one after the last of each.
        active_rms: of the take without its pauses.

    Reference: the coherent output power (Bendat and Piersol, Random Data, chapter 6; from memory).
    """
    long_enough = [(first, last) for first, last in pauses if last - first >= LEAST_PAUSE_S * sample_rate_hz]
    if not long_enough or np.abs(backing).max(initial=0.0) < SILENT:
        return NO_BLEED
    lag = _lag(take, backing, long_enough, sample_rate_hz)
    if lag is None:
        return NO_BLEED
    laid = _laid(take, backing, long_enough, lag, sample_rate_hz)
    heard = _together(take, backing, laid)
    if not heard:
        return NO_BLEED
    power, coherence = _coherent_power(heard, sample_rate_hz)
    if power <= 0:
        return NO_BLEED
    level_db = ratio_to_db(float(np.sqrt(power)) / active_rms)
    drift_ppm, lag_s = _clock(laid, sample_rate_hz) or (None, lag / sample_rate_hz)
    return Bleed(
        level_db=level_db,
        coherence=coherence,
        lag_s=lag_s,
        holds=_share_of_all(take, backing, lag, sample_rate_hz) > HOLDS_SHARE,
        clicks=_stands_alone(heard, sample_rate_hz),
        lag_band_ms=PLAIN_LAG_MS if sum(one.plain >= PLAIN for one in laid) >= LEAST_PLAIN else COARSE_LAG_MS,
        drift_ppm=drift_ppm,
    )


def _lag(take: np.ndarray, backing: np.ndarray, pauses: Sequence[tuple[int, int]], sample_rate_hz: int) -> int | None:
    """Return by how many samples the backing stands later in the take, None where it is not in it.

    It is sought in the pauses, where a leak is heard, and in the whole, where a backing that was mixed in is; soft
    and loud moments count alike.
    """
    together = max(1, sample_rate_hz // COARSE_HZ)
    rate_hz = sample_rate_hz / together
    in_pauses = np.zeros(len(take), np.float32)
    for first, last in pauses:
        in_pauses[first:last] = take[first:last]
    played = _evened(_averaged(backing, together), rate_hz)
    sought = [_peak_of(_evened(_averaged(one, together), rate_hz), played, rate_hz) for one in (in_pauses, take)]
    lag, surely = max(sought, key=lambda one: one[1])
    return lag * together if surely >= LEAST_PEAK else None


def _evened(samples: np.ndarray, rate_hz: float) -> np.ndarray:
    """Return a sound whose soft and loud moments are made alike; silence stays."""
    frame = round(EVEN_S * rate_hz)
    rows = np.pad(samples, (0, -len(samples) % frame)).reshape(-1, frame)
    level = np.sqrt(np.square(rows).mean(axis=1, keepdims=True))
    return np.asarray((rows / np.maximum(level, max(float(level.max()) * EVEN_TO, SILENT))).ravel()[: len(samples)])


def _peak_of(one: np.ndarray, two: np.ndarray, rate_hz: float) -> tuple[int, float]:
    """Return the lag at which two sounds are most alike, and how far that stands out."""
    length = fast_length(len(one) + len(two))
    width = max(1, round(COLOUR_HZ * length / rate_hz))
    cross = _whitened(rfft(one, length), width) * np.conj(_whitened(rfft(two, length), width))
    hz = np.arange(len(cross)) * rate_hz / length
    cross[(hz < SEARCH_HZ[0]) | (hz > SEARCH_HZ[1])] = 0
    # Clocks that drift spread the peak over some milliseconds: its energy is what counts.
    spread = max(1, round(SPREAD_S * rate_hz))
    likeness = np.square(irfft(cross, length))
    energy = np.cumsum(np.concatenate([[0.0], likeness, likeness[: spread - 1]]))  # lags go round
    energy = energy[spread:] - energy[:-spread]
    peak = (int(energy.argmax()) + spread // 2) % length
    usual, high = np.quantile(energy, (0.5, 0.84))
    surely = float((energy.max() - usual) / max(high - usual, 1e-30))
    return (peak if peak < len(one) else peak - length), surely


def _whitened(spectrum: np.ndarray, width: int) -> np.ndarray:
    """Return a spectrum without its colour; its lines, which tell a rhythm, stay."""
    power = np.cumsum(np.concatenate([np.zeros(width), np.square(np.abs(spectrum)), np.zeros(width)]))
    around = (power[2 * width - 1 :] - power[: len(power) - 2 * width + 1])[: len(spectrum)] / (2 * width)
    return np.asarray(spectrum / np.sqrt(np.maximum(around, around.max() * 1e-8 + 1e-30)))


def _averaged(samples: np.ndarray, together: int) -> np.ndarray:
    whole = len(samples) // together * together
    return np.asarray(samples[:whole].reshape(-1, together).mean(axis=1), np.float32)


@dataclass(frozen=True, slots=True, kw_only=True)
class _LaidPause:
    """A pause from a sample to another, by how much later the backing stands in it, and how plainly it does."""

    begin: int
    end: int
    lag: int
    plain: float


def _together(take: np.ndarray, backing: np.ndarray, laid: Sequence[_LaidPause]) -> list[tuple[np.ndarray, np.ndarray]]:
    """Return each pause with the stretch of the backing that stands in it."""
    return [(take[one.begin : one.end], backing[one.begin - one.lag : one.end - one.lag]) for one in laid]


def _laid(
    take: np.ndarray, backing: np.ndarray, pauses: Sequence[tuple[int, int]], lag: int, sample_rate_hz: int
) -> list[_LaidPause]:
    """Return each pause with where the backing stands in it, to the sample.

    The pause that shows the backing most plainly is laid first; clocks put the others no further from it than they can.
    """
    near = round(NEAR_S * sample_rate_hz)
    begun = []
    for first, last in pauses:
        begin, end = max(first, lag + near), min(last, len(backing) + lag - near)
        if end - begin >= LEAST_PAUSE_S * sample_rate_hz:
            likeness = _likeness(take[begin:end], backing[begin - lag - near : end - lag + near], near, sample_rate_hz)
            begun.append((begin, end, likeness))
    if not begun:
        return []
    plainest = max(begun, key=lambda one: float(one[2].max() / max(np.median(one[2]), SILENT)))
    anchor = int(plainest[2].argmax())
    found = []
    for begin, end, likeness in begun:
        free = round(NEAR_BY_S * sample_rate_hz + CLOCK_PPM * 1e-6 * abs(begin - plainest[0]))
        low = max(0, anchor - free)
        shift = low + int(likeness[low : anchor + free + 1].argmax())
        plain = float(likeness[shift] / max(np.median(likeness), SILENT))
        found.append(_LaidPause(begin=begin, end=end, lag=lag + near - shift, plain=plain))
    return found


def _clock(laid: Sequence[_LaidPause], sample_rate_hz: int) -> tuple[float | None, float] | None:
    """Return how much too fast the take's clock ran, in ppm, and how much later the backing stands at its beginning,
    in seconds; no drift where both run as one or too few pauses tell it, None where none shows the backing plainly.

    A line through the lags that show plainly: found by the median of all slopes between them, as a pause or two may
    lie wrong (Theil 1950 and Sen 1968; from memory), then by least squares through those that lie near it.
    """
    plain = [one for one in laid if one.plain >= PLAIN]
    if not plain:
        return None
    one_clock = None, float(np.median([one.lag for one in plain])) / sample_rate_hz
    if len(plain) < LEAST_PLAIN:
        return one_clock
    at_s, lag_s = (
        np.array(values) / sample_rate_hz
        for values in zip(*(((one.begin + one.end) / 2, one.lag) for one in plain), strict=True)
    )
    apart = np.subtract.outer(at_s, at_s)
    pairs = apart > 0
    slope = float(np.median(np.subtract.outer(lag_s, lag_s)[pairs] / apart[pairs]))
    rest = lag_s - slope * at_s
    near = np.abs(rest - np.median(rest)) <= NEAR_CLOCK_S
    at_s, lag_s = at_s[near], lag_s[near]
    if len(at_s) < max(LEAST_PLAIN, len(plain) // 2) or np.ptp(at_s) < LEAST_SPAN_S:
        return one_clock
    slope, start_s = np.polyfit(at_s, lag_s, 1)
    spread = float(np.square(lag_s - slope * at_s - start_s).sum() / (len(at_s) - 2)) + (1 / sample_rate_hz) ** 2 / 12
    doubt = float(np.sqrt(spread / np.square(at_s - at_s.mean()).sum()))
    if (
        doubt > CLOCK_TO_PPM * 1e-6
        or abs(slope) <= max(SAME_CLOCK * doubt, SAME_PPM * 1e-6)
        or abs(slope) > CLOCK_PPM * 1e-6
    ):
        return one_clock
    return 1e6 * float(slope / (1 - slope)), float(start_s)


def _likeness(pause: np.ndarray, around: np.ndarray, near: int, sample_rate_hz: int) -> np.ndarray:
    """Return how alike a pause and the backing are for each shift, neither weighed by its colour."""
    length = fast_length(len(around) + len(pause))
    width = max(1, round(COLOUR_HZ * length / sample_rate_hz))
    cross = np.conj(_whitened(rfft(pause - pause.mean(), length), width)) * _whitened(rfft(around, length), width)
    hz = np.arange(len(cross)) * sample_rate_hz / length
    cross[(hz < SEARCH_HZ[0]) | (hz > SEARCH_HZ[1])] = 0
    return np.asarray(np.abs(irfft(cross, length)[: 2 * near + 1]))


def _coherent_power(
    pieces: Sequence[tuple[np.ndarray, np.ndarray]], sample_rate_hz: int, *, evenly: bool = False
) -> tuple[float, float]:
    """Return the mean square of what follows from the backing where that sounds, and its share of the whole.

    Args:
        evenly: every moment counts as loud as it is; left out, the quieter ones count for more.
    """
    size = fast_length(round(SEGMENT_S * sample_rate_hz))
    rows_of = [
        [np.lib.stride_tricks.sliding_window_view(each, size)[:: size // 2] for each in piece]
        for piece in pieces
        if len(piece[0]) >= size
    ]
    if not rows_of:
        return 0.0, 0.0
    pauses, backings = (np.concatenate([rows[side] for rows in rows_of]) for side in (0, 1))
    loudness = np.square(backings).mean(axis=1)
    sounds = loudness > loudness.max() * 10 ** (-HEARD_UNDER_DB / 10)
    if sounds.sum() < LEAST_SEGMENTS:
        return 0.0, 0.0
    window = np.hanning(size)
    taken, played = (
        rfft((rows[sounds] - rows[sounds].mean(axis=1, keepdims=True)) * window) for rows in (pauses, backings)
    )
    power = np.square(np.abs(played)).mean(axis=0)
    # What else sounds in a pause counts against it: its quieter moments tell more of the leak.
    loudness = np.square(np.abs(taken)).sum(axis=1, keepdims=True)
    weight = np.ones_like(loudness) if evenly else 1 / np.maximum(loudness, 1e-20)
    cross = (weight * taken * np.conj(played)).sum(axis=0)
    own, other = ((weight * np.square(np.abs(each))).sum(axis=0) for each in (taken, played))
    coherence = np.square(np.abs(cross)) / np.maximum(own * other, 1e-30)
    # Half-overlapping windows count as about two thirds of as many independent ones; so much coherence is chance.
    chance = 1.5 / sounds.sum()
    true = np.where(coherence > SURELY * chance, np.clip((coherence - chance) / (1 - chance), 0.0, 1.0), 0.0)
    leak = np.square(np.abs(cross) / np.maximum(other, 1e-30)) * power * true / np.maximum(coherence, 1e-12)
    scale = 2 / (size * np.square(window).sum())
    return float(scale * leak.sum()), float((true * own).sum() / own.sum())


def _share_of_all(take: np.ndarray, backing: np.ndarray, lag: int, sample_rate_hz: int) -> float:
    """Return how much of the whole take, not only of its pauses, follows from the backing."""
    piece = round(PIECE_S * sample_rate_hz)
    pieces = [(start, min(start + piece, len(take))) for start in range(0, len(take), piece)]
    heard = _together(take, backing, _laid(take, backing, pieces, lag, sample_rate_hz))
    return _coherent_power(heard, sample_rate_hz, evenly=True)[1] if heard else 0.0


def _stands_alone(pieces: Sequence[tuple[np.ndarray, np.ndarray]], sample_rate_hz: int) -> bool:
    """Return whether the backing is sparse in the pauses and each of its strokes stands out of their noise."""
    frame = round(FRAME_S * sample_rate_hz)
    powers = [
        np.array([np.square(each[: len(each) // frame * frame]).reshape(-1, frame).mean(axis=1) for each in piece])
        for piece in pieces
        if len(piece[0]) >= frame
    ]
    if not powers:
        return False
    pauses, backings = np.concatenate(powers, axis=1)
    strokes = backings > backings.max() * 10 ** (-SPARSE_UNDER_DB / 10)
    if not 0 < strokes.mean() < SPARSE_SHARE:
        return False
    return bool(pauses[strokes].mean() > np.median(pauses[~strokes]) * 10 ** (CLICK_OVER_NOISE_DB / 10))
