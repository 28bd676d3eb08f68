"""The level diagram, against hand-worked figures and the laws it must obey."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from pneumen.core.errors import BadDocument
from pneumen.core.line import along_gain, findings_of, levels_of
from pneumen.core.setup import PluggedSetup, setup_from_json, setup_to_json
from tests.signals import PLUGGED_SETUP, SETUP, USB_SETUP, as_json, changed

BOX = {
    "gain_db": -20,
    "input_impedance_ohm": 9000,
    "output_ohm": 150,
    "noise_dbu": -130,
    "max_output_dbu": 4,
}
BOXED = changed(PLUGGED_SETUP, box=BOX)


def levels(setup):
    return levels_of(setup_from_json(as_json(setup))[0])


class WorkedExample(unittest.TestCase):
    """The example of scripting.md worked by hand from the formulas of IEC 60268-4 (from memory) and the data-sheet
    convention: 20 mV/Pa is -33.98 dBV at 94 dB; 108 dB at 10 cm is 101.98 at 20 cm; -0.42 dB into 3 kohm;
    -33.98 + 7.98 + 2.218 - 0.424 = -24.21 dBu; less 9, plus 30: -3.21 dBFS."""

    def test_signal(self):
        result = levels(SETUP)
        self.assertAlmostEqual(result.peak_dbfs, -3.21, 2)
        self.assertAlmostEqual(result.typical_dbfs, -3.21 - 14 - 3.01, 2)
        self.assertAlmostEqual(result.quiet_dbfs, -3.21 - 28 - 3.01, 2)

    def test_noise_by_stage(self):
        noise = levels(SETUP).noise_by_stage_dbfs
        # 94 dB SPL reads -33.98 + 2.218 - 0.424 - 9 + 30 = -11.19 on the peak scale, RMS 3.01 less.
        self.assertAlmostEqual(noise["room"], -11.19 - 62 - 3.01, 1)
        self.assertAlmostEqual(noise["microphone"], -11.19 - 78 - 3.01, 1)
        self.assertAlmostEqual(noise["preamp"], -128 - 9 + 30 - 3.01, 2)
        self.assertAlmostEqual(noise["converter"], -111.01, 2)

    def test_clean_range_counts_all_noises(self):
        result = levels(SETUP)
        self.assertAlmostEqual(result.clean_range_db, result.typical_dbfs - result.noise_dbfs, 9)
        self.assertGreater(result.noise_dbfs, max(result.noise_by_stage_dbfs.values()))

    def test_ceilings(self):
        result = levels(SETUP)
        self.assertEqual(result.clips_first, "converter")
        self.assertAlmostEqual(result.ceilings_dbfs["microphone"], -11.19 + 40, 1)
        self.assertEqual(result.ceilings_dbfs["preamp"], 30)
        self.assertAlmostEqual(result.headroom_db, 3.21, 2)

    def test_gain_for_a_peak(self):
        wanted = levels(SETUP).gain_for_peak_db
        self.assertAlmostEqual(levels(changed(SETUP, preamp={"gain_db": wanted["-12"]})).peak_dbfs, -12, 6)

    def test_the_room_adds_its_own_sound(self):
        """By power: 3.01 dB where it is as loud as the direct sound, 0.41 where that leads by 10 dB (sum of powers); a
        struck source's peaks tower over it. Closeness lifts the direct sound only."""
        dry = levels(SETUP)
        for lead_db, adds_db in ((0, 3.01), (10, 0.41), (20, 0.04)):
            told = levels(changed(SETUP, room={"direct_to_reverberant_db": lead_db, "rt60_s": 0.5}))
            self.assertAlmostEqual(told.typical_dbfs - dry.typical_dbfs, adds_db, 2)
            self.assertAlmostEqual(told.quiet_dbfs - dry.quiet_dbfs, adds_db, 2)
            self.assertLessEqual(told.peak_dbfs - dry.peak_dbfs, adds_db)
            self.assertAlmostEqual(sum(step.value for step in told.peak_steps), told.peak_dbfs, 9)
            self.assertEqual(told.noise_dbfs, dry.noise_dbfs)
        room, cardioid = {"direct_to_reverberant_db": 0}, {"pattern": "cardioid"}
        near = changed(SETUP, room=room, microphone=cardioid) | {"distance_m": 0.03}
        near = changed(near, source={"octaves_db": [-25, -12, -3, 0, -6, -12, -18, -24]})
        step = next(step for step in levels(near).peak_steps if step.name == "room-sound")
        self.assertLess(step.value, 0.5)

    def test_a_setup_keeps_what_its_room_adds(self):
        told = changed(SETUP, room={"direct_to_reverberant_db": 0.0, "rt60_s": 0.5})
        setup, _ = setup_from_json(as_json(told))
        self.assertEqual(setup_from_json(setup_to_json(setup)), (setup, ()))
        self.assertEqual((setup.direct_to_reverberant_db, setup.rt60_s), (0.0, 0.5))
        with self.assertRaisesRegex(BadDocument, "room.rt60_s"):
            setup_from_json(as_json(changed(SETUP, room={"rt60_s": -1})))

    def test_closeness_lifts_every_level_of_a_source_that_tells_its_spectrum(self):
        # physics: a voice's body through a cardioid about +1 dB at 15 cm, +3 at 8, +6 at 5, +9 at 3; a figure-8 +3,
        # +7, +11, +15 (curves of Olson and Beranek, from memory, over a voice's octaves).
        voice = [-25, -12, -3, 0, -6, -12, -18, -24]
        for pattern, lifts in (("cardioid", (1, 3, 6, 9)), ("figure-8", (3, 7, 11, 15)), ("omni", (0, 0, 0, 0))):
            for distance_m, lift in zip((0.15, 0.08, 0.05, 0.03), lifts, strict=True):
                setup = changed(SETUP, microphone={"pattern": pattern}) | {"distance_m": distance_m}
                near, plain = levels(changed(setup, source={"octaves_db": voice})), levels(setup)
                for name in ("peak_dbfs", "typical_dbfs", "quiet_dbfs"):
                    self.assertAlmostEqual(getattr(near, name) - getattr(plain, name), lift, delta=0.5)
                self.assertAlmostEqual(near.noise_dbfs, plain.noise_dbfs, 9)

    def test_a_low_cut_takes_its_octaves_off(self):
        # A second-order high-pass at 125 Hz takes 3.01 dB off 125 Hz and 12.2 off 63 Hz (1 / sqrt(1 + (fc/f)^4)).
        for octave, lost_db in ((0, 12.17), (1, 3.01), (4, 0.0)):
            spectrum = [-200.0] * 8
            spectrum[octave] = 0.0
            setup = changed(SETUP, source={"octaves_db": spectrum})
            change = levels(setup).typical_dbfs - levels(setup | {"low_cut_hz": 125}).typical_dbfs
            self.assertAlmostEqual(change, lost_db, 2)
        self.assertLess(
            levels(SETUP | {"low_cut_hz": 125}).noise_by_stage_dbfs["room"], levels(SETUP).noise_by_stage_dbfs["room"]
        )

    def test_a_spectrum_that_is_none_is_refused(self):
        for wrong in ([0, 0], ["a"] * 8, [1e9] * 8):
            with self.assertRaises(BadDocument):
                levels(changed(SETUP, source={"octaves_db": wrong}))

    def test_usb(self):
        result = levels(USB_SETUP)
        self.assertAlmostEqual(result.peak_dbfs, 108 - 6.02 - 120, 2)
        self.assertAlmostEqual(result.noise_by_stage_dbfs["room"], 32 - 4.77 - 120 - 3.01, 2)
        self.assertEqual(set(result.noise_by_stage_dbfs), {"room", "microphone"})
        self.assertEqual(result.ceilings_dbfs, {"microphone": 0.0})
        self.assertEqual(result.clips_first, "microphone")


