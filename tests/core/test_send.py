"""Deliveries: exact alignment, dither, names, all or nothing; read back by ffmpeg and by SoX."""

import errno
import json
import shutil
import subprocess
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

import numpy as np
import soundfile
from scipy.signal import welch

from pneumen.core.errors import BadDocument
from pneumen.core.send import Also, Pack, SendFile, delivered_names, pack_from_json, package, safe_name, sha256_of
from pneumen.core.take import PcmFile, codes_of
from pneumen.wording.send import documents_of, manifest_of, notes_of
from tests.signals import RATE, as_json, noise, phrases, sine

STEP_16 = 2.0**-15


class SendCase(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.out = self.folder / "out"

    def file(self, samples, name="Lead", rate=RATE, bits=24, subtype=None, **more):
        path = self.folder / f"{name}.wav".replace("/", "-")
        if subtype:
            soundfile.write(path, samples, rate, subtype=subtype)
        else:
            soundfile.write(path, codes_of(samples, bits) << (32 - bits), rate, subtype=f"PCM_{bits}")
        return SendFile(name=name, file=path.name, **more)

    def sent(self, *files, bits=24, length_s=4.0, **more):
        pack = Pack(song="Waltz", rate_hz=RATE, bits=bits, length_s=length_s, files=files, **more)
        shutil.rmtree(self.out, ignore_errors=True)
        return package(pack, self.folder, self.out, documents=documents_of)

    def samples(self, delivery, number=0):
        return soundfile.read(self.out / delivery.files[number].file)[0]

    def kinds(self, delivery):
        return [finding.kind for one in delivery.files for finding in one.findings]


class LinesUp(SendCase):
    def test_every_file_runs_from_zero_to_the_end_to_the_sample(self):
        one, two = noise(2, -20, seed=1), noise(9, -20, seed=2)
        delivery = self.sent(self.file(one, "One", offset_s=1.25), self.file(two, "Two", offset_s=-0.5))
        first, second = self.samples(delivery), self.samples(delivery, 1)
        self.assertEqual((len(first), len(second)), (4 * RATE, 4 * RATE))
        start = 60_000
        self.assertEqual(np.count_nonzero(first[:start]) + np.count_nonzero(first[start + len(one) :]), 0)
        self.assertLess(np.abs(first[start : start + len(one)] - one).max(), 2.0**-24)
        self.assertLess(np.abs(second - two[24_000 : 24_000 + 4 * RATE]).max(), 2.0**-24)
        self.assertEqual(self.kinds(delivery), ["not-the-same-length", "starts-before-zero", "runs-over"])

    def test_other_readers_read_the_same_samples(self):
        """FFmpeg and SoX, general-purpose readers of Debian's, decode WAV and AIFF to the codes that were written."""
        samples = noise(3, -20, seed=3)
        file = self.file(samples)
        codes = codes_of(samples, 24)[: 3 * RATE]
        for kind in ("wav", "aiff"):
            path = self.out / self.sent(file, format=kind, length_s=3.0).files[0].file
            ffmpeg = ["ffmpeg", "-v", "error", "-i", str(path), "-f", "s32le", "-"]
            sox = ["sox", str(path), "-t", "raw", "-e", "signed", "-b", "32", "-L", "-"]
            for command in (ffmpeg, sox):
                if shutil.which(command[0]) is None:
                    self.skipTest(f"{command[0]} is not installed")
                raw = subprocess.run(command, check=True, capture_output=True).stdout
                with self.subTest(kind=kind, reader=command[0]):
                    self.assertTrue(np.array_equal(np.frombuffer(raw, "<i4") >> 8, codes))

    def test_a_wrong_sample_is_found_when_it_is_read_back(self):
        file = self.file(noise(2, -20))
        honest = PcmFile.write

        def shifted(self, codes):
            honest(self, np.roll(codes, 1, axis=1))

        with mock.patch.object(PcmFile, "write", shifted), self.assertRaisesRegex(OSError, "does not read back"):
            self.sent(file)
        self.assertFalse(self.out.exists())


class Sides(SendCase):
    def test_auto_sends_one_channel_of_what_is_mono_and_two_of_what_is_stereo(self):
        mono, other = phrases(-12), noise(7, -30, seed=9)
        cases = {
            "mono": (mono, 1, []),
            "dual": (np.stack([mono, mono], axis=1), 1, ["dual-mono"]),
            "inverted": (np.stack([mono, -mono], axis=1), 1, ["dual-mono"]),
            "one side": (np.stack([np.zeros_like(mono), mono], axis=1), 1, ["one-sided"]),
            "stereo": (np.stack([mono, other], axis=1), 2, []),
        }
        for name, (samples, channels, kinds) in cases.items():
            with self.subTest(name):
                delivery = self.sent(self.file(samples, name), length_s=7.0)
                self.assertEqual((delivery.files[0].channels, self.kinds(delivery)), (channels, kinds))
                if channels == 1:
                    self.assertLess(np.abs(np.abs(self.samples(delivery)) - np.abs(mono)).max(), 2.0**-23)

    def test_of_unequal_sides_the_louder_is_sent_never_the_sum(self):
        mono = phrases(-12)
        delivery = self.sent(self.file(np.stack([0.8 * mono, -mono], axis=1)), length_s=7.0)
        self.assertLess(np.abs(self.samples(delivery) + mono).max(), 2.0**-23)

    def test_what_was_asked_for_by_hand_holds(self):
        mono, other = phrases(-12), noise(7, -30, seed=9)
        doubled = self.sent(self.file(mono, channels="stereo"), length_s=7.0)
        self.assertEqual(doubled.files[0].channels, 2)
        mixed = self.sent(self.file(np.stack([mono, other], axis=1), channels="mono"), length_s=7.0)
        self.assertEqual(self.kinds(mixed), ["mixed-to-mono"])
        self.assertLess(np.abs(self.samples(mixed) - (mono + other) / 2).max(), 2.0**-22)


class Joined(SendCase):
    def tracks(self, second_s):
        self.file(sine(440, 1, -10), "Verse")
        self.file(sine(660, 1, -12), "Solo")
        return SendFile(name="Guitar", file="Verse.wav", also=(Also(file="Solo.wav", offset_s=second_s),))

    def test_two_tracks_that_do_not_overlap_are_one_file_with_every_sample_of_both(self):
        found = self.samples(self.sent(self.tracks(2.0)))
        self.assertLess(np.abs(found[:RATE] - sine(440, 1, -10)).max(), 2.0**-23)
        self.assertLess(np.abs(found[2 * RATE : 3 * RATE] - sine(660, 1, -12)).max(), 2.0**-23)
        self.assertEqual(np.count_nonzero(found[RATE : 2 * RATE]), 0)

    def test_two_that_sound_at_once_are_refused_and_nothing_is_left(self):
        with self.assertRaisesRegex(BadDocument, r"both sound at 0.[56] s; join only what does not overlap"):
            self.sent(self.tracks(0.55))
        self.assertFalse(self.out.exists())
        self.sent(self.tracks(1.0))  # one begins where the other ends


class Depth(SendCase):
    def test_dither_is_white_steady_and_does_not_follow_the_sound(self):
        """TPDF: half a step RMS in all, flat over the band, and no harmonics of a tone of two steps.

        Lipshitz, Wannamaker and Vanderkooy, Quantization and Dither (1992); from memory.
        """
        tone = 2 * STEP_16 * np.sin(2 * np.pi * 1000 * np.arange(20 * RATE) / RATE)
        delivery = self.sent(self.file(tone), bits=16, length_s=20.0)
        error = self.samples(delivery) - codes_of(tone, 24) / 2.0**23
        self.assertAlmostEqual(float(np.sqrt(np.square(error).mean())) / STEP_16, 0.5, delta=0.01)
        hertz, density = welch(error, RATE, nperseg=4800)
        bands = [density[(hertz >= low) & (hertz < low + 4000)].mean() for low in range(0, 20_000, 4000)]
        self.assertLess(10 * np.log10(max(bands) / min(bands)), 0.3)
        level = 10 * np.log10(density / np.median(density))
        for harmonic in (2000, 3000, 5000, 7000):
            self.assertLess(level[round(harmonic / 10)], 3)

    def test_sixteen_bits_stay_untouched_and_digital_silence_stays_silent(self):
        samples = codes_of(noise(2, -30), 16) * STEP_16
        delivery = self.sent(self.file(samples, bits=16, offset_s=1.0), bits=16)
        found = self.samples(delivery)
        self.assertTrue(np.array_equal(found[RATE : 3 * RATE], samples))
        finer = self.sent(self.file(noise(2, -30), offset_s=1.0), bits=16)
        self.assertEqual(np.count_nonzero(self.samples(finer)[:RATE]), 0)
        raised = self.sent(self.file(samples, bits=16, offset_s=1.0), bits=24)
        self.assertIn("depth-raised", self.kinds(raised))

    def test_what_would_go_over_full_scale_is_lowered_by_the_least(self):
        delivery = self.sent(self.file(2 * sine(440, 4), subtype="FLOAT"))
        self.assertAlmostEqual(delivery.files[0].gain_db, -6.02, 2)
        self.assertIn("over-full-scale", self.kinds(delivery))
        self.assertAlmostEqual(np.abs(self.samples(delivery)).max(), 1.0, 5)

    def test_faults_of_the_sound_are_told(self):
        clipped = np.clip(3 * sine(220, 4), -1, 1)
        delivery = self.sent(self.file(clipped, "Hot"), self.file(np.zeros(4 * RATE), "Empty"))
        self.assertEqual(self.kinds(delivery), ["clipping", "silent"])
        outside = self.sent(self.file(noise(2, -20), "Late", offset_s=60.0))
        self.assertEqual([one.cause for one in outside.files[0].findings if one.kind == "silent"], ["outside"])

    def test_what_sounds_when(self):
        delivery = self.sent(self.file(sine(440, 1, -6), offset_s=2.0))
        self.assertEqual([round(one, 2) for one in delivery.files[0].sounds], [0, 0, 0.5, 0])


class Whole(SendCase):
    def test_documents_stand_beside_the_files_and_agree_with_them(self):
        lead = self.file(noise(4, -20), "Lead / voice", about="Take 3 and 5, 18 cm.")
        delivery = self.sent(lead, tempo_bpm=96, key="D major", note="Thank you.")
        manifest = json.loads((self.out / "manifest.json").read_text())
        self.assertEqual(manifest, json.loads(json.dumps(manifest_of(delivery))))
        keys = "name file sha256 duration_s sample_rate_hz bits channels sample_peak_dbfs true_peak_dbtp gain_db"
        self.assertEqual(list(manifest["files"][0]), keys.split())
        entry = manifest["files"][0]
        self.assertEqual(entry["file"], "01 Lead - voice.wav")
        self.assertEqual(entry["sha256"], sha256_of(self.out / entry["file"]))
        notes = notes_of(delivery)
        for told in ("96 beats a minute", "D major", "Take 3 and 5", "Thank you.", entry["sha256"], "song's zero"):
            self.assertIn(told, notes)

    def test_a_zip_holds_the_same_files(self):
        pack = Pack(song="W", rate_hz=RATE, bits=24, length_s=1.0, files=(self.file(noise(1, -20)),))
        package(pack, self.folder, self.out, documents=documents_of, as_zip=True)
        with zipfile.ZipFile(self.folder / "out.zip") as file:
            self.assertIsNone(file.testzip())
            self.assertEqual(sorted(file.namelist()), sorted(one.name for one in self.out.iterdir()))
            for name in file.namelist():
                self.assertEqual(file.read(name), (self.out / name).read_bytes())

    def test_a_full_disk_leaves_nothing(self):
        file = self.file(noise(4, -20))
        with mock.patch.object(PcmFile, "write", side_effect=OSError(errno.ENOSPC, "No space left on device")):
            with self.assertRaises(OSError):
                self.sent(file)
        self.assertEqual([one.name for one in self.folder.iterdir()], [file.file])

    def test_one_bad_file_of_two_leaves_nothing(self):
        (self.folder / "bad.wav").write_bytes(b"no sound")
        with self.assertRaisesRegex(BadDocument, r"files\[1\]: bad.wav: this is not a recording"):
            self.sent(self.file(noise(1, -20)), SendFile(name="Bad", file="bad.wav"))
        self.assertFalse(self.out.exists())
        self.assertEqual(len(list(self.folder.iterdir())), 2)

    def test_a_folder_that_holds_files_is_left_alone(self):
        self.out.mkdir()
        (self.out / "mine.txt").write_text("mine")
        pack = Pack(song="W", rate_hz=RATE, bits=24, length_s=1.0, files=(self.file(noise(1, -20)),))
        with self.assertRaisesRegex(BadDocument, "is there already"):
            package(pack, self.folder, self.out, documents=documents_of)
        self.assertEqual((self.out / "mine.txt").read_text(), "mine")

    def test_the_same_package_twice_has_the_same_checksums(self):
        file = self.file(noise(2, -20))
        first, second = (self.sent(file, bits=16).files[0].sha256 for _ in range(2))
        self.assertEqual(first, second)


class Names(unittest.TestCase):
    def test_names_are_safe_in_any_script(self):
        cases = {
            "../../etc/passwd": "etc-passwd",
            "a\\b:c*d?": "a-b-c-d",
            "Голос / 声": "Голос - 声",
            "...": "File",
            "line\nbreak\x00": "line-break",
            "e\u0301": "\u00e9",
            "right\u202eleft": "rightleft",
        }
        for name, safe in cases.items():
            with self.subTest(name):
                self.assertEqual(safe_name(name), safe)
        self.assertLessEqual(len(safe_name("声" * 300).encode()), 180)

    def test_equal_names_do_not_clash(self):
        self.assertEqual(delivered_names(("A", "a", "A"), "wav"), ("01 A.wav", "02 a.wav", "03 A.wav"))
        self.assertEqual(delivered_names(("A",) * 100, "wav")[0], "001 A.wav")


class Documents(unittest.TestCase):
    PACK = {"song": "W", "rate_hz": 48_000, "bits": 24, "length_s": 4, "files": [{"name": "A", "file": "a.wav"}]}  # noqa: RUF012

    def test_what_is_wrong_is_named(self):
        cases = [
            ({"files": []}, "files is empty"),
            ({"bits": 20}, "bits must be 16 or 24, was 20"),
            ({"format": "mp3"}, "format must be one of wav, aiff"),
            ({"length_s": -1}, "length_s must be greater than 0"),
            ({"song": " "}, "song must be the song's name"),
            ({"files": [{"name": "", "file": "a.wav"}]}, "name must say what the file is"),
            ({"files": [{"name": "A", "file": "a.wav", "channels": "two"}]}, "channels must be one of"),
        ]
        for change, message in cases:
            with self.subTest(message), self.assertRaisesRegex(BadDocument, message):
                pack_from_json(as_json(self.PACK | change))

    def test_slips_of_the_pen_are_named_by_their_place(self):
        document = {**self.PACK, "files": [{"name": "A", "file": "a.wav", "offset": 1}]}
        self.assertEqual(pack_from_json(as_json(document))[1], ("files[0].offset",))


if __name__ == "__main__":
    unittest.main()
