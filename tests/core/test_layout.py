"""The drawn room: words that can be drawn and hung, and what cannot stand, open or hang in one."""

import unittest
from dataclasses import replace

from pneumen.core.errors import Contradiction, OutOfRange, UnknownName
from pneumen.core.room import (
    FURNISHINGS,
    SIZES,
    WALLS,
    Layout,
    Opening,
    Placed,
    Soft,
    layout_from_words,
    middle_rt60_s,
    require_apart,
    require_furnished,
    require_hangable,
    require_hung,
)

BARE = Layout(size_m=(4.0, 3.0, 2.4), surfaces=tuple((wall, "plaster") for wall in WALLS))
DUVET = Soft(label="Duvet", material="duvet", width_m=1.4, height_m=2.0, on="north", u=2.0, v=1.1)
WINDOW = Opening(kind="window", on="east", along_m=1.5, width_m=1.0, low_m=0.9, high_m=2.0)


class Words(unittest.TestCase):
    def test_every_room_in_words_can_be_drawn_with_nothing_in_anothers_place(self):
        for size in SIZES:
            for furnishing in FURNISHINGS:
                with self.subTest(size=size, furnishing=furnishing):
                    layout = layout_from_words(size, furnishing)
                    require_furnished(layout)
                    require_hung(layout)

    def test_what_is_softer_in_words_rings_shorter(self):
        for size in SIZES:
            times = [middle_rt60_s(layout_from_words(size, furnishing).box) for furnishing in FURNISHINGS]
            self.assertEqual(times, sorted(times, reverse=True))


class Hung(unittest.TestCase):
    def test_what_hangs_nowhere_absorbs_nothing(self):
        put_by = replace(BARE, soft=(replace(DUVET, on=""),))
        self.assertEqual(put_by.box, BARE.box)
        self.assertLess(middle_rt60_s(replace(BARE, soft=(DUVET,)).box), middle_rt60_s(BARE.box))
        self.assertEqual(replace(BARE, soft=(DUVET,)).bare_box, BARE.box)

    def test_a_clap_scales_what_hangs_as_it_scales_the_walls(self):
        hung = replace(BARE, soft=(DUVET,))
        scaled = replace(hung, absorption_scale=1.3)
        ratio = scaled.box.absorption_m2 / hung.box.absorption_m2
        for band in ratio:  # less where a coefficient has reached 1
            self.assertTrue(1.0 < band <= 1.3 + 1e-9, ratio)

    def test_two_in_one_place_and_one_behind_a_wardrobe_are_refused(self):
        beside = replace(DUVET, label="Blanket", u=2.9)
        with self.assertRaisesRegex(Contradiction, "Blanket would hang over Duvet"):
            require_hung(replace(BARE, soft=(DUVET, beside)))
        require_hung(replace(BARE, soft=(replace(DUVET, u=0.8), beside)))
        wardrobe = Placed(kind="wardrobe-open", x_m=2.0, y_m=2.69)
        with self.assertRaisesRegex(Contradiction, "behind something tall"):
            require_hung(replace(BARE, furniture=(wardrobe,), soft=(DUVET,)))

    def test_walls_places_and_sizes_that_cannot_be(self):
        for change, error, told in (
            ({"on": "roof"}, UnknownName, "wall must be one of west"),
            ({"u": 4.1}, OutOfRange, "place along the wall must be between 0 and 4 m"),
            ({"v": float("nan")}, OutOfRange, "place up the wall must be between 0 and 2.4 m"),
            ({"width_m": 4.6}, Contradiction, "is 4.6 m wide, the north wall only 4 m"),
            ({"on": "floor", "height_m": 3.6}, Contradiction, "is 3.6 m high, the floor only 3 m"),
        ):
            with self.subTest(change=change), self.assertRaisesRegex(error, told):
                require_hangable(BARE.size_m, replace(DUVET, **change))
        require_hangable(BARE.size_m, replace(DUVET, width_m=4.4))  # a fold takes that up


class Furnished(unittest.TestCase):
    def test_the_walls_are_refused_before_what_is_in_them(self):
        with self.assertRaisesRegex(OutOfRange, "between 0.5 m and 60 m"):
            require_furnished(replace(BARE, size_m=(0.0, 3.0, 2.4), openings=(WINDOW,)))

    def test_furniture_in_a_wall_and_openings_beyond_or_over_another(self):
        with self.assertRaises((Contradiction, OutOfRange)):
            require_furnished(replace(BARE, furniture=(Placed(kind="bed", x_m=0.1, y_m=1.0),)))
        with self.assertRaisesRegex(Contradiction, "beyond the east wall"):
            require_apart(BARE.size_m, replace(WINDOW, along_m=2.9), ())
        with self.assertRaisesRegex(Contradiction, "over another in the east wall"):
            require_apart(BARE.size_m, replace(WINDOW, along_m=2.0), (WINDOW,))
        require_apart(BARE.size_m, replace(WINDOW, on="west"), (WINDOW,))


if __name__ == "__main__":
    unittest.main()
