"""Measuring: the files that are read and refused, and outlines of what is in them."""

import struct
import unittest
from unittest import mock

import numpy as np
import soundfile

from pneumen.core.errors import UnreadableFile
from pneumen.core.take import measure, open_recording
from tests.signals import RATE, audio_file, kinds, measured, noise, phrases, sine


class Files(unittest.TestCase):
    def test_formats(self):
        for name, subtype in (("a.wav", "PCM_16"), ("a.aiff", "PCM_24"), ("a.flac", "PCM_24"), ("a.ogg", "VORBIS")):
            with audio_file(sine(440, 1, -12), name=name, subtype=subtype) as path, open_recording(path) as recording:
                result = measure(recording)
                self.assertAlmostEqual(result.level.sample_peak_dbfs, -12, delta=0.2)
                self.assertAlmostEqual(result.format.duration_s, 1, 3)
                self.assertEqual(result.format.container, path.suffix[1:].upper())

    def test_rates_that_do_not_divide_into_frames(self):
        for rate in (8000, 11_025, 22_050, 192_000):
            result = measured(sine(440, 2.03, -12, rate), rate)
            self.assertAlmostEqual(result.level.active_rms_dbfs, -15.01, 1, rate)

    def test_cut_short_is_measured_as_far_as_it_goes(self):
        for name, subtype in (("a.wav", "PCM_24"), ("a.aiff", "PCM_16"), ("a.flac", "PCM_16"), ("a.ogg", "VORBIS")):
            signal = sine(440, 4, -12) + noise(4, -40)
            with audio_file(signal, name=name, subtype=subtype) as path:
                path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
                with open_recording(path) as recording:
                    result = measure(recording)
            self.assertTrue(result.format.truncated, name)
            self.assertAlmostEqual(result.format.duration_s, 2, delta=0.7, msg=name)
            self.assertAlmostEqual(result.level.sample_peak_dbfs, -12, delta=1.5)

    def test_damaged_files_are_measured_or_refused_never_a_surprise(self):
        rng = np.random.default_rng(4)
        signal = phrases(count=1)
        for name, subtype in (("a.wav", "PCM_24"), ("a.aiff", "PCM_16"), ("a.flac", "PCM_16"), ("a.ogg", "VORBIS")):
            with audio_file(signal, name=name, subtype=subtype) as path:
                whole = path.read_bytes()
                for number in range(24):
                    damaged = bytearray(whole[: int(len(whole) * rng.random() ** 2)] if number < 8 else whole)
                    for place in rng.integers(0, max(min(len(damaged), 200 if number < 16 else len(damaged)), 1), 4):
                        if damaged:
                            damaged[place] = int(rng.integers(256))
                    path.write_bytes(damaged)
                    try:
                        with open_recording(path) as recording:
                            self.assertGreater(measure(recording).format.duration_s, 0)
                    except UnreadableFile as refused:
                        self.assertIn(";", str(refused))

    def test_coarse_codes_are_not_clipping(self):
        for subtype in ("ULAW", "ALAW", "PCM_U8"):
            self.assertNotIn("clipping", kinds(measured(phrases(-6), subtype=subtype)), subtype)

    def test_a_whole_file_is_not_called_cut_short(self):
        for name, subtype in (("a.wav", "PCM_24"), ("a.aiff", "PCM_16"), ("a.flac", "PCM_16"), ("a.ogg", "VORBIS")):
            with audio_file(sine(440, 1, -12), name=name, subtype=subtype) as path, open_recording(path) as recording:
                self.assertFalse(measure(recording).format.truncated, name)

    def test_bad_files_say_what_is_wrong_and_what_would_be_right(self):
        with audio_file(sine(440, 0.1)) as path:
            whole, folder = path.read_bytes(), path.parent
            broken = sine(440, 1, -12)
            broken[100] = np.nan
            soundfile.write(folder / "nan.wav", broken, RATE, subtype="FLOAT")
            soundfile.write(folder / "many.wav", np.zeros((100, 64)), RATE)
            soundfile.write(folder / "none.wav", np.zeros(0), RATE)
            soundfile.write(folder / "slow.wav", np.zeros(100), 4000)
            for name, content in (("empty.wav", b""), ("text.wav", b"hello there"), ("head.wav", whole[:20])):
                (folder / name).write_bytes(content)
            (folder / "phone.m4a").write_bytes(b"\0\0\0\x20ftypM4A " + bytes(100))
            cases = (
                ("nan.wav", "not a number"),
                ("many.wav", "64 channels.*1 to 8"),
                ("none.wav", "no samples"),
                ("slow.wav", "4000 Hz.*between"),
                ("empty.wav", "is empty"),
                ("text.wav", "not a recording.*WAV, AIFF or FLAC"),
                ("head.wav", "header is damaged"),
                ("phone.m4a", "M4A.*convert it"),
                ("absent.wav", "no such file"),
                (".", "directory"),
            )
            for name, message in cases:
                with self.subTest(name), self.assertRaisesRegex(UnreadableFile, f"(?i){message}"):
                    with open_recording(folder / name) as recording:
                        measure(recording)


