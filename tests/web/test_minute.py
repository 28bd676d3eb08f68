"""The one-minute check in the application: led live, sent as a file, mended by hand, and used."""

import numpy as np
from django.urls import reverse

from pneumen.core.live import Minute
from pneumen.web.hookup.services import mix_of
from pneumen.web.live import desk
from pneumen.web.live.models import MinuteCheck
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.take.models import Take
from tests.core.test_minute import RATE_HZ, recorded
from tests.signals import wav
from tests.web.test_live import LiveCase


class Checks(LiveCase):
    def check(self, **how):
        """Send a whole check as a file; return it."""
        samples, _ = recorded(**how)
        file = self.file(samples)
        self.sent_answer = self.client.post(reverse("gain:minutes", args=[self.voice.pk]), {"recording": file})
        return MinuteCheck.objects.first()

    def file(self, samples):
        from django.core.files.uploadedfile import SimpleUploadedFile

        return SimpleUploadedFile("check.wav", wav(samples, rate=RATE_HZ), "audio/wav")

    def does(self, check, **data):
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(reverse("gain:minute", args=[self.voice.pk, check.pk]), data)

    def shown(self, check):
        return self.page("gain:minute", self.voice, check.pk)

    def test_a_file_is_cut_measured_and_told(self):
        check = self.check(leak_dbfs=-60)
        self.assertRedirects(self.sent_answer, reverse("gain:minute", args=[self.voice.pk, check.pk]))
        page = self.shown(check)
        for told in (
            "Loudest peak",
            "From soft to loud",
            "Leak of the headphones",
            "Reverberation time",
            "±2.0 dB",
        ):
            self.assertContains(page, told)
        self.assertContains(self.page("gain:minutes"), reverse("gain:minute", args=[self.voice.pk, check.pk]))

    def test_led_live_it_says_what_comes_now_and_ends_by_itself(self):
        self.opened(rate=str(RATE_HZ), purpose="minute")
        samples, places = recorded()
        at = round((places["loudest"][0] + 1) * RATE_HZ)
        self.assertContains(self.sends(samples[:at]), "Loudest")
        silence = round((places["silence"][0] + 2) * RATE_HZ)
        self.assertContains(self.sends(samples[at:silence]), "Nothing at all for five seconds")
        self.assertContains(self.sends(samples[silence:], np.zeros(RATE_HZ)), "What the check told")
        check = MinuteCheck.objects.get()
        self.assertEqual(len(check.cuts), 8)
        self.assertAlmostEqual(check.to_core().range_db, 18, delta=2)
        self.assertContains(self.shown(check), "Recorded by the browser through Hedge Two")
        self.assertEqual(desk.DESK._open[self.key].purpose, "take")  # what comes next is a take again

    def test_cuts_are_mended_by_hand(self):
        check = self.check()
        before, cuts = check.to_core(), {cut.step: cut for cut in check.to_core_cuts()}
        sent = {f"{step}-{end}": getattr(cut, f"{end}_s") for step, cut in cuts.items() for end in ("start", "end")}
        self.does(check, **sent | {"soft-start": "", "soft-end": ""})
        check.refresh_from_db()
        self.assertIsNone(check.to_core().range_db)
        self.assertContains(self.shown(check), "not told: softly is missing, or cannot be read")
        self.assertEqual(check.to_core().noise_dbfs, before.noise_dbfs)

    def test_an_impossible_cut_is_told_and_stays_as_typed(self):
        check = self.check()
        for sent, told in (
            ({"soft-start": "9", "soft-end": "3"}, "must end after it begins"),
            ({"soft-start": "soon", "soft-end": "3"}, "must be a number"),
            ({"soft-start": "900", "soft-end": "903"}, "beyond its end"),
        ):
            answer = self.does(check, **sent)
            self.assertContains(answer, told, status_code=422)
            self.assertContains(answer, f'value="{sent["soft-start"]}"', status_code=422)
        check.refresh_from_db()
        self.assertIsInstance(check.to_core(), Minute)

    def test_it_becomes_a_take_of_level_and_noise_at_one_gain(self):
        check = self.check()
        self.does(check, use="take")
        take = Take.objects.get(part=self.voice)
        self.work()
        take.refresh_from_db()
        measured, told = take.to_core(), check.to_core()
        self.assertAlmostEqual(measured.level.sample_peak_dbfs, told.peak_dbfs, 1)
        self.assertAlmostEqual(measured.noise.floor_dbfs_a, told.noise_dbfs, delta=1)
        self.assertTrue(take.is_asked_about)
        self.assertContains(self.shown(check), "are a take now")

    def test_its_clap_is_the_rooms(self):
        check = self.check()
        self.does(check, use="clap")
        self.voice.song.room.refresh_from_db()
        self.assertAlmostEqual(self.voice.song.room.clap["rt60_s"], check.to_core().rt60_s, 2)
        self.assertContains(self.shown(check), "reverberation time is measured now")

    def test_its_leak_counts_in_the_gorge_until_the_mix_changes(self):
        check = self.check(leak_dbfs=-58)
        self.does(check, use="leak")
        row = next(one for one in self.page("gain:page").context["screen"].rows if "leak" in one.name)
        self.assertEqual(row.whole.replace("\N{MINUS SIGN}", "-"), f"{check.to_core().leak_dbfs:.0f}")
        self.assertContains(self.page("hookup:page"), "Measured by a")
        self.act("hookup:cue", one_ear_off="on", **{"was-one_ear_off": "False", "backing": "80", "own": "direct"})
        self.assertIsNone(mix_of(Part.objects.whole().get(pk=self.voice.pk)).leak_db_spl)

    def test_what_was_not_done_is_not_offered(self):
        check = self.check(without=("backing", "clap"))
        self.assertNotContains(self.shown(check), "Take its clap")
        self.assertContains(self.does(check, use="clap"), "was not heard", status_code=422)

    def test_what_is_no_check_is_refused_in_words(self):
        for samples, told in ((np.zeros(RATE_HZ), "holds no step of the check"),):
            answer = self.client.post(reverse("gain:minutes", args=[self.voice.pk]), {"recording": self.file(samples)})
            self.assertContains(answer, told, status_code=422)
        answer = self.client.post(reverse("gain:minutes", args=[self.voice.pk]))
        self.assertContains(answer, "choose a file first", status_code=422)

    def test_a_check_is_removed_with_its_recording(self):
        check = self.check()
        path = check.audio.path
        self.does(check, remove="1")
        self.assertFalse(MinuteCheck.objects.exists())
        self.assertFalse(path.exists())

    def test_a_plug_is_asked_for_levels_only(self):
        from tests.web.base import answers

        self.act("start:page", **answers(self.voice, source="guitar-direct", interface="bare-knob"))
        page = self.page("gain:minutes")
        self.assertNotContains(page, "Words with P, B and S")
        self.assertContains(page, "Nothing at all for five seconds")

    def test_the_stand_in_does_one_where_the_part_stands(self):
        answer = self.client.post(reverse("gain:minutes", args=[self.voice.pk]), {"simulate": "1"}, follow=True)
        self.assertContains(answer, "What it told")
        check, found = MinuteCheck.objects.get(), outcome_of(Part.objects.whole().get(pk=self.voice.pk))
        told = check.to_core()
        self.assertEqual(len(check.cuts), 8)
        self.assertAlmostEqual(told.range_db, 18, delta=told.range_band_db)
        self.assertAlmostEqual(told.noise_dbfs, found.levels.noise_dbfs, delta=found.noise_band_db + told.noise_band_db)
        self.assertAlmostEqual(told.peak_dbfs, found.levels.peak_dbfs, delta=found.signal_band_db + 3)
        leak = next(row for row in self.page("gain:page").context["screen"].rows if "leak" in row.name)
        self.assertAlmostEqual(told.leak_dbfs, float(leak.whole.replace("\N{MINUS SIGN}", "-")), delta=3)

    def test_an_instrument_says_no_words(self):
        self.client.post(reverse("gain:minutes", args=[self.clarinet.pk]), {"simulate": "1"})
        check = MinuteCheck.objects.get()
        self.assertNotIn("words", check.steps)
        page = self.page("gain:minute", self.clarinet, check.pk)
        self.assertNotContains(page, "Puffs")
        self.assertContains(page, "Reverberation time")
