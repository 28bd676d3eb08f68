"""The simulated rig, which shares no arithmetic with line: that the two agree is a test of both."""

import unittest
from dataclasses import replace

import numpy as np

from pneumen.core.errors import BadDocument
from pneumen.core.line import levels_of
from pneumen.core.part import SOURCES, guessed_levels
from pneumen.core.rig import AS_TOLD, EXAMPLE, PERFORMERS, Scene, draw_truth, scene_from_json, simulate
from pneumen.core.setup import setup_from_json
from pneumen.core.take import correction_from
from tests.signals import PLUGGED_SETUP, RATE, SETUP, USB_SETUP, as_json, changed, kinds, measured


def scene(setup=SETUP, source="voice-pop", **options):
    levels = guessed_levels(source, "medium").levels
    if SOURCES[source].direct:
        core = replace(setup_from_json(as_json(PLUGGED_SETUP))[0], plug=levels)
        core = replace(core, preamp=replace(core.preamp, gain_db=float(max(0, round(-levels.peak_dbu)))))
        return Scene(chain=core, source=source, **options)
    core = replace(setup_from_json(as_json(setup))[0], source=levels, distance_m=0.5)
    return Scene(chain=core, source=source, **options)


def measured_take(of):
    return measured(simulate(of).samples, of.sample_rate_hz)


class AgreesWithLine(unittest.TestCase):
    """Nothing drawn at random: peak within 0.7 dB, typical within 1 dB, noise within 1 dB."""

    def assert_agrees(self, of):
        expected, result = levels_of(of.chain), measured_take(of)
        self.assertAlmostEqual(result.level.sample_peak_dbfs, expected.peak_dbfs, delta=0.7)
        self.assertAlmostEqual(result.level.active_rms_dbfs, expected.typical_dbfs, delta=1.0)
        self.assertAlmostEqual(result.noise.floor_dbfs_a, expected.noise_dbfs, delta=1.0)

    def test_every_performer(self):
        for number, source in enumerate(PERFORMERS):
            with self.subTest(source):
                peak = levels_of(scene(changed(SETUP, preamp={"gain_db": 20}), source).chain).peak_dbfs
                gain_db = 20 + min(0, -3 - peak)  # the loud ones a little lower, so that nothing clips
                self.assert_agrees(scene(changed(SETUP, preamp={"gain_db": gain_db}), source, seed=number))

    def test_each_stage_setting_the_noise(self):
        cases = {
            "room": {"room": {"noise_dba": 40}},
            "microphone": {"room": {"noise_dba": 0}, "microphone": {"self_noise_dba": 30, "pad_db": 10}},
            "preamp": {"room": {"noise_dba": 0}, "preamp": {"ein_dbu": -105, "pad_db": 10}},
            "converter": {"room": {"noise_dba": 0}, "converter": {"dynamic_range_db": 80}},
        }
        for stage, pieces in cases.items():
            with self.subTest(stage):
                of = scene(changed(SETUP, **pieces), seed=3)
                self.assertEqual(levels_of(of.chain).noise_set_by, stage)
                self.assert_agrees(of)

    def test_close_up_as_well(self):
        """The stand-in filters what it plays, line adds octaves: what closeness and a low-cut do must be the same."""
        for source, distance_m, pattern, more in (
            ("voice-pop", 0.05, "cardioid", {}),
            ("voice-pop", 0.08, "figure-8", {}),
            ("voice-pop", 0.05, "cardioid", {"off_axis_deg": 60, "low_cut_hz": 120}),
            ("acoustic-guitar", 0.2, "hypercardioid", {}),
            ("double-bass", 0.3, "figure-8", {"low_cut_hz": 80}),
        ):
            with self.subTest(source=source, distance_m=distance_m, more=more):
                core = scene(changed(SETUP, preamp={"gain_db": 0}, microphone={"pattern": pattern}), source).chain
                core = replace(core, distance_m=distance_m, extent_m=SOURCES[source].extent_m, **more)
                gain_db = min(max(-6 - levels_of(core).peak_dbfs, 0), 56)
                core = replace(core, preamp=replace(core.preamp, gain_db=float(round(gain_db))))
                expected, result = levels_of(core), measured_take(Scene(chain=core, source=source))
                self.assertAlmostEqual(result.level.active_rms_dbfs, expected.typical_dbfs, delta=1.6)
                self.assertAlmostEqual(result.level.sample_peak_dbfs, expected.peak_dbfs, delta=5.0)

    def test_in_a_room_as_well(self):
        """The stand-in convolves with a decaying tail, line adds powers: they agree where the room leads, and does not.

        How high the peak of a sum lands depends on how the waves meet: within 3 dB.
        """
        for source, lead_db, rt60_s in (
            ("voice-pop", 10, 0.4),
            ("voice-pop", 0, 0.4),
            ("clarinet", 4, 0.8),
            ("lever-harp", 2, 0.6),
            ("snare-drum", 4, 0.5),
        ):
            with self.subTest(source=source, lead_db=lead_db):
                around = {"direct_to_reverberant_db": lead_db, "rt60_s": rt60_s}
                core = scene(changed(SETUP, preamp={"gain_db": 0}, room=around), source).chain
                gain_db = min(max(-8 - levels_of(core).peak_dbfs, 0), 56)
                core = replace(core, preamp=replace(core.preamp, gain_db=float(round(gain_db))))
                expected, result = levels_of(core), measured_take(Scene(chain=core, source=source, seed=2))
                self.assertAlmostEqual(result.level.active_rms_dbfs, expected.typical_dbfs, delta=2.0)
                self.assertAlmostEqual(result.level.sample_peak_dbfs, expected.peak_dbfs, delta=3.0)

    def test_usb_and_other_rates(self):
        self.assert_agrees(scene(USB_SETUP, seed=4))
        self.assert_agrees(scene(seed=5, sample_rate_hz=44_100, bit_depth=16))
        self.assert_agrees(scene(seed=5, sample_rate_hz=96_000))

    def test_where_line_sees_a_ceiling_the_take_clips(self):
        loud = changed(SETUP, preamp={"gain_db": 55})
        self.assertLess(levels_of(scene(loud).chain).headroom_db, 0)
        self.assertIn("clipping", kinds(measured_take(scene(loud, seed=2))))
        early = changed(SETUP, preamp={"max_input_dbu": -45, "gain_db": 0}, microphone={"max_spl_db": 160})
        self.assertEqual(levels_of(scene(early).chain).clips_first, "preamp")
        self.assertIn("clipping", kinds(measured_take(scene(early, seed=2))))


