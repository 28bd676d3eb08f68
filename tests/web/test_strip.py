"""The strip in the application: any stretch of a take, its spectrum, and another take at one loudness."""

import struct
import zlib

import numpy as np
from django.urls import reverse

from pneumen.web.take.models import Take
from pneumen.web.take.spectrum import COLUMNS
from tests.signals import RATE, phrases, sine
from tests.web.base import HTMX, DemoCase


class Stretches(DemoCase):
    def strip(self, **asked):
        return self.page("take:page", None, **asked).context["screen"].strip

    def test_the_whole_is_drawn_and_any_stretch_of_it(self):
        self.measured_take(phrases(-10, -80))
        whole = self.strip()
        self.assertTrue(whole.is_whole)
        self.assertEqual([name for name, *_ in whole.steps], ["closer"])
        part = self.strip(**{"from": "1.5", "to": "3"})
        self.assertEqual((part.from_s, part.to_s, part.is_whole), (1.5, 3.0, False))
        self.assertAlmostEqual(part.strips[0][0].px_per_s * 1.5, part.strips[0][0].inner_width)

    def test_each_step_leads_where_it_says(self):
        self.measured_take(phrases(-10, -80))
        steps = {name: query for name, _, query in self.strip(**{"from": "2", "to": "4"}).steps}
        self.assertEqual(steps["closer"], "from=2.5&to=3.5")
        self.assertEqual(steps["wider"], "from=1&to=5")
        self.assertEqual(steps["earlier"], "from=1&to=3")
        self.assertEqual(steps["later"], "from=3&to=5")

    def test_what_cannot_be_drawn_is_the_nearest_that_can(self):
        self.measured_take(phrases(-10, -80))
        length_s = self.strip().to_s
        for first, last in (("x", "3"), ("nan", "inf"), ("-5", "999"), ("", "")):
            self.assertTrue(self.strip(**{"from": first, "to": last}).is_whole, first)
        tiny = self.strip(**{"from": "3", "to": "3"})
        self.assertAlmostEqual(tiny.to_s - tiny.from_s, 0.5)
        late = self.strip(**{"from": "900", "to": "901"})
        self.assertAlmostEqual(late.to_s, length_s, places=2)

    def test_a_stretch_comes_as_a_fragment_and_without_a_script_as_its_page(self):
        self.measured_take(phrases(-10, -80))
        address = reverse("take:strip", args=[self.voice.pk, 1])
        fragment = self.client.get(address, {"from": "1", "to": "2"}, **HTMX)
        self.assertContains(fragment, 'id="strip"')
        self.assertNotContains(fragment, "<html")
        page = self.client.get(address, {"from": "1", "to": "2"}, follow=True)
        self.assertEqual(page.context["screen"].strip.from_s, 1.0)

    def test_a_take_not_measured_yet_has_no_stretch(self):
        self.upload(phrases(-10, -80))
        for name in ("take:strip", "take:spectrum", "take:spectrogram"):
            self.assertEqual(self.page(name, None, 1).status_code, 404)

    def test_a_finding_stands_on_the_stretch_it_lies_in(self):
        sound = phrases(-10, -80)
        sound[3 * RATE : 3 * RATE + 300] = 0
        self.measured_take(sound)
        inside, outside = self.strip(**{"from": "2.5", "to": "3.5"}), self.strip(**{"from": "4", "to": "5"})
        self.assertEqual([flag.label for flag in inside.strips[0][0].flags], ["dropout"])
        self.assertEqual(outside.strips[0][0].flags, ())


class Comparing(DemoCase):
    def test_the_louder_is_turned_down_to_the_softer(self):
        self.measured_take(phrases(-10, -80))
        self.measured_take(phrases(-16, -86))
        (softer,) = self.page("take:page", None, take="1").context["screen"].strip.others
        self.assertAlmostEqual(20 * np.log10(softer.here), -6, delta=0.1)
        self.assertEqual(softer.there, 1.0)
        (louder,) = self.page("take:page", None, take="2").context["screen"].strip.others
        self.assertEqual((louder.here, louder.there), (1.0, softer.here))

    def test_silence_is_matched_with_nothing(self):
        self.measured_take(np.zeros(RATE))
        self.measured_take(phrases(-10, -80))
        (silent,) = self.page("take:page").context["screen"].strip.others
        self.assertEqual((silent.here, silent.there), (1.0, 1.0))


class Looking(DemoCase):
    def test_lines_are_named(self):
        self.measured_take(sine(440, 4, -20) + sine(1320, 4, -30))
        page = self.page("take:spectrum", None, 1, **{"from": "1", "to": "2"})
        self.assertContains(page, "Strongest lines: 440.0 Hz, 1")
        self.assertContains(page, "0:01.0 to 0:02.0")

    def test_of_a_long_take_the_second_about_a_moment_is_looked_at(self):
        self.measured_take(np.concatenate([sine(300, 8, -20), sine(900, 8, -20)]))
        for at, line in (("3", 300), ("12", 900), ("999", 900)):
            told = self.page("take:spectrum", None, 1, at=at).context["spectrum"].lines
            self.assertAlmostEqual(float(told.split(" ")[0]), line, delta=0.5)

    def test_the_spectrogram_is_a_png_of_the_stretch(self):
        self.measured_take(sine(440, 4, -20))
        answer = self.page("take:spectrogram", None, 1, **{"from": "1", "to": "2"})
        self.assertEqual(answer["Content-Type"], "image/png")
        content = answer.content
        self.assertEqual(content[:8], b"\x89PNG\r\n\x1a\n")
        width, height = struct.unpack(">II", content[16:24])
        length = struct.unpack(">I", content[33:37])[0]
        rows = zlib.decompress(content[41 : 41 + length])
        self.assertEqual((width, len(rows)), (COLUMNS, height * (3 * width + 1)))

    def test_a_recording_that_is_gone_is_said(self):
        take = self.measured_take(sine(440, 4, -20))
        take.audio.path.unlink()
        self.assertEqual(self.page("take:spectrogram", None, 1).status_code, 404)
        self.assertEqual(self.page("take:spectrum", None, 1).status_code, 200)
        self.assertEqual(Take.objects.count(), 1)
