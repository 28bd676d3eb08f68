"""Several passes in one file."""

import unittest

import numpy as np

from pneumen.core.take import Outline, passes_in
from tests.signals import noise, sine

RATE = 8000


def file_of(*spans, length_s):
    samples = noise(length_s, -75, rate=RATE)
    for start, end in spans:
        piece = sine(440, end - start, -12, RATE)
        piece *= 0.2 + np.abs(np.sin(np.arange(len(piece)) * np.pi / (2.5 * RATE)))
        samples[round(start * RATE) :][: len(piece)] += piece
    outline = Outline(RATE)
    outline(samples)
    return outline.trace()


class Passes(unittest.TestCase):
    def test_each_pass_with_the_silence_that_belongs_to_it(self):
        found = passes_in(file_of((2, 22), (30, 49), (58, 79), length_s=85))
        told = [(round(one.start_s), round(one.end_s)) for one in found]
        self.assertEqual(told, [(1, 24), (29, 51), (57, 81)])

    def test_a_false_start_is_no_pass(self):
        found = passes_in(file_of((2, 22), (28, 37), (43, 63), length_s=70))
        self.assertEqual([round(one.start_s) for one in found], [1, 42])

    def test_one_pass_with_pauses_is_one(self):
        self.assertEqual(passes_in(file_of((2, 10), (13, 22), (25, 30), length_s=34)), ())
        self.assertEqual(passes_in(file_of((2, 22), length_s=30)), ())
        self.assertEqual(passes_in(file_of(length_s=30)), ())


if __name__ == "__main__":
    unittest.main()
