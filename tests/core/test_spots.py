"""Where to start: a spot is worked from its own range of distances, and one that is dry enough comes first."""

import unittest

from pneumen.core.forecast import at_zone, outcome, recommend, spot_range
from pneumen.core.place import TASTES, body_of
from tests.parts import part, room, zones

SOURCES = ("voice-pop", "acoustic-guitar", "lever-harp", "double-bass", "horn", "grand-piano", "snare-drum")
ROOMS = tuple((size, furnishing) for size in ("closet", "small", "medium", "large") for furnishing in ("bare", "soft"))


def started_from(source, size, furnishing, pattern="cardioid", taste="balanced"):
    """Return a part at the spot it is advised to start from."""
    best = zones(source, room(size, furnishing), taste, pattern)[0]
    setup = at_zone(part(source, space=room(size, furnishing), chain=pattern), best.zone, taste)
    return setup.moved(distance_m=recommend(setup).miked_at_m)


class Spots(unittest.TestCase):
    def test_calm_lies_where_the_spot_may_be_worked_and_the_advice_lies_in_calm(self):
        for source in SOURCES:
            for size, furnishing in ROOMS:
                for pattern in ("cardioid", "omni"):
                    setup = started_from(source, size, furnishing, pattern)
                    calm_m, (near_m, far_m) = outcome(setup).in_air.calm_m, spot_range(setup)
                    with self.subTest(f"{source} {size} {furnishing} {pattern}"):
                        if calm_m is not None:
                            self.assertGreaterEqual(calm_m[0], near_m - 1e-6)
                            self.assertLessEqual(calm_m[1], far_m + 1e-6)
                            self.assertGreaterEqual(setup.placement.distance_m, calm_m[0] - 0.01)
                            self.assertLessEqual(setup.placement.distance_m, calm_m[1] + 0.01)

    def test_a_spot_that_is_dry_enough_comes_before_a_better_tone_that_is_not(self):
        # At the shoulder one hears the whole harp, from 40 cm on; this room is dry enough only nearer.
        wanted_db = part("lever-harp").source.dry_enough_db
        found = {one.zone.slug: one for one in zones("lever-harp", room("small", "furnished"))}
        self.assertLess(found["front"].lead_db, wanted_db)
        self.assertLess(abs(found["front"].bright), abs(found["board-middle"].bright))
        self.assertEqual(next(iter(found)), "board-middle")
        self.assertGreaterEqual(found["board-middle"].lead_db, wanted_db - 0.05)

    def test_where_all_are_dry_enough_taste_decides(self):
        for taste in TASTES:
            found = zones("lever-harp", room("large", "soft"), taste)
            aims = [abs(one.bright - TASTES[taste][1]) for one in found]
            self.assertEqual(aims, sorted(aims), taste)

    def test_without_a_spot_the_sources_own_range_counts(self):
        setup = part("choir")
        self.assertIsNone(body_of("choir"))
        self.assertEqual(spot_range(setup)[0], setup.source.nearest_m)
