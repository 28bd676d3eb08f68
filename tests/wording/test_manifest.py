"""What each file of a package is, in words: a take or a comp, and how it was recorded."""

import unittest

from pneumen.wording.manifest import comp_about, recorded_told, take_about


class HowRecorded(unittest.TestCase):
    def test_as_far_as_it_is_known(self):
        for told, how in (
            (("Alder 2", 0.18, 22.0), "Alder 2, 18 cm, gain 22 dB"),
            (("Alder 2", None, None), "Alder 2"),
            (("", None, None), ""),
        ):
            self.assertEqual(recorded_told(*told, simulated=False), how)
        self.assertEqual(recorded_told("Alder 2", 0.18, None, simulated=True), "Alder 2, 18 cm, simulated")

    def test_a_take(self):
        self.assertEqual(take_about(3, "Alder 2"), "Take 3: Alder 2.")
        self.assertEqual(take_about(3, ""), "Take 3.")

    def test_a_comp_tells_alike_takes_once_and_others_one_by_one(self):
        self.assertEqual(comp_about("takes 1 and 2", {1: "Alder 2", 2: "Alder 2"}), "Comp of takes 1 and 2: Alder 2.")
        self.assertEqual(
            comp_about("takes 1 and 2", {2: "Alder 2, simulated", 1: "Alder 2"}),
            "Comp of takes 1 and 2. Take 1: Alder 2. Take 2: Alder 2, simulated.",
        )
        self.assertEqual(comp_about("takes 1 and 2", {}), "Comp of takes 1 and 2.")
