"""delay and loopback on the command line, against the contract of scripting.md."""

import tempfile
from pathlib import Path

import numpy as np
import soundfile

from pneumen.core.delay import test_signal as signal_of
from tests.cli.program import pneumen
from tests.cli.test_commands import CommandCase

RATE_HZ = 48_000


class Delay(CommandCase):
    def test_keys_and_figures(self):
        answer = self.answer("delay", "--buffer", "128", "--rate", "48000")
        self.assertEqual(list(answer)[:3], ["buffer_ms", "round_trip_ms", "verdict"])
        self.assertAlmostEqual(answer["buffer_ms"], 8 / 3, 5)
        # 2 x 2.667 + 2 x 32/48 + 1.2 ms (arithmetic of the contract)
        self.assertAlmostEqual(answer["round_trip_ms"], 7.866667, 5)
        self.assertEqual(answer["verdict"], "watch")
        self.assertEqual(list(answer["by_buffer"][0]), ["buffer", "round_trip_ms", "dropouts_per_minute"])
        self.assertEqual([row["buffer"] for row in answer["by_buffer"]][:3], [32, 64, 128])
        self.assertAlmostEqual(sum(one["ms"] for one in answer["segments"]), answer["round_trip_ms"], 4)

    def test_every_flag_counts(self):
        flags = ("--converter-ms", "0", "--safety-samples", "0", "--speaker-m", "3.43")
        answer = self.answer("delay", "--buffer", "100", "--rate", "50000", *flags)
        self.assertAlmostEqual(answer["round_trip_ms"], 4 + 10, 2)
        self.assertIn(100, [row["buffer"] for row in answer["by_buffer"]])
        lost = {
            name: self.answer("delay", "--buffer", "128", "--rate", "48000", "--computer", name)["by_buffer"][2]
            for name in ("old-laptop", "desktop")
        }
        self.assertGreater(lost["old-laptop"]["dropouts_per_minute"], lost["desktop"]["dropouts_per_minute"])

    def test_text_for_people(self):
        told = pneumen("delay", "--buffer", "512", "--rate", "44100", "--text")
        self.assertIn("ms from lips to ear: mendable", told.stdout.decode())

    def test_bad_input_is_one_line_that_names_the_flag(self):
        for flags, told in (
            (("--buffer", "0", "--rate", "48000"), "--buffer must be between 1 and 65536, was 0"),
            (("--buffer", "-64", "--rate", "48000"), "--buffer must be between"),
            (("--buffer", "128", "--rate", "4"), "--rate must be between"),
            (("--buffer", "many", "--rate", "48000"), "--buffer"),
            (("--rate", "48000"), "--buffer: is missing"),
            (("--buffer", "128", "--rate", "48000", "--computer", "abacus"), "--computer"),
            (("--buffer", "128", "--rate", "48000", "--converter-ms", "nan"), "--converter-ms must be"),
            (("--buffer", "128", "--rate", "48000", "--safety-samples", "-1"), "--safety-samples must be"),
        ):
            self.assert_refused(pneumen("delay", *flags), f".*{told}")


class Loopback(CommandCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.played = self.write("played.wav", signal_of(RATE_HZ))

    def write(self, name, samples, rate_hz=RATE_HZ):
        path = self.folder / name
        soundfile.write(path, samples, rate_hz, subtype="PCM_24")
        return str(path)

    def late(self, samples, factor=1.0):
        return self.write("recorded.wav", factor * np.concatenate([np.zeros(samples), signal_of(RATE_HZ)]))

    def test_keys_and_figures(self):
        answer = self.answer("loopback", self.played, self.late(611))
        self.assertEqual(list(answer)[:5], ["offset_samples", "offset_ms", "confidence", "polarity", "drift_ppm"])
        self.assertAlmostEqual(answer["offset_samples"], 611, 1)
        self.assertAlmostEqual(answer["offset_ms"], 1000 * 611 / RATE_HZ, 2)
        self.assertGreater(answer["confidence"], 0.99)
        self.assertEqual((answer["polarity"], answer["notes"]), ("same", []))
        self.assertAlmostEqual(answer["drift_ppm"], 0, 1)
        self.assertEqual(self.answer("loopback", self.played, self.late(40, -0.5))["polarity"], "inverted")

    def test_swapped_and_clipped_files_say_so(self):
        recorded = self.late(611)
        swapped = self.answer("loopback", recorded, self.played)
        self.assertAlmostEqual(swapped["offset_samples"], -611, 1)
        self.assertIn("were the two files swapped", swapped["notes"][0])
        clipped = self.write("recorded.wav", np.clip(20 * np.concatenate([np.zeros(99), signal_of(RATE_HZ)]), -1, 1))
        self.assertIn("clips", self.answer("loopback", self.played, clipped)["notes"][0])

    def test_text_for_people(self):
        told = pneumen("loopback", self.played, self.late(611), "--text").stdout.decode()
        self.assertIn("611.0 samples (12.73 ms) late, polarity same.", told)

    def test_bad_input_is_one_line(self):
        silent = self.write("silent.wav", np.zeros(RATE_HZ))
        other = self.write("other.wav", signal_of(44_100), 44_100)
        noise = self.write("noise.wav", 0.1 * np.random.default_rng(1).normal(size=3 * RATE_HZ))
        for recorded, told in (
            (silent, "silent"),
            (other, "record at the rate that is played"),
            (noise, "not in the recording"),
            (str(self.folder / "nowhere.wav"), "nowhere.wav"),
        ):
            self.assert_refused(pneumen("loopback", self.played, recorded), f".*{told}")
        self.assert_refused(pneumen("loopback", self.played), ".*RECORDED.wav: is missing")
