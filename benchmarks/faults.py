"""How many faults `measure` finds, and how often it raises a false alarm, on takes of many kinds.

    PYTHONPATH=src:. .venv/bin/python benchmarks/faults.py [known|other] [SEEDS]

Takes of tests/material are measured as they are and with one fault each. "known" are the kinds whose seeds 1 and 2
limits were chosen on; "other" are voices and instruments that were set aside. Needs Debian's alsa-utils, espeak-ng,
fluidsynth, timgm6mb-soundfont and ffmpeg.
"""

import multiprocessing
import sys
import tempfile
import zlib
from collections import Counter
from pathlib import Path

import numpy as np
import soundfile
from tests.material.faults import FOR_VOICES, INJECTORS, Faulty, lossy_by_ffmpeg
from tests.material.sounds import RATE
from tests.material.takes import KINDS, OTHER_KINDS, clean_take

from pneumen.core.take import Measurement, measure, open_recording

NEAR_S = 0.05
ALL_INJECTORS = INJECTORS | {"lossy (ffmpeg)": lossy_by_ffmpeg}


def measured(samples: np.ndarray) -> Measurement:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "take.wav"
        soundfile.write(path, samples, RATE, "PCM_24")
        with open_recording(path) as recording:
            return measure(recording)


def is_found(found: Measurement, fault: Faulty) -> bool:
    """Return whether a fault is told within 50 ms of where it was put in, or at all where it is the whole file's."""
    same = [one for one in found.findings if one.kind == fault.kind]
    if fault.whole:
        return bool(same)
    return any(one.start_s - NEAR_S <= fault.until_s and one.end_s + NEAR_S >= fault.at_s for one in same)


def tried(case: tuple[str, int]) -> list[tuple[str, str, str]]:
    """Return (kind of fault, what came of it, what it was) for one take and its faults."""
    kind, seed = case
    take = clean_take(kind, seed)
    clean = measured(take.samples)
    said = ", ".join(sorted({f"{one.kind} ({one.verdict})" for one in clean.findings}))
    results = [("clean", "alarm" if said else "clear", f"{take.what}: {said}")]
    rng = np.random.default_rng([seed, 77, zlib.crc32(kind.encode())])
    for name, put_in in ALL_INJECTORS.items():
        if name in FOR_VOICES and not take.voice:
            continue
        fault = put_in(take, rng)
        found = measured(fault.samples)
        cannot_tell = any(one.kind == fault.kind for one in found.not_checked)
        result = "found" if is_found(found, fault) else "cannot tell" if cannot_tell else "missed"
        results.append((name, result, f"{take.what}: {fault.what}"))
    return results


def main() -> None:
    kinds = OTHER_KINDS if sys.argv[1:2] == ["other"] else KINDS
    seeds = [int(each) for each in sys.argv[2:]] or [101, 102]
    with multiprocessing.Pool() as pool:
        tried_all = pool.map(tried, [(kind, seed) for kind in kinds for seed in seeds], chunksize=2)
        results = [one for each in tried_all for one in each]
    clean = [one for one in results if one[0] == "clean"]
    alarms = [one[2] for one in clean if one[1] == "alarm"]
    print(f"clean takes: {len(clean)}, false alarms: {len(alarms)}")
    for alarm in alarms:
        print(f"  {alarm}")
    for name in ALL_INJECTORS:
        counts = Counter(one[1] for one in results if one[0] == name)
        told = counts["found"] + counts["missed"]
        share = f"{100 * counts['found'] / told:.0f} %" if told else "none could be told"
        print(f"{name:14} found {counts['found']} of {told} ({share}), cannot tell {counts['cannot tell']}")
        for missed in [one[2] for one in results if one[0] == name and one[1] == "missed"]:
            print(f"  {missed}")


if __name__ == "__main__":
    main()
