"""room, proximity and clap on the command line, against the contract of scripting.md."""

import tempfile
from pathlib import Path

import numpy as np
import soundfile

from pneumen.core.rig import simulate_clap
from pneumen.core.room import MATERIALS, WALLS, Box
from tests.cli.program import pneumen
from tests.cli.test_commands import CommandCase
from tests.core.test_room import ROOM
from tests.signals import RATE, as_json, changed

ROOM_KEYS = ["bands_hz", "volume_m3", "surface_m2", "absorption_m2", "rt60_sabine_s", "rt60_eyring_s", "schroeder_hz"]
ROOM_KEYS += ["modes", "critical_distance_m", "direct_to_reverberant_db", "reflections"]


class RoomCase(CommandCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def refuses(self, *arguments, told, stdin=b""):
        self.assert_refused(pneumen(*arguments, stdin=stdin), f".*{told}")


class Rooms(RoomCase):
    def test_keys_units_and_order(self):
        answer = self.answer("room", "-", stdin=as_json(ROOM))
        self.assertEqual(list(answer), ROOM_KEYS)
        self.assertEqual(answer["bands_hz"], [125, 250, 500, 1000, 2000, 4000])
        self.assertEqual(list(answer["modes"][0]), ["hz", "order", "kind"])
        self.assertEqual(answer["modes"][0], {"hz": 40.833333, "order": [1, 0, 0], "kind": "axial"})
        self.assertEqual(
            [one["surface"] for one in answer["reflections"]], ["floor", "ceiling", "north", "south", "east", "west"]
        )
        self.assertEqual(list(answer["reflections"][0]), ["surface", "delay_ms", "level_db", "first_notch_hz"])
        for key in ("absorption_m2", "rt60_sabine_s", "rt60_eyring_s", "critical_distance_m"):
            self.assertEqual(len(answer[key]), 6)

    def test_no_room_is_null_and_slips_are_told(self):
        opened = changed(ROOM, surfaces=dict.fromkeys(ROOM["surfaces"], "open"), objects=[], coverings=[], patern="x")
        answer = self.answer("room", "-", stdin=as_json(opened))
        self.assertEqual(answer["rt60_eyring_s"], [None] * 6)
        self.assertIn("patern", answer["caveats"][0])

    def test_materials_are_listed_and_can_all_be_used(self):
        names = [one["material"] for one in self.answer("room", "--materials")]
        self.assertGreaterEqual(len(names), 35)
        self.assertIn("duvet", pneumen("room", "--materials", "--text").stdout.decode())

    def test_faults_in_one_line(self):
        self.refuses("room", "-", stdin=as_json(changed(ROOM, size_m=[0, 1, 1])), told="size_m")
        self.refuses("room", "-", stdin=as_json(changed(ROOM, surfaces={"floor": "moss"})), told="surfaces.floor")
        self.refuses("room", "-", stdin=b"{", told="JSON")
        self.refuses("room", told="ROOM.json")

    def test_in_words(self):
        told = pneumen("room", "-", "--text", stdin=as_json(ROOM)).stdout.decode()
        self.assertIn("axial modes: 40.8", told)
        self.assertIn("first notch", told)


class Closeness(RoomCase):
    def test_two_lists_of_one_length(self):
        answer = self.answer("proximity", "--pattern", "cardioid", "--distance-m", "0.05")
        self.assertEqual(list(answer), ["frequency_hz", "response_db"])
        self.assertEqual(answer["frequency_hz"][:7], [50, 63, 80, 100, 125, 160, 200])
        self.assertAlmostEqual(answer["response_db"][3], 14.9, 1)
        self.assertEqual(len(answer["frequency_hz"]), len(answer["response_db"]))

    def test_faults_name_the_flag(self):
        self.refuses("proximity", "--pattern", "heart", "--distance-m", "1", told="--pattern: ")
        self.refuses("proximity", "--pattern", "omni", "--distance-m", "0", told="--distance-m: ")
        self.refuses("proximity", "--pattern", "omni", told="--distance-m: is missing")
        self.refuses(
            "proximity", "--pattern", "omni", "--distance-m", "1", "--reference-m", "x", told="--reference-m: "
        )


class Claps(RoomCase):
    def made(self):
        soft = dict.fromkeys(WALLS, MATERIALS["curtain-folded"].absorption)
        bare = dict.fromkeys(("south", "north"), MATERIALS["plaster"].absorption)
        room = Box(size_m=(4.6, 3.1, 2.5), surfaces=soft | bare)
        return simulate_clap(room, (1.6, 1.2, 1.4), (1.8, 1.3, 1.6))

    def test_a_clap_in_a_room_with_two_bare_walls(self):
        path = self.folder / "clap.wav"
        soundfile.write(path, self.made(), RATE, subtype="PCM_24")
        answer = self.answer("clap", path)
        self.assertEqual(list(answer)[:6], ["bands_hz", "t20_s", "edt_s", "rt60_s", "noise_limited", "flutter"])
        self.assertEqual(list(answer["flutter"]), ["found", "spacing_m"])
        self.assertTrue(answer["flutter"]["found"])
        self.assertAlmostEqual(answer["flutter"]["spacing_m"], 3.1, delta=0.06)
        self.assertIn("3.1", pneumen("clap", path, "--text").stdout.decode())

    def test_the_loudest_channel_is_read(self):
        path, made = self.folder / "two.wav", self.made()
        soundfile.write(path, np.stack([0.01 * np.ones_like(made), made], axis=1), RATE, subtype="PCM_24")
        self.assertTrue(self.answer("clap", path)["flutter"]["found"])

    def test_faults_in_one_line(self):
        path = self.folder / "none.wav"
        soundfile.write(path, np.zeros(RATE), RATE)
        self.refuses("clap", path, told="no clap in it")
        (self.folder / "text.wav").write_text("hello")
        self.refuses("clap", self.folder / "text.wav", told="not a recording")
        self.refuses("clap", self.folder / "missing.wav", told="no such file")


class Help(RoomCase):
    def test_each_says_what_it_takes(self):
        for command in ("room", "proximity", "clap"):
            told = pneumen(command, "--help")
            self.assertEqual(told.returncode, 0)
            self.assertGreater(len(told.stdout), 200)
