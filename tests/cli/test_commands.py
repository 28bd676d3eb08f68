"""The command line, run as people run it, against the contract of scripting.md."""

import json
import os
import sqlite3
import subprocess
import sys
import tempfile
import unittest
from contextlib import closing
from pathlib import Path
from typing import ClassVar

import numpy as np
import soundfile

from tests.cli.program import ROOT, pneumen
from tests.signals import RATE, SETUP, USB_SETUP, audio_file, changed, phrases, sine

MEASURE_KEYS = ["file", "format", "level", "noise", "dc_offset", "channels_say", "findings"]
MEASURE_KEYS += ["checked", "not_checked", "verdict"]
LEVEL_KEYS = [
    "sample_peak_dbfs",
    "true_peak_dbtp",
    "rms_dbfs",
    "active_rms_dbfs",
    "loudness_lufs",
    "loudest_3s_lufs",
    "crest_db",
]
LINE_KEYS = ["peak_dbfs", "typical_dbfs", "quiet_dbfs", "noise_dbfs", "noise_by_stage_dbfs", "noise_set_by"]
LINE_KEYS += ["clean_range_db", "headroom_db", "ceilings_dbfs", "clips_first", "gain_for_peak_db", "findings"]


class CommandCase(unittest.TestCase):
    def answer(self, *arguments, stdin=b""):
        result = pneumen(*arguments, stdin=stdin)
        self.assertEqual((result.returncode, result.stderr), (0, b""))
        return json.loads(result.stdout)

    def assert_refused(self, result, message):
        self.assertEqual(result.returncode, 2)
        self.assertEqual(result.stdout, b"")
        lines = result.stderr.decode().splitlines()
        self.assertEqual(len(lines), 1, lines)
        self.assertRegex(lines[0], f"^pneumen: {message}")


class Line(CommandCase):
    def test_answers_in_the_contracts_order(self):
        answer = self.answer("line", "-", stdin=json.dumps(SETUP).encode())
        self.assertEqual(list(answer), LINE_KEYS)
        self.assertEqual(list(answer["noise_by_stage_dbfs"]), ["room", "microphone", "preamp", "converter"])
        self.assertEqual(list(answer["gain_for_peak_db"]), ["-6", "-9", "-12"])
        self.assertAlmostEqual(answer["peak_dbfs"], -3.21, 2)

    def test_a_usb_microphone_leaves_preamp_and_converter_out(self):
        answer = self.answer("line", "-", stdin=json.dumps(USB_SETUP).encode())
        self.assertEqual(list(answer["noise_by_stage_dbfs"]), ["room", "microphone"])
        self.assertEqual(answer["ceilings_dbfs"], {"microphone": 0.0})

    def test_text_is_for_people(self):
        result = pneumen("line", "-", "--text", stdin=json.dumps(SETUP).encode())
        self.assertIn("the room sets the noise", result.stdout.decode())
        self.assertIn("\N{MINUS SIGN}3.2 dBFS", result.stdout.decode())

    def test_bad_input(self):
        self.assert_refused(pneumen("line", "/absent.json"), "/absent.json: no such file")
        self.assert_refused(pneumen("line", "-", stdin=b"{"), "-: this is not JSON")
        bad = json.dumps(changed(SETUP, distance_m=-2)).encode()
        self.assert_refused(
            pneumen("line", "-", stdin=bad), "-: distance_m must be between 0.001 m and 100 m, was -2 m"
        )
        self.assert_refused(pneumen("line", "-", "--gain", "3"), "--gain: is not known here")
        self.assert_refused(pneumen("line"), "SETUP.json: is missing")
        self.assert_refused(pneumen("lime"), "lime: is no command")


