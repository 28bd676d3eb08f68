"""A part recorded from the plug: every screen knows it has neither distance nor room."""

from django.urls import reverse

from pneumen.core.part import SOURCES
from pneumen.web.job.services import work_on_next
from pneumen.web.job.works import WORKS
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.take.models import Lesson
from tests.web.base import DemoCase, answers


class Plugged(DemoCase):
    def setUp(self):
        super().setUp()
        self.plug("keyboard", budget="300")

    def plug(self, source, **changes):
        address = reverse("start:page", args=[self.voice.pk])
        response = self.client.post(address, answers(self.voice, source=source, **changes))
        self.assertEqual(response.status_code, 302)
        self.voice = Part.objects.get(pk=self.voice.pk)

    def open(self, name):
        return self.client.get(reverse(name, args=[self.voice.pk]))

    def test_the_plan_has_no_microphone_and_no_distance(self):
        plan = self.open("start:page").context["plan"]
        self.assertIsNone(self.voice.microphone)
        self.assertIsNotNone(self.voice.interface)
        titles = [answer.title for answer in plan.answers]
        self.assertNotIn("Distance to start from", titles)
        self.assertIn("Gain to set", titles)
        kinds = {line.kind for line in plan.packing.lines}
        self.assertIn("Instrument cable", kinds)  # the other two parts have microphones, so the list has them too
        self.assertContains(self.open("hookup:page"), "70 to 80 %")

    def test_place_says_so_at_every_address_of_its(self):
        for name, ask in (("page", self.client.get), ("tried", self.client.get), ("keep", self.client.post)):
            answer = ask(reverse(f"place:{name}", args=[self.voice.pk]), {"distance": "20"})
            self.assertContains(answer, "there is no microphone to place")
        self.voice.refresh_from_db()
        self.assertIsNone(self.voice.distance_m)

    def test_every_plugged_source_gets_a_plan_and_a_gain_screen(self):
        for slug, source in SOURCES.items():
            if source.direct:
                with self.subTest(slug):
                    self.plug(slug, budget="500")
                    self.assertEqual(self.voice.assumed_devices, ())
                    page = self.open("gain:page")
                    self.assertContains(page, "neither distance nor room reaches the file")
                    self.assertEqual([h.field for g in page.context["screen"].gorges for h in g.handles], ["gain"] * 2)
                    self.assertNotIn("room", page.context["screen"].sentence)
                    self.assertContains(self.open("part:page"), "dBu at the plug")
                    self.assertEqual(self.open("kit:page").status_code, 200)

    def test_of_what_is_plugged_in_kit_draws_no_room_and_leaves_no_gap_for_it(self):
        self.clarinet.delete()
        self.harp.delete()
        for source, panels in (("keyboard", 1), ("voice-pop", 2)):
            self.act("start:page", **answers(self.voice, source=source))
            screen = self.page("kit:page").context["screen"]
            with self.subTest(source):
                for picture in screen.pictures:
                    self.assertEqual(len(picture.panels), panels)
                    self.assertEqual(picture.frame.height - picture.panels[-1].bottom, 40)
                self.assertEqual(any("Over the room" in row[0] for row in screen.reading), panels == 2)

    def test_what_the_instrument_cost_is_asked_and_kept(self):
        self.assertContains(self.open("kit:page"), "What your instrument cost")
        address = reverse("kit:keep", args=[self.voice.pk])
        self.client.post(address, {"instrument_price": "1200"})
        self.voice.refresh_from_db()
        self.assertEqual(self.voice.instrument_price, 1200)
        self.assertEqual(self.client.post(address, {"instrument_price": "-3"}).status_code, 422)

    def test_gain_is_kept_without_a_distance(self):
        address = reverse("gain:keep", args=[self.voice.pk])
        marking = self.voice.to_chain().gain_marking
        sent = {"turn": "10"} if marking == "bare" else {"gain": "7"}
        self.assertEqual(self.client.post(address, {**sent, "school": "ten-under"}).status_code, 302)
        self.voice.refresh_from_db()
        self.assertEqual(self.voice.school, "ten-under")

    def test_a_simulated_take_teaches_the_level_at_the_plug_and_nothing_of_the_room(self):
        self.client.post(reverse("take:simulated", args=[self.voice.pk]))
        work_on_next(WORKS)
        take = self.voice.takes.first()
        self.assertEqual(take.status, "done", take.error)
        self.voice.refresh_from_db()
        lesson = Lesson.objects.get(part=self.voice)
        self.assertEqual((lesson.take, lesson.noise_change_db), (take, None))
        self.assertIn("typical_dbu", lesson.levels)
        page = self.open("take:page")
        self.assertContains(page, "plugged in")
        self.assertNotContains(page, "at 1 m")
        predicted = outcome_of(self.voice).levels.peak_dbfs
        measured = take.measurement["level"]["sample_peak_dbfs"]
        self.assertAlmostEqual(predicted, measured, delta=0.6)  # learned: the next one is expected where this one was


class BeforeTheInterface(DemoCase):
    """What stands before a plug's interface is set on Gain and counts everywhere."""

    def setUp(self):
        super().setUp()
        self.act("start:page", **answers(self.voice, source="keyboard", interface="bare-knob"))

    def peak(self):
        return outcome_of(Part.objects.whole().get(pk=self.voice.pk))

    def test_a_keyboards_volume_a_pedal_and_a_mixer_are_stages(self):
        self.assertContains(self.page("gain:page"), "70 to 80 is usual")
        before = self.peak()
        self.act("gain:keep", own_volume="50", pedal="3", mixer="-2")
        after = self.peak()
        self.assertAlmostEqual(
            after.levels.peak_dbfs - after.gain_db, before.levels.peak_dbfs - before.gain_db - 7.04 + 3 - 2, delta=0.05
        )
        self.assertContains(self.page("gain:page"), "the instrument’s own volume")

    def test_kit_and_start_count_them_as_gain_does(self):
        self.harp.delete()
        self.clarinet.delete()
        self.act("gain:keep", own_volume="50", mixer="-2")
        clean = f"{self.peak().levels.clean_range_db:.0f} dB of clean range"
        self.assertContains(self.page("kit:page"), clean)
        self.assertContains(self.page("start:page"), clean)
        self.act("start:page", **answers(self.voice, source="keyboard", interface="none"))  # and where a kit is bought
        self.act("gain:keep", own_volume="40")
        self.assertContains(self.page("kit:page"), f"{self.peak().levels.clean_range_db:.0f} dB of clean range")

    def test_a_guitars_volume_is_tone(self):
        self.act("start:page", **answers(self.voice, source="guitar-direct", interface="bare-knob"))
        self.assertContains(self.page("gain:page"), "own volume is tone")

    def test_nonsense_is_told_and_changes_nothing(self):
        for sent, told in (({"own_volume": "140"}, "between 0.05 and 1"), ({"pedal": "99"}, "between -60 and 60")):
            answer = self.act("gain:keep", **sent)
            self.assertContains(answer, told, status_code=422)
        self.assertIsNone(Part.objects.get(pk=self.voice.pk).own_volume)
