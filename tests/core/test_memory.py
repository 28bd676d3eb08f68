"""Memory that is kept for what is asked for next."""

import resource
import sys
import unittest

import numpy as np

from pneumen.core.memory import keep_freed_memory


def new_pages():
    """Return how many pages are filled anew for fifty arrays that come and go."""
    before = resource.getrusage(resource.RUSAGE_SELF).ru_minflt
    for _ in range(50):
        np.ones(200_000).sum()
    return resource.getrusage(resource.RUSAGE_SELF).ru_minflt - before


@unittest.skipUnless(sys.platform == "linux", "elsewhere nothing changes")
class Kept(unittest.TestCase):
    def test_arrays_that_come_and_go_take_no_new_pages(self):
        keep_freed_memory()
        new_pages()
        self.assertLess(new_pages(), 200)  # one such array has 390
