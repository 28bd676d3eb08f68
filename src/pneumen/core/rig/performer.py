"""Performers that make a phrase: sung, spoken, plucked, blown or struck, with breaths, pops and esses.

Every tone is built from its partials, so nothing aliases, and shaped by formants or modes. The sizes of formants,
decays and breaths are estimates that sound and measure like the thing; no figure here is a claim.
"""

from collections.abc import Callable, Mapping
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Performer:
    """How a source plays: its tone, the pitches of its phrase, the length of a note and of the rests."""

    tone: Tone
    pitches_hz: tuple[float, ...]
    note_s: float
    rest_s: float
    breathes: bool
    ring_s: float


def perform(source: str, duration_s: float, rate_hz: int, tilt_db_per_octave: float, seed: int) -> np.ndarray:
    """Return a performance as a waveform of no particular level: verse, chorus and a quiet last line, repeated.

    Args:
        source: a key of PERFORMERS.
        tilt_db_per_octave: how much brighter than usual this performer is, about 1 kHz.
    """
    rng = np.random.default_rng([seed, 11])
    performer = PERFORMERS[source]
    waveform = np.zeros(round(duration_s * rate_hz))
    for note in _notes(performer, duration_s, rng):
        if performer.breathes and note.onset == "breath":
            _add(waveform, note, _noise_burst(rng, rate_hz, note.length_s, 400, 4000), rate_hz)
            continue
        if note.onset == "s":
            hiss = _noise_burst(rng, rate_hz, 0.09, 5000, min(9000, 0.45 * rate_hz))
            _add(waveform, note, 0.5 * hiss, rate_hz, before_s=0.08)
        elif note.onset == "p":
            _add(waveform, note, _puff(rate_hz), rate_hz, before_s=0.02)
        _add(waveform, note, performer.tone(note, rate_hz, tilt_db_per_octave, rng), rate_hz)
    return waveform


def _notes(performer: Performer, duration_s: float, rng: np.random.Generator) -> list[Note]:
    """Write the phrase: lines of notes with rests between, each line with its own loudness."""
    notes, line_levels_db, now_s, line = [], (-3.0, 3.0, -1.0, -9.0), 1.0, 0
    while now_s + 3 * performer.note_s + performer.ring_s + 0.6 < duration_s:
        if performer.breathes:
            notes.append(Note(start_s=now_s, length_s=0.3, pitch_hz=0, level_db=-34, onset="breath"))
            now_s += 0.45
        for _ in range(int(rng.integers(4, 7))):
            length_s = performer.note_s * float(rng.choice((1.0, 1.0, 1.6)))
            if now_s + length_s + performer.ring_s + 0.6 > duration_s:
                break
            onset = str(rng.choice(("", "", "s", "p"))) if performer.tone is _voice else ""
            level_db = line_levels_db[line % 4] + float(rng.normal(0, 0.8))
            pitch_hz = float(rng.choice(performer.pitches_hz))
            notes.append(Note(start_s=now_s, length_s=length_s, pitch_hz=pitch_hz, level_db=level_db, onset=onset))
            now_s += length_s
        now_s += performer.rest_s + performer.ring_s
        line += 1
    return notes


def _add(waveform: np.ndarray, note: Note, tone: np.ndarray, rate_hz: int, *, before_s: float = 0.0) -> None:
    start = max(0, round((note.start_s - before_s) * rate_hz))
    tone = tone[: len(waveform) - start]
    waveform[start : start + len(tone)] += 10 ** (note.level_db / 20) * tone


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
    tone = np.zeros(len(pitch_hz))
    for number, amplitude in zip(numbers, strength(numbers) * tilt, strict=True):
        if amplitude:
            tone += amplitude * np.sin(number * phase)
    return tone / (np.sqrt(np.mean(np.square(tone))) or 1.0)


def _envelope(length: int, rate_hz: int, attack_s: float, release_s: float) -> np.ndarray:
    rise = np.minimum(np.arange(length) / (attack_s * rate_hz), 1)
    fall = np.minimum(np.arange(length)[::-1] / (release_s * rate_hz), 1)
    return np.sin(np.pi / 2 * rise) * np.sin(np.pi / 2 * fall)


