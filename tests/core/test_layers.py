"""Layers: what belongs to what, how tight, phrase by phrase, and whether it is a copy."""

import unittest

import numpy as np
from scipy.signal import butter, sosfilt

from pneumen.core.errors import UnknownName
from pneumen.core.performance import (
    ALIKE_HZ,
    LAYER_KINDS,
    PLACES,
    belongs_to,
    is_copy,
    layer_fit,
    likeness_of,
)


def wave(seed, seconds=6):
    draw = np.random.default_rng(seed).standard_normal(seconds * ALIKE_HZ)
    return sosfilt(butter(2, (100, 600), "bandpass", fs=ALIKE_HZ, output="sos"), draw)


class Belonging(unittest.TestCase):
    def test_all_stand_beside_the_lead_and_halves_of_a_pair_beside_each_other(self):
        for kind, present, expected in (
            ("lead", ("lead", "octave"), None),
            ("double-left", ("lead", "double-left"), "lead"),
            ("double-right", ("double-left", "double-right"), "double-left"),
            ("double-left", ("double-left", "double-right"), None),
            ("harmony-right", ("harmony-left",), "harmony-left"),
            ("octave", ("octave",), None),
        ):
            self.assertEqual(belongs_to(kind, present), expected, (kind, present))
        with self.assertRaisesRegex(UnknownName, "layer"):
            belongs_to("shout", ())

    def test_places_are_even(self):
        self.assertEqual(set(PLACES), set(LAYER_KINDS))
        self.assertEqual(sum(PLACES.values()), 0)


class Fits(unittest.TestCase):
    def lead(self):
        rng = np.random.default_rng(6)
        return np.concatenate([start + np.cumsum(rng.uniform(0.25, 0.45, 8)) for start in (1, 8, 15, 22)])

    def test_a_phrase_that_lies_late_is_told_where_it_is(self):
        lead = self.lead()
        layer = lead + 0.3 + np.random.default_rng(1).normal(0, 0.008, lead.size)
        layer[16:24] += 0.06
        fit = layer_fit(lead, layer)
        self.assertFalse(fit.loose)
        self.assertEqual(len(fit.phrases), 4)
        (late,) = fit.off
        self.assertAlmostEqual(late.start_s, lead[16])
        self.assertAlmostEqual(late.offset_ms, 60, delta=12)

    def test_a_loose_one_is_loose(self):
        lead = self.lead()
        self.assertTrue(layer_fit(lead, np.sort(lead + np.random.default_rng(2).normal(0, 0.06, lead.size))).loose)

    def test_what_shares_nothing_is_not_judged(self):
        self.assertIsNone(layer_fit(self.lead(), np.array([1.0, 2.0])))


class Copies(unittest.TestCase):
    def test_a_copy_is_one_whatever_its_level_place_and_polarity(self):
        one = wave(1)
        for other in (one, 0.2 * one, -one, np.concatenate([np.zeros(500), one]), one + 0.1 * wave(2)):
            self.assertTrue(is_copy(likeness_of(one, other)))

    def test_another_take_is_none(self):
        self.assertFalse(is_copy(likeness_of(wave(1), wave(2))))

    def test_nothing_is_like_nothing(self):
        self.assertEqual(likeness_of(np.zeros(ALIKE_HZ), wave(1)), 0.0)
        self.assertEqual(likeness_of(wave(1)[:10], wave(1)), 0.0)
