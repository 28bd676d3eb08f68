"""The Place screen: the ladder of a voice, a harp and a clarinet, kept, refused, and felt elsewhere."""

from django.urls import reverse

from pneumen.web.song.outlook import outlook_of
from tests.web.base import HTMX, DemoCase


class Ladder(DemoCase):
    def test_a_voice_has_its_schools_and_a_harp_has_none(self):
        page = self.page("place:page")
        self.assertContains(page, "inside the calm range")
        self.assertEqual(page.context["screen"].schools[0].label, "Touching")
        self.assertContains(page, "a pop screen")
        harp = self.page("place:page", self.harp)
        self.assertEqual(harp.context["screen"].schools, ())
        self.assertNotContains(harp, "a pop screen")

    def test_the_fragment_shows_another_place_and_stores_nothing(self):
        address = reverse("place:tried", args=[self.voice.pk])
        answer = self.client.get(address, {"distance": "5", "off_mouth": "0", "off_microphone": "0"}, **HTMX)
        self.assertContains(answer, 'aria-valuenow="5"')
        self.assertContains(answer, "is felt")
        before = self.voice.distance_m
        self.voice.refresh_from_db()
        self.assertEqual(self.voice.distance_m, before)

    def test_kept_it_moves_the_level_in_gain_by_the_law_of_distance(self):
        def peak():
            part = type(self.voice).objects.get(pk=self.voice.pk)
            return outlook_of(part).prediction.levels.peak_dbfs

        before = peak()
        sent = {"whole": "1", "distance": "36", "off_mouth": "20", "off_microphone": "15"}
        self.assertEqual(self.act("place:keep", **sent).status_code, 302)
        self.assertAlmostEqual(peak() - before, -6.02, 1)  # 18 to 36 cm
        self.voice.refresh_from_db()
        self.assertEqual((self.voice.off_mouth_deg, self.voice.off_microphone_deg), (20, 15))
        self.assertFalse(self.voice.pop_screen)  # the form came whole, its box unticked

    def test_a_school_is_taken_by_one_press_and_leaves_the_rest(self):
        school = next(one for one in self.page("place:page").context["screen"].schools if one.label == "Foot and more")
        self.act("place:keep", **school.values)
        self.voice.refresh_from_db()
        self.assertTrue(0.3 <= self.voice.distance_m <= 0.45)
        self.assertTrue(self.voice.pop_screen)

    def test_the_loudest_section_is_stepped_back_for_or_turned_down(self):
        page = self.page("place:page")
        # Verses at -4 and -3 dB over 16 bars each, a bridge at -8 over 8: -4.1 dB in the mean, the choruses at 0.
        self.assertContains(page, "Chorus, 4.1 dB over the softer sections")
        self.assertContains(page, "Step back, 18 cm to 29 cm")
        self.assertContains(page, "Turn the gain down 4.1 dB and stay")
        self.voice.sections.all().delete()
        self.assertContains(self.page("place:page"), "A passage, 6.0 dB over the rest")

    def test_faults_are_told_at_the_form(self):
        for change, told in (
            ({"distance": "900"}, "Distance must be between 2 cm and 60 cm"),
            ({"distance": "near"}, "Distance must be a length, as 20 cm"),
            ({"off_mouth": "120"}, "Off mouth must be between 0 and 90"),
        ):
            sent = {"distance": "18", "off_mouth": "0", "off_microphone": "0"} | change
            answer = self.act("place:keep", **sent)
            self.assertContains(answer, told, status_code=422)
            self.assertContains(answer, f'value="{next(iter(change.values()))}"', status_code=422)
            live = self.client.post(reverse("place:keep", args=[self.voice.pk]), sent, **HTMX)
            self.assertContains(live, told)

    def test_too_close_has_one_thing_to_do(self):
        self.act("place:keep", distance="6")
        page = self.page("place:page")
        title, _, values = page.context["screen"].todo
        self.assertIn("Move back", title)
        self.act("place:keep", **values)
        self.assertEqual(self.page("place:page").context["screen"].verdict, "clear")

    def test_a_wetter_room_draws_the_calm_range_in(self):
        high = self.page("place:page").context["screen"].ladders[0].calm[1]
        room = self.song.room
        room.coverings = []
        room.surfaces = dict.fromkeys(room.surfaces, "tiles")
        room.furniture = []
        room.save()
        wetter = self.page("place:page").context["screen"]
        self.assertTrue(wetter.ladders[0].calm is None or wetter.ladders[0].calm[1] < high)

    def test_a_plugged_part_has_no_place(self):
        self.voice.source = "keyboard"
        self.voice.save()
        self.assertContains(self.page("place:page"), "there is no microphone to place")
