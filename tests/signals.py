"""Constructed signals and files the tests share."""

import io
import json
import tempfile
from contextlib import contextmanager
from pathlib import Path

import numpy as np
import soundfile

from pneumen.core.take import clipping_in, measure, open_recording

RATE = 48_000

SETUP = {
    "source": {"peak_db_spl": 108, "typical_db_spl": 94, "quiet_db_spl": 80, "at_m": 0.10},
    "distance_m": 0.20,
    "room": {"noise_dba": 32},
    "microphone": {
        "sensitivity_mv_per_pa": 20,
        "self_noise_dba": 16,
        "max_spl_db": 134,
        "impedance_ohm": 150,
        "pad_db": 0,
        "pattern": "omni",
    },
    "preamp": {
        "gain_db": 30,
        "gain_min_db": 0,
        "gain_max_db": 56,
        "ein_dbu": -128,
        "max_input_dbu": 9,
        "input_impedance_ohm": 3000,
        "pad_db": 0,
    },
    "converter": {"dynamic_range_db": 108},
}
USB_SETUP = {
    "source": SETUP["source"],
    "distance_m": 0.20,
    "room": {"noise_dba": 32},
    "microphone": {"full_scale_db_spl": 120, "self_noise_dba": 18, "gain_db": 0, "pattern": "cardioid"},
}
PLUGGED_SETUP = {
    "plug": {"peak_dbu": 0, "typical_dbu": -13, "quiet_dbu": -29, "output_ohm": 1000, "noise_dbu": -88},
    "preamp": {**SETUP["preamp"], "gain_db": 0, "input_impedance_ohm": 1_000_000},
    "converter": {"dynamic_range_db": 108},
}


def changed(setup, **pieces):
    """Return a deep copy of a setup with some pieces merged in (dicts) or replaced (anything else)."""
    copy = json.loads(json.dumps(setup))
    for name, value in pieces.items():
        if isinstance(value, dict) and isinstance(copy.get(name), dict):
            copy[name] |= value
        else:
            copy[name] = value
    return copy


def as_json(value):
    return json.dumps(value).encode()


def sine(frequency_hz, seconds, peak_dbfs=0.0, rate=RATE, phase_deg=0.0):
    time_s = np.arange(round(seconds * rate)) / rate
    return 10 ** (peak_dbfs / 20) * np.sin(2 * np.pi * frequency_hz * time_s + np.radians(phase_deg))


def noise(seconds, rms_dbfs, seed=1, rate=RATE):
    return 10 ** (rms_dbfs / 20) * np.random.default_rng(seed).standard_normal(round(seconds * rate))


def phrases(level_dbfs=-12.0, floor_dbfs=-75.0, count=3, rate=RATE):
    """Tones of 1 s with pauses of 1 s over a steady noise, ending in a pause."""
    gate = np.tile(np.concatenate([np.zeros(rate), np.hanning(rate) ** 0.1]), count)
    gate = np.concatenate([gate, np.zeros(rate)])
    tone = sine(440, len(gate) / rate, level_dbfs, rate)
    return gate * tone + noise(len(gate) / rate, floor_dbfs, rate=rate)


@contextmanager
def audio_file(samples, rate=RATE, name="take.wav", subtype="PCM_24", **options):
    """Write samples (one or several channels) to a file that is gone afterwards."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / name
        soundfile.write(path, samples, rate, subtype=subtype, **options)
        yield path


def measured(samples, rate=RATE, **options):
    """Measure samples by way of a file."""
    with audio_file(samples, rate, **options) as path, open_recording(path) as recording:
        return measure(recording)


def has_flat_tops(samples, bits=23):
    """Look for clipping alone, block by block as measure does: all that it measures beside takes ten times as long."""
    step = 2.0**-bits
    codes = np.round(np.clip(samples, -1, 1 - step) / step) * step
    return bool(clipping_in(codes[None], RATE, step))


def kinds(measurement):
    return [finding.kind for finding in measurement.findings]


def wav(samples=None, subtype="PCM_24", container="WAV", rate=RATE):
    buffer = io.BytesIO()
    samples = phrases(rate=rate) if samples is None else samples
    soundfile.write(buffer, np.asarray(samples), rate, subtype=subtype, format=container)
    return buffer.getvalue()
