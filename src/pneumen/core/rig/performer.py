"""Performers that make a phrase: sung, spoken, plucked, blown or struck, with breaths, pops and esses.

Every tone is built from its partials, so nothing aliases, and shaped by formants or modes. The sizes of formants,
decays and breaths are estimates that sound and measure like the thing; no figure here is a claim.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from pneumen.core.rig.performance import Performance

VOWELS: Final = ((730, 1090, 2440), (530, 1840, 2480), (570, 840, 2410), (440, 1020, 2240))
"""Formants in Hz of four open vowels (Peterson and Barney, 1952; from memory)."""
HIGHEST_PARTIAL_HZ: Final = 11_000
AGAIN_S: Final = 0.012
AGAIN_DB: Final = 0.5
"""Standard deviations of a note's start and level from one playing of a phrase to the next (estimates)."""


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


def perform(
    source: str,
    duration_s: float,
    rate_hz: int,
    tilt_db_per_octave: float,
    seed: int,
    *,
    phrase_seed: int | None = None,
) -> Performance:
    """Return a performance: verse, chorus and a quiet last line, repeated.

    Args:
        source: a key of PERFORMERS.
        tilt_db_per_octave: how much brighter than usual this performer is, about 1 kHz.
        phrase_seed: the notes that are played, once more and never quite alike; left out, those of the seed.
    """
    rng = np.random.default_rng([seed, 11])
    performer = PERFORMERS[source]
    tone, hisses, puffs = np.zeros((3, round(duration_s * rate_hz)))
    if phrase_seed is None:
        notes = notes_of(performer, duration_s, rng)
    else:
        notes = [_again(one, rng) for one in notes_of(performer, duration_s, np.random.default_rng([phrase_seed, 11]))]
    for note in notes:
        if performer.breathes and note.onset == "breath":
            _add(tone, note, _noise_burst(rng, rate_hz, note.length_s, 400, 4000), rate_hz)
            continue
        if note.onset == "s":
            hiss = _noise_burst(rng, rate_hz, 0.09, 5000, min(9000, 0.45 * rate_hz))
            _add(hisses, note, 0.5 * hiss, rate_hz, before_s=0.08)
        elif note.onset == "p":
            _add(puffs, note, _puff(rate_hz), rate_hz, before_s=0.02)
        _add(tone, note, performer.tone(note, rate_hz, tilt_db_per_octave, rng), rate_hz)
    return Performance(tone=tone, hiss=hisses, puffs=puffs)


def notes_of(performer: Performer, duration_s: float, rng: np.random.Generator) -> list[Note]:
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


def _again(note: Note, rng: np.random.Generator) -> Note:
    """Return a note as one plays it another time: a little earlier or later, louder or softer."""
    start_s = max(note.start_s + float(rng.normal(0, AGAIN_S)), 0.0)
    return replace(note, start_s=start_s, level_db=note.level_db + float(rng.normal(0, AGAIN_DB)))


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
    tone = _sines(strength(numbers) * tilt, phase)
    return tone / (np.sqrt(np.mean(np.square(tone))) or 1.0)


def _sines(amplitudes: np.ndarray, phase: np.ndarray) -> np.ndarray:
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
        numbers = np.arange(1, max(2, int(highest / note.pitch_hz)))
        frequency_hz = numbers * note.pitch_hz * np.sqrt(1 + 4e-5 * numbers**2)
        amplitudes = np.abs(np.sin(np.pi * numbers / 4.6)) / numbers
        amplitudes *= 10 ** (tilt_db_per_octave * np.log2(frequency_hz / 1000) / 20)
        phases = rng.uniform(0, 2 * np.pi, len(numbers))
        falls = 6.9 * (1 + 0.25 * numbers) / ring_s
        waveform = _ringing(amplitudes, frequency_hz, phases, falls, len(time_s), rate_hz)
        attack = np.minimum(time_s / 0.002, 1)
        return 2.5 * waveform * attack * _envelope(len(time_s), rate_hz, 0.001, 0.05)

    return tone


