"""24-bit WAV files read straight, held to libsndfile by way of soundfile."""

import struct
import tempfile
import unittest
from pathlib import Path

import numpy as np
import soundfile

from pneumen.core.take.recording import open_recording
from pneumen.core.take.wave24 import Wave24

RATE_HZ = 48_000


def written(folder: str, samples: np.ndarray, kind: str = "WAV") -> Path:
    path = Path(folder) / f"{kind}.wav"
    soundfile.write(path, samples, RATE_HZ, "PCM_24", format=kind)
    return path


class TheSamples(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = self.enterContext(tempfile.TemporaryDirectory())
        self.samples = np.random.default_rng(24).uniform(-1, 1, (5000, 2))
        self.samples[:3] = [[-1, 1 - 2**-23], [0, -(2**-23)], [2**-23, 0.5]]

    def test_are_those_that_libsndfile_reads(self) -> None:
        for kind in ("WAV", "WAVEX"):
            for channels in (1, 2):
                path = written(self.folder, self.samples[:, :channels], kind)
                told, _ = soundfile.read(path, always_2d=True)
                wave = Wave24.of(path, len(told), channels)
                assert wave is not None
                self.addCleanup(wave.close)
                pieces = [wave.read(frames) for frames in (1, 700, 4000, 900)]
                self.assertEqual([piece.shape[1] for piece in pieces], [1, 700, 4000, 299])
                np.testing.assert_array_equal(np.hstack(pieces), told.T)

    def test_are_found_from_any_frame_on(self) -> None:
        path = written(self.folder, self.samples)
        with open_recording(path) as recording:
            self.assertIsNotNone(recording._wave)
            for start, stop in ((4000, 4100), (0, 10), (4990, 5010), (6000, 6100)):
                told, _ = soundfile.read(path, start=min(start, 5000), stop=min(stop, 5000), always_2d=True)
                np.testing.assert_array_equal(recording.stretches(start, stop), told.T)

    def test_are_found_behind_chunks_of_odd_length(self) -> None:
        path = written(self.folder, self.samples)
        plain = path.read_bytes()
        at = plain.index(b"data")
        more = b"junk" + struct.pack("<I", 5) + b"12345\0"
        path.write_bytes(b"RIFF" + struct.pack("<I", len(plain) + len(more) - 8) + plain[8:at] + more + plain[at:])
        with open_recording(path) as recording:
            self.assertIsNotNone(recording._wave)
            np.testing.assert_array_equal(recording.stretches(0, 5000), soundfile.read(path)[0].T)

    def test_of_a_file_cut_short_are_those_that_are_there(self) -> None:
        path = written(self.folder, self.samples)
        path.write_bytes(path.read_bytes()[:-3001])
        with open_recording(path) as recording:
            self.assertTrue(recording.truncated)
            found = np.hstack(list(recording.blocks(iter((3000, 5000)))))
        np.testing.assert_array_equal(found, soundfile.read(path)[0].T)

    def test_are_left_to_libsndfile_where_they_are_not_plain(self) -> None:
        path = written(self.folder, self.samples)
        self.assertIsNone(Wave24.of(path, 5001, 2))
        path.write_bytes(path.read_bytes().replace(b"WAVE", b"WAVX", 1))
        self.assertIsNone(Wave24.of(path, 5000, 2))
        soundfile.write(path, self.samples, RATE_HZ, "PCM_16")
        with open_recording(path) as recording:
            self.assertIsNone(recording._wave)

    def test_stay_when_the_file_grows_while_it_is_read(self) -> None:
        path = written(self.folder, self.samples)
        with open_recording(path) as recording:
            first = recording.stretches(0, 1000)
            with path.open("ab") as file:
                file.write(b"more" * 100)
            np.testing.assert_array_equal(recording.stretches(0, 1000), first)
            self.assertEqual(recording.stretches(4000, 9000).shape, (2, 1000))