class Laws(unittest.TestCase):
    @given(st.floats(0.02, 20))
    def test_doubling_the_distance_costs_six_decibels(self, distance_m):
        near, far = (levels(changed(SETUP, distance_m=d)) for d in (distance_m, 2 * distance_m))
        self.assertAlmostEqual(near.peak_dbfs - far.peak_dbfs, 6.0206, 4)
        self.assertAlmostEqual(near.noise_dbfs, far.noise_dbfs, 9)

    @given(st.floats(0, 46))
    def test_ten_decibels_of_gain_lift_everything_but_the_converter(self, gain_db):
        low, high = (levels(changed(SETUP, preamp={"gain_db": g})) for g in (gain_db, gain_db + 10))
        self.assertAlmostEqual(high.peak_dbfs - low.peak_dbfs, 10, 9)
        for stage, rise in (("room", 10), ("microphone", 10), ("preamp", 10), ("converter", 0)):
            change = high.noise_by_stage_dbfs[stage] - low.noise_by_stage_dbfs[stage]
            self.assertAlmostEqual(change, rise, 9, stage)

    @given(st.floats(0, 46), st.floats(0, 46))
    def test_what_a_gain_control_does_is_what_the_levels_at_each_gain_are(self, gain_db, other_db):
        for setup, control in (
            (SETUP, "preamp"),
            (USB_SETUP, "microphone"),
            (PLUGGED_SETUP, "preamp"),
            (BOXED, "preamp"),
        ):
            one, two = (levels(changed(setup, **{control: {"gain_db": gain}})) for gain in (gain_db, other_db))
            along = along_gain(one, np.array([other_db - gain_db]))
            roof = min((level for stage, level in two.ceilings_dbfs.items() if stage != "converter"), default=0.0)
            for found, wanted in (
                (along.peak_dbfs, two.peak_dbfs),
                (along.clean_range_db, two.clean_range_db),
                (along.roof_dbfs, roof),
                (along.ceiling_dbfs, min(two.ceilings_dbfs.values())),
            ):
                self.assertAlmostEqual(float(found[0]), wanted, 9)

    def test_a_pattern_hears_less_of_the_room_only(self):
        omni, cardioid = levels(SETUP), levels(changed(SETUP, microphone={"pattern": "cardioid"}))
        self.assertAlmostEqual(omni.noise_by_stage_dbfs["room"] - cardioid.noise_by_stage_dbfs["room"], 4.77, 2)
        self.assertEqual(omni.peak_dbfs, cardioid.peak_dbfs)

    def test_off_its_axis_a_pattern_hears_less_of_the_source_only(self):
        # Published: a cardioid -6 dB at 90 degrees, a figure-8 -3 dB at 45; no null deeper than 20 dB is counted on.
        for pattern, angle_deg, loss_db in (("cardioid", 90, 6.02), ("figure-8", 45, 3.01), ("cardioid", 180, 20.0)):
            on, off = ({"off_axis_deg": angle} for angle in (0, angle_deg))
            on, off = (
                setup_from_json(as_json(changed(SETUP, microphone={"pattern": pattern}) | one))[0] for one in (on, off)
            )
            self.assertAlmostEqual(levels_of(on).peak_dbfs - levels_of(off).peak_dbfs, loss_db, 2)
            self.assertEqual(levels_of(on).noise_dbfs, levels_of(off).noise_dbfs)
            self.assertEqual(setup_from_json(setup_to_json(off))[0], off)

    def test_a_microphones_pad_leaves_its_own_noise(self):
        plain, padded = levels(SETUP), levels(changed(SETUP, microphone={"pad_db": 10}))
        self.assertAlmostEqual(plain.peak_dbfs - padded.peak_dbfs, 10, 9)
        self.assertEqual(plain.noise_by_stage_dbfs["microphone"], padded.noise_by_stage_dbfs["microphone"])
        self.assertAlmostEqual(plain.noise_by_stage_dbfs["room"] - padded.noise_by_stage_dbfs["room"], 10, 9)
        # max_spl_db rises with the pad: its landing place in the file stays.
        self.assertAlmostEqual(plain.ceilings_dbfs["microphone"], padded.ceilings_dbfs["microphone"], 9)

    def test_a_preamps_pad_lowers_all_that_comes_from_the_microphone(self):
        plain, padded = levels(SETUP), levels(changed(SETUP, preamp={"pad_db": 20}))
        for stage, fall in (("room", 20), ("microphone", 20), ("preamp", 0), ("converter", 0)):
            change = plain.noise_by_stage_dbfs[stage] - padded.noise_by_stage_dbfs[stage]
            self.assertAlmostEqual(change, fall, 9, stage)
        self.assertAlmostEqual(plain.ceilings_dbfs["microphone"] - padded.ceilings_dbfs["microphone"], 20, 9)

    def test_on_a_tie_the_earliest_stage_clips_first(self):
        self.assertEqual(
            levels(changed(SETUP, microphone={"max_spl_db": 150}, preamp={"gain_db": 0})).clips_first, "preamp"
        )


