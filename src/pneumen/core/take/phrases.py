"""The same phrase at several spots: cut out between claps, measured, and matched in loudness for a blind trial."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.errors import Contradiction, UnreadableFile
from pneumen.core.take.floor import FloorMeter
from pneumen.core.take.loudness import integrated_loudness_lufs, k_weighting

FRAME_S: Final = 0.01
JOINED_S: Final = 0.3
"""Sounds with less silence between them belong together."""
LONGEST_CLAP_S: Final = 0.8
CLAP_RISE_S: Final = 0.04
CLAP_FALL_DB, CLAP_FALL_S = 12.0, 0.2
SHORTEST_PHRASE_S: Final = 0.5
MARGIN_S: Final = 0.25
LEAST_SPAN_DB: Final = 20.0
BASS_HZ, MIDDLE_HZ, TREBLE_HZ = (60.0, 250.0), (250.0, 4000.0), (4000.0, 12_000.0)
MOST_SPOTS: Final = 6
GAP_SHARE: Final = 0.2
QUIET_SHARE: Final = 0.1
LISTENING_PEAK_DBFS: Final = -6.0

Span = tuple[int, int]


def phrases_between_claps(samples: np.ndarray, rate_hz: int) -> tuple[Span, ...]:
    """Return where the phrases of one recording lie, in samples, each after its own clap, with a short margin.

    A clap is a sound that is at its loudest at once, falls by 12 dB in a fifth of a second, and stands alone: a
    second of silence on both sides is enough.

    Raises:
        UnreadableFile: where there is no clap, or nothing after one.
    """
    level_db = _envelope_db(samples, rate_hz)
    sounds = _sounds(level_db)
    claps = [span for span in sounds if _is_clap(level_db, span)]
    if not claps:
        raise UnreadableFile(
            "there is no clap in it", "clap once before each phrase, with a second of silence round it"
        )
    found = []
    for clap, following in zip(claps, [*claps[1:], (len(level_db), 0)], strict=True):
        between = [span for span in sounds if clap[1] <= span[0] and span[1] <= following[0]]
        if between and (between[-1][1] - between[0][0]) * FRAME_S >= SHORTEST_PHRASE_S:
            found.append(_with_margin(between[0][0], between[-1][1], clap[1], following[0], len(samples), rate_hz))
    if not found:
        raise UnreadableFile("nothing is played after the claps", "play the phrase after each clap")
    return tuple(found)


def whole_phrase(samples: np.ndarray, rate_hz: int) -> Span:
    """Return where the one phrase of a recording lies, silence before and after it cut to a short margin.

    Raises:
        UnreadableFile: where nothing is heard.
    """
    level_db = _envelope_db(samples, rate_hz)
    sounds = _sounds(level_db)
    return _with_margin(sounds[0][0], sounds[-1][1], 0, len(level_db), len(samples), rate_hz)


def _envelope_db(samples: np.ndarray, rate_hz: int) -> np.ndarray:
    """Return the level of 10 ms frames without rumble: less the running mean, which leaves little under 60 Hz."""
    length = round(FRAME_S * rate_hz)
    if len(samples) < 2 * length:
        raise UnreadableFile("it is too short", "record the whole phrase")
    running = np.convolve(samples, np.full(length, 1 / length), "same")
    change = samples - running
    power = np.square(change[: len(change) // length * length]).reshape(-1, length).mean(axis=1)
    return 10 * np.log10(power + 1e-16)


def _sounds(level_db: np.ndarray) -> list[Span]:
    """Return the runs of frames with sound, near ones joined."""
    floor, top = float(np.percentile(level_db, 10)), float(level_db.max())
    if top - floor < LEAST_SPAN_DB:
        raise UnreadableFile("sound and silence cannot be told apart", "leave a second of silence before the phrase")
    loud = np.concatenate([[False], level_db > floor + max(10.0, 0.3 * (top - floor)), [False]])
    edges = np.flatnonzero(np.diff(loud.astype(int)))
    joined: list[Span] = []
    for start, end in edges.reshape(-1, 2).tolist():
        if joined and (start - joined[-1][1]) * FRAME_S <= JOINED_S:
            joined[-1] = (joined[-1][0], end)
        else:
            joined.append((start, end))
    return joined


def _is_clap(level_db: np.ndarray, span: Span) -> bool:
    start, end = span
    peak = start + int(level_db[start:end].argmax())
    later = min(peak + round(CLAP_FALL_S / FRAME_S), len(level_db) - 1)
    short = (end - start) * FRAME_S <= LONGEST_CLAP_S and (peak - start) * FRAME_S <= CLAP_RISE_S
    return short and bool(level_db[later] <= level_db[peak] - CLAP_FALL_DB)


def _with_margin(start: int, end: int, earliest: int, latest: int, count: int, rate_hz: int) -> Span:
    margin = round(MARGIN_S / FRAME_S)
    low, high = max(start - margin, earliest), min(end + margin, latest)
    return round(low * FRAME_S * rate_hz), min(round(high * FRAME_S * rate_hz), count)


@dataclass(frozen=True, slots=True, kw_only=True)
class PhraseMeasure:
    """What one spot's phrase measures; None where it cannot be told.

    bass_db is 60 to 250 Hz against 250 to 4000 Hz, treble_db 4 to 12 kHz against the same; gaps_db how far the
    quietest fifth of the phrase lies under its level (a room fills them), floor_dbfs_a its quietest tenth, A-weighted.
    """

    loudness_lufs: float | None
    level_dbfs: float
    peak_dbfs: float
    bass_db: float
    treble_db: float
    gaps_db: float
    floor_dbfs_a: float | None


def measure_phrase(samples: np.ndarray, rate_hz: int) -> PhraseMeasure:
    """Measure one phrase.

    Raises:
        UnreadableFile: where it is silent.

    Reference: ITU-R BS.1770-5 (loudness); the bands are common practice, no source.
    """
    peak = float(np.abs(samples).max(initial=0.0))
    if peak < 1e-5:
        raise UnreadableFile("it is silent", "record it anew")
    spectrum = np.fft.rfft(samples)
    weighted = k_weighting(rate_hz)(samples)
    frames = _frame_power(samples, rate_hz)
    active = frames[frames >= frames.max() * 10**-2.5].mean()
    hertz, power = np.fft.rfftfreq(len(samples), 1 / rate_hz), np.square(np.abs(spectrum))
    middle = _band(power, hertz, MIDDLE_HZ)
    return PhraseMeasure(
        loudness_lufs=integrated_loudness_lufs(_frame_power(weighted, rate_hz)),
        level_dbfs=_db(active),
        peak_dbfs=2 * _db(peak),
        bass_db=_db(_band(power, hertz, BASS_HZ) / middle),
        treble_db=_db(_band(power, hertz, TREBLE_HZ) / middle),
        gaps_db=_db(_gap_power(samples, rate_hz) / active),
        floor_dbfs_a=_floor(samples, frames, rate_hz),
    )


def _frame_power(samples: np.ndarray, rate_hz: int) -> np.ndarray:
    length = rate_hz // 10
    if len(samples) < length:
        return np.array([np.square(samples).mean()])
    return np.square(samples[: len(samples) // length * length]).reshape(-1, length).mean(axis=1)


def _band(power: np.ndarray, hertz: np.ndarray, span: tuple[float, float]) -> float:
    return float(power[(hertz >= span[0]) & (hertz < span[1])].sum()) + 1e-20


def _gap_power(samples: np.ndarray, rate_hz: int) -> float:
    """Return the power that the quietest fifth of the phrase itself, its margins left out, stays under."""
    level_db = _envelope_db(samples, rate_hz)
    sounds = _sounds(level_db) if np.ptp(level_db) >= LEAST_SPAN_DB else [(0, len(level_db))]
    length = round(FRAME_S * rate_hz)
    inside = samples[sounds[0][0] * length : sounds[-1][1] * length]
    power = np.square(inside[: len(inside) // length * length]).reshape(-1, length).mean(axis=1)
    return float(np.quantile(power, GAP_SHARE)) + 1e-20


def _floor(samples: np.ndarray, frames: np.ndarray, rate_hz: int) -> float | None:
    quiet = np.argsort(frames)[: max(2, round(QUIET_SHARE * len(frames)))]
    if len(frames) < 3 or frames[quiet].max() > frames.max() * 10**-2:
        return None
    meter, length = FloorMeter(rate_hz), rate_hz // 10
    for one in quiet:
        meter(samples[one * length : (one + 1) * length])
    return meter.floor_dbfs_a


def _db(power: float) -> float:
    return 10 * float(np.log10(power))


def matching_gains_db(measures: Sequence[PhraseMeasure]) -> tuple[float, ...]:
    """Return what brings phrases to one loudness, the highest peak among them to LISTENING_PEAK_DBFS.

    Raises:
        Contradiction: for fewer than two phrases, or more than MOST_SPOTS.
    """
    if not 2 <= len(measures) <= MOST_SPOTS:
        raise Contradiction("spots", f"must be two to {MOST_SPOTS}, were {len(measures)}")
    known = [one.loudness_lufs for one in measures if one.loudness_lufs is not None]
    loudness = known if len(known) == len(measures) else [one.level_dbfs for one in measures]
    highest = max(one.peak_dbfs - level for one, level in zip(measures, loudness, strict=True))
    return tuple(LISTENING_PEAK_DBFS - highest - level for level in loudness)
