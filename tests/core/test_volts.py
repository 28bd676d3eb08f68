"""The level diagram in volts, against values worked by hand and against the diagram itself."""

import unittest

from pneumen.core.levels import dbu_to_volt
from pneumen.core.line import levels_of, volts_of
from pneumen.core.setup import setup_from_json
from pneumen.wording.gain import volt_told
from tests.signals import PLUGGED_SETUP, SETUP, USB_SETUP, as_json, changed


def levels(setup):
    return levels_of(setup_from_json(as_json(setup))[0])


def volts(setup):
    return {one.place: one for one in volts_of(levels(setup))}


class WorkedExample(unittest.TestCase):
    """The example of scripting.md by hand: 20 mV/Pa at 101.98 dB SPL is 20 mV x 2.506 = 50.1 mV, -23.78 dBu (0 dBu is
    0.7746 V); the divider of 150 and 3000 ohm takes 0.42 dB; 30 dB of gain follow."""

    def test_the_signal_at_each_place(self):
        found = volts(SETUP)
        self.assertEqual(list(found), ["microphone", "input", "converter"])
        self.assertAlmostEqual(dbu_to_volt(found["microphone"].loudest_dbu), 0.0501, 4)
        self.assertAlmostEqual(found["microphone"].loudest_dbu, -23.78, 2)
        self.assertAlmostEqual(found["input"].loudest_dbu, -24.21, 2)
        self.assertAlmostEqual(found["converter"].loudest_dbu, 5.79, 2)

    def test_rms_levels_keep_their_distance_from_a_sine_with_the_same_peak(self):
        for one in volts(SETUP).values():
            self.assertAlmostEqual(one.loudest_dbu - one.typical_dbu, 14, 6)  # 108 and 94 dB SPL
            self.assertAlmostEqual(one.loudest_dbu - one.quiet_dbu, 28, 6)

    def test_what_each_place_adds_and_bears(self):
        found = volts(SETUP)
        self.assertAlmostEqual(found["input"].noise_dbu, -128, 6)  # the EIN of the sheet
        self.assertAlmostEqual(found["input"].ceiling_dbu, 9, 6)  # what it takes at its lowest gain
        self.assertAlmostEqual(found["converter"].ceiling_dbu, 9, 6)
        self.assertAlmostEqual(found["converter"].noise_dbu, 9 - 108, 6)  # its dynamic range under full scale
        # 134 dB SPL are 40 dB over 1 Pa: 20 mV x 100 = 2 V = +8.24 dBu.
        self.assertAlmostEqual(found["microphone"].ceiling_dbu, 8.24, 2)
        self.assertTrue(found["converter"].clips_first)
        self.assertTrue(found["microphone"].sets_noise)

    def test_more_gain_changes_volts_behind_the_preamp_only(self):
        before, after = volts(SETUP), volts(changed(SETUP, preamp={"gain_db": 40}))
        for place, by_db in (("microphone", 0), ("input", 0), ("converter", 10)):
            self.assertAlmostEqual(after[place].loudest_dbu - before[place].loudest_dbu, by_db, 6)

    def test_headroom_is_the_same_in_volts(self):
        for setup in (SETUP, PLUGGED_SETUP, changed(SETUP, preamp={"gain_db": 5})):
            diagram = levels(setup)
            least = min(one.ceiling_dbu - one.loudest_dbu for one in volts_of(diagram) if one.ceiling_dbu is not None)
            self.assertAlmostEqual(least, diagram.headroom_db, 6)

    def test_a_plug_begins_at_the_plug(self):
        self.assertEqual(next(iter(volts(PLUGGED_SETUP))), "plug")
        self.assertEqual(list(volts(PLUGGED_SETUP))[-1], "converter")

    def test_no_volts_are_told_inside_a_usb_microphone(self):
        self.assertEqual(volts_of(levels(USB_SETUP)), ())


class Written(unittest.TestCase):
    def test_volts_in_their_usual_units(self):
        for volt, told in ((2.0, "2.0 V"), (12.0, "12 V"), (0.0501, "50 mV"), (0.0021, "2.1 mV"), (4.2e-6, "4.2 µV")):
            self.assertEqual(volt_told(volt), told)
