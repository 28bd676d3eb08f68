"""A knob's map: known tapers are found again, its error holds, and what cannot be a map is refused."""

import itertools
import unittest

import numpy as np

from pneumen.core.errors import Contradiction, OutOfRange
from pneumen.core.gear import USUAL_POSITIONS, Reading, full_scale_dbu, taper_of

TAPERS = {
    "even": lambda share: 50 * share,
    "audio": lambda share: 50 * share**0.6,
    "crowded above": lambda share: 56 * (np.exp(2.2 * share) - 1) / (np.exp(2.2) - 1),
    "crowded below": lambda share: 52 * np.log1p(9 * share) / np.log(10),
    "s-shaped": lambda share: 48 * (3 * share**2 - 2 * share**3),
}


def readings(law, count=USUAL_POSITIONS, noise_db=0.0, seed=0):
    rng = np.random.default_rng(seed)
    return [
        Reading(share=float(share), level_db=float(-70 + law(share) + noise_db * rng.normal()))
        for share in np.linspace(0, 1, count)
    ]


class Found(unittest.TestCase):
    def test_known_tapers_are_found_within_the_error_they_state(self):
        for name, law in TAPERS.items():
            for count in (5, 7, 9):
                taper = taper_of(readings(law, count, noise_db=0.1, seed=count))
                missed = [taper.rise_at(share) - (law(share) - law(0.0)) for share in np.linspace(0.02, 0.98, 49)]
                self.assertLess(np.sqrt(np.square(missed).mean()), taper.error_db, (name, count))
                self.assertLess(max(map(abs, missed)), 4 * taper.error_db, (name, count))

    def test_there_and_back(self):
        for law in TAPERS.values():
            taper = taper_of(readings(law))
            for share in (0.1, 0.35, 0.8):
                self.assertAlmostEqual(taper.share_at(taper.rise_at(share)), share, 2)
            self.assertEqual((taper.share_at(-3), taper.share_at(99)), (0.0, 1.0))

    def test_it_never_falls(self):
        bumpy = [(0.0, -70.0), (0.2, -60.0), (0.4, -60.3), (0.6, -40.0), (1.0, -20.0)]
        taper = taper_of([Reading(share=share, level_db=level) for share, level in bumpy])
        rises = [taper.rise_at(share) for share in np.linspace(0, 1, 101)]
        self.assertTrue(all(later >= one - 1e-9 for one, later in itertools.pairwise(rises)))

    def test_fewer_positions_leave_more_open(self):
        errors = [taper_of(readings(TAPERS["audio"], count)).error_db for count in (3, 4, 5, 7)]
        self.assertEqual(errors, sorted(errors, reverse=True))

    def test_the_order_of_the_readings_does_not_matter(self):
        told = readings(TAPERS["even"])
        self.assertEqual(taper_of(told), taper_of(told[::-1]))


class Refused(unittest.TestCase):
    def test_what_cannot_be_a_map(self):
        told = readings(TAPERS["even"])
        for wrong in (
            told[:2],
            told[1:],
            told[:-1],
            [*told, told[3]],
            [*told[:3], Reading(share=0.6, level_db=-90), told[-1]],
        ):
            with self.assertRaises(Contradiction):
                taper_of(wrong)

    def test_positions_and_levels_are_checked(self):
        for share, level in ((-0.1, -40), (1.1, -40), (0.5, 21), (0.5, float("nan"))):
            with self.assertRaises(OutOfRange):
                Reading(share=share, level_db=level)


class OneKnownLevel(unittest.TestCase):
    """An input that takes +9 dBu at its left stop: a sine of -60 dBu peaks at -69 dBFS there, 3.01 less as RMS."""

    def test_any_reading_tells_what_the_left_stop_takes(self):
        for law in TAPERS.values():
            made = [
                Reading(share=float(share), level_db=float(-60 - 9 - 3.0103 + law(share) - law(0.0)))
                for share in np.linspace(0, 1, 7)
            ]
            for reading in made:
                self.assertAlmostEqual(full_scale_dbu(taper_of(made), reading, -60.0), 9, 3)

    def test_a_level_no_input_takes_is_refused(self):
        with self.assertRaisesRegex(OutOfRange, "known_dbu"):
            full_scale_dbu(taper_of(readings(TAPERS["even"])), Reading(share=0.0, level_db=-60), 60.0)
