"""The stand-in plays as many lines as it is asked for, each time the same and never quite alike."""

import unittest

import numpy as np

from pneumen.core.comp import levels_in_song, phrases_by_vote, sounding
from pneumen.core.rig import PERFORMERS, length_of_lines
from pneumen.core.rig.performer import perform
from pneumen.core.take import Outline

RATE = 16_000


class Lines(unittest.TestCase):
    def phrases(self, source, lines, seed=5):
        length_s = length_of_lines(source, lines, seed)
        takes = []
        for take in (1, 2):
            outline = Outline(RATE)
            outline(perform(source, length_s, RATE, 0.0, take, phrase_seed=seed).tone)
            takes.append(sounding(levels_in_song(outline.trace(), offset_s=0.0, length_s=length_s)))
        return phrases_by_vote(takes)

    def test_a_voice_sings_as_many_lines_as_it_is_asked_for(self):
        for lines in (1, 3, 8):
            with self.subTest(lines):
                self.assertEqual(len(self.phrases("voice-pop", lines)), lines)

    def test_every_performer_has_a_length_that_grows_with_its_lines(self):
        for source in PERFORMERS:
            lengths = [length_of_lines(source, lines, 1) for lines in (1, 4, 400)]
            self.assertTrue(np.all(np.diff(lengths) > 0), source)
            self.assertTrue(580 < lengths[-1] <= 600, source)


if __name__ == "__main__":
    unittest.main()
