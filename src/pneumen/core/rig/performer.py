"""Performers that make a phrase of notes, with breaths, pops and esses."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from pneumen.core.rig.performance import Performance
from pneumen.core.rig.tones import (
    Note,
    Tone,
    clarinet,
    driven,
    kit,
    noise_burst,
    plucked,
    puff,
    shaken,
    snare,
    struck,
    sustained,
    voice,
)

AGAIN_S: Final = 0.012
AGAIN_DB: Final = 0.5
"""Standard deviations of a note's start and level from one playing of a phrase to the next (estimates)."""


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
            _add(tone, note, noise_burst(rng, rate_hz, note.length_s, 400, 4000), rate_hz)
            continue
        if note.onset == "s":
            hiss = noise_burst(rng, rate_hz, 0.09, 5000, min(9000, 0.45 * rate_hz))
            _add(hisses, note, 0.5 * hiss, rate_hz, before_s=0.08)
        elif note.onset == "p":
            _add(puffs, note, puff(rate_hz), rate_hz, before_s=0.02)
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
            onset = str(rng.choice(("", "", "s", "p"))) if performer.tone is voice else ""
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
    "voice-pop": _performer(voice, _SUNG, 0.42, 0.6, breathes=True),
    "voice-soft": _performer(voice, _SUNG, 0.5, 0.7, breathes=True),
    "voice-belted": _performer(voice, _HIGH, 0.5, 0.7, breathes=True),
    "voice-pair": _performer(voice, _SUNG, 0.5, 0.6, breathes=True),
    "choir": _performer(sustained(1.3, 0.12, 0.01, 0.006), _SUNG, 0.7, 0.8, breathes=True),
    "spoken-word": _performer(voice, (110.0, 118.0, 126.0, 140.0), 0.19, 0.55, breathes=True),
    "acoustic-guitar": _performer(plucked(1.4), _STRINGS, 0.35, 0.5, ring_s=1.4),
    "ukulele": _performer(plucked(0.7), _HIGH, 0.3, 0.5, ring_s=0.7),
    "banjo": _performer(plucked(0.8), _MIDDLE, 0.18, 0.5, ring_s=0.8),
    "mandolin": _performer(plucked(0.6), _HIGH, 0.2, 0.5, ring_s=0.6),
    "lever-harp": _performer(plucked(1.8), (130.8, 196.0, 261.6, 329.6, 392.0), 0.4, 0.5, ring_s=1.8),
    "violin": _performer(sustained(1.0, 0.08, 0.01, 0.008), _HIGH, 0.5, 0.6),
    "cello": _performer(sustained(1.1, 0.10, 0.01, 0.006), _LOW, 0.6, 0.6),
    "double-bass": _performer(plucked(2.0), _BASS, 0.45, 0.6, ring_s=2.0),
    "flute": _performer(sustained(1.9, 0.06, 0.03, 0.006), _HIGH, 0.5, 0.7, breathes=True),
    "clarinet": _performer(clarinet, _MIDDLE, 0.5, 0.7, breathes=True),
    "saxophone": _performer(sustained(1.0, 0.04, 0.02), _MIDDLE, 0.5, 0.7, breathes=True),
    "trumpet": _performer(sustained(0.8, 0.03, 0.005), _HIGH, 0.5, 0.8, breathes=True),
    "horn": _performer(sustained(1.4, 0.05, 0.005), _MIDDLE, 0.6, 0.8, breathes=True),
    "trombone": _performer(sustained(0.9, 0.04, 0.005), _LOW, 0.6, 0.8, breathes=True),
    "upright-piano": _performer(plucked(1.6), _MIDDLE, 0.4, 0.5, ring_s=1.6),
    "grand-piano": _performer(plucked(2.2), _MIDDLE, 0.4, 0.5, ring_s=2.2),
    "accordion": _performer(sustained(0.9, 0.05), _MIDDLE, 0.6, 0.6),
    "hand-drum": _performer(struck, (110.0, 118.0, 140.0), 0.32, 0.6, ring_s=0.5),
    "shaker": _performer(shaken, (1.0,), 0.22, 0.6, ring_s=0.2),
    "tambourine": _performer(shaken, (1.0,), 0.3, 0.6, ring_s=0.2),
    "glockenspiel": _performer(plucked(1.0), tuple(4 * one for one in _HIGH), 0.35, 0.6, ring_s=1.0),
    "snare-drum": _performer(snare, (180.0, 190.0), 0.4, 0.6, ring_s=0.5),
    "drum-kit": _performer(kit, (60.0, 60.0, 180.0, 400.0), 0.3, 0.6, ring_s=0.5),
    "guitar-amp": _performer(driven(4.0), _LOW, 0.4, 0.5, ring_s=1.2),
    "bass-amp": _performer(driven(1.2), _BASS, 0.4, 0.5, ring_s=1.2),
    "guitar-direct": _performer(plucked(1.2), _LOW, 0.35, 0.5, ring_s=1.2),
    "guitar-direct-active": _performer(plucked(1.2), _LOW, 0.35, 0.5, ring_s=1.2),
    "bass-direct-slap": _performer(plucked(0.9), _BASS, 0.25, 0.5, ring_s=0.9),
    "bass-direct-passive": _performer(plucked(1.6), _BASS, 0.45, 0.5, ring_s=1.6),
    "bass-direct-active": _performer(plucked(1.6), _BASS, 0.45, 0.5, ring_s=1.6),
    "acoustic-pickup": _performer(plucked(1.4), _STRINGS, 0.35, 0.5, ring_s=1.4),
    "keyboard": _performer(sustained(1.2, 0.01), _MIDDLE, 0.5, 0.5),
}
"""One performer for each source of the part room; a test holds the two lists together."""
