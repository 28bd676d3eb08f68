"""The search for a fault, five recorded seconds as its answers, and the likely places on the loop."""

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.signals import wav
from tests.web.hookup_case import HookupCase


class FaultSearch(HookupCase):
    def ask(self, query="", status=200):
        answer = self.client.get(reverse("hookup:search", args=[self.voice.pk]) + query)
        self.assertEqual(answer.status_code, status)
        return answer.context["screen"]

    def press(self, screen, label):
        return self.ask(dict(screen.buttons)[label])

    def test_from_a_complaint_to_a_cure_by_links_alone(self):
        screen = self.press(self.ask(), "Nothing is heard or seen")
        self.assertIn("Was anything changed", screen.title)
        for _ in range(20):
            if screen.kind == "trial" and "48 V on for this input" in screen.told:
                break
            screen = self.press(screen, "It did not: put back, go on" if screen.kind == "trial" else "No")
        self.assertEqual(screen.kind, "trial")
        found = self.press(screen, "It helped")
        self.assertEqual(found.kind, "found")
        self.assertEqual(self.press(found, "Something is still wrong").kind, "complaint")

    def test_an_answer_is_taken_back_by_its_link(self):
        screen = self.press(self.press(self.ask(), "It hums or buzzes"), "Yes")
        self.assertEqual([one.answer for one in screen.said], ["", "Yes"])
        self.assertEqual(len(self.ask(screen.said[1].back).said), 1)
        self.assertEqual(self.ask(screen.said[0].back).kind, "complaint")

    def test_a_tingle_stops(self):
        screen = self.ask("?complaint=hum&a=moved:no&a=tingle:yes")
        self.assertEqual(screen.kind, "stop")
        self.assertIn("pull the mains plug at the wall", screen.told)

    def test_what_cannot_be_is_told_and_one_begins_anew(self):
        for query in (
            "?complaint=smell",
            "?complaint=hum&a=moved:perhaps",
            "?complaint=hum&t=ghosts",
            "?complaint=hum&a=",
        ):
            self.assertEqual(self.ask(query, status=422).kind, "complaint")


class FiveSeconds(HookupCase):
    """A short recording answers in the search."""

    def send(self, samples=None, said="", content=None):
        file = SimpleUploadedFile("five.wav", content if content is not None else wav(samples), "audio/wav")
        address = reverse("hookup:heard", args=[self.voice.pk])
        return self.client.post(address, {"recording": file, "said": said}, follow=True)

    def test_a_clipped_file_says_what_is_wrong_and_that_it_is_recorded(self):
        seconds = np.arange(5 * 48_000) / 48_000
        answer = self.send(np.clip(3 * np.sin(2 * np.pi * 220 * seconds), -0.99, 0.99))
        screen = answer.context["screen"]
        self.assertIn("flat tops: it clips", screen.heard)
        said = {one.told: one.answer for one in screen.said}
        self.assertEqual(said["Record five seconds: is it in the recording too?"], "Yes")
        self.assertIn("It is harsh, distorted", said)

    def test_a_clean_file_says_that_the_fault_sits_on_the_way_back(self):
        seconds = np.arange(5 * 48_000) / 48_000
        samples = 0.2 * np.sin(2 * np.pi * 220 * seconds) * np.sin(np.pi * seconds) ** 4
        screen = self.send(samples).context["screen"]
        self.assertIn("way back to your ears", screen.heard)
        screen = self.send(samples, said="?complaint=distorted&a=moved%3Ano").context["screen"]
        answers = {one.told: one.answer for one in screen.said}
        self.assertEqual(answers["Record five seconds: is it in the recording too?"], "No")
        self.assertEqual(answers["Does the meter of the track move when you play?"], "Yes")
        places = {one.percent for loop in screen.loops for one in loop.suspects}
        self.assertTrue(places)

    def answer_to(self, complaint, samples):
        screen = self.send(samples, said=f"?complaint={complaint}&a=moved%3Ano").context["screen"]
        return next((one.answer for one in screen.said if one.told.startswith("Record five seconds")), None)

    def test_a_hum_and_a_crackle_are_found_in_the_file(self):
        rng, seconds = np.random.default_rng(8), np.arange(5 * 48_000) / 48_000
        clean = 0.2 * np.sin(2 * np.pi * 220 * seconds) * np.sin(np.pi * seconds) ** 4 + 1e-4 * rng.standard_normal(
            len(seconds)
        )
        hum = sum(0.01 / k * np.sin(2 * np.pi * 50 * k * seconds) for k in (1, 2, 3))
        self.assertEqual(self.answer_to("hum", clean + hum), "Yes")
        self.assertEqual(self.answer_to("hum", clean), "No")
        crackling = clean.copy()
        crackling[rng.integers(10_000, 230_000, 12)] += 0.1
        self.assertEqual(self.answer_to("crackle", crackling), "Yes")
        self.assertEqual(self.answer_to("crackle", clean), "No")

    def test_silence_is_told_as_silence(self):
        self.assertIn("nothing but silence", self.send(np.zeros(5 * 48_000)).context["screen"].heard)

    def test_what_is_no_short_recording_is_refused_in_words_and_nothing_said_is_lost(self):
        said = "?complaint=hum&a=moved%3Ano"
        for content, told in ((b"RIFF....WAVEno", "five.wav"), (wav(np.zeros(48_000 * 61)), "longer than a minute")):
            answer = self.send(content=content, said=said)
            self.assertContains(answer, told)
            self.assertEqual(answer.context["screen"].said[0].told, "It hums or buzzes")
        empty = self.client.post(reverse("hookup:heard", args=[self.voice.pk]), {"said": said}, follow=True)
        self.assertContains(empty, "Choose a recording of five seconds first")
        odd = self.send(np.zeros(48_000), said="?complaint=smell&a=x:y")
        self.assertEqual(odd.status_code, 422)


class Places(HookupCase):
    def test_the_loop_rings_the_places_that_are_likely(self):
        page = self.client.get(reverse("hookup:search", args=[self.voice.pk]) + "?complaint=hum&a=moved%3Ano")
        for loop in page.context["screen"].loops:
            self.assertTrue(loop.suspects)
            for one in loop.suspects:
                self.assertTrue(0 <= one.x <= loop.frame.width and 0 <= one.label_y <= loop.height)
        self.assertContains(page, "Where it may sit")
