"""The phantom rule, the software side and a room's size in sentences, in the reader's lengths."""

from pneumen.core.gear import MICROPHONE_FAMILIES, RECORDER_FAMILY
from pneumen.core.hookup import SOFTWARE_STEPS, phantom_rule, plugged_phantom_rule
from pneumen.core.room import SIZES, Box, boxiness_of
from pneumen.wording.hookup import RULES, phantom_told
from pneumen.wording.plugging import software_steps
from pneumen.wording.room import FAULTS, faults_told, sizes_told
from tests.wording.base import Sentences


class Hookup(Sentences):
    def rules(self):
        for family in (*MICROPHONE_FAMILIES.values(), RECORDER_FAMILY):
            for booster in (False, True):
                yield phantom_rule(family, booster=booster)
        for how in ({"box": False}, {"box": True}, {"box": True, "active_box": True}):
            yield plugged_phantom_rule(**how)

    def test_every_rule_has_its_sentence_and_says_what_the_switch_does(self):
        for rule in self.rules():
            self.assertSentence(phantom_told(rule))
            self.assertEqual("48 V on" in phantom_told(rule), rule.switch_on)
        self.assertEqual({rule.rule for rule in self.rules()}, set(RULES))  # and no words that nobody says

    def test_the_software_is_named_where_it_is_known(self):
        for program, told in (("Spore Pad", "In Spore Pad,"), ("", "In the recording software,")):
            steps = dict(software_steps(software=program, device="Hornbeam 2", port="input 1"))
            self.assertEqual(list(steps), list(SOFTWARE_STEPS))
            self.assertIn(told, steps["device"])
            for step in steps.values():
                self.assertSentence(step)


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