class Unclosed(unittest.TestCase):
    """A recorder whose battery died: the header tells of no samples, the sound is there."""

    def emptied(self, path, **over):
        """Write the sizes of a WAV's header over, as a recorder leaves them that never closed the file."""
        content = bytearray(path.read_bytes())
        content[4:8] = struct.pack("<I", over.get("riff", 0))
        at = content.index(b"data")
        content[at + 4 : at + 8] = struct.pack("<I", over.get("data", 0))
        path.write_bytes(content)

    def test_it_is_read_to_the_end_of_the_file_and_told_as_cut_short(self):
        for subtype in ("PCM_16", "PCM_24", "FLOAT"):
            with audio_file(phrases(), subtype=subtype) as path:
                with open_recording(path) as whole:
                    wanted = measure(whole)
                self.emptied(path)
                with open_recording(path) as recording:
                    found = measure(recording)
            self.assertTrue(found.format.truncated)
            self.assertEqual(found.format.duration_s, wanted.format.duration_s)
            self.assertEqual(found.level.sample_peak_dbfs, wanted.level.sample_peak_dbfs)

    def test_a_file_that_was_closed_without_a_sample_holds_none(self):
        with audio_file(np.zeros((0, 1))) as path:
            path.write_bytes(path.read_bytes() + b"LIST" + struct.pack("<I", 4) + b"INFO")
            with self.assertRaisesRegex(UnreadableFile, "holds no samples"), open_recording(path):
                pass

    def test_scribble_behind_a_header_is_refused_or_read_never_an_error(self):
        for tail in (b"", b"x", b"\0" * 5, b"data" * 3):
            with audio_file(np.zeros((0, 1))) as path:
                path.write_bytes(path.read_bytes() + tail)
                try:
                    with open_recording(path) as recording:
                        measure(recording)
                except UnreadableFile:
                    pass


class TheLoudestChannel(unittest.TestCase):
    def loudest(self, samples, longest_s=60.0, **options):
        with audio_file(samples, **options) as path, open_recording(path) as recording:
            return recording.loudest_channel(longest_s)

    def test_it_is_the_one_with_most_energy_without_its_mean(self):
        quiet, loud = sine(440, 1.0, -30), sine(220, 1.0, -6)
        found = self.loudest(np.column_stack([quiet + 0.5, loud + 0.1]), subtype="DOUBLE")
        np.testing.assert_allclose(found, loud - loud.mean(), atol=1e-9)

    def test_as_far_as_asked(self):
        self.assertEqual(len(self.loudest(sine(440, 3.0, -6), longest_s=1.25)), round(1.25 * RATE))

    def test_what_would_take_too_much_is_refused_before_it_is_decoded(self):
        samples = np.zeros((RATE, 2), dtype="int16")
        with mock.patch("pneumen.core.take.recording.MOST_SAMPLES", RATE // 2):
            with self.assertRaisesRegex(UnreadableFile, "too much to look at as a whole; cut the recording"):
                self.loudest(samples, subtype="PCM_16")
            self.assertEqual(len(self.loudest(samples, longest_s=0.4, subtype="PCM_16")), round(0.4 * RATE))

    def test_samples_beyond_all_sound_are_refused_by_their_time(self):
        for value, told in ((1e30, "lies over 1e"), (np.inf, "is not a number"), (np.nan, "is not a number")):
            samples = sine(440, 1.0, -6)
            samples[RATE // 2] = value
            with self.assertRaisesRegex(UnreadableFile, f"the sample at 0.500 s {told}"):
                self.loudest(samples, subtype="DOUBLE")
