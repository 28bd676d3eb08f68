"""What is in the headphones, what of it reaches the microphone, and the gorge that shows it."""

from django.urls import reverse

from pneumen.core.forecast import CueMix as CoreMix
from pneumen.core.forecast import cue_of
from pneumen.core.verdict import Verdict
from pneumen.web.settle import outcome_of
from pneumen.wording.figures import figure
from tests.web.base import HTMX, answers
from tests.web.hookup_case import HookupCase


class Headphones(HookupCase):
    def lines(self):
        return " ".join(told for _, told in self.page("hookup:page").context["cue"].told)

    def test_a_leak_grows_with_an_ear_off_and_a_click_makes_it_lasting(self):
        self.assertIn("About 53 dB SPL of it reach the microphone", self.lines())  # 80 less 27.5, at 18 of 20 cm
        self.act("hookup:cue", one_ear_off="on", click="on", backing="90")
        page = self.page("hookup:page")
        self.assertIn("About 78 dB SPL of it reach", self.lines())
        verdicts = [verdict for verdict, _ in page.context["cue"].told]
        self.assertEqual(verdicts[0], Verdict.BAKED_IN)
        self.assertIn("safe for 2.5 hours a day", self.lines())  # NIOSH: 90 dB, 8 h halved by each 3 dB over 85

    def test_ones_own_sound_through_the_computer_is_late(self):
        self.act("hookup:cue", own="computer")
        self.assertRegex(self.lines(), r"Your own sound comes \d+ ms late")
        answer = self.client.post(reverse("hookup:cue", args=[self.voice.pk]), {"own": "direct"}, **HTMX)
        self.assertNotContains(answer, "ms late")
        self.assertContains(answer, 'id="cue"')

    def test_a_way_that_is_none_is_refused(self):
        answer = self.act("hookup:cue", own="by pigeon")
        self.assertContains(answer, "must be one of direct, computer, both, none", status_code=422)


class Leak(HookupCase):
    def columns(self):
        gorge = self.page("gain:page").context["screen"].gorges[0]
        return {column.label: column for column in gorge.columns}

    def test_the_leak_of_the_headphones_is_a_stage_of_the_gorge_and_the_same_on_both_screens(self):
        cue = cue_of(outcome_of(self.fresh()), CoreMix())
        self.assertEqual(self.columns()["Leak"].ground.label, figure(cue.leak_dbfs))
        self.assertContains(self.page("hookup:page"), f"{figure(cue.leak_dbfs)} dBFS in the file")
        self.act("hookup:cue", backing="90", own="direct", one_ear_off="on")
        louder = self.columns()["Leak"].ground.label
        self.assertEqual(louder, figure(cue.leak_dbfs + 25))  # ten louder, one ear off fifteen more
        self.act("hookup:cue", backing="none", own="direct")
        self.assertNotIn("Leak", self.columns())

    def test_the_leak_stays_out_of_the_noise_of_the_pauses(self):
        before = outcome_of(self.fresh()).levels.noise_dbfs
        self.act("hookup:cue", backing="90", own="direct", one_ear_off="on")
        self.assertEqual(outcome_of(self.fresh()).levels.noise_dbfs, before)

    def test_who_speaks_alone_hears_nothing_unless_told(self):
        self.act("start:page", **answers(self.voice, source="spoken-word"))
        self.assertNotIn("Leak", self.columns())