def _voice(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
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


def _clarinet(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """A stopped pipe: odd partials strong, even ones weak, with a trace of breath."""
    length = round(note.length_s * rate_hz)

    def strength(numbers: np.ndarray) -> np.ndarray:
        return numbers**-1.2 * np.where(numbers % 2 == 1, 1.0, 0.12)

    tone = _partials(note, rate_hz, tilt_db_per_octave, strength, np.full(length, note.pitch_hz))
    breath = 0.012 * _noise_burst(rng, rate_hz, note.length_s, 800, 6000)[:length]
    tone[: len(breath)] += breath
    return tone * _envelope(length, rate_hz, 0.04, 0.06)


def _plucked(ring_s: float) -> Tone:
    """Return a string's tone: partials of a plucked string that die away, the high ones first."""

    def tone(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
        time_s = np.arange(round((note.length_s + ring_s) * rate_hz)) / rate_hz
        highest = min(HIGHEST_PARTIAL_HZ, 0.45 * rate_hz)
        waveform = np.zeros(len(time_s))
        for number in range(1, max(2, int(highest / note.pitch_hz))):
            frequency_hz = number * note.pitch_hz * np.sqrt(1 + 4e-5 * number**2)
            amplitude = abs(np.sin(np.pi * number / 4.6)) / number
            amplitude *= 10 ** (tilt_db_per_octave * np.log2(frequency_hz / 1000) / 20)
            decay_s = ring_s / (1 + 0.25 * number)
            phase = rng.uniform(0, 2 * np.pi)
            heard_s = time_s[: round(1.5 * decay_s * rate_hz)]  # 90 dB down: the rest is below any noise
            partial = np.exp(-6.9 * heard_s / decay_s) * np.sin(2 * np.pi * frequency_hz * heard_s + phase)
            waveform[: len(heard_s)] += amplitude * partial
        attack = np.minimum(time_s / 0.002, 1)
        return 2.5 * waveform * attack * _envelope(len(time_s), rate_hz, 0.001, 0.05)

    return tone


def _struck(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """A membrane's first modes with their quick decay, and the slap of the hand."""
    time_s = np.arange(round(0.6 * rate_hz)) / rate_hz
    waveform = np.zeros(len(time_s))
    for ratio, amplitude in ((1.0, 1.0), (1.59, 0.7), (2.14, 0.5), (2.30, 0.35), (2.65, 0.3), (3.6, 0.2)):
        mode_hz = note.pitch_hz * ratio
        tilt = 10 ** (tilt_db_per_octave * np.log2(mode_hz / 1000) / 20)
        waveform += tilt * amplitude * np.exp(-time_s * (9 + 6 * ratio)) * np.sin(2 * np.pi * mode_hz * time_s)
    slap = _noise_burst(rng, rate_hz, 0.6, 300, 7000) * np.exp(-time_s / 0.006)
    return (3 * waveform + 2 * slap) * np.minimum(time_s / 0.0004, 1)


def _noise_burst(rng: np.random.Generator, rate_hz: int, length_s: float, low_hz: float, high_hz: float) -> np.ndarray:
    """Noise between two frequencies with soft ends, RMS about 1."""
    length = round(length_s * rate_hz)
    spectrum = np.fft.rfft(rng.standard_normal(length))
    frequency_hz = np.fft.rfftfreq(length, 1 / rate_hz)
    spectrum[(frequency_hz < low_hz) | (frequency_hz > high_hz)] = 0
    burst = np.fft.irfft(spectrum, length)
    return burst / (burst.std() or 1.0) * np.hanning(length) ** 0.5


def _puff(rate_hz: int) -> np.ndarray:
    """The blast of a P: one slow swing of air, below the voice."""
    time_s = np.arange(round(0.045 * rate_hz)) / rate_hz
    return 0.9 * np.sin(2 * np.pi * 55 * time_s) * np.hanning(len(time_s))


_SUNG: Final = (196.0, 220.0, 246.9, 261.6, 293.7, 329.6)
PERFORMERS: Final[Mapping[str, Performer]] = {
    "voice": Performer(tone=_voice, pitches_hz=_SUNG, note_s=0.42, rest_s=0.6, breathes=True, ring_s=0.0),
    "spoken-word": Performer(
        tone=_voice, pitches_hz=(110.0, 118.0, 126.0, 140.0), note_s=0.19, rest_s=0.55, breathes=True, ring_s=0.0
    ),
    "acoustic-guitar": Performer(
        tone=_plucked(1.4),
        pitches_hz=(110.0, 146.8, 196.0, 246.9, 329.6),
        note_s=0.35,
        rest_s=0.5,
        breathes=False,
        ring_s=1.4,
    ),
    "lever-harp": Performer(
        tone=_plucked(1.8),
        pitches_hz=(130.8, 196.0, 261.6, 329.6, 392.0),
        note_s=0.4,
        rest_s=0.5,
        breathes=False,
        ring_s=1.8,
    ),
    "clarinet": Performer(
        tone=_clarinet,
        pitches_hz=(196.0, 233.1, 293.7, 349.2, 440.0),
        note_s=0.5,
        rest_s=0.7,
        breathes=True,
        ring_s=0.0,
    ),
    "hand-drum": Performer(
        tone=_struck, pitches_hz=(110.0, 118.0, 140.0), note_s=0.32, rest_s=0.6, breathes=False, ring_s=0.5
    ),
}
"""One performer for each source of the part room; a test holds the two lists together."""
