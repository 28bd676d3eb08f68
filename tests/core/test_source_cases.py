"""What each source asks of its room: which cases come, in which order, and the figures they carry."""

import unittest
from dataclasses import replace

from pneumen.core.forecast import cases_of
from pneumen.core.gain import SCHOOLS, judge_take, school_named
from pneumen.core.part import SOURCES
from pneumen.core.room import corner_lead, corners_of
from tests.parts import chain, part, room
from tests.signals import measured, phrases, sine


def kinds(source, **how):
    return [case.kind for case in cases_of(part(source, **how))]


class WhichCases(unittest.TestCase):
    def test_each_source_has_its_own(self):
        closet = room("closet", "some")
        for source, wanted in (
            ("guitar-amp", ["corner", "ears"]),
            ("horn", ["horn", "ears"]),
            ("drum-kit", ["drums", "ears"]),
            ("trumpet", ["ears"]),
            ("voice-pop", []),
        ):
            self.assertEqual(kinds(source, space=closet, loudness="loud", distance_m=0.3), wanted, source)

    def test_a_soft_source_in_a_large_room_asks_for_nothing(self):
        self.assertEqual(kinds("lever-harp", space=room("large", "furnished"), loudness="soft"), [])

    def test_pianos_are_walked_round_at_the_distance_they_are_recorded_from(self):
        for source in ("grand-piano", "upright-piano"):
            case = cases_of(part(source, space=room("large"), distance_m=0.7))[0]
            self.assertEqual((case.kind, case.distance_m), ("piano", 0.7))

    def test_a_voice_is_not_told_of_its_own_ear_however_loud(self):
        self.assertEqual(kinds("voice-belted", space=room("closet", "bare"), loudness="loud"), [])

    def test_what_is_known_better_counts(self):
        soft = part("trumpet", loudness="soft", space=room("large", "soft"))
        self.assertEqual(cases_of(soft, level_1m_db=60.0), ())
        self.assertEqual([case.kind for case in cases_of(soft, level_1m_db=110.0)], ["ears"])


class Figures(unittest.TestCase):
    def test_the_corner_is_the_one_that_packed_leads_most_and_nothing_stands_in_it(self):
        setup = part("guitar-amp", space=room("medium", "furnished"), distance_m=0.1)
        case = cases_of(setup)[0]
        here = setup.placement
        leads = {
            corner.name: corner_lead(
                setup.space.box,
                corner,
                source_factor=setup.source_factor,
                height_m=here.height_m,
                distance_m=here.distance_m,
                pattern=setup.pattern,
            ).packed_db
            for corner in corners_of(setup.space.box)
            if not any(piece.stands_on(*corner.stand_m) for piece in setup.space.furniture)
        }
        self.assertIn(case.corner.name, leads)
        self.assertAlmostEqual(case.lead.packed_db, max(leads.values()))
        self.assertGreater(case.lead.packed_db, case.lead.bare_db)

    def test_a_bell_at_a_wall_is_to_be_watched_and_in_the_middle_of_a_large_room_is_not(self):
        space = room("large", "furnished")
        by_the_wall = cases_of(part("horn", space=space, x_m=3.0, y_m=0.6, facing_deg=0.0, distance_m=1.0))[0]
        self.assertEqual((by_the_wall.verdict, by_the_wall.wall.wall), ("watch", "south"))
        self.assertAlmostEqual(by_the_wall.wall.distance_m, 0.6, 6)
        free = cases_of(part("horn", space=space, x_m=3.0, y_m=2.5, facing_deg=0.0, distance_m=1.0))[0]
        self.assertEqual(free.verdict, "clear")

    def test_the_ear_in_a_closet_hears_more_and_so_less_long(self):
        tight, wide = (
            cases_of(part("drum-kit", space=space, loudness="loud"))[-1]
            for space in (room("closet", "bare"), room("large", "soft"))
        )
        self.assertGreater(tight.level_dba, wide.level_dba)
        # Each 3 dB halves the time (NIOSH 98-126, 1998).
        halvings = (tight.level_dba - wide.level_dba) / 3
        self.assertAlmostEqual(wide.safe_h / tight.safe_h, 2**halvings, 6)

    def test_something_wide_is_softer_at_the_ear_than_a_point_would_be(self):
        """Half a metre off, a source half a metre to each side: 20 log10(0.71 / 0.5) = 3 dB at the most."""
        setup = part("guitar-amp", space=room(), chain=chain(), distance_m=0.3)
        point, wide = (replace(setup, source=replace(setup.source, extent_m=one)) for one in (0.0, 1.5))
        heard = [next(c for c in cases_of(one, 110.0) if c.kind == "ears").level_dba for one in (point, wide)]
        self.assertTrue(0 < heard[0] - heard[1] <= 3.01, heard)

    def test_every_source_can_be_asked_in_every_room(self):
        for source, facts in SOURCES.items():
            if facts.direct is None:
                for size in ("closet", "large"):
                    for case in cases_of(part(source, space=room(size, "some"), chain=chain(), distance_m=0.3)):
                        self.assertIn(case.kind, ("corner", "horn", "drums", "piano", "ears"))


class Takes(unittest.TestCase):
    def judged(self, samples, school="three-quarter"):
        return judge_take(measured(samples), school_named(school))

    def test_inside_above_and_below_the_window(self):
        self.assertEqual(self.judged(phrases(-9.0)), "clear")
        self.assertEqual(self.judged(phrases(-4.0)), "watch")
        self.assertEqual(self.judged(phrases(-15.0)), "watch")
        self.assertEqual(self.judged(phrases(-15.0), "wide"), "clear")

    def test_a_graver_finding_stays_the_graver(self):
        clipped = (2 * sine(220, 3.0, 0.0)).clip(-1, 1)
        self.assertEqual(self.judged(clipped), "baked-in")

    def test_a_hundredth_outside_is_inside(self):
        window = SCHOOLS[0]
        self.assertEqual(window.outside_db(window.high_dbfs + 0.04), 0)
        self.assertAlmostEqual(window.outside_db(window.high_dbfs + 0.3), 0.3)
        self.assertAlmostEqual(window.outside_db(window.low_dbfs - 2), -2)
