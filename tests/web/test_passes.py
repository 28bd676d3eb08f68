"""A file with several passes becomes a take each, in the running application."""

import numpy as np

from pneumen.core.take import open_recording
from tests.signals import RATE, noise, phrases
from tests.web.base import DemoCase


def passes(count=3):
    one = phrases(-12, -75, count=6)[: 12 * RATE]
    gap = noise(6, -75)
    return np.concatenate([piece for _ in range(count) for piece in (one, gap)])


class SeveralPasses(DemoCase):
    def test_it_is_offered_and_done_by_a_press_and_the_file_stays(self):
        whole = self.measured_take(passes())
        page = self.page("take:page").content.decode()
        self.assertIn("seems to hold 3 passes", page)
        answer = self.act("take:passes", None, whole.number)
        self.assertEqual(answer.status_code, 302)
        while self.work():
            pass
        takes = list(self.voice.takes.order_by("number"))
        self.assertEqual([take.number for take in takes], [1, 2, 3, 4])
        self.assertEqual([take.original_name for take in takes[1:]], [f"take.wav, pass {n}" for n in (1, 2, 3)])
        self.assertTrue(all(take.judged for take in takes))
        self.assertEqual([take.snapshot for take in takes], [whole.snapshot] * 4)
        with open_recording(whole.audio.path) as source, open_recording(takes[2].audio.path) as cut:
            first = round(17.95 * RATE)
            samples = cut.stretches(0, cut.frames)[0]
            around = source.stretches(first - RATE, first + RATE)[0]
            lag = int(np.argmax(np.correlate(around, samples[: RATE // 2], "valid")))
            start = first - RATE + lag
            self.assertTrue(np.array_equal(source.stretches(start, start + len(samples))[0], samples))
        self.assertNotIn("seems to hold", self.page("take:page").content.decode())

    def test_a_file_of_one_pass_is_left_alone(self):
        take = self.measured_take()
        self.assertNotIn("seems to hold", self.page("take:page").content.decode())
        answer = self.act("take:passes", None, take.number)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("holds one pass only", answer.content.decode())
        self.assertEqual(self.voice.takes.count(), 1)