class Findings(unittest.TestCase):
    def kinds(self, setup):
        core = setup_from_json(as_json(setup))[0]
        return [(finding.kind, finding.verdict) for finding in findings_of(core, levels_of(core))]

    def test_nothing_to_say_of_a_good_setup(self):
        self.assertEqual(self.kinds(SETUP), [])

    def test_each_finding(self):
        cases = (
            ({"preamp": {"gain_db": 40}}, ("clipping", "baked-in")),
            ({"preamp": {"gain_db": 32.5}}, ("too-hot", "watch")),
            ({"preamp": {"gain_db": 7}}, ("too-quiet", "watch")),
            ({"preamp": {"gain_db": 0}}, ("too-quiet", "mendable")),
            ({"room": {"noise_dba": 60}}, ("noise", "mendable")),
            ({"room": {"noise_dba": 50}}, ("noise", "watch")),
            ({"preamp": {"ein_dbu": -140}}, ("ein-below-thermal", "watch")),
            ({"distance_m": 20, "preamp": {"gain_db": 56}}, ("gain-out-of-range", "watch")),
        )
        for pieces, expected in cases:
            self.assertIn(expected, self.kinds(changed(SETUP, **pieces)), pieces)


class Reading(unittest.TestCase):
    def test_round_trip(self):
        for setup in (SETUP, USB_SETUP):
            core = setup_from_json(as_json(setup))[0]
            self.assertEqual(setup_from_json(setup_to_json(core))[0], core)

    def test_pads_and_pattern_may_be_left_out(self):
        short = changed(SETUP)
        for piece, key in (("microphone", "pad_db"), ("microphone", "pattern"), ("preamp", "pad_db")):
            del short[piece][key]
        self.assertEqual(levels(short), levels(SETUP))

    def test_each_fault_names_its_place_and_what_would_be_right(self):
        cases = (
            (b"", "not JSON"),
            (b"[1]", "must be a JSON object"),
            (b'{"distance_m": NaN}', "not JSON"),
            (as_json(changed(SETUP, distance_m=-1)), "distance_m must be between 0.001 m and 100 m"),
            (as_json(changed(SETUP, distance_m="near")), "distance_m must be a number, was a text"),
            (as_json(changed(SETUP, room=3)), "room must be an object"),
            (as_json(changed(SETUP, room={"noise_dba": 900})), "room.noise_dba must be between"),
            (as_json(changed(SETUP, microphone={"pattern": "round"})), "microphone.*omni, subcardioid"),
            (as_json(changed(SETUP, preamp={"gain_db": 99})), "preamp.*gain_db must be between 0 and 56"),
            (as_json(changed(SETUP, source={"typical_db_spl": 120})), "source.*typical_db_spl must lie between"),
            (as_json({key: SETUP[key] for key in SETUP if key != "preamp"}), "preamp is missing"),
            (as_json({**USB_SETUP, "preamp": SETUP["preamp"]}), "preamp and converter must be left out"),
        )
        for document, message in cases:
            with self.subTest(message), self.assertRaisesRegex(BadDocument, message):
                setup_from_json(document)

    def test_unknown_keys_are_told(self):
        _, ignored = setup_from_json(as_json(changed(SETUP, preamp={"pad": 20}, colour="red")))
        self.assertEqual(sorted(ignored), ["colour", "preamp.pad"])


