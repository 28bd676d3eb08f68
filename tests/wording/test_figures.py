"""Figures and sentences as people read them."""

import unittest

from pneumen.core.gain import SCHOOLS
from pneumen.web.take.picture import clock
from pneumen.wording import figures as wording

M = "\N{MINUS SIGN}"


class Figures(unittest.TestCase):
    def test_true_minus_and_no_minus_zero(self):
        cases = ((-9.4, 1, f"{M}9.4"), (-0.02, 1, "0.0"), (-0.4, 0, "0"), (3.25, 0, "3"), (None, 1, "\N{EN DASH}"))
        for value, decimals, text in cases:
            self.assertEqual(wording.figure(value, decimals), text)

    def test_signs_only_where_asked_and_never_on_zero(self):
        self.assertEqual([wording.figure(v, sign=True) for v in (3, 0, -3)], ["+3", "0", f"{M}3"])

    def test_no_tenth_that_is_not_known(self):
        self.assertEqual(wording.with_band(-9.37, 5.2, "dBFS"), f"{M}9 ±5 dBFS")
        self.assertEqual(wording.with_band(-9.37, 0.7, "dBFS"), f"{M}9.4 ±0.7 dBFS")
        self.assertEqual(wording.with_band(-9.37, 0.1, "dBFS"), f"{M}9.4 ±0.5 dBFS")
        self.assertEqual(wording.with_band(None, 1, "dB"), "not known")

    def test_money_turns_times(self):
        self.assertEqual([wording.money(m) for m in (0, 1234, 12.5)], ["0", "1,234", "12.50"])
        self.assertEqual([clock(t) for t in (0, 3.2, 61, 754.5)], ["0:00", "0:03.2", "1:01", "12:34.5"])

    def test_against_a_window(self):
        cases = (
            (-9, ""),
            (-6.04, ""),
            (-5.7, "just above"),
            (-2, "4 dB above"),
            (-12.3, "just below"),
            (-20, "8 dB below"),
        )
        window = SCHOOLS[0]
        self.assertEqual((window.low_dbfs, window.high_dbfs), (-12, -6))
        for peak, text in cases:
            self.assertEqual(wording.off_window(window.outside_db(peak)), text)

    def test_a_fault_that_is_not_recorded_yet_only_would_bake_in(self):
        self.assertEqual(wording.verdict_words("baked-in", before=True), "Would bake in")
        self.assertEqual(wording.verdict_words("baked-in"), "Baked in")
        self.assertEqual(wording.verdict_words("watch", before=True), "Watch")
