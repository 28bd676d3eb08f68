"""The list before a take: of every source what it has, and nothing it has not."""

import unittest

from pneumen.core.part import SOURCES
from pneumen.core.take import CHECKS, preflight
from pneumen.wording.preflight import CHECKS as TOLD
from pneumen.wording.preflight import preflight_told


def of(slug, *, plugged=False, recorder=False):
    return preflight(SOURCES[slug], plugged=plugged, recorder=recorder)


class Preflight(unittest.TestCase):
    def test_each_is_asked_for_what_it_has(self):
        self.assertIn("pedals", of("lever-harp"))
        self.assertIn("strings", of("lever-harp"))
        self.assertIn("reed", of("clarinet"))
        self.assertIn("warm", of("voice-pop"))
        self.assertIn("battery", of("bass-direct-active", plugged=True))
        self.assertNotIn("armed", of("voice-pop", recorder=True))

    def test_nobody_is_asked_for_what_is_not_there(self):
        for slug, absent in (
            ("voice-pop", {"tuned", "strings", "reed", "rattles"}),
            ("keyboard", {"strings", "tuned", "reed"}),
            ("shaker", {"tuned", "strings"}),
            ("grand-piano", {"reed", "strings", "warm"}),
        ):
            self.assertFalse(absent & set(of(slug, plugged=slug == "keyboard")), slug)

    def test_meaning_comes_first_and_that_it_runs_last(self):
        for slug in SOURCES:
            found = of(slug)
            self.assertEqual((found[0], found[-1]), ("meaning", "runs"))
            self.assertEqual(list(found), [one for one in CHECKS if one in found])

    def test_every_check_has_its_words_and_the_disk_its_hours(self):
        self.assertEqual(set(TOLD), set(CHECKS))
        told = preflight_told(("room",), 48_000 * 3 * 7200, 48_000 * 3)
        self.assertIn("2 hours", told[0])
