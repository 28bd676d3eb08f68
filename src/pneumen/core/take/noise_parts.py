"""What the noise of the pauses is made of: hum, steady tones, rumble, hiss, and what lies between."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.fourier import rfft
from pneumen.core.levels import a_weighting_db
from pneumen.core.peaks import peaks_over
from pneumen.core.take.floor import HIGH_PASS_HZ

HUM, TONE, RUMBLE, MIDDLE, HISS = NOISE_KINDS = ("hum", "tone", "rumble", "middle", "hiss")
FRAME_S: Final = 0.34
"""Frames so long tell 50 Hz from 60 and a fan's tone from its neighbours; pauses shorter than that are filled up."""
NEAR_HZ: Final = 22.0
LINE_OVER_DB: Final = 9.0
"""A line stands so far over what is about it, where much was averaged; in a single frame noise scatters as far."""
HIGHEST_LINE_HZ: Final = 5000.0
LOBE_BINS: Final = 2
"""A Hann window spreads a line over so many bins on either side."""
MAINS_HZ: Final = (50.0, 60.0)
MOST_MULTIPLE: Final = 12
OFF_HZ: Final = 1.2
BROAD_HZ: Final = ((RUMBLE, 0.0, 100.0), (MIDDLE, 100.0, 1000.0), (HISS, 1000.0, np.inf))
HEARD_UNDER_DB: Final = 15.0
"""A part so far under all of them together is not worth a word; rumble is, where it is most of the plain level."""
MOST_TONES: Final = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class NoisePart:
    """One part of the noise with its level, plain above 20 Hz and A-weighted; hertz is a line's, or the mains'."""

    kind: str
    level_dbfs: float
    level_dbfs_a: float
    hertz: float | None = None


