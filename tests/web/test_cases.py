"""What special sources are told on the Room screen."""

from pneumen.core.room import corners_of
from tests.web.base import DemoCase


class Cases(DemoCase):
    def told(self, source, **more):
        self.harp.source, self.harp.loudness = source, "loud"
        for name, value in more.items():
            setattr(self.harp, name, value)
        self.harp.save()
        return self.page("room:page", self.harp).context["screen"].cases

    def test_an_amplifier_goes_into_a_packed_corner_by_one_press(self):
        case = self.told("guitar-amp", distance_m=0.1)[0]
        self.assertIn("corner the direct sound leads by", case.told)
        self.assertIn("under the amplifier", case.told)
        self.act("room:spot", self.harp, **case.values)
        self.harp.refresh_from_db()
        corners = {round(corner.bearing_deg) for corner in corners_of(self.song.room.box)}
        self.assertIn(round(self.harp.facing_deg), corners)
        place = (self.harp.stand_x_m, self.harp.stand_y_m)
        self.assertFalse(any(piece.stands_on(*place) for piece in self.song.room.layout.furniture))

    def test_a_horn_hears_of_the_wall_its_bell_plays_to(self):
        close = self.told("horn", distance_m=1.0, stand_x_m=0.6, stand_y_m=2.6, facing_deg=90)[0]
        self.assertEqual(close.verdict, "watch")
        self.assertIn("The west wall, 0.6 m behind", close.told)
        self.assertIn("Never into the bell", close.told)
        self.assertEqual(self.told("horn", stand_x_m=2.0)[0].verdict, "clear")

    def test_drums_and_piano_have_theirs_and_loud_ones_their_hours(self):
        titles = [case.title for case in self.told("drum-kit", distance_m=1.2)]
        self.assertEqual(titles, ["Blankets on the walls, paper towel on the heads", "Your ears are in the room too"])
        self.assertIn("Walk round it", self.told("grand-piano", distance_m=0.8)[0].title)

    def test_a_soft_harp_and_a_plug_ask_for_nothing(self):
        self.assertEqual(self.told("lever-harp", loudness="soft", distance_m=0.4), ())
        self.assertEqual(self.told("keyboard"), ())
