"""Time a four-minute comp of eight takes beside libsndfile (soundfile) merely reading and writing the same files.

    PYTHONPATH=src .venv/bin/python benchmarks/comp.py [ROUNDS]

Prints CPU seconds of the core's rendering (aim: under 2 s) with 60 phrases, matched levels and a search for seams, and
the ratio to reading the eight takes and writing one.
"""

import statistics
import sys
import tempfile
import time
from contextlib import ExitStack
from pathlib import Path

import numpy as np
import soundfile

from pneumen.core.comp import BITS, Comp, CompPhrase, CompTake, join_takes
from pneumen.core.rig import EXAMPLE, scene_from_json, simulate
from pneumen.core.take import LaidTake, PcmFile, codes_of, open_recording

RATE, LENGTH_S, TAKES, PHRASES = 48_000, 240, 8, 60


def make_takes(folder: Path) -> None:
    """Write sung takes of the simulated performer, each repeated to length and a little apart."""
    scene, _ = scene_from_json(EXAMPLE.encode())
    sung = simulate(scene).samples
    samples = np.tile(sung, LENGTH_S * RATE // len(sung) + 2)
    for number in range(TAKES):
        start = number * 4800
        soundfile.write(folder / f"{number}.wav", samples[start : start + LENGTH_S * RATE], RATE, "PCM_24")


def comp_of() -> Comp:
    each_s = LENGTH_S / PHRASES
    return Comp(
        rate_hz=RATE,
        length_s=LENGTH_S,
        match_levels=True,
        seam_search_ms=100,
        takes={str(number): CompTake(file=f"{number}.wav") for number in range(TAKES)},
        phrases=tuple(
            CompPhrase(take=str(number * 5 % TAKES), start_s=number * each_s, end_s=(number + 1) * each_s)
            for number in range(PHRASES)
        ),
    )


def rendered(folder: Path, comp: Comp) -> float:
    start = time.process_time()
    with ExitStack() as opened:
        sources = {
            name: LaidTake(opened.enter_context(open_recording(folder / take.file)), rate_hz=RATE)
            for name, take in comp.takes.items()
        }
        joined = join_takes(comp, sources)
    with PcmFile(folder / "out.wav", sample_rate_hz=RATE, channels=1, bits=BITS) as file:
        file.write(codes_of(joined.samples, BITS))
    return time.process_time() - start


def only_read(folder: Path) -> float:
    start = time.process_time()
    for number in range(TAKES):
        samples, _ = soundfile.read(folder / f"{number}.wav")
    soundfile.write(folder / "copy.wav", samples, RATE, "PCM_24")
    return time.process_time() - start


def main() -> None:
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 5
    with tempfile.TemporaryDirectory() as name:
        folder, comp = Path(name), comp_of()
        make_takes(folder)
        ours, theirs = [], []
        for _ in range(rounds):
            ours.append(rendered(folder, comp))
            theirs.append(only_read(folder))
            print(f"comp {ours[-1]:.2f} s, soundfile {theirs[-1]:.2f} s")
    mine, plain = statistics.median(ours), statistics.median(theirs)
    print(f"median: comp {mine:.2f} s (aim 2.0), soundfile {plain:.2f} s, ratio {mine / plain:.2f}")


if __name__ == "__main__":
    main()