def _ringing(
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


def _struck(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """A membrane's first modes with their quick decay, and the slap of the hand."""
    time_s = np.arange(round(0.6 * rate_hz)) / rate_hz
    waveform = np.zeros(len(time_s))
    for ratio, amplitude in ((1.0, 1.0), (1.59, 0.7), (2.14, 0.5), (2.30, 0.35), (2.65, 0.3), (3.6, 0.2)):
        mode_hz = note.pitch_hz * ratio
        tilt = 10 ** (tilt_db_per_octave * np.log2(mode_hz / 1000) / 20)
        waveform += tilt * amplitude * np.exp(-time_s * (9 + 6 * ratio)) * np.sin(2 * np.pi * mode_hz * time_s)
    slap = _noise_burst(rng, rate_hz, 0.6, 300, 7000) * np.exp(-time_s / 0.006)
    return (3 * waveform + 2 * slap) * _stroke(time_s)


def _stroke(time_s: np.ndarray) -> np.ndarray:
    """How a stroke begins: a hand or stick gives way over some 2 ms (estimate)."""
    return np.asarray(0.5 - 0.5 * np.cos(np.pi * np.minimum(time_s / 0.002, 1)))


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


def _sustained(slope: float, attack_s: float, breath: float = 0.0, vibrato: float = 0.0) -> Tone:
    """Return a bowed, blown or squeezed tone: partials falling by a power of their number, breath, vibrato."""

    def tone(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
        length = round(note.length_s * rate_hz)
        time_s = np.arange(length) / rate_hz
        pitch_hz = note.pitch_hz * (1 + vibrato * np.sin(2 * np.pi * 5.6 * time_s + rng.uniform(0, 6)))
        waveform = _partials(note, rate_hz, tilt_db_per_octave, lambda numbers: numbers**-slope, pitch_hz)
        if breath:
            air = breath * _noise_burst(rng, rate_hz, note.length_s, 800, 6000)[:length]
            waveform[: len(air)] += air
        return waveform * _envelope(length, rate_hz, attack_s, 0.08)

    return tone


def _driven(drive: float) -> Tone:
    """Return an overdriven amplifier's tone: a plucked string, squashed and rounded by its loudspeaker."""
    string = _plucked(1.2)

    def tone(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
        clean = string(note, rate_hz, tilt_db_per_octave, rng)
        spectrum = np.fft.rfft(np.tanh(drive * clean))
        frequency_hz = np.fft.rfftfreq(len(clean), 1 / rate_hz)
        return np.fft.irfft(spectrum / (1 + (frequency_hz / 4500) ** 4), len(clean))

    return tone


def _snare(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """A drum's head and the rattle of its wires."""
    head = _struck(note, rate_hz, tilt_db_per_octave, rng)
    time_s = np.arange(len(head)) / rate_hz
    wires = _noise_burst(rng, rate_hz, len(head) / rate_hz, 1500, min(10_000, 0.45 * rate_hz))
    head[: len(wires)] += 1.2 * wires * np.exp(-time_s[: len(wires)] / 0.05) * _stroke(time_s[: len(wires)])
    return head


def _kit(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """One of bass drum, snare and cymbal, by the note's pitch."""
    if note.pitch_hz < 100:
        return 1.5 * _struck(note, rate_hz, tilt_db_per_octave, rng)
    return _snare(note, rate_hz, tilt_db_per_octave, rng) if note.pitch_hz < 300 else _shaken(note, rate_hz, 0.0, rng)


def _shaken(note: Note, rate_hz: int, tilt_db_per_octave: float, rng: np.random.Generator) -> np.ndarray:
    """Seeds or metal: a short burst of high noise."""
    burst = _noise_burst(rng, rate_hz, 0.25, 3000, min(14_000, 0.45 * rate_hz))
    time_s = np.arange(len(burst)) / rate_hz
    return burst * np.exp(-time_s / 0.05) * np.minimum(time_s / 0.002, 1)


def _performer(tone: Tone, pitches_hz: tuple[float, ...], note_s: float, rest_s: float, **more: float) -> Performer:
    return Performer(
        tone=tone,
        pitches_hz=pitches_hz,
        note_s=note_s,
        rest_s=rest_s,
        breathes=bool(more.get("breathes", False)),
        ring_s=more.get("ring_s", 0.0),
    )


_SUNG: Final = (196.0, 220.0, 246.9, 261.6, 293.7, 329.6)
_MIDDLE: Final = (196.0, 233.1, 293.7, 349.2, 440.0)
_HIGH: Final = (392.0, 440.0, 523.3, 587.3, 659.3)
_LOW: Final = (82.4, 98.0, 110.0, 130.8, 146.8)
_BASS: Final = (41.2, 49.0, 55.0, 61.7, 73.4)
_STRINGS: Final = (110.0, 146.8, 196.0, 246.9, 329.6)
PERFORMERS: Final[Mapping[str, Performer]] = {
    "voice-pop": _performer(_voice, _SUNG, 0.42, 0.6, breathes=True),
    "voice-soft": _performer(_voice, _SUNG, 0.5, 0.7, breathes=True),
    "voice-belted": _performer(_voice, _HIGH, 0.5, 0.7, breathes=True),
    "voice-pair": _performer(_voice, _SUNG, 0.5, 0.6, breathes=True),
    "choir": _performer(_sustained(1.3, 0.12, 0.01, 0.006), _SUNG, 0.7, 0.8, breathes=True),
    "spoken-word": _performer(_voice, (110.0, 118.0, 126.0, 140.0), 0.19, 0.55, breathes=True),
    "acoustic-guitar": _performer(_plucked(1.4), _STRINGS, 0.35, 0.5, ring_s=1.4),
    "ukulele": _performer(_plucked(0.7), _HIGH, 0.3, 0.5, ring_s=0.7),
    "banjo": _performer(_plucked(0.8), _MIDDLE, 0.18, 0.5, ring_s=0.8),
    "mandolin": _performer(_plucked(0.6), _HIGH, 0.2, 0.5, ring_s=0.6),
    "lever-harp": _performer(_plucked(1.8), (130.8, 196.0, 261.6, 329.6, 392.0), 0.4, 0.5, ring_s=1.8),
    "violin": _performer(_sustained(1.0, 0.08, 0.01, 0.008), _HIGH, 0.5, 0.6),
    "cello": _performer(_sustained(1.1, 0.10, 0.01, 0.006), _LOW, 0.6, 0.6),
    "double-bass": _performer(_plucked(2.0), _BASS, 0.45, 0.6, ring_s=2.0),
    "flute": _performer(_sustained(1.9, 0.06, 0.03, 0.006), _HIGH, 0.5, 0.7, breathes=True),
    "clarinet": _performer(_clarinet, _MIDDLE, 0.5, 0.7, breathes=True),
    "saxophone": _performer(_sustained(1.0, 0.04, 0.02), _MIDDLE, 0.5, 0.7, breathes=True),
    "trumpet": _performer(_sustained(0.8, 0.03, 0.005), _HIGH, 0.5, 0.8, breathes=True),
    "horn": _performer(_sustained(1.4, 0.05, 0.005), _MIDDLE, 0.6, 0.8, breathes=True),
    "trombone": _performer(_sustained(0.9, 0.04, 0.005), _LOW, 0.6, 0.8, breathes=True),
    "upright-piano": _performer(_plucked(1.6), _MIDDLE, 0.4, 0.5, ring_s=1.6),
    "grand-piano": _performer(_plucked(2.2), _MIDDLE, 0.4, 0.5, ring_s=2.2),
    "accordion": _performer(_sustained(0.9, 0.05), _MIDDLE, 0.6, 0.6),
    "hand-drum": _performer(_struck, (110.0, 118.0, 140.0), 0.32, 0.6, ring_s=0.5),
    "shaker": _performer(_shaken, (1.0,), 0.22, 0.6, ring_s=0.2),
    "tambourine": _performer(_shaken, (1.0,), 0.3, 0.6, ring_s=0.2),
    "glockenspiel": _performer(_plucked(1.0), tuple(4 * one for one in _HIGH), 0.35, 0.6, ring_s=1.0),
    "snare-drum": _performer(_snare, (180.0, 190.0), 0.4, 0.6, ring_s=0.5),
    "drum-kit": _performer(_kit, (60.0, 60.0, 180.0, 400.0), 0.3, 0.6, ring_s=0.5),
    "guitar-amp": _performer(_driven(4.0), _LOW, 0.4, 0.5, ring_s=1.2),
    "bass-amp": _performer(_driven(1.2), _BASS, 0.4, 0.5, ring_s=1.2),
    "guitar-direct": _performer(_plucked(1.2), _LOW, 0.35, 0.5, ring_s=1.2),
    "guitar-direct-active": _performer(_plucked(1.2), _LOW, 0.35, 0.5, ring_s=1.2),
    "bass-direct-slap": _performer(_plucked(0.9), _BASS, 0.25, 0.5, ring_s=0.9),
    "bass-direct-passive": _performer(_plucked(1.6), _BASS, 0.45, 0.5, ring_s=1.6),
    "bass-direct-active": _performer(_plucked(1.6), _BASS, 0.45, 0.5, ring_s=1.6),
    "acoustic-pickup": _performer(_plucked(1.4), _STRINGS, 0.35, 0.5, ring_s=1.4),
    "keyboard": _performer(_sustained(1.2, 0.01), _MIDDLE, 0.5, 0.5),
}
"""One performer for each source of the part room; a test holds the two lists together."""
