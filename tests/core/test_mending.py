"""What a fault comes from in this setup; and the loop: it sounds, is found, and is gone once the advice is taken."""

import json
import unittest
from dataclasses import replace

import numpy as np

from pneumen.core.delay import DeviceDelay, plan_delay
from pneumen.core.errors import OutOfRange
from pneumen.core.forecast import CueMix, cue_of, mendings, outcome
from pneumen.core.hookup import Fault
from pneumen.core.rig import EXAMPLE, Troubles, draw_truth, scene_from_json, simulate, with_leak, with_troubles
from pneumen.core.take import Played, measure, open_recording
from pneumen.core.verdict import Verdict
from pneumen.wording.mending import mending_told
from tests import parts
from tests.signals import audio_file

SUNG = Played(words=True, rings=False)
SILENT = CueMix(backing_db_spl=None)
LOUD = CueMix(backing_db_spl=90.0, one_ear_off=True)
RATE = 48_000


def told(found, kind, mix=SILENT, **how):
    return mendings(found, mix, **how).get(kind)


class Causes(unittest.TestCase):
    def setUp(self):
        self.bare = parts.part().moved(distance_m=0.15, pop_screen=False, aside_deg=0.0)

    def test_each_step_is_what_the_model_says_of_that_setup(self):
        found = outcome(self.bare)
        pops = told(found, "plosive")
        self.assertEqual(pops.value, found.in_air.felt["pops"])
        self.assertFalse(pops.is_calm)
        for step in pops.steps:
            changed = {
                "screen": self.bare.moved(pop_screen=True),
                "aside": self.bare.moved(aside_deg=step.to),
                "back": self.bare.moved(distance_m=step.to),
            }[step.kind]
            self.assertAlmostEqual(step.value, outcome(changed).in_air.felt["pops"])
            self.assertLess(step.value, pops.value)
        self.assertIn("m/s", mending_told(pops))

    def test_a_calm_setup_offers_no_change_and_says_so(self):
        pops = told(outcome(self.bare.moved(pop_screen=True)), "plosive")
        self.assertTrue(pops.is_calm)
        self.assertEqual(pops.steps, ())
        self.assertIn("should have", mending_told(pops))

    def test_nearer_brings_direct_sound(self):
        found = outcome(self.bare)
        echo = told(found, "echo")
        self.assertEqual((echo.value, echo.limit), (found.in_air.rt60_s, found.in_air.lead_db))
        self.assertGreater(echo.steps[0].value, echo.limit)

    def test_the_noisiest_and_the_first_ceiling_are_named(self):
        found = outcome(self.bare)
        self.assertEqual(told(found, "noise").stage, found.levels.noise_set_by)
        self.assertEqual(told(found, "clipping").stage, found.levels.clips_first)
        for kind in ("noise", "clipping"):
            self.assertIn("In this chain", mending_told(told(found, kind)))

    def test_what_leaks_less_is_what_the_cue_mix_says(self):
        found = outcome(self.bare)
        bleed = told(found, "bleed", LOUD)
        self.assertEqual(bleed.value, cue_of(found, LOUD).under_db)
        changed = {"both-ears": replace(LOUD, one_ear_off=False), "softer": replace(LOUD, backing_db_spl=80.0)}
        self.assertEqual([step.kind for step in bleed.steps], list(changed))
        for step in bleed.steps:
            self.assertAlmostEqual(step.value, cue_of(found, changed[step.kind]).under_db)
        self.assertIn("Both cups closed", mending_told(bleed))

    def test_a_ground_loop_of_the_chain_is_what_hums(self):
        words = {"path": "Laptop, Interface", "outlets": "A, B", "box": ""}
        loop = Fault(code="ground-loop", verdict=Verdict.MENDABLE, at="x", words=words)
        other = Fault(code="wrong-plug", verdict=Verdict.STOP, at="x")
        hum = told(outcome(self.bare), "hum", faults=(other, loop))
        self.assertIn("Laptop, Interface are joined", mending_told(hum))
        self.assertIsNone(told(outcome(self.bare), "hum", faults=(other,)))

    def test_a_buffer_too_small_names_the_one_that_holds(self):
        plan = plan_delay(DeviceDelay(), "old-laptop", RATE, buffer=32)
        dropout = told(outcome(self.bare), "dropout", delay=plan)
        self.assertEqual(dropout.steps[0].to, plan.planned_buffer)
        self.assertIn(str(plan.planned_buffer), mending_told(dropout))
        safe = plan_delay(DeviceDelay(), "old-laptop", RATE)
        self.assertEqual(told(outcome(self.bare), "dropout", delay=safe).steps, ())

    def test_beside_the_mouth_nothing_more_is_offered_for_an_s(self):
        self.assertEqual(told(outcome(self.bare.moved(aside_deg=25.0)), "sibilance").steps, ())

    def test_of_what_the_model_does_not_know_nothing_is_said(self):
        self.assertEqual({"hum", "dropout", "bleed"} & set(mendings(outcome(self.bare), SILENT)), set())
        self.assertEqual(mending_told(None), "")


