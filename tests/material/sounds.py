"""Sounds of people and instruments: recorded voices, a speaking synthesiser, sampled instruments."""

import struct
import subprocess
import tempfile
from functools import lru_cache
from pathlib import Path
from typing import Final

import numpy as np
import soundfile
import soxr
from scipy.signal import butter, sosfilt

RATE: Final = 48_000
ALSA: Final = Path("/usr/share/sounds/alsa")
SOUND_FONT: Final = Path("/usr/share/sounds/sf2/TimGM6mb.sf2")
TICKS: Final = 480
SECOND_TICKS: Final = 960
DRUMS: Final = 128
"""The program number that stands for the drum channel."""
NO_OFFSET: Final = 1e-2
COUPLING: Final = butter(2, 10, "highpass", fs=RATE, output="sos")

LINES: Final = (
    "Past the bakery window the lamps are slowly rising.",
    "Six silver stars shine softly, and she sees them pass.",
    "Please put the paper boats back into the puddle.",
    "Nobody knows how long the winter evening lasts.",
    "Peter the baker begins before the break of day.",
    "Whose are these shoes, and why is the hall so cold?",
    "Carry the ladder to the garden, and mind the roses.",
    "The music moves among us like a river in the morning.",
)


@lru_cache(maxsize=64)
def spoken(voice: str, line: int, speed: int = 150, pitch: int = 50) -> np.ndarray:
    """Return a line spoken by espeak-ng at 48 kHz, its peak at 1."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "said.wav"
        command = ["espeak-ng", "-v", voice, "-s", str(speed), "-p", str(pitch), "-w", str(path)]
        subprocess.run([*command, LINES[line % len(LINES)]], check=True, capture_output=True)
        samples, rate = soundfile.read(path)
    return _to_full_scale(soxr.resample(samples, rate, RATE))


@lru_cache(maxsize=16)
def recorded(name: str) -> np.ndarray:
    """Return one of the recorded voices of alsa-utils (48 kHz, 16 bits), its peak at 1."""
    samples, _ = soundfile.read(ALSA / f"{name}.wav")
    return _to_full_scale(samples)


@lru_cache(maxsize=64)
def played(program: int, notes: tuple[tuple[float, float, int, int], ...], length_s: float) -> np.ndarray:
    """Return notes played by a sampled instrument, without reverberation or chorus, its peak at 1.

    Some of its samples carry an offset, which a microphone would not have passed on: a clean take has none.

    Args:
        program: of General MIDI, from 0; DRUMS for the drum channel.
        notes: (start in s, length in s, MIDI note number, strength to 127).
        length_s: of the whole.
    """
    with tempfile.TemporaryDirectory() as folder:
        song, path = Path(folder) / "song.mid", Path(folder) / "played.wav"
        song.write_bytes(_midi(program, notes, length_s))
        command = ["fluidsynth", "-ni", "-R", "0", "-C", "0", "-g", "0.5", "-r", str(RATE), "-T", "wav", "-O", "float"]
        subprocess.run([*command, "-F", str(path), str(SOUND_FONT), str(song)], check=True, capture_output=True)
        samples, _ = soundfile.read(path)
    whole = np.zeros(round(length_s * RATE))
    samples = samples[: len(whole)].mean(axis=1)
    whole[: len(samples)] = samples
    offset = abs(whole.mean()) / np.abs(whole).max()
    return _to_full_scale(whole if offset < NO_OFFSET else sosfilt(COUPLING, whole))


def _midi(program: int, notes: tuple[tuple[float, float, int, int], ...], length_s: float) -> bytes:
    """Write a Standard MIDI File, format 0, at 120 beats a minute."""
    channel = 9 if program == DRUMS else 0
    events = [(0, bytes([0xC0 | channel, 0 if program == DRUMS else program]))]
    for start_s, long_s, number, strength in notes:
        events.append((round(start_s * SECOND_TICKS), bytes([0x90 | channel, number, strength])))
        events.append((round((start_s + long_s) * SECOND_TICKS), bytes([0x80 | channel, number, 0])))
    events.append((round(length_s * SECOND_TICKS), b"\xff\x2f\x00"))
    track, now = b"", 0
    for tick, event in sorted(events, key=lambda one: (one[0], one[1][0] & 0xF0)):
        track += _variable(tick - now) + event
        now = tick
    head = struct.pack(">4sIHHH", b"MThd", 6, 0, 1, TICKS)
    return head + struct.pack(">4sI", b"MTrk", len(track)) + track


def _variable(number: int) -> bytes:
    found = bytes([number & 0x7F])
    while number := number >> 7:
        found = bytes([0x80 | number & 0x7F]) + found
    return found


def _to_full_scale(samples: np.ndarray) -> np.ndarray:
    return samples / np.abs(samples).max()
