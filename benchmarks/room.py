"""The map of room sound beside pyroomacoustics doing the same points to the same order, in one run.

    PYTHONPATH=src:. .venv/bin/python benchmarks/room.py [cells]

Ours: for a singer at each point of a grid, the first reflections to order 3 in six octaves with the microphone's
pattern, and the tail. pyroomacoustics: the image sources to order 3 for each of those points (one band, no pattern,
no tail).
"""

import statistics
import sys
import time
import warnings

import numpy as np

from pneumen.core.rig import simulate_clap
from pneumen.core.room import MATERIALS, Box, clap_of, room_map
from pneumen.core.room.box import WALLS

SIZE = (4.2, 3.1, 2.4)
RATE = 48_000


def ours(box: Box, cells: int) -> float:
    started = time.perf_counter()
    room_map(
        box,
        mouth_m=1.5,
        microphone_m=1.5,
        distance_m=0.2,
        facing=(0.0, 1.0),
        pattern="cardioid",
        source_factor=1.6,
        cells=cells,
    )
    return time.perf_counter() - started


def theirs(cells: int) -> float:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import pyroomacoustics

    width, depth, _ = SIZE
    steps = (np.arange(cells) + 0.5) / cells
    points = [(x * width, y * (depth - 0.25)) for y in steps for x in steps]
    started = time.perf_counter()
    for x, y in points:
        room = pyroomacoustics.ShoeBox(
            SIZE, fs=RATE, materials=pyroomacoustics.Material(0.1), max_order=3, air_absorption=False
        )
        room.add_source((x, y, 1.5))
        room.add_microphone((x, y + 0.2, 1.5))
        room.image_source_model()
    return time.perf_counter() - started


def main() -> None:
    cells = int(sys.argv[1]) if len(sys.argv) > 1 else 40
    box = Box(size_m=SIZE, surfaces=dict.fromkeys(WALLS, MATERIALS["plaster"].absorption))
    ours(box, cells)
    mine = statistics.median(ours(box, cells) for _ in range(9))
    other = theirs(cells)
    print(f"{cells} x {cells} points, order 3: ours {1000 * mine:.1f} ms (six bands, pattern, tail)")
    print(f"  pyroomacoustics {1000 * other:.1f} ms (one band), ratio {mine / other:.3f}")
    made = simulate_clap(box, (1.5, 1.2, 1.4), (1.7, 1.3, 1.6))
    started = time.perf_counter()
    clap_of(made, RATE)
    took, length_s = time.perf_counter() - started, len(made) / RATE
    print(f"clap: {length_s:.1f} s read in {1000 * took:.0f} ms, {length_s / took:.0f} times faster than real time")


if __name__ == "__main__":
    main()
