"""Clean takes of many kinds: what was played or spoken, in a damped room, with its noise, as a file would hold it."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.signal import fftconvolve

from pneumen.core.rig.air import tail_of
from pneumen.core.rig.noise import weighted_noise
from pneumen.core.rig.performer import PERFORMERS, perform
from tests.material.sounds import ALSA, DRUMS, RATE, played, recorded, spoken

VOICES: Final = ("en-us", "en-gb", "en-us+f2", "en-gb+f4", "en-us+m3", "en-gb+m7", "en-gb-scotland", "en-us+f5")
OTHER_VOICES: Final = ("en-gb-x-rp", "en-us+m1", "en-gb+f1", "de", "fr+f3", "es", "it+f2", "nl+m5")
"""Of speech that was set aside before any limit was chosen, as OTHER_PROGRAMS are."""
PROGRAMS: Final = {
    "piano": (0, 48, 84),
    "harpsichord": (6, 50, 80),
    "glockenspiel": (9, 72, 96),
    "marimba": (12, 48, 80),
    "organ": (19, 48, 80),
    "accordion": (21, 53, 80),
    "nylon guitar": (24, 40, 76),
    "steel guitar": (25, 40, 76),
    "clean electric": (27, 40, 76),
    "overdriven": (29, 40, 76),
    "acoustic bass": (32, 28, 52),
    "finger bass": (33, 28, 52),
    "slap bass": (36, 28, 52),
    "violin": (40, 56, 88),
    "cello": (42, 36, 64),
    "harp": (46, 40, 84),
    "timpani": (47, 38, 55),
    "strings": (48, 44, 80),
    "choir": (52, 50, 76),
    "trumpet": (56, 56, 80),
    "trombone": (57, 40, 68),
    "tuba": (58, 30, 52),
    "horn": (60, 42, 72),
    "alto sax": (65, 50, 76),
    "oboe": (68, 60, 84),
    "clarinet": (71, 52, 84),
    "flute": (73, 62, 90),
    "banjo": (105, 50, 76),
    "steel drum": (114, 55, 80),
}
OTHER_PROGRAMS: Final = {
    "celesta": (8, 60, 90),
    "vibraphone": (11, 53, 84),
    "dulcimer": (15, 50, 80),
    "drawbar organ": (16, 45, 80),
    "harmonica": (22, 60, 84),
    "jazz guitar": (26, 40, 76),
    "fretless bass": (35, 30, 52),
    "viola": (41, 48, 80),
    "pizzicato": (45, 45, 80),
    "oohs": (53, 50, 74),
    "muted trumpet": (59, 55, 80),
    "soprano sax": (64, 56, 84),
    "tenor sax": (66, 46, 72),
    "bassoon": (70, 36, 62),
    "piccolo": (72, 74, 96),
    "recorder": (74, 60, 88),
    "pan flute": (75, 60, 84),
    "ocarina": (79, 60, 84),
    "koto": (107, 48, 76),
    "kalimba": (108, 53, 80),
    "shanai": (111, 55, 80),
}
RESTS_S: Final = 1.4
"""Long enough for what was played to die away in most instruments."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Take:
    """A clean take at 48 kHz: samples, what it is, whether a person sings or speaks, and where it sounds (s)."""

    samples: np.ndarray
    what: str
    voice: bool
    sounding: tuple[tuple[float, float], ...]

    @property
    def active_rms(self) -> float:
        frames = self.samples[: len(self.samples) // 4800 * 4800].reshape(-1, 4800)
        power = np.square(frames).mean(axis=1)
        return float(np.sqrt(power[power > power.max() * 10**-2.5].mean()))


def speech(seed: int) -> tuple[np.ndarray, list[tuple[float, float]]]:
    """Return some lines that a synthesiser speaks."""
    rng = np.random.default_rng([seed, 1])
    return _spoken_lines(VOICES[seed % len(VOICES)], rng)


def other_speech(seed: int) -> tuple[np.ndarray, list[tuple[float, float]]]:
    """Return the same by other voices, some of other languages."""
    return _spoken_lines(OTHER_VOICES[seed % len(OTHER_VOICES)], np.random.default_rng([seed, 6]))


def _spoken_lines(voice: str, rng: np.random.Generator) -> tuple[np.ndarray, list[tuple[float, float]]]:
    speed, pitch = int(rng.integers(120, 175)), int(rng.integers(25, 75))
    return _in_a_row([spoken(voice, int(line), speed, pitch) for line in rng.permutation(8)[:4]], rng)


def words(seed: int) -> tuple[np.ndarray, list[tuple[float, float]]]:
    """Return some recorded words."""
    rng = np.random.default_rng([seed, 2])
    names = [path.stem for path in sorted(ALSA.glob("*_*.wav"))]
    return _in_a_row([recorded(str(name)) for name in rng.permutation(names)[:6]], rng)


def melody(name: str) -> Callable[[int], tuple[np.ndarray, list[tuple[float, float]]]]:
    """Return a player of phrases on one instrument of the sound font."""
    program, lowest, highest = (PROGRAMS | OTHER_PROGRAMS)[name]

    def play(seed: int) -> tuple[np.ndarray, list[tuple[float, float]]]:
        rng = np.random.default_rng([seed, 3])
        notes, spans, now_s = [], [], 1.2
        for _ in range(3):
            begun_s, note = now_s, int(rng.integers(lowest, highest))
            for _ in range(int(rng.integers(3, 7))):
                length_s = float(rng.choice((0.25, 0.4, 0.6, 1.0)))
                note = int(np.clip(note + rng.integers(-5, 6), lowest, highest))
                strength = int(rng.integers(60, 115))
                notes.append((now_s, 0.95 * length_s, note, strength))
                if rng.random() < 0.3 and name not in ("trumpet", "flute", "oboe", "clarinet", "horn", "tuba"):
                    notes.append((now_s, 0.95 * length_s, min(note + 7, highest), strength))
                now_s += length_s
            spans.append((begun_s, now_s))
            now_s += RESTS_S
        return played(program, tuple(notes), now_s), spans

    return play


def groove(seed: int) -> tuple[np.ndarray, list[tuple[float, float]]]:
    """Return a drum kit's bars: kick, snare, hat, a tom now and then."""
    rng = np.random.default_rng([seed, 4])
    step_s, notes, now_s, spans = float(rng.uniform(0.22, 0.32)), [], 1.0, []
    for _ in range(2):
        begun_s = now_s
        for step in range(16):
            strength = int(rng.integers(70, 120))
            if step % 4 == 0 or rng.random() < 0.15:
                notes.append((now_s, 0.1, 36, strength))
            if step % 8 == 4:
                notes.append((now_s, 0.1, 38, strength))
            if rng.random() < 0.85:
                notes.append((now_s, 0.1, int(rng.choice((42, 42, 46, 51))), strength - 20))
            if rng.random() < 0.08:
                notes.append((now_s, 0.1, int(rng.choice((41, 45, 48))), strength))
            now_s += step_s
        spans.append((begun_s, now_s))
        now_s += 1.5
    return played(DRUMS, tuple(notes), now_s), spans


def hands(seed: int) -> tuple[np.ndarray, list[tuple[float, float]]]:
    """Return hand percussion: claps, congas, tambourine, shaker."""
    rng = np.random.default_rng([seed, 5])
    sounds = ((39,), (62, 63, 64), (54,), (70, 82), (75, 76))[seed % 5]
    notes, now_s = [], 1.0
    for _ in range(14):
        notes.append((now_s, 0.1, int(rng.choice(sounds)), int(rng.integers(60, 120))))
        now_s += float(rng.choice((0.25, 0.5)))
    return played(DRUMS, tuple(notes), now_s + 1.5), [(1.0, now_s)]


def performer(name: str) -> Callable[[int], tuple[np.ndarray, list[tuple[float, float]]]]:
    """Return one of the stand-in's performers, whose Ps blow no air."""

    def play(seed: int) -> tuple[np.ndarray, list[tuple[float, float]]]:
        sound = perform(name, 12.0, RATE, 0.0, seed).voice
        return sound / np.abs(sound).max(), [(1.0, 10.0)]

    return play


MAKERS: Final = {
    "speech": (speech, True),
    "words": (words, True),
    **{name: (melody(name), False) for name in PROGRAMS},
    "groove": (groove, False),
    "hands": (hands, False),
    **{f"stand-in {name}": (performer(name), name.startswith(("voice", "spoken"))) for name in PERFORMERS},
}
KINDS: Final = tuple(MAKERS)
OTHER_MAKERS: Final = {"other speech": (other_speech, True), **{name: (melody(name), False) for name in OTHER_PROGRAMS}}
OTHER_KINDS: Final = tuple(OTHER_MAKERS)


def clean_take(kind: str, seed: int) -> Take:
    """Return a clean take: its level, its room, its noise and its processing drawn from the seed.

    Some are compressed or limited, some faded out, some of 16 bits: none of it is a fault.
    """
    makers = MAKERS | OTHER_MAKERS
    rng = np.random.default_rng([seed, 9, tuple(makers).index(kind)])
    maker, voice = makers[kind]
    sound, spans = maker(seed)
    if rng.random() < 0.5:
        tail = tail_of(rng, float(rng.uniform(8, 16)), float(rng.uniform(0.12, 0.3)), RATE)
        sound = sound + fftconvolve(sound, tail)[: len(sound)]
    if voice:
        sound = sound + _breaths(rng, len(sound), spans)
    if rng.random() < 0.25:
        sound = _compressed(sound, rng)
    sound = sound / np.abs(sound).max() * 10 ** (-float(rng.uniform(3, 14)) / 20)
    power = np.square(sound)[: len(sound) // 4800 * 4800].reshape(-1, 4800).mean(axis=1)
    active = np.sqrt(power[power > power.max() * 10**-2.5].mean())
    floor = active * 10 ** (-float(rng.uniform(46, 68)) / 20)
    sound = sound + weighted_noise(rng, len(sound), RATE, floor, float(rng.uniform(-6, 0)))
    if rng.random() < 0.15:
        fade = round(float(rng.uniform(1, 3)) * RATE)
        sound[-fade:] *= np.linspace(1, 0, fade)
    steps = 2 ** (15 if rng.random() < 0.4 else 23)
    dither = rng.random(len(sound)) - rng.random(len(sound))
    return Take(
        samples=np.round(np.clip(sound, -1, 1) * (steps - 1) + dither) / steps,
        what=f"{kind} {seed}",
        voice=voice,
        sounding=tuple(spans),
    )


def _in_a_row(pieces: list[np.ndarray], rng: np.random.Generator) -> tuple[np.ndarray, list[tuple[float, float]]]:
    now, spans, found = round(1.0 * RATE), [], [np.zeros(round(1.0 * RATE))]
    for piece in pieces:
        level = 10 ** (float(rng.uniform(-6, 0)) / 20)
        found.append(level * piece)
        spans.append((now / RATE, (now + len(piece)) / RATE))
        rest = round(float(rng.uniform(0.7, 1.6)) * RATE)
        found.append(np.zeros(rest))
        now += len(piece) + rest
    return np.concatenate(found), spans


def _breaths(rng: np.random.Generator, length: int, spans: list[tuple[float, float]]) -> np.ndarray:
    found = np.zeros(length)
    for start_s, _ in spans[1:]:
        if rng.random() < 0.5:
            long = round(float(rng.uniform(0.25, 0.4)) * RATE)
            at = round((start_s - 0.1) * RATE) - long
            breath = weighted_noise(rng, long, RATE, 10 ** (-float(rng.uniform(30, 40)) / 20), -2.0) * np.hanning(long)
            found[max(at, 0) : at + long] += breath[max(-at, 0) :]
    return found


def _compressed(sound: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """Return a sound gently compressed, or limited with rounded tops: nothing of it is cut off."""
    if rng.random() < 0.5:
        return np.tanh(sound * float(rng.uniform(1.2, 2.0)))
    envelope = np.sqrt(np.maximum(fftconvolve(np.square(sound), np.hanning(4800) / 2400, "same"), 1e-9))
    return sound * np.minimum((0.1 / envelope) ** 0.5, 2.0)
