"""Measuring the way round: where in a recording a played signal comes back, to a tenth of a sample."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.fft import irfft, next_fast_len, rfft

from pneumen.core.errors import PneumenError, UnreadableFile
from pneumen.core.levels import FULL_SCALE_TOUCHED

BASS_HZ: Final = 300.0
LEAST_ABOVE: Final = 0.01
SILENT: Final = 1e-5
LEAST_CONFIDENCE: Final = 0.2
"""A likeness below this may be chance."""
LEAST_PEAK: Final = 8.0
"""So far over the correlation's own spread a peak in noise is no chance."""
SHORT_S, LONG_S = 0.1, 0.5
QUIET_SHARE: Final = 0.01
STANDS_OUT: Final = 5.0
"""Windows softer than this share of the loudest, or in which nothing stands out so far, are passed over."""
MOST_REFITS: Final = 4
SEARCH_S: Final = 0.02
"""How far a window of the signal may have drifted from where the whole was found."""
LEAST_SPAN_S: Final = 2.0
"""A clock's error needs some seconds to show."""
LEAST_WINDOWS: Final = 4
SEGMENT: Final = 8192
CLIPPED_SAMPLES: Final = 3
UPSAMPLED: Final = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class Loop:
    """What a signal sent round tells: how late it comes back, how alike, upright or not, and whether two clocks differ.

    offset_samples is positive where the recording is late, at the start of the file; drift_ppm positive where the
    recorder's clock is fast, None where the file is too short to tell.
    """

    offset_samples: float
    offset_ms: float
    confidence: float
    polarity: str
    drift_ppm: float | None


class NotThere(PneumenError, ValueError):
    """The signal that was played is not in the recording."""


def recording_clips(recorded: np.ndarray) -> bool:
    """Return whether a recording of the loop touches full scale; the way is found all the same."""
    return int((np.abs(recorded) >= FULL_SCALE_TOUCHED).sum()) >= CLIPPED_SAMPLES


def loop_of(played: np.ndarray, recorded: np.ndarray, sample_rate_hz: int) -> Loop:
    """Return what a recording of a played signal tells of the way it went.

    Args:
        played: (samples,), what was sent.
        recorded: (samples,), what came back, of the same rate.

    Raises:
        UnreadableFile: where either is silent.
        NotThere: where the signal is not in the recording.

    Reference: matched filter for the whole sample, the slope of the cross-spectrum's phase for its fraction; drift as
    the slope of the lag along the file.

    >>> noise = np.random.default_rng(1).normal(size=48_000)
    >>> found = loop_of(noise, np.concatenate([np.zeros(611), noise]), 48_000)
    >>> round(found.offset_samples, 2), found.polarity, found.drift_ppm
    (611.0, 'same', None)
    """
    for name, samples in (("played", played), ("recorded", recorded)):
        if np.abs(samples).max(initial=0.0) < SILENT:
            raise UnreadableFile(f"the {name} file is silent", "check the lead, and the gain of the input")
    played, recorded = played - played.mean(), recorded - recorded.mean()
    lag, _ = _coarse(played, recorded)
    # A fast clock smears all but the bass over the whole file: short windows find it, long ones then know it better.
    drift = _drift_of(played, recorded, lag, sample_rate_hz, SHORT_S)
    played, recorded = _without_bass(played, recorded, sample_rate_hz)
    straight = _warped(recorded, drift)
    if drift is not None:
        more = _drift_of(played, straight, _coarse(played, straight)[0], sample_rate_hz, LONG_S)
        drift = (1 + drift) * (1 + (more or 0.0)) - 1
        straight = _warped(recorded, drift)
    whole, sign = _coarse(played, straight)
    rest = _fraction(played, straight, whole, sign)
    lag_samples = whole + rest
    confidence = _likeness(played, straight, whole, rest)
    if confidence < LEAST_CONFIDENCE and not _stands_out(played, straight, whole):
        raise NotThere("the played signal is not in the recording; check the input and the file that were chosen")
    offset = lag_samples * (1 + (drift or 0.0))
    return Loop(
        offset_samples=offset,
        offset_ms=1000 * offset / sample_rate_hz,
        confidence=confidence,
        polarity="same" if sign > 0 else "inverted",
        drift_ppm=None if drift is None else 1e6 * drift,
    )


