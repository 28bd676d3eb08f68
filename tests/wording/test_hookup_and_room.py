"""The order of plugging and a room's size in sentences: every step of every chain, in the reader's lengths."""

from pneumen.core.gear import MICROPHONE_FAMILIES, RECORDER_FAMILY
from pneumen.core.hookup import phantom_rule, plugged_order, plugged_phantom_rule, plugging_order
from pneumen.core.room import SIZES, Box, boxiness_of
from pneumen.wording.hookup import ACTS, RULES, phantom_told, step_told
from pneumen.wording.room import FAULTS, faults_told, sizes_told
from tests.wording.base import Sentences


class Hookup(Sentences):
    def orders(self):
        for family in (*MICROPHONE_FAMILIES.values(), RECORDER_FAMILY):
            for booster in (False, True):
                yield phantom_rule(family, booster=booster), plugging_order(family, booster=booster)
        for how in ({"box": False}, {"box": True}, {"box": True, "active_box": True}):
            yield plugged_phantom_rule(**how), plugged_order(**how)

    def test_every_step_and_rule_of_every_chain_has_its_sentence(self):
        acts, rules = set(), set()
        for rule, steps in self.orders():
            rules.add(rule.rule)
            self.assertSentence(phantom_told(rule))
            for step in steps:
                acts.add(step.act)
                self.assertSentence(step_told(step))
        self.assertEqual(acts, set(ACTS))  # and no words that nobody says
        self.assertEqual(rules, set(RULES))

    def test_the_switch_and_the_rule_say_the_same(self):
        for rule, steps in self.orders():
            on = [step.act == "phantom-on" for step in steps if step.slug == "phantom"]
            self.assertIn(on, ([], [rule.switch_on]))
            if on:
                self.assertEqual("48 V on" in phantom_told(rule), rule.switch_on)

    def test_the_software_is_named_where_it_is_known(self):
        device = next(step for step in plugged_order(box=False) if step.slug == "device")
        self.assertIn("In Spore Pad,", step_told(device, "Spore Pad"))
        self.assertIn("In the recording software,", step_told(device))

    def test_a_leads_length_is_the_readers(self):
        lead = next(step for step in plugged_order(box=False) if step.slug == "lead")
        self.assertIn("under 5 m,", step_told(lead))
        self.in_feet()
        self.assertIn("under 16 ft 5 in,", step_told(lead))


class Room(Sentences):
    def test_sizes_in_either_length(self):
        self.assertEqual([size for size, _ in sizes_told()], list(SIZES))
        self.assertIn("about 3 m by 3 m", dict(sizes_told())["small"])
        self.in_feet()
        self.assertIn("16 ft 5 in by 19 ft 8 in or more", dict(sizes_told())["large"])

    def test_a_tiled_closet_is_boxed_in_and_says_why(self):
        tiles = dict.fromkeys(("west", "east", "south", "north", "floor", "ceiling"), (0.02,) * 6)
        closet = Box(size_m=(1.2, 1.0, 2.2), surfaces=tiles)
        found = boxiness_of(closet, (0.6, 0.5, 1.5), (0.6, 0.8, 1.5), "cardioid")
        told = faults_told(found)
        self.assertIn(f"only {found.modes} modes below 150 Hz", told)
        self.assertIn("reflections within 5 ms", told)
        self.assertClean(told)
        self.assertEqual(FAULTS.keys(), {"few-modes", "early-reflections", "bass-left"})
