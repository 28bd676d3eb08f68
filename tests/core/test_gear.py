"""Data sheets: patterns against their published factors, units, and what is assumed."""

import math
import unittest

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName
from pneumen.core.gear import (
    INTERFACE_FAMILIES,
    MICROPHONE_FAMILIES,
    PATTERNS,
    Microphone,
    Preamp,
    dbv_per_pa_to_mv_per_pa,
    directivity_factor,
    directivity_index_db,
    ein_to_weighted_dbu,
    interface_from_sheet,
    microphone_from_sheet,
)

SHEET = {"sensitivity_mv_per_pa": 20, "self_noise_dba": 10, "max_spl_db": 130, "impedance_ohm": 150}
PREAMP = {
    "gain_db": 30,
    "gain_min_db": 0,
    "gain_max_db": 56,
    "ein_dbu": -128,
    "max_input_dbu": 9,
    "input_impedance_ohm": 3000,
}


class Patterns(unittest.TestCase):
    def test_directivity_factors(self):
        # Beranek, Acoustics, and microphone handbooks (from memory): Q of the first-order patterns.
        published = {
            "omni": 1,
            "subcardioid": 1.92,
            "cardioid": 3,
            "supercardioid": 3.73,
            "hypercardioid": 4,
            "figure-8": 3,
        }
        for pattern, factor in published.items():
            self.assertAlmostEqual(directivity_factor(pattern), factor, 2, pattern)
        self.assertAlmostEqual(directivity_index_db("cardioid"), 4.77, 2)

    def test_factor_is_the_mean_over_the_sphere(self):
        for pattern, a in PATTERNS.items():
            steps = [(n + 0.5) / 1000 * math.pi for n in range(1000)]
            mean = sum((a + (1 - a) * math.cos(t)) ** 2 * math.sin(t) for t in steps) / sum(map(math.sin, steps))
            self.assertAlmostEqual(directivity_factor(pattern), 1 / mean, 4)

    def test_unknown_pattern_names_the_known_ones(self):
        with self.assertRaisesRegex(UnknownName, "omni, subcardioid, cardioid"):
            directivity_factor("round")


class Sheets(unittest.TestCase):
    def test_each_impossible_figure_is_named(self):
        for field, value in (("sensitivity_mv_per_pa", 0), ("sensitivity_mv_per_pa", math.nan), ("max_spl_db", 900)):
            with self.subTest(field=field, value=value), self.assertRaisesRegex(OutOfRange, field):
                Microphone(**{**SHEET, field: value})

    def test_gain_lies_within_the_preamps_range(self):
        with self.assertRaisesRegex(OutOfRange, "gain_db must be between 0 and 56"):
            Preamp(**{**PREAMP, "gain_db": 60})
        with self.assertRaisesRegex(Contradiction, "gain_max_db must be at least"):
            Preamp(**{**PREAMP, "gain_min_db": 60})

    def test_units_of_data_sheets(self):
        self.assertAlmostEqual(dbv_per_pa_to_mv_per_pa(-34), 19.95, 2)  # IEC 60268-4 worked value (from memory)
        self.assertAlmostEqual(ein_to_weighted_dbu(-130.9), -133.0, delta=0.1)  # thermal noise of 150 ohm, both ways
        with self.assertRaises(OutOfRange):
            dbv_per_pa_to_mv_per_pa(34)  # the minus was forgotten


class Families(unittest.TestCase):
    def test_every_family_makes_a_device(self):
        for family in MICROPHONE_FAMILIES:
            _, assumed, band_db = microphone_from_sheet(family, {})
            self.assertGreaterEqual(len(assumed), 3)
            self.assertGreaterEqual(band_db, 3)
        for family in INTERFACE_FAMILIES:
            interface_from_sheet(family, {})

    def test_what_is_typed_is_kept_and_narrows_the_band(self):
        guess = microphone_from_sheet("large-condenser", {})
        typed = microphone_from_sheet("large-condenser", {"sensitivity_mv_per_pa": 31})
        self.assertEqual(typed[0].sensitivity_mv_per_pa, 31)
        self.assertNotIn("sensitivity_mv_per_pa", typed[1])
        self.assertLess(typed[2], guess[2])

    def test_strength_of_output_follows_the_trade(self):
        # Common practice, no source: ribbon < dynamic < condenser.
        by_family = {name: microphone_from_sheet(name, {})[0] for name in ("ribbon", "dynamic", "large-condenser")}
        strength = [microphone.sensitivity_mv_per_pa for microphone in by_family.values()]
        self.assertEqual(strength, sorted(strength))

    def test_phantom_is_decided_by_need_and_harm_not_by_family(self):
        self.assertTrue(MICROPHONE_FAMILIES["active-ribbon"].needs_phantom)
        self.assertTrue(MICROPHONE_FAMILIES["ribbon"].hurt_by_phantom)
        self.assertFalse(MICROPHONE_FAMILIES["dynamic"].needs_phantom)

    def test_unknown_family(self):
        with self.assertRaisesRegex(UnknownName, "family must be one of"):
            microphone_from_sheet("crystal", {})
