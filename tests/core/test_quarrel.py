"""The closet quarrel in numbers: image sources by hand, and who is content with which room."""

import math
import unittest

from pneumen.core.forecast import outcome, recommend, room_worth, with_planned_gain
from pneumen.core.room import Box, Space
from tests import parts

HARD, SOFT = (0.05,) * 6, (0.9,) * 6
WALLS = ("floor", "ceiling", "north", "south", "east", "west")


def bare_box(size_m=(4.0, 4.0, 3.0), absorption=HARD):
    box = Box(size_m=size_m, surfaces=dict.fromkeys(WALLS, absorption))
    return Space(box=box, background_dba=25.0, noise_band_db=5.0)


def worth_of(space, distance_m=0.3, **changes):
    setup = parts.part("voice-pop", space=space, chain=parts.chain(), distance_m=distance_m, **changes)
    return room_worth(outcome(with_planned_gain(setup)), clean_enough_db=50.0)


class Early(unittest.TestCase):
    def test_what_comes_back_early_by_hand(self):
        """An omni at 30 cm in a box: the six first images by path and the walls' 5 % (Allen and Berkley, 1979)."""
        setup = parts.part("voice-pop", space=bare_box(), chain="omni", distance_m=0.3, height_m=1.5)
        setup = setup.moved(x_m=2.0, y_m=2.0)
        found = room_worth(outcome(setup), clean_enough_db=50.0)
        beside_m, behind_m, ahead_m = math.hypot(4.0, 0.3), 4.3, 3.7
        up_m = 2 * math.hypot(1.5, 0.15)
        paths = (beside_m, beside_m, behind_m, ahead_m, up_m, up_m)
        first_db = 10 * math.log10(sum(0.95 * (0.3 / path) ** 2 for path in paths))
        # A mouth is no point: it sends less aside and behind than ahead; images of higher order add some.
        self.assertAlmostEqual(found.early_db, first_db, delta=4)
        self.assertLess(found.early_ms, 15)

    def test_closer_is_further_over_them(self):
        near, far = worth_of(bare_box(), 0.15), worth_of(bare_box(), 0.6)
        self.assertAlmostEqual(far.early_db - near.early_db, 12, delta=2.5)


class Schools(unittest.TestCase):
    def test_a_bare_closet_contents_neither(self):
        closet = worth_of(bare_box((1.0, 1.2, 2.3)), 0.3)
        self.assertFalse(closet.is_open)
        self.assertFalse(closet.is_dry)

    def test_a_closet_full_of_clothes_contents_the_closet_school(self):
        closet = worth_of(bare_box((1.2, 1.4, 2.3), SOFT), 0.15)
        self.assertTrue(closet.is_dry)
        self.assertTrue(closet.is_open)

    def test_a_furnished_room_can_content_both(self):
        setup = parts.part("voice-pop", space=parts.room("medium", "furnished"), chain=parts.chain())
        setup = with_planned_gain(setup.moved(distance_m=recommend(setup).distance_m))
        found = room_worth(outcome(setup), clean_enough_db=50.0)
        self.assertTrue(found.is_dry and found.is_open)

    def test_noise_is_asked_after_by_both(self):
        loud = Space(box=bare_box().box, background_dba=60.0, noise_band_db=5.0)
        self.assertFalse(worth_of(loud).is_quiet)
        self.assertFalse(worth_of(loud).is_enough)
