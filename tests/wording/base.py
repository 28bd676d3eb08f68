"""What every sentence has to be: whole, with nothing left unfilled in it."""

import unittest

from pneumen.wording.figures import Habits, habits


class Sentences(unittest.TestCase):
    def assertSentence(self, text):
        """Check that a text begins as a sentence, ends as one, and has no placeholder left in it."""
        self.assertRegex(text, r"^[A-Z0-9].*[.!]$")
        self.assertClean(text)

    def assertClean(self, text):
        for mark in ("{", "}", "None", "  ", "nan"):
            self.assertNotIn(mark, text)

    def in_feet(self):
        """Have the reader measure in feet until the test ends."""
        token = habits.set(Habits(feet=True))
        self.addCleanup(habits.reset, token)
