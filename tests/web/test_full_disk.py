"""A disk that is really full, under the program as people start it: named as such, and deleting works."""

import re
import shutil
import subprocess
import tempfile
import unittest
from contextlib import suppress
from pathlib import Path

from pneumen.web.site.space import RESERVE
from tests.signals import phrases, wav
from tests.web.program import Program

DISK_BYTES = 32_000_000
PAGES = ("start", "part", "kit", "room", "hookup", "place", "gain", "takes")


def mounted():
    """Return a small disk of its own, or skip where this machine does not let one be made."""
    place = Path(tempfile.mkdtemp(prefix="pneumen-small-disk-"))
    command = ["mount", "-t", "tmpfs", "-o", f"size={DISK_BYTES}", "tmpfs", place]
    made = subprocess.run(command, capture_output=True, check=False)
    if made.returncode:
        place.rmdir()
        raise unittest.SkipTest("only root can mount a small disk here")
    return place


@unittest.skipUnless(shutil.which("mount"), "no mount on this system")
class AFullDisk(unittest.TestCase):
    def setUp(self):
        self.disk = mounted()
        self.addCleanup(self.disk.rmdir)
        self.addCleanup(subprocess.run, ["umount", "--lazy", self.disk], check=True)

    def send(self, samples):
        return self.program.post("/parts/1/takes/upload/", file=wav(samples))

    def fill(self):
        """Take all room there is; the worker may free a little, so until none is."""
        block = bytes(4096)
        while shutil.disk_usage(self.disk).free:
            with suppress(OSError), (self.disk / "others").open("ab", buffering=0) as file:
                while file.write(block) == len(block):
                    pass

    def reserve(self):
        return (self.disk / "data" / RESERVE).stat().st_size

    def measured(self):
        """Wait until both takes are measured: a worker in the midst of it would free and take room."""
        while any("Waiting for" in page or "Measuring" in page for page in self.takes()):
            pass

    def takes(self):
        return [self.program.get(f"/parts/1/takes/?take={number}").text for number in (1, 2)]

    def test_a_first_start_is_refused_in_a_line_and_the_next_one_is_whole(self):
        for left_bytes in (0, 8192):  # not even for the key, and not for the database
            self.fill()
            with (self.disk / "others").open("ab") as file:
                file.truncate((self.disk / "others").stat().st_size - left_bytes)
            with self.assertRaises(RuntimeError) as refused:
                Program(self.disk / "data")
            self.assertNotIn("Traceback", str(refused.exception))
            self.assertIn("pneumen: --data:", str(refused.exception))
        (self.disk / "others").unlink()
        program = Program(self.disk / "data")
        self.addCleanup(program.stop)
        self.assertEqual(program.post("/songs/new/", {"name": "New"}).status, 200)

    def test_a_disk_that_fills_up_while_it_runs(self):
        self.program = Program(self.disk / "data")
        self.addCleanup(self.program.stop)
        for level in (-12.0, -15.0):
            self.assertEqual(self.send(phrases(level)).status, 200)
        self.measured()
        held = self.reserve()
        self.fill()

        for page in PAGES:
            self.assertEqual(self.program.get(f"/parts/1/{page}/").status, 200, page)
        for refused in (
            self.program.post("/songs/new/", {"name": "New"}),
            self.program.post("/parts/1/takes/simulated/"),
            self.send(phrases(-20.0)),
            self.program.post("/parts/1/takes/upload/", file=bytes(DISK_BYTES)),
        ):
            self.assertEqual(refused.status, 507)
            self.assertIn("<h1>The disk is full", refused.text)
            self.assertIn("Take 1 of", refused.text)  # what could go

        away = self.program.post("/parts/1/takes/1/delete/")
        self.assertIn("Take 1 was put away", away.text)
        self.assertGreater(self.reserve(), held - 100_000)
        self.assertIn("Take 1 of Voice", self.program.get("/songs/space/").text)
        gone = self.program.post("/songs/parts/1/takes/1/remove/")
        self.assertIn("Removed for good", gone.text)
        self.assertEqual(self.program.post("/songs/new/", {"name": "New"}).status, 200)

        said = "".join(self.program.said)
        self.assertNotIn("Traceback", said)
        self.assertRegex(said, re.escape("Insufficient Storage: /songs/new/"))
        self.assertEqual([path.name for path in (self.disk / "data" / "incoming").iterdir()], [])
