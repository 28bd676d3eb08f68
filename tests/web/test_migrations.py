"""From layout 3 on every change migrates: an older folder keeps all it held."""

import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
BEGIN = """
import django
django.setup()
from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
"""
FIRST = [
    (app, "0001_initial") for app in ("audio", "job", "song", "room", "gear", "part", "kit", "start", "place", "take")
]
AS_IT_WAS = (
    BEGIN
    + f"""
executor = MigrationExecutor(connection)
targets = [node for node in executor.loader.graph.leaf_nodes() if node[0] in ("auth", "contenttypes", "sessions")]
executor.migrate(targets + {FIRST})
state = executor.loader.project_state(targets + {FIRST}).apps
from django.utils import timezone
owner = state.get_model("auth", "User").objects.create(username="local")
room = state.get_model("room", "Room").objects.create(
    owner=owner, name="Attic", size="medium", furnishing="some", noise="quiet"
)
state.get_model("gear", "GearMark").objects.create(
    owner=owner, item_id="my-mine", have="owned",
    data={{"id": "my-mine", "kind": "microphone", "name": "Mine", "price": 12.5, "family": "dynamic"}},
)
state.get_model("gear", "GearMark").objects.create(owner=owner, item_id="rowan-2", hidden=True)
for name, deleted_at in (("Here", None), ("Gone", timezone.now())):
    song = state.get_model("song", "Song").objects.create(owner=owner, name=name, room=room, deleted_at=deleted_at)
    part = state.get_model("part", "Part").objects.create(owner=owner, song=song, name="Voice", source="voice-pop")
    audio = state.get_model("audio", "AudioFile").objects.create(
        owner=owner, checksum=name.lower().ljust(64, "0"), container="WAV", encoding="PCM_24", size_bytes=1
    )
    state.get_model("take", "Take").objects.create(
        owner=owner, part=part, number=3, original_name="a.wav", audio=audio, snapshot={{}}, correction={{}}
    )
    state.get_model("take", "Lesson").objects.create(
        owner=owner, part=part, take=part.takes.get(), levels={{"typical_db_spl": 80}}, band_db=2, source_band_db=3,
        absolute=True, chain="a+b", gain_db=20, noise_change_db=-4, noise_band_db=1.25
    )
"""
)
NOW = (
    BEGIN
    + """
call_command("migrate", verbosity=0)
from pneumen.web.audio.models import AudioFile
from pneumen.web.gear.models import GearMark
from pneumen.web.song.models import Song
from pneumen.web.song.away import bring_back
print([(mark.item_id, mark.item and (mark.item.family, mark.item.price)) for mark in GearMark.objects.all()])
print([song.name for song in Song.objects.all()], AudioFile.objects.count())
bring_back(Song.everything.get(name="Gone"))
for song in Song.objects.all():
    take = song.parts.get().takes.get()
    print(song.name, take.number, take.audio.checksum.rstrip("0"), take.is_asked_about)
    print([(one.what, one.number, one.levels, one.noise_change_db, one.band_db) for one in take.lessons.order_by("pk")])
"""
)


LESSONS = "[('level', 3, {'typical_db_spl': 80}, None, 2.0), ('noise', 3, None, -4.0, 1.25)]"


class AnOlderFolder(unittest.TestCase):
    def run_in(self, folder, script):
        environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "PNEUMEN_DATA": str(folder)}
        environment["DJANGO_SETTINGS_MODULE"] = "pneumen.web.site.settings"
        done = subprocess.run(
            [sys.executable, "-c", script], env=environment, capture_output=True, text=True, check=False
        )
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        return done.stdout.splitlines()

    def test_songs_deleted_then_can_be_brought_back_now_and_gear_is_as_it_was(self):
        folder = Path(tempfile.mkdtemp(prefix="pneumen-older-"))
        self.addCleanup(shutil.rmtree, folder)
        self.run_in(folder, AS_IT_WAS)
        marks = "[('my-mine', ('dynamic', 12.5)), ('rowan-2', None)]"
        self.assertEqual(
            self.run_in(folder, NOW), [marks, "['Here'] 2", "Here 3 here False", LESSONS, "Gone 3 gone False", LESSONS]
        )
