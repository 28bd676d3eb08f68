"""What a fault comes from in this setup; and the loop: it sounds, is found, and is gone once the advice is taken."""

import json
import unittest
from dataclasses import replace

from pneumen.core.forecast import mendings, outcome
from pneumen.core.rig import EXAMPLE, scene_from_json, simulate
from pneumen.core.take import Played, measure, open_recording
from pneumen.wording.mending import mending_told
from tests import parts
from tests.signals import audio_file

SUNG = Played(words=True, rings=False)


def told(found, kind):
    return mendings(found).get(kind)


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

    def test_beside_the_mouth_nothing_more_is_offered_for_an_s(self):
        self.assertEqual(told(outcome(self.bare.moved(aside_deg=25.0)), "sibilance").steps, ())

    def test_of_what_the_model_does_not_know_nothing_is_said(self):
        self.assertNotIn("hum", mendings(outcome(self.bare)))
        self.assertEqual(mending_told(None), "")


class Loops(unittest.TestCase):
    """The stand-in sings through a setup; what is found goes when what is advised is done."""

    def found(self, **changes):
        document = json.loads(EXAMPLE) | {"seed": 8, "duration_s": 14} | changes.pop("scene", {})
        document["chain"]["room"] |= {"direct_to_reverberant_db": 14, "rt60_s": 0.3} | changes.pop("room", {})
        document["chain"] |= changes
        document["chain"]["source"] |= {"octaves_db": [-20, -12, -3, 0, -3, -9, -16, -22]}
        scene, _ = scene_from_json(json.dumps(document).encode())
        with audio_file(simulate(scene).samples) as path, open_recording(path) as recording:
            return [one.kind for one in measure(recording, played=SUNG).findings]

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