def _without_bass(played: np.ndarray, recorded: np.ndarray, sample_rate_hz: int) -> tuple[np.ndarray, np.ndarray]:
    """Return both without what coupling capacitors shift: below 300 Hz their phase says nothing of the delay.

    A signal that has little above keeps its bass.
    """
    from scipy.signal import butter, sosfilt  # takes a second to load, and few commands need it

    cut = butter(2, BASS_HZ, "highpass", fs=sample_rate_hz, output="sos")
    high = sosfilt(cut, played)
    if np.square(high).sum() < LEAST_ABOVE * np.square(played).sum():
        return played, recorded
    return high, sosfilt(cut, recorded)


def _coarse(played: np.ndarray, recorded: np.ndarray) -> tuple[int, float]:
    """Return the whole-sample lag of the strongest likeness, and its sign."""
    found = _correlation(played, recorded)
    at = int(np.abs(found).argmax())
    return at - (len(played) - 1), float(np.sign(found[at])) or 1.0


def _correlation(played: np.ndarray, recorded: np.ndarray) -> np.ndarray:
    """Return the correlation at every lag from minus played's length on."""
    length = len(played) + len(recorded) - 1
    size = next_fast_len(length, real=True)
    product = rfft(recorded, size) * np.conj(rfft(played, size))
    return np.roll(irfft(product, size), len(played) - 1)[:length]


def _overlap(played: np.ndarray, recorded: np.ndarray, lag: int) -> tuple[np.ndarray, np.ndarray]:
    """Return both where they overlap, the recording moved back by a lag."""
    begin = max(-lag, 0)
    length = min(len(played) - begin, len(recorded) - (begin + lag))
    if length <= 0:
        return played[:0], recorded[:0]
    return played[begin : begin + length], recorded[begin + lag : begin + lag + length]


def _likeness(played: np.ndarray, recorded: np.ndarray, lag: int, rest: float) -> float:
    """Return how alike both are where the played one sounds, 0 to 1, the rest of the lag taken out."""
    one, other = _overlap(played, recorded, lag)
    if len(one) == 0:
        return 0.0
    turned = rfft(other) * np.exp(2j * np.pi * np.fft.rfftfreq(len(other)) * rest)
    other = irfft(turned, len(other))
    sounds = _sounding(one)
    one, other = one[sounds], other[sounds]
    norm = float(np.sqrt(np.dot(one, one) * np.dot(other, other)))
    return abs(float(np.dot(one, other))) / norm if norm > 0 else 0.0


