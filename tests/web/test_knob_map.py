"""The map of a knob: readings make it, advice goes by it, and what cannot be a reading is told."""

import io

import numpy as np
import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.core.take import test_sound as sound_of
from pneumen.web.gain.knob_map import POSITIONS
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from tests.web.base import DemoCase, answers

RATE_HZ = 44_100


class KnobCase(DemoCase):
    def setUp(self):
        super().setUp()
        self.act("start:page", **answers(self.voice, microphone="dynamic", interface="bare-knob"))

    def fresh(self):
        return Part.objects.whole().get(pk=self.voice.pk)

    def screen(self):
        return self.page("gain:knob").context["screen"]

    def send(self, share, samples, **sent):
        out = io.BytesIO()
        soundfile.write(out, samples, RATE_HZ, format="WAV", subtype="PCM_24")
        file = SimpleUploadedFile("knob.wav", out.getvalue(), "audio/wav")
        address = reverse("gain:knob", args=[self.voice.pk])
        return self.client.post(address, {"recording": file, "share": f"{share:.4f}", **sent}, follow=True)


class Mapped(KnobCase):
    def test_readings_of_a_known_taper_make_its_map(self):
        sound = sound_of(RATE_HZ)[: 3 * RATE_HZ]
        for share in POSITIONS:
            self.send(share, sound * 10 ** ((-30 + 48 * share**0.8) / 20))
        taper = self.fresh().own_interface.taper
        self.assertAlmostEqual(taper.range_db, 48, 1)
        self.assertAlmostEqual(taper.rise_at(0.5), 48 * 0.5**0.8, delta=max(taper.error_db, 0.5))
        self.assertContains(self.page("gain:knob"), "48 dB from stop to stop")

    def test_advice_goes_by_the_map_on_every_screen(self):
        before = self.page("gain:page").context["screen"]
        self.act("gain:knob", simulate="1")
        part = self.fresh()
        chain = outcome_of(part).setup.chain
        self.assertIsNotNone(chain.taper)
        self.assertAlmostEqual(chain.gain_range_db[1] - chain.gain_range_db[0], chain.taper.range_db)
        after = self.page("gain:page").context["screen"]
        self.assertLess(outcome_of(part).signal_band_db, 9.5)
        self.assertNotEqual(before.knob.window_label, after.knob.window_label)
        self.assertRegex(after.schools[0].wants, "o’clock|past|before|stop")
        for page in ("start:page", "kit:page", "hookup:page", "delay:page", "take:page", "place:page"):
            self.assertEqual(self.page(page).status_code, 200, page)

    def test_the_gain_that_is_set_is_the_share_that_is_shown(self):
        self.act("gain:knob", simulate="1")
        self.act("gain:keep", turn="40", **{"was-turn": "0"})
        part = self.fresh()
        chain = part.to_chain()
        self.assertAlmostEqual(part.gain_db, chain.gain_range_db[0] + chain.taper.rise_at(0.4), 6)
        self.assertAlmostEqual(self.page("gain:page").context["screen"].knob.share, 40, delta=0.2)

    def test_a_take_keeps_the_map_it_was_recorded_with(self):
        self.act("gain:knob", simulate="1")
        self.act("take:simulated")
        self.work()
        take = self.voice.takes.first()
        self.assertIsNotNone(take.knob.taper)
        share = take.knob.share_at(take.gain_db)
        self.act("gain:knob", forget="1")
        self.assertEqual(self.voice.takes.first().knob.share_at(take.gain_db), share)

    def test_what_is_simulated_says_so_and_gives_place_to_a_real_reading(self):
        self.act("gain:knob", simulate="1")
        self.assertContains(self.page("gain:knob"), "Simulated: it says nothing of your own knob")
        self.send(0.0, sound_of(RATE_HZ)[: 3 * RATE_HZ] * 0.1)
        self.assertEqual(len(self.screen().rows), 1)
        self.assertNotContains(self.page("gain:knob"), "Simulated: it")

    def test_readings_are_taken_back(self):
        self.act("gain:knob", simulate="1")
        self.act("gain:knob", remove=self.screen().rows[0].number)
        self.assertContains(self.page("gain:knob"), "both stops")
        self.assertIsNone(self.fresh().to_chain().taper)
        self.act("gain:knob", forget="1")
        self.assertEqual(self.screen().rows, ())
        self.assertContains(self.page("gain:knob"), "No readings yet")


class Refused(KnobCase):
    def test_what_is_no_steady_sound_is_told(self):
        for samples, told in (
            (np.zeros(3 * RATE_HZ), "silent"),
            (sound_of(RATE_HZ)[: RATE_HZ // 2], "shorter than a second"),
            (np.clip(200 * sound_of(RATE_HZ)[: 3 * RATE_HZ], -1, 1), "clips"),
            (sound_of(RATE_HZ)[: 3 * RATE_HZ] * np.repeat([1, 0.1, 1], RATE_HZ), "not steady"),
        ):
            self.assertContains(self.send(0.5, samples), told)
        self.assertContains(self.send(1.5, sound_of(RATE_HZ)[: 3 * RATE_HZ]), "share")
        empty = self.client.post(reverse("gain:knob", args=[self.voice.pk]), {"share": "0.5"}, follow=True)
        self.assertContains(empty, "Choose a recording of the test sound first")
        self.assertEqual(self.screen().rows, ())

    def test_only_ones_own_bare_knob_is_mapped(self):
        self.act("start:page", **answers(self.voice, microphone="dynamic", interface="numbered"))
        page = self.client.get(reverse("gain:knob", args=[self.voice.pk]), follow=True)
        self.assertContains(page, "must be your own, with a knob without decibels")
        self.assertNotContains(self.page("gain:page"), "Map of the knob")

    def test_the_test_sound_starts_soft(self):
        answer = self.page("gain:knob-sound")
        samples, rate_hz = soundfile.read(io.BytesIO(answer.content))
        self.assertEqual(rate_hz, RATE_HZ)
        self.assertAlmostEqual(20 * np.log10(np.sqrt(np.square(samples).mean())), -40, 1)


class OneKnownLevel(KnobCase):
    def test_it_makes_the_map_absolute(self):
        self.act("gain:knob", simulate="1")
        row = self.screen().rows[3]
        answer = self.client.post(
            reverse("gain:knob", args=[self.voice.pk]), {"known": row.number, "dbu": "-50"}, follow=True
        )
        self.assertContains(answer, "At its left stop the input takes")
        interface = self.fresh().own_interface
        reading = interface.readings.get(pk=row.number)
        chain = self.fresh().to_chain()
        expected_dbfs = -50 - chain.interface.max_input_dbu + interface.taper.rise_at(reading.share) - 3.01
        self.assertAlmostEqual(reading.level_db, expected_dbfs, delta=0.1)

    def test_nonsense_is_told(self):
        self.act("gain:knob", simulate="1")
        row = self.screen().rows[3]
        for sent, told in (
            ({"known": row.number, "dbu": "loud"}, "must be a number"),
            ({"known": row.number, "dbu": "90"}, "between -80 and 30"),
            ({"known": "0", "dbu": "-30"}, "is not there any more"),
        ):
            answer = self.client.post(reverse("gain:knob", args=[self.voice.pk]), sent, follow=True)
            self.assertContains(answer, told)
        self.assertIsNone(self.fresh().own_interface.max_input_dbu)
