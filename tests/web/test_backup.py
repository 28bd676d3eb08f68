"""Backup, restore and check on a real data folder: whole or not at all, and nothing is believed unread."""

import json
import os
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import threading
import unittest
import zipfile
from contextlib import closing
from pathlib import Path

from pneumen.web.site.backup import MANIFEST, NoBackup, checked, checksums_in, make_backup, restore_backup
from pneumen.web.site.check import check_folder
from pneumen.web.site.data_format import DATABASE
from pneumen.web.site.lock import InUse, hold
from tests.prepared import once_a_run
from tests.web.program import ROOT, pneumen

FILL = """
import django
django.setup()
from django.core.management import call_command
from pneumen.web.site import data_format
from pneumen.web.site.places import data_folder
data_format.mark(data_folder())
call_command("migrate", verbosity=0)
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from pneumen.demo.load import load_demo
from pneumen.web.audio.sweep import start
from tests.signals import phrases, wav
load_demo(fresh=False)
start()
client = Client(HTTP_HOST="127.0.0.1", REMOTE_ADDR="127.0.0.1")
for level in (-12.0, -15.0, -18.0):
    sent = SimpleUploadedFile("take.wav", wav(phrases(level)), "audio/wav")
    assert client.post("/parts/1/takes/upload/", {"recording": sent}).status_code == 302
"""


def fill(folder):
    """Fill a data folder with the demo and three takes."""
    environment = {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}", "PNEUMEN_DATA": str(folder)}
    environment["DJANGO_SETTINGS_MODULE"] = "pneumen.web.site.settings"
    subprocess.run([sys.executable, "-c", FILL], env=environment, check=True)


def tree_of(folder):
    """Return every recording and the names of all songs of a folder."""
    recordings = sorted(path.name for path in (folder / "audio").glob("*/*"))
    with closing(sqlite3.connect(folder / DATABASE)) as reading:
        songs = [name for (name,) in reading.execute("SELECT name FROM song_song ORDER BY id")]
    return recordings, songs


