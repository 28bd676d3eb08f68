"""The loop in the application: the stand-in plays through a setup, the fault is found and told; the advice is followed,
and it is gone."""

import zlib

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.core.rig import draw_truth
from pneumen.web.part.models import Part
from tests.signals import RATE, wav
from tests.web.base import DemoCase


class Loops(DemoCase):
    def heard(self, kind):
        """Play a take and return what the setup has to do with a kind of fault; None where it was not found."""
        self.act("take:simulated")
        self.work()
        found = self.page("take:page").context["screen"].findings
        return next((one.here for one in found if one.kind == kind), None)

    def fresh(self):
        return Part.objects.whole().get(pk=self.voice.pk)

    def test_hum_of_a_ground_loop(self):
        self.song.monitors = True
        self.song.save(update_fields=["monitors"])
        self.act("hookup:keep", what="outlet", at="Left monitor", value="other")
        self.assertIn("outlet strip", self.heard("hum"))
        loop = next(one for one in self.page("hookup:page").context["screen"].faults if "loop that hums" in one.why)
        self.act("hookup:keep", what=loop.cure.what, at=loop.cure.at, value=loop.cure.value)
        self.assertIsNone(self.heard("hum"))

    def test_dropouts_of_a_buffer_too_small(self):
        self.song.computer = "old-laptop"
        self.song.save(update_fields=["computer"])
        self.act("delay:keep", buffer="32", load="models", **{"was-buffer": "256", "was-load": "plain"})
        told = self.heard("dropouts")
        self.assertIn("a buffer of 32 samples", told)
        larger = told.rsplit(" ", 1)[-1].rstrip(".")
        self.act("delay:keep", buffer=larger, **{"was-buffer": "32"})
        self.assertIsNone(self.heard("dropouts"))

    def test_a_harsh_s_on_the_mouths_axis(self):
        """Of a singer with a sharp S, whom the stand-in draws from the names of song and part."""
        self.voice.name = next(name for name in map("Voice {}".format, range(500)) if self.hiss_db_of(name) > 10)
        self.voice.save(update_fields=["name"])
        self.act("place:keep", aside="0", **{"was-aside": "5"})
        self.assertIn("beside the mouth takes", self.heard("harsh S"))
        self.act("place:keep", aside="60", **{"was-aside": "0"})
        self.assertIsNone(self.heard("harsh S"))

    def hiss_db_of(self, name):
        return draw_truth(zlib.crc32(f"{self.song.name}/{name}/{self.voice.source}".encode()), 1).hiss_db

    def test_the_backing_in_the_headphones(self):
        rng, beats = np.random.default_rng(3), np.repeat(np.tile([1.0, 0.3], 40), RATE // 4)
        file = SimpleUploadedFile("bed.wav", wav(0.3 * beats * rng.standard_normal(len(beats))), "audio/wav")
        self.client.post(reverse("part:backing", args=[self.voice.pk]), {"backing": file})
        self.act("hookup:cue", backing="90", one_ear_off="on")
        self.assertIn("Both cups closed", self.heard("leak of the backing"))
        self.act("hookup:cue", backing="70", **{"was-one_ear_off": "True"})
        self.assertIsNone(self.heard("leak of the backing"))
        self.assertIsNotNone(self.voice.takes.first().backing)

    def test_echo_of_a_hard_room(self):
        self.act("place:keep", distance="60", **{"was-distance": "18"})
        self.in_room(size="large", furnishing="bare")
        self.assertIn("The room was believed to ring", self.heard("echo of the room"))
        self.in_room(size="small", furnishing="soft")
        self.act("place:keep", distance="15", **{"was-distance": "60"})
        self.assertIsNone(self.heard("echo of the room"))

    def in_room(self, **words):
        """Have the room from words alone, as on Start where none is drawn."""
        room = self.fresh().song.room
        for name, value in ({"drawn": False} | words).items():
            setattr(room, name, value)
        room.save()

    def test_clipping_of_a_gain_too_high(self):
        self.act("gain:keep", gain="50", **{"was-gain": "22"})
        self.assertIn("In this chain", self.heard("clipping"))
        self.act("gain:keep", gain="20", **{"was-gain": "50"})
        self.assertIsNone(self.heard("clipping"))