class Loops(unittest.TestCase):
    """The stand-in sings through a setup; what is found goes when what is advised is done."""

    def found(self, *, troubles=None, **changes):
        document = json.loads(EXAMPLE) | {"seed": 8, "duration_s": 14} | changes.pop("scene", {})
        document["chain"]["room"] |= {"direct_to_reverberant_db": 14, "rt60_s": 0.3} | changes.pop("room", {})
        document["chain"] |= changes
        document["chain"]["source"] |= {"octaves_db": [-20, -12, -3, 0, -3, -9, -16, -22]}
        scene, _ = scene_from_json(json.dumps(document).encode())
        take = simulate(scene)
        take = take if troubles is None else with_troubles(take, troubles, scene.seed)
        with audio_file(take.samples) as path, open_recording(path) as recording:
            return [one.kind for one in measure(recording, played=SUNG).findings]

    def test_hum_goes_with_the_ground_loop(self):
        for hertz in (50, 60):
            self.assertIn("hum", self.found(troubles=Troubles(hum_hz=hertz)))
        self.assertNotIn("hum", self.found(troubles=Troubles()))

    def test_dropouts_go_with_the_buffer(self):
        self.assertIn("dropout", self.found(troubles=Troubles(lost_a_minute=20, lost_samples=64)))
        self.assertNotIn("dropout", self.found(troubles=Troubles(lost_a_minute=0, lost_samples=256)))

    def test_a_harsh_s_goes_beside_the_mouth(self):
        sharp = {"hidden": True, "seed": self.sharp_world()}
        self.assertIn("sibilance", self.found(scene=sharp | {"beam_db": 0.0}))
        self.assertNotIn("sibilance", self.found(scene=sharp | {"beam_db": -6.0}))

    def sharp_world(self):
        """Return a seed whose hidden voice has a strong S."""
        return next(seed for seed in range(200) if draw_truth(seed, 1).hiss_db > 10)

    def test_the_leak_goes_with_a_softer_backing(self):
        scene, _ = scene_from_json(json.dumps(json.loads(EXAMPLE) | {"seed": 8, "duration_s": 14}).encode())
        rng, sung = np.random.default_rng(4), simulate(scene)
        beats = np.repeat(np.tile([1.0, 0.2], 28), RATE // 4)
        backing = 0.2 * rng.standard_normal(len(beats)) * beats
        for leak_dbfs, heard in ((-45.0, True), (-90.0, False)):
            leaked = with_leak(sung, backing, RATE, leak_dbfs=leak_dbfs)
            with audio_file(leaked.samples) as path, audio_file(backing, name="backing.wav") as other:
                with open_recording(path) as recording, open_recording(other) as played:
                    found = measure(recording, played=SUNG, backing=played)
            self.assertEqual("bleed" in [one.kind for one in found.findings], heard, leak_dbfs)

    def test_pops_go_with_the_screen(self):
        bare = parts.part().moved(distance_m=0.18, pop_screen=False, aside_deg=0.0)
        pops = told(outcome(bare), "plosive")
        screened = next(step.value for step in pops.steps if step.kind == "screen")
        self.assertIn("plosive", self.found(scene={"puff_m_per_s": pops.value}))
        self.assertNotIn("plosive", self.found(scene={"puff_m_per_s": screened}))

    def test_echo_goes_with_a_softer_room_nearer_by(self):
        self.assertIn("echo", self.found(room={"direct_to_reverberant_db": 2, "rt60_s": 1.1}))
        self.assertNotIn("echo", self.found(room={"direct_to_reverberant_db": 14, "rt60_s": 0.3}))

    def test_clipping_goes_with_the_gain(self):
        preamp = json.loads(EXAMPLE)["chain"]["preamp"]
        self.assertIn("clipping", self.found(preamp=preamp | {"gain_db": 44}))
        self.assertNotIn("clipping", self.found(preamp=preamp | {"gain_db": 20}))


class Puffs(unittest.TestCase):
    def test_a_puff_grows_with_the_square_of_its_speed(self):
        scene, _ = scene_from_json(json.dumps(json.loads(EXAMPLE) | {"hidden": False}).encode())
        octaves = (-20.0, -12.0, -3.0, 0.0, -3.0, -9.0, -16.0, -22.0)
        scene = replace(scene, chain=replace(scene.chain, source=replace(scene.chain.source, octaves_db=octaves)))
        calm, slow, fast = (simulate(replace(scene, puff_m_per_s=speed)).samples for speed in (0.0, 2.0, 4.0))
        ratio = (fast - calm).std() / (slow - calm).std()
        self.assertAlmostEqual(ratio, 4.0, delta=0.2)


class Troubled(unittest.TestCase):
    def setUp(self):
        scene, _ = scene_from_json(json.dumps(json.loads(EXAMPLE) | {"duration_s": 8}).encode())
        self.take = simulate(scene)

    def test_nothing_wrong_changes_nothing(self):
        self.assertTrue(np.array_equal(with_troubles(self.take, Troubles(), 3).samples, self.take.samples))
        silent = with_leak(self.take, np.zeros(RATE), RATE, leak_dbfs=-40)
        self.assertTrue(np.array_equal(silent.samples, self.take.samples))

    def test_the_leak_has_the_level_that_was_told(self):
        backing = np.random.default_rng(1).standard_normal((8 * 44_100, 2))
        leak = with_leak(self.take, backing, 44_100, leak_dbfs=-50).samples - self.take.samples
        self.assertAlmostEqual(20 * np.log10(leak[RATE:-RATE].std()), -50, delta=0.5)

    def test_lost_buffers_are_as_many_and_as_long_as_told(self):
        troubles = Troubles(lost_a_minute=60, lost_samples=100)
        lost = with_troubles(self.take, troubles, 5)
        zeroed = np.flatnonzero((lost.samples == 0) & (self.take.samples != 0))
        self.assertTrue(0 < len(zeroed) <= 100 * 20)
        self.assertTrue(
            np.array_equal(
                lost.samples, with_troubles(self.take, Troubles(lost_a_minute=60, lost_samples=100), 5).samples
            )
        )

    def test_hum_stands_at_the_mains_and_its_multiples(self):
        hum = with_troubles(self.take, Troubles(hum_hz=60), 1).samples - self.take.samples
        spectrum = np.abs(np.fft.rfft(hum * np.hanning(len(hum))))
        strongest = np.argmax(spectrum) * RATE / len(hum)
        self.assertAlmostEqual(strongest, 120, delta=0.2)

    def test_what_cannot_be_is_refused(self):
        with self.assertRaisesRegex(OutOfRange, "hum_hz must be 50 or 60"):
            Troubles(hum_hz=55)
        with self.assertRaisesRegex(OutOfRange, "leak_dbfs"):
            with_leak(self.take, np.ones(9), RATE, leak_dbfs=3)