def _sounding(samples: np.ndarray) -> np.ndarray:
    """Tell where a signal sounds, within 40 dB of its loudest hundredth of a second or so."""
    block = 512
    count = -(-len(samples) // block)
    padded = np.zeros(count * block)
    padded[: len(samples)] = samples
    power = np.square(padded.reshape(count, block)).mean(axis=1)
    return np.repeat(power > power.max(initial=0.0) * 1e-4, block)[: len(samples)]


def _stands_out(played: np.ndarray, recorded: np.ndarray, lag: int) -> bool:
    found = np.abs(_correlation(played, recorded))
    at = lag + len(played) - 1
    away = np.concatenate([found[: max(at - 100, 0)], found[at + 100 :]])
    return bool(found[at] > LEAST_PEAK * np.sqrt(np.square(away).mean())) if len(away) else False


def _fraction(played: np.ndarray, recorded: np.ndarray, lag: int, sign: float) -> float:
    """Return the rest of the lag in samples: the weighted slope of the cross-spectrum's phase through zero."""
    one, other = _overlap(played, recorded, lag)
    cross, power_one, power_other = _spectra(one, sign * other)
    if cross is None:
        return 0.0
    alike = np.square(np.abs(cross)) / np.maximum(power_one * power_other, 1e-30)
    weight = np.abs(cross) * alike / np.maximum(1 - alike, 1e-3)
    radians = 2 * np.pi * np.fft.rfftfreq(2 * (len(cross) - 1))
    phase = np.angle(cross)
    norm = float((weight * np.square(radians)).sum())
    return -float((weight * radians * phase).sum()) / norm if norm > 0 else 0.0


def _spectra(one: np.ndarray, other: np.ndarray) -> tuple[np.ndarray | None, np.ndarray, np.ndarray]:
    """Return cross-spectrum and both powers, averaged over half-overlapping segments (Welch)."""
    size = min(SEGMENT, len(one))
    nothing = np.zeros(0)
    if size < 16:
        return None, nothing, nothing
    window = np.hanning(size + 2)[1:-1]
    cross = np.zeros(size // 2 + 1, dtype=complex)
    power_one, power_other = np.zeros(size // 2 + 1), np.zeros(size // 2 + 1)
    for start in range(0, len(one) - size + 1, max(size // 2, 1)):
        first, second = rfft(one[start : start + size] * window), rfft(other[start : start + size] * window)
        cross += np.conj(first) * second
        power_one += np.square(np.abs(first))
        power_other += np.square(np.abs(second))
    return cross, power_one, power_other


def _drift_of(played: np.ndarray, recorded: np.ndarray, lag: int, sample_rate_hz: int, window_s: float) -> float | None:
    """Return how much faster the recorder's clock runs, as a share: the slope of the lag over what sounds."""
    found = np.array(list(_lags(played, recorded, lag, sample_rate_hz, window_s)))
    if len(found) < LEAST_WINDOWS or np.ptp(found[:, 0]) < LEAST_SPAN_S * sample_rate_hz:
        return None
    at, lags = found[:, 0], found[:, 1]
    slope = 0.0
    for _ in range(MOST_REFITS):  # a window that found another place is left out
        slope, base = np.polyfit(at, lags, 1)
        off = np.abs(lags - (base + slope * at))
        near = off <= max(3 * float(np.median(off)), 0.05)
        if near.all() or near.sum() < LEAST_WINDOWS:
            break
        at, lags = at[near], lags[near]
    return float(slope)


def _lags(
    played: np.ndarray, recorded: np.ndarray, lag: int, sample_rate_hz: int, window_s: float
) -> Iterator[tuple[float, float]]:
    """Yield the middle of each window of the signal in which it is found, and how late it comes back, in samples."""
    size, reach = round(window_s * sample_rate_hz), round(SEARCH_S * sample_rate_hz)
    power = [float(np.square(played[at : at + size]).sum()) for at in range(0, len(played) - size + 1, size)]
    for number, own in enumerate(power):
        start = number * size
        begin = start + lag - reach
        if own < QUIET_SHARE * max(power) or begin < 0 or begin + size + 2 * reach > len(recorded):
            continue
        piece, around = played[start : start + size], recorded[begin : begin + size + 2 * reach]
        found = _correlation(piece, around)[size - 1 : size + 2 * reach]
        at = int(np.abs(found).argmax())
        if abs(found[at]) < STANDS_OUT * float(np.sqrt(np.square(found).mean())):
            continue
        moved = at - reach
        taken = recorded[start + lag + moved : start + lag + moved + size]
        yield start + size / 2, lag + moved + _fraction(piece, taken, 0, float(np.sign(found[at])))


def _warped(recorded: np.ndarray, drift: float | None) -> np.ndarray:
    """Return a recording as a clock of the player's own speed would have taken it; its start stays where it is."""
    if not drift:
        return recorded
    from scipy.signal import resample_poly  # takes a second to load, and few commands need it

    fine = resample_poly(recorded, UPSAMPLED, 1)
    at = np.arange(int(len(recorded) / (1 + drift))) * (1 + drift) * UPSAMPLED
    return np.interp(at, np.arange(len(fine)), fine)