class NoiseMeter:
    """Adds up the spectrum of the pauses: call it with each, then take parts()."""

    def __init__(self, sample_rate_hz: int) -> None:
        self._length = 2 ** round(np.log2(FRAME_S * sample_rate_hz))
        self._bin_hz = sample_rate_hz / self._length
        self._power = np.zeros(self._length // 2 + 1)
        self._samples, self._frames = 0, 0

    def __call__(self, samples: np.ndarray) -> None:
        """Take in one pause."""
        length = self._length
        samples = samples - samples.mean()
        window = np.hanning(min(length, len(samples)) + 1)[:-1]
        frames = np.lib.stride_tricks.sliding_window_view(samples, len(window))[:: max(1, len(window) // 2)]
        spectra = rfft((frames * window).astype(np.float32), length, axis=1)  # 130 dB below the pause is ample
        power = np.square(spectra.real) + np.square(spectra.imag)
        self._power += power.mean(axis=0, dtype=float) * 2 / (length * np.square(window).sum()) * len(samples)
        self._samples += len(samples)
        self._frames += len(frames)

    def parts(self) -> tuple[NoisePart, ...]:
        """Return what the noise is made of, the most audible first; nothing where there was no pause."""
        if not self._samples or self._power.max() <= 0:
            return ()
        hertz = np.arange(len(self._power)) * self._bin_hz
        power = np.where(hertz >= HIGH_PASS_HZ, self._power / self._samples, 0.0)
        weight = 10 ** (a_weighting_db(hertz) / 10)
        broad = _surroundings(power, self._bin_hz)
        lines = _lines(power, broad, self._bin_hz, LINE_OVER_DB * (1 + self._frames**-0.5))
        found = [*_hum(lines, weight, self._bin_hz), *_tones(lines, weight, self._bin_hz)]
        rest = power.copy()
        for place, _ in lines:
            rest[place - LOBE_BINS : place + LOBE_BINS + 1] = broad[place - LOBE_BINS : place + LOBE_BINS + 1]
        for kind, low, high in BROAD_HZ:
            inside = (hertz >= low) & (hertz < high)
            found.append(_part(kind, rest[inside].sum(), (rest * weight)[inside].sum()))
        return _worth_a_word(found)


def _surroundings(power: np.ndarray, bin_hz: float) -> np.ndarray:
    """Return what is about each bin, a line left out: the median, which noise's own mean lies 1.6 dB over."""
    reach = max(4, round(NEAR_HZ / bin_hz))
    around = np.lib.stride_tricks.sliding_window_view(np.pad(power, reach, "edge"), 2 * reach + 1)
    return np.asarray(np.median(around, axis=1) / np.log(2))


def _lines(power: np.ndarray, broad: np.ndarray, bin_hz: float, least_db: float) -> list[tuple[int, float]]:
    """Return (bin, power of the line) of what stands out, the strongest first."""
    floor = np.maximum(broad, 1e-20)
    over_db = 10 * np.log10(np.maximum(power, 1e-20) / floor)
    places = peaks_over(over_db[: round(HIGHEST_LINE_HZ / bin_hz)], least_db, apart=2 * LOBE_BINS)
    found = []
    for place in places[places > LOBE_BINS]:
        lobe = slice(place - LOBE_BINS, place + LOBE_BINS + 1)
        found.append((int(place), float(np.maximum(power[lobe] - broad[lobe], 0).sum())))
    return sorted(found, key=lambda one: -one[1])


def _mains_of(lines: list[tuple[int, float]], bin_hz: float) -> float | None:
    """Return the mains whose multiples hold most of the lines' power: at least two of them, or the mains itself."""
    best: tuple[float, float] | None = None
    for mains_hz in MAINS_HZ:
        own = [(place, power) for place, power in lines if _multiple(place * bin_hz, mains_hz, bin_hz)]
        first = any(_multiple(place * bin_hz, mains_hz, bin_hz) == 1 for place, _ in own)
        total = sum(power for _, power in own)
        if (len(own) > 1 or first) and (best is None or total > best[1]):
            best = mains_hz, total
    return best[0] if best else None


def _multiple(hertz: float, mains_hz: float, bin_hz: float) -> int:
    """Return which multiple of the mains a line is, 0 for none; the place of a line is known to half a bin."""
    nearest = round(hertz / mains_hz)
    near = abs(hertz - nearest * mains_hz) <= max(OFF_HZ, 0.55 * bin_hz)
    return nearest if 1 <= nearest <= MOST_MULTIPLE and near else 0


def _hum(lines: list[tuple[int, float]], weight: np.ndarray, bin_hz: float) -> list[NoisePart]:
    mains_hz = _mains_of(lines, bin_hz)
    if mains_hz is None:
        return []
    own = [(place, power) for place, power in lines if _multiple(place * bin_hz, mains_hz, bin_hz)]
    lines[:] = [one for one in lines if one not in own] + [(place, 0.0) for place, _ in own]
    weighted = sum(power * weight[place] for place, power in own)
    return [_part(HUM, sum(power for _, power in own), float(weighted), mains_hz)]


def _tones(lines: list[tuple[int, float]], weight: np.ndarray, bin_hz: float) -> list[NoisePart]:
    return [
        _part(TONE, power, power * float(weight[place]), place * bin_hz) for place, power in lines[:MOST_TONES] if power
    ]


def _part(kind: str, power: float, weighted: float, hertz: float | None = None) -> NoisePart:
    plain_db, weighted_db = (10 * float(np.log10(max(one, 1e-20))) for one in (power, weighted))
    return NoisePart(kind=kind, level_dbfs=plain_db, level_dbfs_a=weighted_db, hertz=hertz)


def _worth_a_word(parts: list[NoisePart]) -> tuple[NoisePart, ...]:
    heard_db = max(one.level_dbfs_a for one in parts)
    plain_db = max(one.level_dbfs for one in parts)
    kept = [
        one
        for one in parts
        if one.level_dbfs_a >= heard_db - HEARD_UNDER_DB or (one.kind == RUMBLE and one.level_dbfs == plain_db)
    ]
    return tuple(sorted(kept, key=lambda one: -one.level_dbfs_a))