class FolderCase(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.filled = once_a_run("demo-with-takes", fill)

    def setUp(self):
        self.place = Path(tempfile.mkdtemp(prefix="pneumen-backup-"))
        self.addCleanup(shutil.rmtree, self.place)
        self.data, self.file = self.place / "data", self.place / "songs.zip"
        shutil.copytree(self.filled, self.data)

    def recordings(self):
        return sorted(path for path in (self.data / "audio").glob("*/*"))

    def told(self, **how):
        return [one.told for one in check_folder(self.data, mend=True, **how)]


class ThereAndBack(FolderCase):
    def test_by_the_commands(self):
        code, said = pneumen("backup", self.file, folder=self.data)
        self.assertEqual((code, "3 recordings" in said), (0, True), said)
        elsewhere = self.place / "elsewhere"
        code, said = pneumen("restore", self.file, folder=elsewhere)
        self.assertEqual(code, 0, said)
        self.assertEqual(tree_of(elsewhere), tree_of(self.data))
        self.assertEqual(pneumen("check", folder=elsewhere), (0, "all is well\n"))

    def test_what_was_there_is_kept_beside_it(self):
        make_backup(self.data, self.file)
        with closing(sqlite3.connect(self.data / DATABASE)) as writing:
            writing.execute("UPDATE song_song SET name = 'Changed since'")
            writing.commit()
        before = restore_backup(self.file, self.data)
        self.assertEqual(tree_of(before)[1], ["Changed since"])
        self.assertEqual(tree_of(self.data)[1], ["Lamplighter’s Waltz"])
        self.assertNotEqual(restore_backup(self.file, self.data), before)

    def test_the_next_start_trusts_what_was_restored(self):
        make_backup(self.data, self.file)
        elsewhere = self.place / "elsewhere"
        restore_backup(self.file, elsewhere)
        self.assertEqual((elsewhere / "starts.txt").read_text(), (self.data / "starts.txt").read_text())

    def test_recordings_that_were_put_away_are_in_it(self):
        first = self.recordings()[0]
        first.replace(self.data / "put-away" / f"1-{first.name}")
        made = make_backup(self.data, self.file)
        self.assertEqual((made.recordings, made.missing), (3, ()))
        self.assertIn(f"audio/{first.name[:2]}/{first.name}", checked(self.file))

    def test_a_recording_that_is_gone_is_named_and_the_rest_is_there(self):
        gone = self.recordings()[1]
        gone.unlink()
        code, said = pneumen("backup", self.file, folder=self.data)
        self.assertEqual(code, 1)
        self.assertIn(gone.name, said)
        self.assertEqual(len(checked(self.file)), 3)

    def test_while_another_writes(self):
        stop = threading.Event()

        def write():
            with closing(sqlite3.connect(self.data / DATABASE, timeout=30)) as writing:
                number = 0
                while not stop.is_set():
                    number += 1
                    writing.execute("UPDATE song_song SET budget = ?", (number % 900,))
                    writing.commit()

        writer = threading.Thread(target=write)
        writer.start()
        try:
            for _ in range(3):
                make_backup(self.data, self.file)
        finally:
            stop.set()
            writer.join()
        elsewhere = self.place / "elsewhere"
        restore_backup(self.file, elsewhere)
        self.assertEqual(check_folder(elsewhere, mend=True), [])


class NotAtAll(FolderCase):
    """Whatever is wrong with a file, the folder stays as it is."""

    def refused(self, change, why):
        make_backup(self.data, self.file)
        change()
        before = tree_of(self.data)
        with self.assertRaisesRegex(NoBackup, why):
            restore_backup(self.file, self.data)
        self.assertEqual(tree_of(self.data), before)
        self.assertEqual(sorted(path.name for path in self.place.iterdir()), ["data", "songs.zip"])

    def rewritten(self, change):
        """Write the backup anew with its manifest and files changed."""
        with zipfile.ZipFile(self.file) as old:
            files = {name: old.read(name) for name in old.namelist()}
        manifest = json.loads(files.pop(MANIFEST))
        change(manifest, files)
        with zipfile.ZipFile(self.file, "w") as new:
            for name, content in files.items():
                new.writestr(name, content)
            new.writestr(MANIFEST, json.dumps(manifest))

    def test_no_zip_at_all(self):
        self.refused(lambda: self.file.write_bytes(b"hello" * 99), "is no backup of Pneumen, or cut short")

    def test_cut_short(self):
        self.refused(lambda: os.truncate(self.file, self.file.stat().st_size // 2), "or cut short")

    def test_one_byte_turned(self):
        def turn():
            content = bytearray(self.file.read_bytes())
            content[len(content) // 2] ^= 1
            self.file.write_bytes(content)

        self.refused(turn, "damaged|cut short")

    def test_a_name_that_would_leave_the_folder(self):
        def escape(manifest, files):
            files["../evil"] = b"x"
            manifest["files"]["../evil"] = {"sha256": "0" * 64, "bytes": 1}

        self.refused(lambda: self.rewritten(escape), r"holds \.\./evil")

    def test_more_than_the_manifest_tells(self):
        def stow(manifest, files):
            files["stowaway"] = b"x"

        self.refused(lambda: self.rewritten(stow), "other files than its manifest")

    def test_a_file_that_grows_when_it_is_unpacked(self):
        def swell(manifest, files):
            name = next(name for name in files if name.startswith("audio"))
            files[name] += b"\0" * 5_000_000

        self.refused(lambda: self.rewritten(swell), "larger than its manifest tells")

    def test_another_layout(self):
        def age(manifest, files):
            manifest["layout"] = 2

        self.refused(lambda: self.rewritten(age), "another Pneumen")

    def test_a_database_that_is_none(self):
        import hashlib

        def scribble(manifest, files):
            files[DATABASE] = b"scribble" * 999
            digest = hashlib.sha256(files[DATABASE]).hexdigest()
            manifest["files"][DATABASE] = {"sha256": digest, "bytes": len(files[DATABASE])}

        self.refused(lambda: self.rewritten(scribble), "cannot be read|not sound")

    def test_a_folder_in_use_is_not_restored_over(self):
        make_backup(self.data, self.file)
        lock = hold(self.data, "at a test")
        self.addCleanup(lock.release)
        code, said = pneumen("restore", self.file, folder=self.data)
        self.assertEqual(code, 2)
        self.assertIn("is in use (process", said)
        self.assertEqual(len(said.strip().splitlines()), 1)

    def test_a_backup_that_cannot_be_written_leaves_nothing(self):
        for target in (self.place / "nowhere" / "a.zip", self.place):
            code, said = pneumen("backup", target, folder=self.data)
            self.assertEqual((code, len(said.strip().splitlines())), (2, 1), said)
        code, said = pneumen("backup", self.file, folder=self.place / "empty")
        self.assertEqual(code, 2)
        self.assertIn("holds no database", said)
        self.assertEqual([path.name for path in self.place.iterdir() if path.is_file()], [])


class Checking(FolderCase):
    def test_a_sound_folder(self):
        self.assertEqual(self.told(), [])
        self.assertEqual(len(checksums_in(self.data / DATABASE)), 3)

    def test_a_recording_put_away_by_mistake_comes_back(self):
        first = self.recordings()[0]
        first.replace(self.data / "put-away" / f"1-{first.name}")
        (told,) = self.told()
        self.assertRegex(told, "Lamplighter’s Waltz, Voice, take [123] had been put away")
        self.assertTrue(first.exists())
        self.assertEqual(self.told(), [])

    def test_missing_and_changed_ones_are_told_with_whose_they_are(self):
        first, second, _ = self.recordings()
        first.unlink()
        with second.open("ab") as file:
            file.write(b"x")
        told = "; ".join(self.told())
        self.assertRegex(told, r"take \d is not there")
        self.assertRegex(told, r"take \d is not as it was stored")
        code, said = pneumen("check", folder=self.data)
        self.assertEqual((code, "0 mended, 2 left" in said), (1, True), said)

    def test_what_belongs_to_no_song_is_put_away_only_when_asked(self):
        orphan = self.data / "audio" / "ab" / ("ab" * 32)
        orphan.parent.mkdir(exist_ok=True)
        orphan.write_bytes(b"somebody's song")
        self.assertIn("belongs to no song", self.told()[0])
        self.assertTrue(orphan.exists())
        self.told(put_orphans_away=True)
        self.assertFalse(orphan.exists())
        self.assertEqual(next((self.data / "put-away").glob("*-" + "ab" * 32)).read_bytes(), b"somebody's song")

    def test_leftovers_go_and_other_files_stay(self):
        left, other = self.data / "incoming" / "pneumen-x.wav", self.data / "incoming" / "notes.txt"
        for path in (left, other):
            path.write_bytes(b"x")
        self.assertEqual(len(self.told()), 1)
        self.assertEqual((left.exists(), other.exists()), (False, True))

    def test_while_it_runs_all_is_only_told(self):
        first = self.recordings()[0]
        first.replace(self.data / "put-away" / f"1-{first.name}")
        lock = hold(self.data, "at a test")
        self.addCleanup(lock.release)
        code, said = pneumen("check", folder=self.data)
        self.assertEqual((code, "nothing is mended" in said), (1, True), said)
        self.assertFalse(first.exists())

    def test_a_damaged_or_missing_database_is_told_in_a_line(self):
        path = self.data / DATABASE
        content = bytearray(path.read_bytes())
        content[4096:40_960] = os.urandom(36_864)
        for damaged in (bytes(content), b"scribble" * 999, b""):
            path.write_bytes(damaged)
            code, said = pneumen("check", folder=self.data)
            self.assertEqual(code, 1, said)
            self.assertNotIn("Traceback", said)
        path.unlink()
        self.assertIn("is not there", self.told()[0])


class OneProgram(FolderCase):
    def test_the_second_start_is_told_who_holds_the_folder_in_one_line(self):
        lock = hold(self.data, "at http://127.0.0.1:8640/")
        self.addCleanup(lock.release)
        code, said = pneumen("demo", "--port", "18655", folder=self.data)
        self.assertEqual(code, 2)
        self.assertEqual(len(said.strip().splitlines()), 1, said)
        self.assertIn(f"is in use (process {os.getpid()}, at http://127.0.0.1:8640/)", said)

    def test_once_let_go_it_can_be_had_again(self):
        first = hold(self.data, "one")
        with self.assertRaises(InUse):
            hold(self.data, "two")
        first.release()
        hold(self.data, "three").release()
