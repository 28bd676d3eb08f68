"""One file that holds several passes of a song: where each begins and ends."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from pneumen.core.take.outline import PeakTrace

SOUNDS_DB: Final = 30.0
"""Under the loudest so far, and what sounds is the room."""
GAP_S: Final = 4.0
"""Passes are told apart by so long a pause; no song that is sung pauses as long (estimate)."""
LEAST_S: Final = 8.0
AROUND_S: Final = 1.0
ALIKE: Final = 0.6
"""Passes are about equally long: a shorter one has at least that share of the longest, or it is a false start."""
STEP_S: Final = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class Pass:
    """One pass: from and to in the file, with the silence around it that belongs to it."""

    start_s: float
    end_s: float


def passes_in(trace: PeakTrace) -> tuple[Pass, ...]:
    """Return the passes of a file; none where it holds one only, or nothing that looks like several.

    A false start in between belongs to no pass. Instruments that are silent for long inside one song may be taken for
    several passes: so it is offered, and never done by itself.
    """
    width = max(1, round(STEP_S / trace.seconds_per_column))
    codes = np.frombuffer(trace.peaks, np.uint8)
    whole = len(codes) // width * width
    if not whole:
        return ()
    step_s = width * trace.seconds_per_column
    levels = codes[:whole].reshape(-1, width).max(axis=1) / 2
    sounds = levels > float(np.quantile(levels, 0.99)) - SOUNDS_DB
    edges = np.flatnonzero(np.diff(np.concatenate([[0], sounds.astype(np.int8), [0]])))
    runs: list[list[int]] = []
    for first, last in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        if runs and (first - runs[-1][1]) * step_s < GAP_S:
            runs[-1][1] = last
        else:
            runs.append([first, last])
    long_enough = [run for run in runs if (run[1] - run[0]) * step_s >= LEAST_S]
    longest = max((last - first for first, last in long_enough), default=0)
    kept = [run for run in long_enough if run[1] - run[0] >= ALIKE * longest]
    if len(kept) < 2:
        return ()
    end_s = whole * trace.seconds_per_column
    return tuple(
        Pass(start_s=max(0.0, first * step_s - AROUND_S), end_s=min(end_s, last * step_s + 2 * AROUND_S))
        for first, last in kept
    )