class Hidden(unittest.TestCase):
    def test_the_correction_recovers_the_level_within_the_error_it_states(self):
        for seed in range(12):
            truth = draw_truth(seed, 1)
            of = replace(scene(seed=seed), truth=truth)
            found = correction_from(measured_take(of), of.chain, gain_marking="db", sheet_band_db=2.2)
            real = of.chain.source.typical_db_spl + truth.loudness_db
            self.assertLessEqual(abs(found.source.typical_db_spl - real), found.source_band_db, seed)
            room = of.chain.room_noise_dba + truth.room_noise_db
            self.assertLessEqual(abs(found.room_noise_dba - room), found.room_band_db + 0.5, seed)

    def test_takes_of_one_world_differ_less_than_worlds(self):
        takes = [draw_truth(7, take).loudness_db for take in range(30)]
        worlds = [draw_truth(world, 1).loudness_db for world in range(30)]
        self.assertLess(np.std(takes), 1.0)
        self.assertGreater(np.std(worlds), 1.5)
        self.assertEqual(len({draw_truth(7, take).sensitivity_db for take in range(5)}), 1)

    def test_a_phrase_is_played_again_never_quite_alike(self):
        """The notes of two takes of one world begin within some hundredths of a second of each other."""
        takes = [simulate(replace(scene(seed=one), truth=draw_truth(5, one))).samples for one in (1, 2)]
        self.assertFalse(np.array_equal(*takes))
        envelopes = [np.abs(one[: len(one) // 480 * 480]).reshape(-1, 480).max(axis=1) for one in takes]
        alike = float(np.corrcoef(*envelopes)[0, 1])
        other = simulate(replace(scene(seed=1), truth=draw_truth(6, 1))).samples
        elsewhere = np.abs(other[: len(other) // 480 * 480]).reshape(-1, 480).max(axis=1)
        self.assertGreater(alike, 0.8)
        self.assertLess(float(np.corrcoef(envelopes[0], elsewhere)[0, 1]), 0.6)

    def test_the_same_seed_gives_the_same_samples(self):
        first, second, third = (simulate(scene(seed=seed)).samples for seed in (1, 1, 2))
        np.testing.assert_array_equal(first, second)
        self.assertFalse(np.array_equal(first, third))


class Scenes(unittest.TestCase):
    def test_performers_and_sources_are_the_same(self):
        self.assertEqual(set(PERFORMERS), set(SOURCES))

    def test_the_example_reads(self):
        of, ignored = scene_from_json(EXAMPLE.encode())
        self.assertEqual((of.source, ignored), ("voice-pop", ()))
        self.assertNotEqual(of.truth, AS_TOLD)

    def test_faults(self):
        cases = (
            ({"source": "voice-pop"}, "chain is missing"),
            ({"chain": SETUP}, "source is missing"),
            ({"chain": SETUP, "source": "kazoo"}, "source must be one of voice"),
            ({"chain": SETUP, "source": "voice-pop", "duration_s": 1}, "duration_s must be between 6 and 600"),
            ({"chain": SETUP, "source": "voice-pop", "bit_depth": 8}, "bit_depth must be 16 or 24"),
            ({"chain": changed(SETUP, distance_m=0), "source": "voice-pop"}, "distance_m must be between"),
        )
        for value, message in cases:
            with self.subTest(message), self.assertRaisesRegex(BadDocument, message):
                scene_from_json(as_json(value))

    def test_a_crest_out_of_reach_is_told(self):
        core = setup_from_json(
            as_json(changed(SETUP, source={"peak_db_spl": 60, "typical_db_spl": 59.9, "quiet_db_spl": 40}))
        )[0]
        take = simulate(Scene(chain=core, source="hand-drum"))
        self.assertEqual(len(take.caveats), 1)
        self.assertEqual(len(take.samples), 12 * RATE)
