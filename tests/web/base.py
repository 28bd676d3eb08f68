"""What the tests of the web face share: a person with the demo song, and how takes get measured."""

import shutil

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.urls import reverse

from pneumen.demo.load import load_demo
from pneumen.web.audio.sweep import KNOWN
from pneumen.web.job.services import work_on_next
from pneumen.web.job.works import WORKS
from pneumen.web.part.models import Part
from pneumen.web.song.models import Song
from tests.signals import wav

HTMX = {"HTTP_HX_REQUEST": "true"}
OPTIONS = {
    "budget": "400",
    "route": "any",
    "system": "",
    "tone": "",
    "enough_clean_db": "50",
    "standing": "on",
    "renting": "on",
}
"""What the Kit screen's form sends."""


class DemoCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo(fresh=False)
        cls.owner = get_user_model().objects.get(username=settings.LOCAL_OWNER)
        cls.song = Song.objects.get()
        cls.voice, cls.harp, cls.clarinet = Part.objects.all()

    def setUp(self):
        for folder in (settings.AUDIO, settings.INCOMING, settings.PUT_AWAY, settings.LIVE, settings.PACKAGES):
            shutil.rmtree(folder, ignore_errors=True)
            folder.mkdir()
        (settings.AUDIO.parent / KNOWN).unlink(missing_ok=True)

    def page(self, name, part=None, /, *more, **data):
        return self.client.get(reverse(name, args=[(part or self.voice).pk, *more]), data)

    def act(self, name, part=None, /, *more, **data):
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(reverse(name, args=[(part or self.voice).pk, *more]), data)

    def upload(self, samples=None, part=None, name="take.wav", content=None, **options):
        file = SimpleUploadedFile(name, content if content is not None else wav(samples), "audio/wav")
        address = reverse("take:upload", args=[(part or self.voice).pk])
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(address, {"recording": file}, **options)

    def work(self):
        """Do the next piece of work, as the worker does."""
        with self.captureOnCommitCallbacks(execute=True):
            return work_on_next(WORKS)

    def measured_take(self, samples=None, part=None, **options):
        self.upload(samples, part, **options)
        self.work()
        return (part or self.voice).takes.first()

    def learnt_take(self, samples=None, part=None, **told):
        """Measure a take and tell that it was recorded as set, or how it was."""
        take = self.measured_take(samples, part)
        self.act("take:told", part, take.number, **told)
        take.refresh_from_db()
        return take


def answers(part, **changes):
    """The five answers as a form sends them."""
    sent = {
        "source": part.source,
        "loudness": part.loudness,
        "budget": "400",
        "route": "any",
        "microphone": "none",
        "sensitivity_unit": "mv",
        "own_noise_unit": "self",
        "pattern": "",
        "usb_gain": "none",
        "interface": "none",
        "ein_unit": "a",
        "computer": "laptop",
        "standing": "on",
        "size": "small",
        "furnishing": "some",
        "noise": "ordinary",
        "audience": "song",
        "owned": ["headphones"],
    }
    return sent | changes
