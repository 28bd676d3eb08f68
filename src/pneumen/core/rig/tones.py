"""Tones of notes: sung, spoken, plucked, blown or struck, and the noises that go with them.

Every tone is built from its partials, so nothing aliases, and shaped by formants or modes. The sizes of formants,
decays and breaths are estimates that sound and measure like the thing; no figure here is a claim.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np

VOWELS: Final = ((730, 1090, 2440), (530, 1840, 2480), (570, 840, 2410), (440, 1020, 2240))
"""Formants in Hz of four open vowels (Peterson and Barney, 1952; from memory)."""
HIGHEST_PARTIAL_HZ: Final = 11_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Note:
    """One note of a phrase: start and length, pitch, level, and what begins it ("", "s" or "p")."""

    start_s: float
    length_s: float
    pitch_hz: float
    level_db: float
    onset: str = ""


Tone = Callable[[Note, int, float, np.random.Generator], np.ndarray]


def _partials(
    note: Note,
    rate_hz: int,
    tilt_db_per_octave: float,
    strength: Callable[[np.ndarray], np.ndarray],
    pitch_hz: np.ndarray,
) -> np.ndarray:
    """Add up a tone's partials; strength gives each one's amplitude from its number and mean frequency."""
    phase = 2 * np.pi * np.cumsum(pitch_hz) / rate_hz
    highest = min(HIGHEST_PARTIAL_HZ, 0.45 * rate_hz)
    numbers = np.arange(1, max(2, int(highest / pitch_hz.max())))
    tilt = 10 ** (tilt_db_per_octave * np.log2(numbers * note.pitch_hz / 1000) / 20)
    tone = sines(strength(numbers) * tilt, phase)
    return tone / (np.sqrt(np.mean(np.square(tone))) or 1.0)


def sines(amplitudes: np.ndarray, phase: np.ndarray) -> np.ndarray:
    """Add up the sines of 1, 2, 3, ... times a phase.

    Each follows from the two before it, sin(n p) = 2 cos(p) sin((n - 1) p) - sin((n - 2) p), far sooner than by itself.
    """
    tone, twice = np.zeros(len(phase)), 2 * np.cos(phase)
    before, now, spare = np.zeros(len(phase)), np.sin(phase), np.empty(len(phase))
    for amplitude in amplitudes:
        if amplitude:
            tone += np.multiply(now, amplitude, out=spare)
        np.multiply(twice, now, out=spare)
        spare -= before
        before, now, spare = now, spare, before
    return tone


def _envelope(length: int, rate_hz: int, attack_s: float, release_s: float) -> np.ndarray:
    rise = np.minimum(np.arange(length) / (attack_s * rate_hz), 1)
    fall = np.minimum(np.arange(length)[::-1] / (release_s * rate_hz), 1)
    return np.sin(np.pi / 2 * rise) * np.sin(np.pi / 2 * fall)


def voice(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """Glottal partials through the formants of a vowel, with vibrato and a little jitter."""
    length = round(note.length_s * rate_hz)
    time_s = np.arange(length) / rate_hz
    vibrato = 1 + 0.012 * np.sin(2 * np.pi * 5.4 * time_s + rng.uniform(0, 6))
    jitter = 1 + 0.003 * np.repeat(rng.standard_normal(length // 480 + 1), 480)[:length]
    formants = np.array(VOWELS[int(rng.integers(len(VOWELS)))])

    def strength(numbers: np.ndarray) -> np.ndarray:
        frequency_hz = numbers[:, None] * note.pitch_hz
        resonances = 1 / np.sqrt((1 - (frequency_hz / formants) ** 2) ** 2 + (0.16 * frequency_hz / formants) ** 2)
        return numbers**-1.1 * resonances.sum(axis=1)

    tone = _partials(note, rate_hz, tilt_db_per_octave, strength, note.pitch_hz * vibrato * jitter)
    return tone * _envelope(length, rate_hz, 0.03, 0.08)


def clarinet(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """A stopped pipe: odd partials strong, even ones weak, with a trace of breath."""
    length = round(note.length_s * rate_hz)

    def strength(numbers: np.ndarray) -> np.ndarray:
        # All of one sign they would add up to a square wave, which no pipe and no room lets through (estimate).
        signs = np.where(np.square(numbers) // 16 % 2 == 0, 1.0, -1.0)
        return signs * numbers**-1.2 * np.where(numbers % 2 == 1, 1.0, 0.12)

    tone = _partials(note, rate_hz, tilt_db_per_octave, strength, np.full(length, note.pitch_hz))
    breath = 0.012 * noise_burst(rng, rate_hz, note.length_s, 800, 6000)[:length]
    tone[: len(breath)] += breath
    return tone * _envelope(length, rate_hz, 0.04, 0.06)


def plucked(ring_s: float) -> Tone:
    """Return a string's tone: partials of a plucked string that die away, the high ones first."""

    def tone(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
        time_s = np.arange(round((note.length_s + ring_s) * rate_hz)) / rate_hz
        highest = min(HIGHEST_PARTIAL_HZ, 0.45 * rate_hz)
        numbers = np.arange(1, max(2, int(highest / note.pitch_hz)))
        frequency_hz = numbers * note.pitch_hz * np.sqrt(1 + 4e-5 * numbers**2)
        amplitudes = np.abs(np.sin(np.pi * numbers / 4.6)) / numbers
        amplitudes *= 10 ** (tilt_db_per_octave * np.log2(frequency_hz / 1000) / 20)
        phases = rng.uniform(0, 2 * np.pi, len(numbers))
        falls = 6.9 * (1 + 0.25 * numbers) / ring_s
        waveform = ringing(amplitudes, frequency_hz, phases, falls, len(time_s), rate_hz)
        attack = np.minimum(time_s / 0.002, 1)
        return 2.5 * waveform * attack * _envelope(len(time_s), rate_hz, 0.001, 0.05)

    return tone


def ringing(
    amplitudes: np.ndarray,
    frequency_hz: np.ndarray,
    phases: np.ndarray,
    falls_per_s: np.ndarray,
    length: int,
    rate_hz: int,
) -> np.ndarray:
    """Add up sines that die away exponentially.

    A sample's place is one of a row's first sample and one within the row; what decays and turns is a product of both,
    so that the whole is a product of two small matrices.
    """
    side = math.isqrt(length) + 1
    turn = (2j * np.pi * frequency_hz - falls_per_s) / rate_hz
    rows = amplitudes * np.exp(1j * phases + np.outer(side * np.arange(side), turn))
    within = np.exp(np.outer(turn, np.arange(side)))
    found = rows.real @ within.imag + rows.imag @ within.real
    return np.asarray(found.ravel()[:length])


def struck(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """A membrane's first modes with their quick decay, and the slap of the hand."""
    time_s = np.arange(round(0.6 * rate_hz)) / rate_hz
    waveform = np.zeros(len(time_s))
    for ratio, amplitude in ((1.0, 1.0), (1.59, 0.7), (2.14, 0.5), (2.30, 0.35), (2.65, 0.3), (3.6, 0.2)):
        mode_hz = note.pitch_hz * ratio
        tilt = 10 ** (tilt_db_per_octave * np.log2(mode_hz / 1000) / 20)
        waveform += tilt * amplitude * np.exp(-time_s * (9 + 6 * ratio)) * np.sin(2 * np.pi * mode_hz * time_s)
    slap = noise_burst(rng, rate_hz, 0.6, 300, 7000) * np.exp(-time_s / 0.006)
    return (3 * waveform + 2 * slap) * _stroke(time_s)


def _stroke(time_s: np.ndarray) -> np.ndarray:
    """How a stroke begins: a hand or stick gives way over some 2 ms (estimate)."""
    return np.asarray(0.5 - 0.5 * np.cos(np.pi * np.minimum(time_s / 0.002, 1)))


def noise_burst(rng: np.random.Generator, rate_hz: int, length_s: float, low_hz: float, high_hz: float) -> np.ndarray:
    """Noise between two frequencies with soft ends, RMS about 1."""
    length = round(length_s * rate_hz)
    spectrum = np.fft.rfft(rng.standard_normal(length))
    frequency_hz = np.fft.rfftfreq(length, 1 / rate_hz)
    spectrum[(frequency_hz < low_hz) | (frequency_hz > high_hz)] = 0
    burst = np.fft.irfft(spectrum, length)
    return burst / (burst.std() or 1.0) * np.hanning(length) ** 0.5


def puff(rate_hz: int) -> np.ndarray:
    """The blast of a P: one slow swing of air, below the voice."""
    time_s = np.arange(round(0.045 * rate_hz)) / rate_hz
    return 0.9 * np.sin(2 * np.pi * 55 * time_s) * np.hanning(len(time_s))


def sustained(slope: float, attack_s: float, breath: float = 0.0, vibrato: float = 0.0) -> Tone:
    """Return a bowed, blown or squeezed tone: partials falling by a power of their number, breath, vibrato."""

    def tone(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
        length = round(note.length_s * rate_hz)
        time_s = np.arange(length) / rate_hz
        pitch_hz = note.pitch_hz * (1 + vibrato * np.sin(2 * np.pi * 5.6 * time_s + rng.uniform(0, 6)))
        waveform = _partials(note, rate_hz, tilt_db_per_octave, lambda numbers: numbers**-slope, pitch_hz)
        if breath:
            air = breath * noise_burst(rng, rate_hz, note.length_s, 800, 6000)[:length]
            waveform[: len(air)] += air
        return waveform * _envelope(length, rate_hz, attack_s, 0.08)

    return tone


def driven(drive: float) -> Tone:
    """Return an overdriven amplifier's tone: a plucked string, squashed and rounded by its loudspeaker."""
    string = plucked(1.2)

    def tone(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
        clean = string(note, rate_hz, tilt_db_per_octave, rng)
        spectrum = np.fft.rfft(np.tanh(drive * clean))
        frequency_hz = np.fft.rfftfreq(len(clean), 1 / rate_hz)
        return np.fft.irfft(spectrum / (1 + (frequency_hz / 4500) ** 4), len(clean))

    return tone


def snare(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """A drum's head and the rattle of its wires."""
    head = struck(note, rate_hz, tilt_db_per_octave, rng)
    time_s = np.arange(len(head)) / rate_hz
    wires = noise_burst(rng, rate_hz, len(head) / rate_hz, 1500, min(10_000, 0.45 * rate_hz))
    head[: len(wires)] += 1.2 * wires * np.exp(-time_s[: len(wires)] / 0.05) * _stroke(time_s[: len(wires)])
    return head


def kit(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """One of bass drum, snare and cymbal, by the note's pitch."""
    if note.pitch_hz < 100:
        return 1.5 * struck(note, rate_hz, tilt_db_per_octave, rng)
    return snare(note, rate_hz, tilt_db_per_octave, rng) if note.pitch_hz < 300 else shaken(note, rate_hz, 0.0, rng)


def shaken(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """Seeds or metal: a short burst of high noise."""
    burst = noise_burst(rng, rate_hz, 0.25, 3000, min(14_000, 0.45 * rate_hz))
    time_s = np.arange(len(burst)) / rate_hz
    return burst * np.exp(-time_s / 0.05) * np.minimum(time_s / 0.002, 1)
