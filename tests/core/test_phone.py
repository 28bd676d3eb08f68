"""What phones and browsers record, and what files tell of themselves: decoded, stamped, named."""

import struct
import unittest
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory

import av
import numpy as np
import soundfile

from pneumen.core.errors import UnreadableFile
from pneumen.core.take import NamedPart, match_of, measure, open_recording, stamp_of
from tests.signals import RATE, audio_file, kinds, phrases, sine, wav

CODECS = (
    ("take.m4a", "aac", "ipod", "M4A"),
    ("take.aac", "aac", "adts", "AAC"),
    ("take.webm", "libopus", "webm", "WEBM"),
)


def encoded(path, samples, codec, muxer, rate=RATE):
    """Write a mono recording as a phone does."""
    with av.open(str(path), "w", format=muxer) as target:
        stream = target.add_stream(codec, rate=rate)
        stream.layout = "mono"
        frame = av.AudioFrame.from_ndarray(samples.astype(np.float32)[None], format="flt", layout="mono")
        frame.sample_rate = rate
        context = stream.codec_context
        resampler = av.AudioResampler(
            format=context.format.name, layout="mono", rate=rate, frame_size=context.frame_size or 1024
        )
        for ready in (*resampler.resample(frame), *resampler.resample(None)):
            for packet in stream.encode(ready):
                target.mux(packet)
        for packet in stream.encode(None):
            target.mux(packet)


def broadcast(samples, date=b"2026-11-28", time=b"19:05:07", reference=0):
    """Return a WAV with the chunk of EBU Tech 3285 before its sound."""
    plain = wav(samples)
    chunk = bytes(320) + date + time + struct.pack("<II", reference & 0xFFFFFFFF, reference >> 32) + bytes(256)
    told = b"bext" + struct.pack("<I", len(chunk)) + chunk
    whole = plain[:12] + told + plain[12:]
    return whole[:4] + struct.pack("<I", len(whole) - 8) + whole[8:]


class Phones(unittest.TestCase):
    def test_what_is_encoded_is_measured_and_told_as_lossy(self):
        for name, codec, muxer, container in CODECS:
            with TemporaryDirectory() as folder, self.subTest(name):
                path = Path(folder) / name
                encoded(path, phrases(-10, -80), codec, muxer)
                with open_recording(path) as recording:
                    found = measure(recording)
                self.assertEqual((found.format.container, found.format.channels), (container, 1))
                self.assertAlmostEqual(found.level.sample_peak_dbfs, -10, delta=0.5)
                self.assertIn("lossy", kinds(found))

    def test_what_leaves_nothing_out_has_every_sample(self):
        with TemporaryDirectory() as folder:
            path, samples = Path(folder) / "take.m4a", np.round(sine(440, 2, -12) * 2**15) / 2**15
            encoded(path, samples, "alac", "ipod")
            with open_recording(path) as recording:
                self.assertEqual(recording.encoding, "ALAC")
                self.assertFalse(recording.is_lossy)
                heard = recording.stretches(0, recording.frames)[0]
        self.assertLess(np.abs(heard[: len(samples)] - samples).max(), 1e-6)

    def test_what_cannot_be_decoded_says_what_would_be_right(self):
        for content in (b"\0\0\0\x20ftypM4A " + bytes(400), b"#!AMR\n" + bytes(3), b"\x1a\x45\xdf\xa3" + bytes(90)):
            with TemporaryDirectory() as folder:
                path = Path(folder) / "take"
                path.write_bytes(content)
                with self.assertRaisesRegex(UnreadableFile, "convert it"):
                    open_recording(path)

    def test_a_recording_cut_off_is_heard_as_far_as_it_goes(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "take.aac"
            encoded(path, phrases(-10, -80), "aac", "adts")
            path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
            with open_recording(path) as recording:
                self.assertLess(recording.frames, 4.5 * RATE)
                self.assertGreater(recording.frames, 2 * RATE)

    def test_a_film_without_sound_is_none(self):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "film.mp4"
            with av.open(str(path), "w") as target:
                stream = target.add_stream("mpeg4", rate=10)
                stream.width = stream.height = 64
                for packet in stream.encode(av.VideoFrame(64, 64, "yuv420p")):
                    target.mux(packet)
                for packet in stream.encode(None):
                    target.mux(packet)
            with self.assertRaisesRegex(UnreadableFile, "holds no sound"):
                open_recording(path)


class Stamps(unittest.TestCase):
    def stamp(self, content):
        with TemporaryDirectory() as folder:
            path = Path(folder) / "take.wav"
            path.write_bytes(content)
            return stamp_of(path)

    def test_date_time_and_reference(self):
        found = self.stamp(broadcast(sine(440, 1), reference=96_000))
        self.assertEqual((found.begun_at, found.reference_samples), (datetime(2026, 11, 28, 19, 5, 7), 96_000))
        late = self.stamp(broadcast(sine(440, 1), date=b"2026:01:02", time=b"03-04-05", reference=2**33))
        self.assertEqual((late.begun_at, late.reference_samples), (datetime(2026, 1, 2, 3, 4, 5), 2**33))

    def test_the_sound_is_still_read(self):
        with audio_file(sine(440, 1)) as path:
            path.write_bytes(broadcast(sine(440, 1, -6)))
            self.assertEqual(soundfile.info(path).frames, RATE)

    def test_nonsense_tells_no_time(self):
        self.assertIsNone(self.stamp(broadcast(sine(440, 1), date=b"\xff" * 10)).begun_at)
        self.assertIsNone(self.stamp(broadcast(sine(440, 1), date=b"2026-99-99")).begun_at)
        for content in (wav(sine(440, 1)), b"RIFF", b"", b"RIFF\0\0\0\0WAVEbext\xff\xff\xff\xff", bytes(500)):
            self.assertIsNone(self.stamp(content))


class Names(unittest.TestCase):
    parts = (
        NamedPart(
            name="Voice", others=("voice-pop", "singer"), sections=("Verse 1", "Verse 2", "Chorus", "Last chorus")
        ),
        NamedPart(name="Lever harp", others=("harpist",)),
        NamedPart(name="Flûte à bec"),
    )

    def test_words_tell_part_and_section(self):
        for name, expected in (
            ("voice chorus 2.wav", (0, "Chorus")),
            ("03-Voice_LastChorus-take04.flac", (0, "Last chorus")),
            ("LeverHarp_07.aif", (1, "")),
            ("singer verse 02 b.wav", (0, "Verse 2")),
            ("flute a bec 3.wav", (2, "")),
            ("Take 12.wav", (None, "")),
            ("lever.wav", (None, "")),
            (".wav", (None, "")),
        ):
            found = match_of(name, self.parts)
            self.assertEqual((found.part, found.section), expected, name)

    def test_a_name_that_tells_of_two_tells_of_none(self):
        two = (NamedPart(name="Piano"), NamedPart(name="Cello"))
        self.assertIsNone(match_of("piano cello.wav", two).part)
        self.assertEqual(match_of("piano cello.wav", (*two, NamedPart(name="Piano cello"))).part, 2)

    def test_the_part_in_hand_lends_its_sections(self):
        self.assertEqual(match_of("chorus 5.wav", self.parts, usual=0).section, "Chorus")
        self.assertEqual(match_of("chorus 5.wav", self.parts).section, "")
