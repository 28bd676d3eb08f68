"""Words for what helps to choose: none is missing for anything the core may say."""

import unittest

from pneumen.core.gear import KINDS, LOOKS, OWN_FAMILIES, identify
from pneumen.core.kit import FAMILY_TRAITS, Burden, Growth
from pneumen.core.room import MAKESHIFTS, NOISY_THINGS, SPECTRA
from pneumen.wording import families
from pneumen.wording import identify as words
from pneumen.wording.growth import GROWTH, burden_told, growth_told
from pneumen.wording.room import makeshift_told, noise_told


class Nothing(unittest.TestCase):
    def test_is_without_words(self):
        self.assertEqual(set(words.KINDS), set(KINDS))
        for look in LOOKS:
            self.assertEqual(set(words.ANSWERS[look.slug]), set(look.answers))
        self.assertIn(identify({}).phantom, words.PHANTOM)
        for traits in FAMILY_TRAITS.values():
            self.assertIn(traits.attack, families.ATTACKS)
            self.assertIn(traits.tone, families.TONES)
            self.assertIn(traits.keeps, families.KEEPS)
        self.assertTrue(all(thing.spectrum in SPECTRA for thing in NOISY_THINGS.values()))

    def test_a_ribbon_is_warned_of_and_usb_feeds_itself(self):
        self.assertIn("destroy", families.phantom_told(OWN_FAMILIES["ribbon"]))
        self.assertIn("needed", families.phantom_told(OWN_FAMILIES["large-condenser"]))
        self.assertIn("USB", families.phantom_told(OWN_FAMILIES["usb-dynamic"]))
        self.assertIn("pops easily", families.bears_told(1, pops_easily=True))


class Plural(unittest.TestCase):
    def test_one_is_told_as_one(self):
        self.assertEqual(growth_told(Growth(kind="more-microphones", count=1)), GROWTH["one-more-microphone"])
        self.assertIn("3 more microphones", growth_told(Growth(kind="more-microphones", count=3)))
        self.assertIn("2 instruments", growth_told(Growth(kind="instruments", count=2)))
        self.assertIn("7 steps", burden_told(Burden(steps=7, software=0)))


class Rooms(unittest.TestCase):
    def test_every_booth_tells_its_minutes_and_a_tent_its_dangers(self):
        told = {slug: makeshift_told(slug, kind) for slug, kind in MAKESHIFTS.items()}
        for slug, (title, how) in told.items():
            self.assertIn(f"{MAKESHIFTS[slug].up_minutes} minutes", how)
            self.assertTrue(title)
        for danger in ("short of air", "neck", "lamp", "over your head", "door"):
            self.assertIn(danger, told["tent"][1])

    def test_a_faint_noise_is_not_told(self):
        self.assertEqual(noise_told(30), "")
        self.assertIn("50 dBA", noise_told(50))
