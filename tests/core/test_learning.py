"""What one take tells: of a section, at another gain or distance, and when it tells of a knob and not of a person."""

import unittest
from dataclasses import replace

import numpy as np

from pneumen.core.line import levels_of
from pneumen.core.part import Section, levels_in, levels_over
from pneumen.core.rig import Scene, Truth, simulate, simulate_pair
from pneumen.core.setup import setup_from_object
from pneumen.core.take import LEVEL, NOISE, correction_from, doubts_of
from tests.signals import PLUGGED_SETUP, RATE, SETUP, USB_SETUP, changed, measured, phrases

VERSE = Section(name="Verse", bars=16, loudness_db=-6.0)
CHORUS = Section(name="Chorus", bars=8, loudness_db=2.0)
SECTIONS = (VERSE, CHORUS)
BANDS = {"signal_band_db": 5.0, "noise_band_db": 5.0}


def setup_of(document, **changes):
    return setup_from_object(changed(document, **changes))[0]


def take_of(setup, louder_db=0.0, noisier_db=0.0):
    levels = levels_of(setup)
    return measured(phrases(levels.peak_dbfs + louder_db, levels.noise_dbfs + noisier_db))


def corrected(setup, take, **more):
    return correction_from(take, setup, gain_marking="db", sheet_band_db=2.0, **more)


class AtAnotherGain(unittest.TestCase):
    def test_every_kind_of_setup_moves_its_peak_by_as_much(self):
        for document in (SETUP, USB_SETUP, PLUGGED_SETUP):
            setup = setup_of(document)
            before, after = levels_of(setup), levels_of(setup.at_gain(setup.gain_db + 7))
            self.assertAlmostEqual(after.peak_dbfs - before.peak_dbfs, 7)
            self.assertEqual(setup.at_gain(setup.gain_db), setup)

    def test_more_gain_than_was_set_is_no_louder_source(self):
        quiet = setup_of(SETUP, preamp={"gain_db": 5})
        take = take_of(quiet.at_gain(quiet.gain_db + 6))
        as_set, as_it_was = corrected(quiet, take), corrected(quiet.at_gain(quiet.gain_db + 6), take)
        self.assertAlmostEqual(as_set.level_offset_db, 6, delta=0.1)
        self.assertAlmostEqual(as_it_was.level_offset_db, 0, delta=0.1)

    def test_farther_than_was_set_is_a_louder_source(self):
        """Twice the distance costs 6.02 dB (spherical spreading): the same file, from twice as far, was louder."""
        setup = setup_of(SETUP, preamp={"gain_db": 5})
        take = take_of(setup)
        near, far = (corrected(replace(setup, distance_m=one), take).source for one in (0.2, 0.4))
        self.assertAlmostEqual(far.peak_db_spl - near.peak_db_spl, 6.02, delta=0.01)


class Sections(unittest.TestCase):
    def test_one_section_is_as_loud_as_it_says_against_the_whole(self):
        usual = setup_of(SETUP).source
        whole = levels_over(SECTIONS, usual)
        for section in SECTIONS:
            there = levels_in(section, SECTIONS, whole)
            self.assertAlmostEqual(there.peak_db_spl, usual.peak_db_spl + section.loudness_db, 9)
            self.assertAlmostEqual(there.typical_db_spl, usual.typical_db_spl + section.loudness_db, 9)

    def test_a_verse_as_soft_as_it_should_be_teaches_nothing_new_of_the_whole(self):
        setup = setup_of(SETUP, preamp={"gain_db": 5})
        whole = levels_over(SECTIONS, setup.source)
        verse = replace(setup, source=levels_in(VERSE, SECTIONS, whole))
        found = corrected(verse, take_of(verse), whole=whole)
        self.assertAlmostEqual(found.source.peak_db_spl, whole.peak_db_spl, delta=0.1)
        louder = corrected(verse, take_of(verse, 4), whole=whole)
        self.assertAlmostEqual(louder.source.peak_db_spl - found.source.peak_db_spl, 4, delta=0.1)


class Doubts(unittest.TestCase):
    def doubts(self, louder_db, noisier_db, **bands):
        setup = setup_of(SETUP, preamp={"gain_db": 5})
        take = take_of(setup, louder_db, noisier_db)
        noise_dbfs = levels_of(setup).noise_dbfs
        return doubts_of(corrected(setup, take), take, expected_noise_dbfs=noise_dbfs, **BANDS | bands)

    def test_what_people_do_is_believed_and_what_knobs_do_is_not(self):
        for louder_db, expected in ((0, ()), (-11, ()), (11, ()), (-14, (LEVEL,)), (-30, (LEVEL,))):
            self.assertEqual(self.doubts(louder_db, 0), expected, louder_db)

    def test_a_wider_band_believes_more(self):
        self.assertEqual(self.doubts(-14, 0, signal_band_db=10.0), ())

    def test_a_floor_far_up_is_no_room_and_one_far_down_is_believed(self):
        for noisier_db, expected in ((0, ()), (10, ()), (-10, ()), (28, (NOISE,))):
            self.assertEqual(self.doubts(0, noisier_db), expected, noisier_db)


class Pair(unittest.TestCase):
    """The stand-in's two channels: one performance, each side its own half louder, noises of their own."""

    def scene(self, **changes):
        return Scene(chain=setup_of(SETUP, preamp={"gain_db": 5}), source="grand-piano", duration_s=8, **changes)

    def test_both_sides_come_to_the_level_that_is_told(self):
        scene = self.scene()
        expected = levels_of(scene.chain).peak_dbfs
        for side in simulate_pair(scene).samples.T:
            self.assertAlmostEqual(measured(side).level.sample_peak_dbfs, expected, delta=1.0)

    def test_they_are_neither_copies_nor_strangers(self):
        left, right = simulate_pair(self.scene()).samples.T
        self.assertTrue(0.3 < np.corrcoef(left, right)[0, 1] < 0.98)
        quiet = slice(0, round(0.3 * RATE))
        hiss = np.diff(left[quiet]), np.diff(right[quiet])  # a rumble of a few waves is alike by chance
        self.assertLess(abs(np.corrcoef(*hiss)[0, 1]), 0.1)

    def test_the_capsule_behind_the_grille_costs_what_distance_costs(self):
        told = Truth(loudness_db=0, tilt_db_per_octave=0, sensitivity_db=0, gain_db=0, room_noise_db=0)
        behind = replace(told, behind_m=0.025)
        near, far = (measured(simulate(self.scene(truth=one)).samples).level.sample_peak_dbfs for one in (told, behind))
        self.assertAlmostEqual(near - far, 20 * np.log10(0.225 / 0.2), delta=0.2)
