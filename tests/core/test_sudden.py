"""What happens within a few samples of a long file, looked for by a process beside."""

import os
import tempfile
import unittest
from functools import partial
from pathlib import Path

import numpy as np
import soundfile

from pneumen.core.errors import UnreadableFile
from pneumen.core.take import measure, open_recording
from pneumen.core.take.sudden import LONG_S

RATE_HZ = 8000


def long_take():
    """Notes and pauses on two sides, clicks and a ceiling in one, samples lost in the other."""
    draw = np.random.default_rng(7)
    time_s = np.arange(round((LONG_S + 5) * RATE_HZ)) / RATE_HZ
    notes = 0.3 * np.sin(2 * np.pi * 330 * time_s) * (np.sin(2 * np.pi * 0.4 * time_s) > 0)
    sides = notes * np.array([[1.0], [0.7]]) + 1e-4 * draw.standard_normal((2, len(time_s)))
    sides[0, [9 * RATE_HZ, 21 * RATE_HZ + 11]] += 0.5
    sides[0, 30 * RATE_HZ : 33 * RATE_HZ] = np.clip(3 * sides[0, 30 * RATE_HZ : 33 * RATE_HZ], -0.6, 0.6)
    sides[1, 12 * RATE_HZ + 500 : 12 * RATE_HZ + 600] = 0.0
    return sides


def children():
    """Return the processes this one has started and not let go of (Linux)."""
    return "".join(told.read_text() for told in Path("/proc/self/task").glob("*/children"))


class Beside(unittest.TestCase):
    def written(self, sides, subtype="FLOAT"):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "long.wav"
        soundfile.write(path, sides.T, RATE_HZ, subtype=subtype)
        return path

    def measured(self, path, again=None):
        with open_recording(path) as recording:
            return measure(recording, again=again)

    def test_two_processes_find_what_one_finds(self):
        path = self.written(long_take(), "PCM_24")
        before, alone = children(), self.measured(path)
        self.assertLessEqual({"click", "dropout", "clipping"}, {one.kind for one in alone.findings})
        self.assertEqual(self.measured(path, partial(open_recording, path)), alone)
        self.assertEqual(children(), before)

    def test_where_the_other_comes_to_nothing_this_one_looks_itself(self):
        path, here = self.written(long_take(), "PCM_24"), os.getpid()
        dies = lambda: open_recording(path) if os.getpid() == here else os._exit(1)  # noqa: E731
        self.assertEqual(self.measured(path, dies), self.measured(path))

    def test_a_file_that_is_refused_leaves_no_process_behind(self):
        sides = long_take()
        sides[1, -10] = np.nan
        path, before = self.written(sides), children()
        with self.assertRaises(UnreadableFile):
            self.measured(path, partial(open_recording, path))
        self.assertEqual(children(), before)
