"""Time `measure` beside ffmpeg's ebur128 and astats, on one core each and on all there are, in one run.

    PYTHONPATH=src .venv/bin/python benchmarks/measure.py [MINUTES] [ROUNDS]

Prints CPU seconds (user and system) of each round, the ratio of the medians, and peak memory. Needs ffmpeg
(Debian's package of that name).
"""

import os
import shutil
import statistics
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import soundfile

from pneumen.core.rig import EXAMPLE, scene_from_json, simulate

RATE = 48_000
FFMPEG = ["ffmpeg", "-hide_banner", "-nostats"]
FILTERS = ["-af", "ebur128=peak=true,astats", "-f", "null", "-"]


def make_take(path: Path, minutes: int) -> None:
    """Write a sung take of the simulated performer, repeated to length: 24-bit mono at 48 kHz."""
    scene, _ = scene_from_json(EXAMPLE.encode())
    samples = simulate(scene).samples
    with soundfile.SoundFile(path, "w", RATE, 1, "PCM_24") as file:
        left = minutes * 60 * RATE
        while left > 0:
            file.write(samples[:left] * np.float64(0.9))
            left -= len(samples)


def cost(command: list[str], *, one_core: bool) -> tuple[float, float, float]:
    """Run a command, on one core if so asked; return its CPU seconds, those one waits, and peak memory in MB."""
    environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
    started = time.perf_counter()
    process = os.fork()
    if process == 0:
        if one_core:
            os.sched_setaffinity(0, {min(os.sched_getaffinity(0))})
        sink = os.open(os.devnull, os.O_WRONLY)
        os.dup2(sink, 1)
        os.dup2(sink, 2)
        os.execvpe(command[0], command, environment)
    _, status, used = os.wait4(process, 0)
    if status:
        sys.exit(f"{command[0]} failed")
    return used.ru_utime + used.ru_stime, time.perf_counter() - started, used.ru_maxrss / 1024


def main() -> None:
    minutes = int(sys.argv[1]) if len(sys.argv) > 1 else 10
    rounds = int(sys.argv[2]) if len(sys.argv) > 2 else 5
    if not shutil.which("ffmpeg"):
        sys.exit("ffmpeg is missing: install Debian's package ffmpeg")
    with tempfile.TemporaryDirectory() as folder:
        take = Path(folder) / "take.wav"
        make_take(take, minutes)
        commands = {
            "pneumen": [sys.executable, "-m", "pneumen", "measure", str(take)],
            "ffmpeg": [*FFMPEG, "-i", str(take), *FILTERS],
        }
        spent = {name: {"CPU time on one core": [], "time to wait with all cores": []} for name in commands}
        memory = dict.fromkeys(commands, 0.0)
        for number in range(rounds):
            for name, command in commands.items():
                on_one, _, megabytes = cost(command, one_core=True)
                _, waited, _ = cost(command, one_core=False)
                for times, seconds in zip(spent[name].values(), (on_one, waited), strict=True):
                    times.append(seconds)
                memory[name] = max(memory[name], megabytes)
            told = (f"{name} {times[-1]:.2f} s" for name, one in spent.items() for times in one.values())
            print(f"round {number + 1}: {', '.join(told)}")
    print(f"{minutes} min of 48 kHz 24-bit mono, medians of {rounds}")
    for what in spent["ffmpeg"]:
        own, other = (statistics.median(spent[name][what]) for name in commands)
        print(f"  {what}: pneumen {own:.2f} s, ffmpeg {other:.2f} s, ratio {own / other:.2f} (aim: at most 1.0)")
    print(", ".join(f"  peak memory of {name} {megabytes:.0f} MB" for name, megabytes in memory.items()))


if __name__ == "__main__":
    main()