class Plugged(unittest.TestCase):
    """An instrument's plug: voltage dividers worked by hand, the rest as data sheets print it."""

    def test_levels_add_up_and_gain_leaves_the_source_in_front(self):
        found = levels(PLUGGED_SETUP)
        self.assertAlmostEqual(found.peak_dbfs, -9, 1)  # 0 dBu into 9 dBu at full scale
        self.assertEqual(found.noise_set_by, "instrument")
        # 75 dB of its own, less what the converter 11 dB below adds: 10 log10(1 + 10^-1.1) = 0.33.
        self.assertAlmostEqual(found.clean_range_db, 75 - 0.33, 2)

    def test_a_box_takes_its_loss_and_adds_its_load(self):
        found = levels(changed(PLUGGED_SETUP, box=BOX, preamp={"input_impedance_ohm": 3000}))
        # 1 kohm into 9 kohm -0.92 dB, the box -20, 150 ohm into 3 kohm -0.42.
        self.assertAlmostEqual(found.peak_dbfs, -9 - 0.915 - 20 - 0.424, 2)
        self.assertIn("box", found.ceilings_dbfs)

    def test_a_box_that_is_too_small_clips_first(self):
        found = levels(changed(PLUGGED_SETUP, box={**BOX, "gain_db": 6, "max_output_dbu": 0}))
        self.assertEqual(found.clips_first, "box")
        finding = findings_of(setup_from_json(as_json(changed(PLUGGED_SETUP, preamp={"gain_db": 12})))[0], found)[0]
        self.assertEqual((finding.verdict, finding.stage, finding.plugged), ("baked-in", "box", True))

    def test_reads_back_what_it_writes(self):
        for document in (PLUGGED_SETUP, changed(PLUGGED_SETUP, box=BOX)):
            setup, ignored = setup_from_json(as_json(document))
            self.assertIsInstance(setup, PluggedSetup)
            self.assertEqual(ignored, ())
            self.assertEqual(setup_from_json(setup_to_json(setup))[0], setup)

    def test_bad_plugs_are_told_by_name(self):
        for piece, told in (
            ({"typical_dbu": 5}, "between quiet_dbu and peak_dbu"),
            ({"output_ohm": 0}, "plug: output_ohm"),
            ({"noise_dbu": 90}, "plug: noise_dbu"),
        ):
            with self.assertRaisesRegex(BadDocument, told):
                levels(changed(PLUGGED_SETUP, plug=piece))
        with self.assertRaisesRegex(BadDocument, "preamp is missing"):
            levels({"plug": PLUGGED_SETUP["plug"]})
