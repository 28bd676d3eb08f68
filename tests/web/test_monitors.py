"""The monitors' page: tried out, kept with the room, another wall, refused."""

from django.urls import reverse

from pneumen.web.room.models import Room
from pneumen.web.room.monitoring import place_of
from tests.web.base import HTMX, DemoCase


class Monitors(DemoCase):
    def test_from_the_usual_place_to_ones_own(self):
        self.assertContains(self.page("room:monitors"), "They stand well: 60°")
        self.assertEqual(self.act("room:monitors-keep", behind="0.5", desk="0.75").status_code, 302)
        page = self.page("room:monitors")
        self.assertContains(page, "The wall 50 cm behind cancels near")
        self.assertContains(page, "The desk’s top cancels near")
        wall, place = place_of(Room.objects.get(pk=self.song.room_id))
        self.assertEqual((wall, place.behind_m, place.desk_m), ("north", 0.5, 0.75))
        self.act("room:monitors-keep", **{"desk": "", "was-desk": "0.75"})
        self.assertNotContains(self.page("room:monitors"), "The desk’s top")

    def test_trying_out_stores_nothing(self):
        live = self.client.get(reverse("room:monitors-tried", args=[self.voice.pk]), {"listen": "1.6"}, **HTMX)
        self.assertContains(live, 'aria-valuenow="1.6"')
        self.assertIsNone(Room.objects.get(pk=self.song.room_id).monitors)

    def test_before_another_wall_they_start_anew(self):
        self.act("room:monitors-keep", behind="0.5")
        self.act("room:monitors-keep", wall="east", behind="0.5")
        page = self.page("room:monitors")
        self.assertContains(page, "seen with the east wall ahead")
        self.assertEqual(page.context["screen"].place.size_m[:2], (3.2, 4.1))

    def test_a_room_made_smaller_forgets_a_place_that_no_longer_fits(self):
        self.act("room:monitors-keep", spacing="2.5")
        room = Room.objects.get(pk=self.song.room_id)
        for rows in (room.furniture, room.openings, room.coverings):
            rows.all().delete()
        room.size_x_m = 2.0
        room.save()
        self.assertContains(self.page("room:monitors"), "They stand well")

    def test_what_cannot_be_is_told_where_it_was_typed(self):
        for sent, told in (
            ({"spacing": "9"}, "Spacing must be between"),
            ({"spacing": "4"}, "Monitors would stand in a side wall"),
            ({"listen": "far"}, "You from their line must be a length, as 20 cm"),
            ({"desk": "2"}, "Desk must lie under monitors and ears"),
            ({"wall": "roof"}, "Wall must be one of north"),
        ):
            with self.subTest(sent=sent):
                answer = self.act("room:monitors-keep", **sent)
                self.assertContains(answer, told, status_code=422)
                self.assertContains(
                    self.client.post(reverse("room:monitors-keep", args=[self.voice.pk]), sent, **HTMX), told
                )
