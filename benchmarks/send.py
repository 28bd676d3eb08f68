"""Time a package of four-minute files beside ffmpeg doing the same conversions and its meters, one by one, in one run.

    PYTHONPATH=src .venv/bin/python benchmarks/send.py [FILES] [ROUNDS]

Half of the files are 24-bit mono, a quarter mono in two channels, a quarter at 44.1 kHz; the package is 24-bit, 48 kHz.
ffmpeg converts each and runs ebur128=peak=true,astats on it; it takes no checksum and proves nothing. Prints CPU
seconds and the ratio (aim: at most 1.0). Needs ffmpeg (Debian's package of that name).
"""

import json
import os
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import soundfile
import soxr

from pneumen.core.rig import EXAMPLE, scene_from_json, simulate

RATE, LENGTH_S = 48_000, 240
FFMPEG = ["ffmpeg", "-hide_banner", "-nostats", "-loglevel", "error", "-threads", "1", "-filter_threads", "1", "-y"]


def make_files(folder: Path, count: int) -> None:
    scene, _ = scene_from_json(EXAMPLE.encode())
    sung = simulate(scene).samples
    mono = np.tile(sung, LENGTH_S * RATE // len(sung) + 1)[: LENGTH_S * RATE]
    slower = soxr.resample(mono, RATE, 44_100)
    kinds = [(mono, RATE), (np.stack([mono, mono], axis=1), RATE), (mono, RATE), (slower, 44_100)]
    for number in range(count):
        samples, rate = kinds[number % len(kinds)]
        soundfile.write(folder / f"{number}.wav", samples, rate, "PCM_24")
    files = [{"name": f"Part {number}", "file": f"{number}.wav"} for number in range(count)]
    pack = {"song": "Benchmark", "rate_hz": RATE, "bits": 24, "length_s": LENGTH_S, "files": files}
    (folder / "pack.json").write_text(json.dumps(pack))


def cost(commands: list[list[str]]) -> float:
    """Run commands one after the other on one core; return their CPU seconds."""
    used_before = os.times()
    for command in commands:
        environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
        subprocess.run(
            ["taskset", "-c", "0", *command],
            check=True,
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
    used = os.times()
    return used.children_user + used.children_system - used_before.children_user - used_before.children_system


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    rounds = int(sys.argv[2]) if len(sys.argv) > 2 else 3
    if not shutil.which("ffmpeg"):
        sys.exit("ffmpeg is missing: install Debian's package ffmpeg")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        make_files(folder, count)
        ours, theirs = [], []
        for number in range(rounds):
            out = folder / f"out-{number}"
            began = time.monotonic()
            ours.append(cost([[sys.executable, "-m", "pneumen", "send", str(folder / "pack.json"), str(out)]]))
            waited = time.monotonic() - began
            shutil.rmtree(out)
            target = ["-ac", "1", "-ar", str(RATE), "-c:a", "pcm_s24le"]
            meters = ["-af", "ebur128=peak=true,astats", "-f", "null", "-"]
            commands = [
                [*FFMPEG, "-i", str(folder / f"{one}.wav"), *target, str(folder / "out.wav"), *meters]
                for one in range(count)
            ]
            theirs.append(cost(commands))
            print(f"send {ours[-1]:.1f} s ({waited:.1f} s waited), ffmpeg {theirs[-1]:.1f} s")
    mine, plain = statistics.median(ours), statistics.median(theirs)
    print(f"median of {rounds}: send {mine:.1f} s, ffmpeg {plain:.1f} s, ratio {mine / plain:.2f} (aim: at most 1.0)")


if __name__ == "__main__":
    main()
