"""What sources ask of a room, and how monitors stand, in sentences."""

from pneumen.core.forecast import cases_of
from pneumen.core.room import MonitorPlace, monitor_report
from pneumen.wording.cases import TITLES, case_told
from pneumen.wording.monitors import monitors_told
from tests.parts import part, room
from tests.wording.base import Sentences


class Cases(Sentences):
    def test_every_kind_has_its_title_and_sentences(self):
        seen = set()
        for source in ("guitar-amp", "horn", "drum-kit", "grand-piano"):
            for size in ("closet", "large"):
                for case in cases_of(part(source, space=room(size, "some"), loudness="loud", distance_m=0.3)):
                    seen.add(case.kind)
                    self.assertSentence(case_told(case))
                    self.assertClean(TITLES[case.kind])
        self.assertEqual(seen, set(TITLES))

    def test_a_bell_at_its_wall_is_told_what_helps(self):
        space = room("large", "furnished")
        near, far = (
            case_told(cases_of(part("horn", space=space, x_m=3.0, y_m=y_m, facing_deg=0.0, distance_m=1.0))[0])
            for y_m in (0.6, 2.5)
        )
        self.assertIn("The south wall, 0.6 m behind", near)
        self.assertIn("takes the edge off", near)
        self.assertIn("It carries the tone", far)
        for told in (near, far):
            self.assertIn("Never into the bell", told)

    def test_times_are_hours_minutes_or_hardly_any(self):
        setup = part("trumpet", space=room("medium"))
        told = {level: case_told(cases_of(setup, level_1m_db=level)[-1]) for level in (82.0, 95.0, 125.0)}
        self.assertRegex(told[82.0], r"safe for \d+ hours a day")
        self.assertRegex(told[95.0], r"safe for \d+ minutes a day")
        self.assertIn("safe for a minute a day", told[125.0])

    def test_in_feet(self):
        self.in_feet()
        told = case_told(cases_of(part("guitar-amp", space=room("medium")))[0])
        self.assertIn("6 ft 7 in off in this one", told)


class Monitors(Sentences):
    PLACE = MonitorPlace(
        size_m=(4.0, 5.0, 2.5), middle_m=2.0, behind_m=0.2, spacing_m=1.2, listen_m=1.04, height_m=1.2, ear_m=1.2
    )

    def told(self, **changes):
        fields = {name: getattr(self.PLACE, name) for name in self.PLACE.__dataclass_fields__}
        place = MonitorPlace(**(fields | changes))
        return {kind: monitors_told(v, kind, value, place) for v, kind, value in monitor_report(place).findings}

    def test_a_good_place_is_told_what_it_is(self):
        told = self.told()
        for text in told.values():
            self.assertSentence(text)
        self.assertEqual(told["even"], "Left and right are alike.")
        self.assertEqual(told["height"], "The tweeters are at your ears.")
        self.assertIn("60° between", told["triangle"])

    def test_each_fault_says_what_to_do(self):
        for changes, kind, words in (
            ({"middle_m": 1.6}, "even", "One side wall is 0.80 m nearer: move the middle line."),
            ({"height_m": 1.6}, "height", "The tweeters are 40 cm over your ears"),
            ({"ear_m": 1.6}, "height", "The tweeters are 40 cm under your ears"),
            ({"behind_m": 0.6}, "behind", "move them right to the wall, or more than 1 m off."),
            ({"behind_m": 1.46}, "middle", "at its middle the lowest mode is missing"),
            ({"desk_m": 0.75}, "desk", "The desk’s top cancels near"),
        ):
            told = self.told(**changes)[kind]
            self.assertSentence(told)
            self.assertIn(words, told, kind)