class Measure(CommandCase):
    def test_answers_in_the_contracts_order(self):
        with audio_file(phrases()) as path:
            answer = self.answer("measure", path)
        self.assertEqual(list(answer), MEASURE_KEYS)
        self.assertEqual(list(answer["level"]), LEVEL_KEYS)
        self.assertEqual(list(answer["noise"]), ["floor_dbfs", "floor_dbfs_a", "clean_range_db"])
        expected = {"container": "WAV", "encoding": "PCM_24", "sample_rate_hz": RATE, "channels": 1, "duration_s": 7.0}
        self.assertEqual(answer["format"], expected)
        self.assertEqual((answer["channels_say"], answer["verdict"]), ("mono", "clear"))

    def test_findings_have_their_keys(self):
        with audio_file(np.clip(2 * sine(200, 1), -1, 1)) as path:
            answer = self.answer("measure", path)
        finding = answer["findings"][0]
        self.assertEqual(list(finding), ["kind", "start_s", "end_s", "value", "unit", "verdict", "advice"])
        self.assertEqual((finding["kind"], finding["unit"], answer["verdict"]), ("clipping", "samples", "baked-in"))

    def test_what_was_looked_for_is_told_and_what_not(self):
        with audio_file(phrases()) as path:
            answer = self.answer("measure", path)
        self.assertIn("clipping", answer["checked"])
        self.assertEqual(list(answer["not_checked"][0]), ["kind", "why"])

    def test_a_driven_source_is_told_by_its_name(self):
        with audio_file(np.clip(2 * sine(200, 1), -1, 1) * 0.7) as path:
            answer = self.answer("measure", path, "--source", "guitar-amp")
            refused = pneumen("measure", path, "--source", "zither")
        self.assertEqual(answer["verdict"], "watch")
        self.assertEqual((refused.returncode, refused.stdout), (2, b"" if isinstance(refused.stdout, bytes) else ""))

    def test_several_files_go_on_after_a_bad_one(self):
        with audio_file(sine(440, 1, -12)) as path:
            (path.parent / "bad.wav").write_bytes(b"no sound")
            result = pneumen("measure", path, path.parent / "bad.wav", path)
        self.assertEqual(result.returncode, 2)
        self.assertEqual(len(json.loads(result.stdout)), 2)
        self.assertEqual(len(result.stderr.splitlines()), 1)

    def test_a_list_for_several_an_object_for_one(self):
        with audio_file(sine(440, 1, -12)) as path:
            self.assertIsInstance(self.answer("measure", path, path), list)
            self.assertIsInstance(self.answer("measure", path), dict)

    def test_truncated_is_told_only_where_it_is_so(self):
        with audio_file(sine(440, 2, -12)) as path:
            self.assertNotIn("truncated", self.answer("measure", path)["format"])
            path.write_bytes(path.read_bytes()[:100_000])
            self.assertIs(self.answer("measure", path)["format"]["truncated"], True)

    def test_figures_that_cannot_be_measured_are_null(self):
        with audio_file(np.zeros(RATE)) as path:
            answer = self.answer("measure", path)
        self.assertEqual(set(answer["level"].values()), {None})

    def test_bad_input(self):
        self.assert_refused(pneumen("measure", "/absent.wav"), "/absent.wav: no such file")
        self.assert_refused(pneumen("measure"), "FILE: is missing")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "many.wav"
            soundfile.write(path, np.zeros((10, 64)), RATE)
            self.assert_refused(pneumen("measure", path), ".*64 channels")

    def test_memory_does_not_grow_with_length(self):
        code = "import sys; from pneumen.__main__ import main; main(['measure', sys.argv[1]]); "
        code += "print(open('/proc/self/status').read().split('VmHWM:')[1].split()[0], file=sys.stderr)"
        environment = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
        used = []
        for seconds in (10, 300):
            with audio_file(np.tile(phrases(), 1 + seconds // 7)) as path:
                result = subprocess.run(
                    [sys.executable, "-c", code, path], env=environment, capture_output=True, check=True
                )
            used.append(int(result.stderr) / 1024)
        self.assertLess(used[1] - used[0], 12)
        self.assertLess(used[1], 200)


class Rig(CommandCase):
    def test_the_printed_example_runs_and_is_reproducible(self):
        shown = pneumen("rig", "--help").stdout.decode()
        example = shown[shown.index('{"chain"') : shown.index("positional arguments")].strip().encode()
        with tempfile.TemporaryDirectory() as folder:
            first, second = Path(folder) / "a.wav", Path(folder) / "b.wav"
            answer = self.answer("rig", "-", first, stdin=example)
            self.answer("rig", "-", second, stdin=example)
            self.assertEqual(first.read_bytes(), second.read_bytes())
            self.assertEqual(soundfile.info(first).samplerate, answer["sample_rate_hz"])
            self.assertNotIn("loudness", json.dumps(answer))  # what is hidden stays so

    def test_bad_input(self):
        self.assert_refused(pneumen("rig", "-", "/tmp/x.wav", stdin=b"{}"), "-: chain is missing")
        scene = json.dumps({"chain": SETUP, "source": "voice-pop"}).encode()
        self.assert_refused(pneumen("rig", "-", "/absent/x.wav", stdin=scene), "/absent/x.wav: cannot be written")


class Launcher(CommandCase):
    def test_help_lists_the_commands(self):
        shown = pneumen().stdout.decode()
        for command in ("demo", "test", "measure", "line", "rig"):
            self.assertIn(command, shown)

    def test_demo_refuses_in_one_line(self):
        self.assert_refused(pneumen("demo", "--port", "http"), "--port: 'http' is no port; give a number from 1024")
        self.assert_refused(pneumen("demo", "--port", "80"), "--port: '80' is no port")
        self.assert_refused(
            pneumen("demo", "--port", "8977", "--data", "/proc/none"), "--data: /proc/none cannot be written"
        )

    def test_an_older_data_folder_is_told_and_left_untouched(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "pneumen.sqlite3"
            for version, age in ((0, "an older"), (99, "a newer")):
                with closing(sqlite3.connect(path)) as database:
                    database.execute("CREATE TABLE IF NOT EXISTS song_song (name TEXT)")
                    database.execute(f"PRAGMA user_version = {version}")
                    database.commit()
                before = path.read_bytes()
                refused = pneumen("demo", "--port", "8977", "--data", folder)
                self.assert_refused(refused, f".* holds songs of {age} Pneumen, which this one cannot read")
                self.assertEqual(path.read_bytes(), before)
                self.assertEqual(list(Path(folder).iterdir()), [path])
            path.write_text("Dear diary")
            self.assert_refused(
                pneumen("demo", "--port", "8977", "--data", folder), "--data: .*is no database of Pneumen"
            )


class Kit(CommandCase):
    NEEDS: ClassVar = {
        "budget": 400,
        "parts": [{"source": "voice-pop"}],
        "inputs_at_once": 1,
        "computer": "windows",
        "owned": ["headphones"],
        "monitors": False,
        "standing": True,
        "room_noise_dba": 34,
        "rt60_s": 0.5,
        "room_volume_m3": 30,
    }

    def kits(self, **changes):
        return self.answer("kit", "-", stdin=json.dumps(self.NEEDS | changes).encode())

    def test_answers_in_the_contracts_shape(self):
        answer = self.kits()
        self.assertEqual(list(answer)[:3], ["kits", "recommended", "nothing_fits_because"])
        kit = answer["kits"][answer["recommended"]]
        self.assertEqual(list(kit), ["total", "items", "predicted", "left_out", "findings"])
        self.assertEqual(list(kit["items"][0])[:7], ["id", "kind", "family", "connects", "price", "count", "why"])
        self.assertEqual(
            list(kit["predicted"]),
            ["clean_range_db", "direct_to_reverberant_db", "headroom_db", "noise_set_by", "round_trip_ms"],
        )
        for one in answer["kits"]:
            self.assertAlmostEqual(one["total"], sum(i["count"] * i["price"] for i in one["items"]), 6)
            self.assertEqual({i["price"] for i in one["items"] if i["kind"] == "headphones"}, {0})
        totals = [one["total"] for one in answer["kits"]]
        self.assertEqual(totals, sorted(totals, reverse=True))

    def test_nothing_fits_is_an_answer(self):
        answer = self.kits(budget=10)
        self.assertEqual((answer["kits"], answer["recommended"]), ([], None))
        self.assertIn("the cheapest complete kit costs", answer["nothing_fits_because"])
        steps = answer["buying_order"]
        self.assertEqual(steps[0]["items"][0]["kind"], "microphone")
        self.assertEqual([step["total"] for step in steps], sorted(step["total"] for step in steps))

    def test_enough_is_asked_for_and_textiles_hang_first(self):
        plain, strict = self.kits(), self.kits(enough={"clean_range_db": 50, "direct_to_reverberant_db": 20})
        taken = [answer["kits"][answer["recommended"]] for answer in (plain, strict)]
        self.assertLess(taken[0]["total"], taken[1]["total"])
        self.assertTrue(any(item["kind"] == "covering" for item in taken[1]["items"]))
        own = [{"material": "duvet", "width_m": 2, "height_m": 2, "count": 3}]
        hung = self.kits(enough={"clean_range_db": 50, "direct_to_reverberant_db": 20}, coverings=own)
        self.assertLess(hung["kits"][hung["recommended"]]["total"], taken[1]["total"])

    def test_what_is_owned_serves_as_often_as_it_is_needed(self):
        both = {"parts": [{"source": "voice-pop"}, {"source": "clarinet"}], "inputs_at_once": 2}
        answer = self.kits(**both, owned=["xlr-cable", "boom-stand", "microphone", "interface", "headphones"])
        kit = answer["kits"][answer["recommended"]]
        free = {item["kind"]: item["count"] for item in kit["items"] if item["price"] == 0}
        self.assertEqual((free["xlr-cable"], free["boom-stand"], free["microphone"]), (2, 2, 2))

    def test_the_catalogue_goes_out_and_comes_in(self):
        printed = pneumen("kit", "--catalogue-csv").stdout
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "mine.csv"
            path.write_bytes(printed)
            stdin = json.dumps(self.NEEDS).encode()
            self.assertEqual(self.answer("kit", "-", "--catalogue", path, stdin=stdin), self.kits())
            path.write_text("id,kind,name,price\na,wombat,A,3\n")
            refused = pneumen("kit", "-", "--catalogue", path, stdin=stdin)
            self.assert_refused(refused, "--catalogue: .*line 2, kind: must be one of")

    def test_sources_are_listed(self):
        names = {one["source"] for one in self.answer("kit", "--sources")}
        self.assertTrue({"voice-pop", "horn", "bass-direct-passive"} <= names)
        self.assertIn("Voice", pneumen("kit", "--sources", "--text").stdout.decode())

    def test_bad_needs(self):
        for change, message in (
            ({"budget": -1}, "-: budget must be between"),
            ({"budget": "x"}, "-: budget must be a number"),
            ({"parts": []}, "-: parts must be 1 to 8"),
            ({"parts": [{"source": "voice"}]}, r"-: parts\[0\].source must be one of"),
            ({"owned": ["zebra"]}, "-: owned must be one of"),
            ({"computer": "abacus"}, "-: computer must be one of"),
            ({"rt60_s": 0}, "-: rt60_s must be greater"),
        ):
            with self.subTest(change):
                self.assert_refused(pneumen("kit", "-", stdin=json.dumps(self.NEEDS | change).encode()), message)
        self.assert_refused(pneumen("kit"), "NEEDS.json: is missing")

    def test_text_for_people_and_a_reader_that_leaves_early(self):
        text = pneumen("kit", "-", "--text", stdin=json.dumps(self.NEEDS).encode()).stdout.decode()
        self.assertIn("kits worth buying, take the one for", text)
        command = f"{sys.executable} -m pneumen kit - --text | head -n 1"
        environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "PYTHONUTF8": "1"}
        left = subprocess.run(
            command,
            shell=True,
            input=json.dumps(self.NEEDS).encode(),
            env=environment,
            capture_output=True,
            check=False,
        )
        self.assertEqual(left.stderr, b"")
