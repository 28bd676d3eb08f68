"""What is heard of a performance in one take: when its sounds begin, and its notes where it plays one at a time."""

from dataclasses import dataclass
from typing import Final

import numpy as np
import soxr
from scipy.fft import rfft

from pneumen.core.part import Source
from pneumen.core.peaks import parabola_shift
from pneumen.core.performance.notes import SEMITONE, Note, Tuning, notes_in
from pneumen.core.performance.onsets import onsets_of
from pneumen.core.performance.pitch import pitch_of

MELODIC_GROUPS: Final = ("voice", "winds", "bowed")
NOT_MELODIC: Final = ("voice-pair", "choir", "spoken-word")
RANGE_OCTAVES: Final = 4.0
HIGHEST_HZ: Final = 2000.0
TUNED_RATE_HZ: Final = 8000
TUNED_FRAME: Final = 4096
TUNED_HZ: Final = (110.0, 1800.0)
TUNED_PEAKS: Final = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class Study:
    """When sounds begin, and the notes; notes are None where more than one sounds at a time, or none has a pitch.

    backing is the tuning of what was in the headphones, where that is known.
    """

    onsets_s: tuple[float, ...]
    notes: tuple[Note, ...] | None
    backing: Tuning | None = None


def is_melodic(source: Source) -> bool:
    """Return whether a source plays or sings one note at a time."""
    return source.group in MELODIC_GROUPS and source.slug not in NOT_MELODIC


def study_of(samples: np.ndarray, sample_rate_hz: int, source: Source, backing: Tuning | None = None) -> Study:
    """Return what is heard of a performance.

    Args:
        samples: one channel, shape (N,).
        backing: the tuning of what was in the headphones.
    """
    notes = None
    if is_melodic(source):
        lowest_hz = 0.9 * source.lowest_note_hz
        highest_hz = min(lowest_hz * 2**RANGE_OCTAVES, HIGHEST_HZ)
        notes = notes_in(pitch_of(samples, sample_rate_hz, lowest_hz=lowest_hz, highest_hz=highest_hz))
    onsets = onsets_of(samples, sample_rate_hz, voice=source.group == "voice")
    return Study(onsets_s=tuple(onsets.tolist()), notes=notes, backing=backing)


def tuning_of_sound(samples: np.ndarray, sample_rate_hz: int) -> Tuning | None:
    """Return the tuning of any music from where its spectrum's strongest lines stand; None where it has none.

    Args:
        samples: one channel, shape (N,).
    """
    coarse = soxr.resample(np.asarray(samples, np.float32), sample_rate_hz, TUNED_RATE_HZ)
    if len(coarse) < TUNED_FRAME:
        return None
    frames = np.lib.stride_tricks.sliding_window_view(coarse, TUNED_FRAME)[:: TUNED_FRAME // 2]
    total, weight = 0j, 0.0
    for frame in frames:
        hertz, strength = _strongest(np.abs(rfft(frame * np.hanning(TUNED_FRAME))))
        turns = np.exp(2j * np.pi * 1200 * np.log2(hertz / 440.0) / SEMITONE)
        total, weight = total + complex((strength * turns).sum()), weight + float(strength.sum())
    if not weight:
        return None
    shift = SEMITONE * float(np.angle(total)) / (2 * np.pi)
    return Tuning(a_hz=440.0 * 2 ** (shift / 1200), agreement=abs(total) / weight)


def _strongest(spectrum: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the pitch and strength of the strongest lines of one frame, to a fraction of a bin."""
    bin_hz = TUNED_RATE_HZ / TUNED_FRAME
    low, high = (round(hertz / bin_hz) for hertz in TUNED_HZ)
    inner = spectrum[low:high]
    peaks = low + np.flatnonzero((inner > spectrum[low - 1 : high - 1]) & (inner >= spectrum[low + 1 : high + 1]))
    peaks = peaks[np.argsort(spectrum[peaks])[-TUNED_PEAKS:]]
    if not peaks.size or spectrum[peaks].max() < 1e-3:
        return np.empty(0), np.empty(0)
    left, top, right = (np.log(np.maximum(spectrum[peaks + shift], 1e-9)) for shift in (-1, 0, 1))
    return (peaks + parabola_shift(left, top, right)) * bin_hz, np.square(spectrum[peaks])
