"""How loud one may be at which hour: against worked sums and the guidelines' figures."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName
from pneumen.core.room import (
    DAY_DBA,
    NIGHT_DBA,
    PARTITIONS,
    Neighbour,
    critical_distance_m,
    heard_next_door_dba,
    hours_for_all,
    outwards_of,
    spans_of,
)


def lodger(**changes):
    return Neighbour(**({"name": "lodger", "through": "thin-wall"} | changes))


class NextDoor(unittest.TestCase):
    def test_a_worked_sum(self):
        # ISO 16283-1: L2 = L1 - R' + 10 log10(S/A2), here 10 m2 into 10 m2: 80 dB in the room, 36 dB lost, 44 there.
        # An omni of 80 + 20 log10(Dc) at 1 m brings 80 dB of diffuse sound into 40 m3 that ring 0.5 s.
        level = 80 + 20 * math.log10(critical_distance_m(40, 0.5))
        self.assertAlmostEqual(heard_next_door_dba(lodger(), level, 40, 0.5, 1.0), 44.0, 6)
        twice = heard_next_door_dba(lodger(area_m2=20), level, 40, 0.5, 1.0)
        self.assertAlmostEqual(twice, 47.01, 2)

    def test_a_source_that_beams_puts_less_into_the_room(self):
        plain, beamed = (heard_next_door_dba(lodger(), 85, 40, 0.5, factor) for factor in (1.0, 2.0))
        self.assertAlmostEqual(plain - beamed, 3.01, 2)

    def test_brick_is_better_than_a_thin_wall_and_an_open_window_worst(self):
        heard = [heard_next_door_dba(lodger(through=one), 85, 40, 0.5, 1.0) for one in PARTITIONS]
        self.assertEqual(heard, sorted(heard))

    def test_the_guidelines(self):
        # WHO, Guidelines for Community Noise (1999), Table 4.1, from memory: 35 dB indoors by day, 30 in bedrooms.
        self.assertEqual((DAY_DBA, NIGHT_DBA), (35.0, 30.0))
        self.assertEqual([lodger().allows_dba(hour) for hour in (6, 7, 21, 22, 23, 0)], [30, 35, 35, 30, 30, 30])
        self.assertEqual(lodger(night_from=1, night_to=5).allows_dba(3), 30)


class Hours(unittest.TestCase):
    def level_heard_as(self, dba):
        return 85 + dba - heard_next_door_dba(lodger(), 85, 40, 0.5, 1.0)

    def test_between_night_and_day_only_the_day_is_left(self):
        for dba, hours in ((29, 24), (33, 15), (36, 0)):
            one = outwards_of([lodger()], self.level_heard_as(dba), 40, 0.5)[0]
            self.assertAlmostEqual(one.heard_dba, dba, 6)
            self.assertEqual(len(one.allowed_hours), hours)

    @given(st.floats(40, 120), st.integers(0, 23))
    def test_at_the_loudest_allowed_it_is_just_as_loud_as_allowed(self, level, hour):
        one = outwards_of([lodger()], level, 40, 0.5)[0]
        just = outwards_of([lodger()], one.loudest_1m_db[hour], 40, 0.5)[0]
        self.assertAlmostEqual(just.heard_dba, lodger().allows_dba(hour), 6)

    def test_the_strictest_comes_first_and_all_must_agree(self):
        found = outwards_of([lodger(through="party-wall"), lodger(night_from=20)], self.level_heard_as(33), 40, 0.5)
        self.assertEqual([one.neighbour.through for one in found], ["thin-wall", "party-wall"])
        self.assertEqual(spans_of(hours_for_all(found)), ((7, 20),))

    def test_what_cannot_be_is_told(self):
        for changes, error, told in (
            ({"name": " "}, Contradiction, "name of who hears you must not be empty"),
            ({"through": "paper"}, UnknownName, "through must be one of concrete-floor"),
            ({"area_m2": 0}, OutOfRange, "area_m2 must be greater than 0"),
            ({"night_dba": 200}, OutOfRange, "night_dba must be between 10 and 90"),
            ({"night_to": 25}, OutOfRange, "night_to must be between 0 and 24"),
        ):
            with self.assertRaisesRegex(error, told):
                lodger(**changes)
