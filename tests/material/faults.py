"""What can go wrong in a take, put in at a known place and strength."""

import io
import subprocess
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Final

import numpy as np
import soundfile
from scipy.signal import butter, fftconvolve, sosfiltfilt

from pneumen.core.rig.air import tail_of
from tests.material.sounds import RATE
from tests.material.takes import Take


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Faulty:
    """A take with one fault: where it lies, whether it is the whole file's, and what was put in."""

    samples: np.ndarray
    kind: str
    at_s: float
    until_s: float
    what: str
    whole: bool = False


def _sounding_at(take: Take, rng: np.random.Generator, within_s: float = 0.3) -> int:
    """Return a sample where the take sounds: among the louder half of its frames."""
    frame = 480
    power = np.square(take.samples[: len(take.samples) // frame * frame]).reshape(-1, frame).mean(axis=1)
    loud = np.flatnonzero(power > take.active_rms**2 / 8)
    inner = loud[(loud > within_s * 100) & (loud < len(power) - within_s * 100)]
    return int(rng.choice(inner)) * frame + int(rng.integers(0, frame))


def _pause_at(take: Take, rng: np.random.Generator) -> int:
    """Return a sample in a pause, away from what sounds."""
    gaps = [
        (one[1] + 0.45, two[0] - 0.5)
        for one, two in zip(take.sounding, take.sounding[1:], strict=False)
        if two[0] - one[1] > 1.2
    ]
    gaps += [(0.35, take.sounding[0][0] - 0.35)] if take.sounding[0][0] > 0.8 else []
    start_s, end_s = gaps[int(rng.integers(0, len(gaps)))] if gaps else (0.35, 0.6)
    return round(float(rng.uniform(start_s, max(end_s, start_s + 0.01))) * RATE)


def dropout(take: Take, rng: np.random.Generator) -> Faulty:
    sound, length = take.samples.copy(), int(rng.choice((32, 64, 128, 256, 512, 1024, 2048)))
    at = _sounding_at(take, rng)
    if rng.random() < 0.5:
        sound[at : at + length], what = 0.0, "zeroed"
    else:
        sound[at : at + length], what = sound[at - length : at], "repeated"
    return _told(sound, "dropout", at, length, f"{what} {length}")


def click(take: Take, rng: np.random.Generator) -> Faulty:
    sound, at = take.samples.copy(), _sounding_at(take, rng)
    sign = float(rng.choice((-1, 1)))
    if rng.random() < 0.6:
        near = np.abs(sound[at - 1200 : at + 1200]).max()
        size = max(float(rng.uniform(0.4, 1.5)) * near, 0.02)
        sound[at : at + int(rng.integers(1, 4))] += sign * size
        what = f"spike {size / near:.1f}"
    else:
        at = _pause_at(take, rng) if rng.random() < 0.5 else at
        near = max(np.abs(sound[at - 1200 : at + 1200]).max(), 0.02)
        length = round(0.02 * RATE)
        sound[at : at + length] += sign * float(rng.uniform(0.4, 1.0)) * near * np.linspace(1, 0, length)
        what = "step"
    return _told(np.clip(sound, -1, 1 - 2**-15), "click", at, 1, what)


def plosive(take: Take, rng: np.random.Generator) -> Faulty:
    """A blast of air at a word's beginning: a swing or noise, under 120 Hz."""
    start_s, _ = take.sounding[int(rng.integers(0, len(take.sounding)))]
    at = round(start_s * RATE)
    frame = 480
    power = np.square(take.samples[at : at + RATE // 2]).reshape(-1, frame).mean(axis=1)
    at += int(np.argmax(power > take.active_rms**2 / 30)) * frame  # where it is heard to begin
    return _blast(take, rng, "plosive", at, rng.uniform(-4, 6))


def thump(take: Take, rng: np.random.Generator) -> Faulty:
    return _blast(take, rng, "thump", _pause_at(take, rng), rng.uniform(-18, 0))


def _blast(take: Take, rng: np.random.Generator, kind: str, at: int, over_db: float) -> Faulty:
    length = round(float(rng.uniform(0.03, 0.09)) * RATE)
    time_s = np.arange(length) / RATE
    shape = int(rng.integers(0, 3))
    if shape == 0:
        blast = np.sin(2 * np.pi * float(rng.uniform(20, 60)) * time_s) * np.hanning(length)
    elif shape == 1:
        blast = np.hanning(length)
    else:
        noise = rng.standard_normal(length + 4 * RATE // 10)
        low = sosfiltfilt(butter(4, float(rng.uniform(60, 100)), fs=RATE, output="sos"), noise)
        blast = low[RATE // 5 : RATE // 5 + length] * np.hanning(length)
    blast = blast / np.abs(blast).max() * take.active_rms * 2**0.5 * 10 ** (over_db / 20)
    sound = take.samples.copy()
    room = min(length, len(sound) - at)
    sound[at : at + room] += blast[:room]
    return _told(np.clip(sound, -1, 1 - 2**-15), kind, at, length, f"shape {shape} {over_db:.0f} dB")


def sibilance(take: Take, rng: np.random.Generator) -> Faulty:
    """A sharp S laid into a word."""
    at, length = _sounding_at(take, rng), round(float(rng.uniform(0.07, 0.16)) * RATE)
    noise = rng.standard_normal(length + RATE // 5)
    hiss = sosfiltfilt(butter(4, (5000, 9500), "bandpass", fs=RATE, output="sos"), noise)[:length]
    hiss *= np.hanning(length) ** 0.5
    over_db = float(rng.uniform(4, 10))
    hiss *= take.active_rms / np.sqrt(np.square(hiss).mean()) * 10 ** (over_db / 20)
    sound = take.samples.copy()
    sound[at : at + length] = 0.3 * sound[at : at + length] + hiss[: len(sound) - at]
    top = np.abs(sound).max()
    return _told(sound / max(1.0, top / 0.98), "sibilance", at, length, f"{over_db:.0f} dB over the voice")


def hum(take: Take, rng: np.random.Generator) -> Faulty:
    mains = float(rng.choice((50.0, 60.0)))
    time_s = np.arange(len(take.samples)) / RATE
    wave = sum(
        10 ** (-float(rng.uniform(0, 12)) / 20) * np.sin(2 * np.pi * mains * each * time_s + rng.uniform(0, 6))
        for each in range(1, 7)
    )
    wave *= take.active_rms * 10 ** (-float(rng.uniform(25, 40)) / 20) / np.sqrt(np.square(wave).mean())
    return _whole(take.samples + wave, "hum", f"{mains:.0f} Hz")


def echo(take: Take, rng: np.random.Generator) -> Faulty:
    rt60_s, lead_db = float(rng.uniform(0.75, 1.8)), float(rng.uniform(-3, 6))
    tail = tail_of(rng, lead_db, rt60_s, RATE)
    sound = take.samples + fftconvolve(take.samples, tail)[: len(take.samples)]
    return _whole(sound / max(1.0, np.abs(sound).max() / 0.9), "echo", f"{rt60_s:.2f} s, {lead_db:.0f} dB")


def lossy(take: Take, rng: np.random.Generator) -> Faulty:
    """Through a lossy encoder and back: MP3 or Ogg Vorbis, as libsndfile writes them."""
    form, subtype = (("MP3", "MPEG_LAYER_III"), ("OGG", "VORBIS"))[int(rng.integers(0, 2))]
    level = float(rng.uniform(0.4, 0.8))  # 0 keeps most, 1 least
    coded = io.BytesIO()
    with soundfile.SoundFile(coded, "w", RATE, 1, subtype, format=form, compression_level=level) as file:
        file.write(take.samples)
    coded.seek(0)
    sound, _ = soundfile.read(coded)
    sound = sound[: len(take.samples)]
    return _whole(np.clip(sound, -1, 1 - 2**-15), "lossy", f"{form} {level:.1f}, {len(coded.getvalue()) // 1000} kB")


def lossy_by_ffmpeg(take: Take, rng: np.random.Generator) -> Faulty:
    """The same through ffmpeg's libmp3lame or its AAC, for the benchmark."""
    codec, rate = (("mp3", "128k"), ("mp3", "96k"), ("aac", "96k"), ("mp3", "160k"))[int(rng.integers(0, 4))]
    with tempfile.TemporaryDirectory() as folder:
        plain, coded, back = (
            Path(folder) / name for name in ("a.wav", f"b.{'mp3' if codec == 'mp3' else 'm4a'}", "c.wav")
        )
        soundfile.write(plain, take.samples, RATE, "PCM_24")
        quiet = ["ffmpeg", "-v", "error", "-y", "-i"]
        mono = rate if codec == "aac" else {"128k": "64k", "96k": "56k", "160k": "80k"}[rate]
        subprocess.run([*quiet, str(plain), "-b:a", mono, str(coded)], check=True)
        subprocess.run([*quiet, str(coded), "-c:a", "pcm_s24le", str(back)], check=True)
        sound, _ = soundfile.read(back)
    return _whole(np.clip(sound, -1, 1 - 2**-15), "lossy", f"{codec} {mono}")


def level_riding(take: Take, rng: np.random.Generator) -> Faulty:
    """An automatic level: fast down, slowly up again."""
    release_db_per_s, threshold = float(rng.uniform(6, 20)), take.active_rms * 0.35
    frame = 480
    frames = take.samples[: len(take.samples) // frame * frame].reshape(-1, frame)
    loud = np.abs(frames).max(axis=1)
    gain_db, now_db = np.empty(len(frames)), 0.0
    for number, peak in enumerate(loud):
        wanted = min(0.0, 20 * np.log10(threshold / max(peak, 1e-9)))
        now_db = max(wanted, now_db - 3.0) if wanted < now_db else min(wanted, now_db + release_db_per_s * 0.01)
        gain_db[number] = now_db
    smooth = np.interp(np.arange(len(take.samples)), np.arange(len(frames)) * frame + frame / 2, gain_db)
    sound = take.samples * 10 ** (smooth / 20)
    lift = 0.6 / np.abs(sound).max()
    return _whole(sound * lift, "level-riding", f"{release_db_per_s:.0f} dB/s")


def clipping(take: Take, rng: np.random.Generator) -> Faulty:
    over_db = float(rng.uniform(2, 6))
    top = np.abs(take.samples).max() / 10 ** (over_db / 20)
    over = np.abs(take.samples) >= top
    runs = np.lib.stride_tricks.sliding_window_view(over, 4).all(axis=1)
    at = int(np.argmax(runs)) if runs.any() else int(np.argmax(over))
    return _told(np.clip(take.samples, -top, top) * 0.999 / top, "clipping", at, 1, f"{over_db:.0f} dB")


def _told(samples: np.ndarray, kind: str, at: int, length: int, what: str) -> Faulty:
    return Faulty(samples=samples, kind=kind, at_s=at / RATE, until_s=(at + length) / RATE, what=what)


def _whole(samples: np.ndarray, kind: str, what: str) -> Faulty:
    return Faulty(samples=samples, kind=kind, at_s=0.0, until_s=len(samples) / RATE, what=what, whole=True)


INJECTORS: Final[dict[str, Callable[[Take, np.random.Generator], Faulty]]] = {
    "clipping": clipping,
    "dropout": dropout,
    "click": click,
    "plosive": plosive,
    "thump": thump,
    "sibilance": sibilance,
    "hum": hum,
    "echo": echo,
    "lossy": lossy,
    "level-riding": level_riding,
}
FOR_VOICES: Final = ("plosive", "sibilance")
