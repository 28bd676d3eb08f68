"""The page of two microphones: three ways, tried out by address, nothing stored."""

import re

from tests.web.base import HTMX, DemoCase

COINCIDENT = {"how": "pair", "kind": "coincident", "was": "coincident", "between_deg": "90", "spacing_m": "0"}


class Two(DemoCase):
    def page_of(self, **data):
        return self.page("place:two", None, **data)

    def reading(self, page):
        return {name: value for name, value, _ in page.context["screen"].reading}

    def test_one_source_in_two_is_lined_up_in_samples_at_the_songs_rate(self):
        page = self.page_of(how="sum", near_m="20", far_m="60")
        self.assertContains(page, "hollowed out from 429 Hz on")  # 0.4 m later: 343 / 0.8
        self.assertEqual(self.reading(page)["Delay the nearer by"], str(round(0.4 / 343 * self.song.sample_rate_hz)))
        self.assertContains(self.page_of(how="sum", near_m="20", far_m="20"), "In mono the two agree")
        self.assertContains(self.page_of(how="sum", near_m="60", far_m="20"), "hollowed out from 429 Hz on")

    def test_a_singer_who_plays(self):
        page = self.page_of(how="sing", ahead_m="12", below_m="45", pattern="figure-8", play_pattern="figure-8")
        self.assertContains(page, "Nulls on each other’s source")
        self.assertEqual(len(page.context["screen"].side.capsules), 2)
        self.assertTrue(all(one.nulls for one in page.context["screen"].side.capsules))

    def test_a_pair_takes_the_values_of_its_kind_until_they_are_changed(self):
        page = self.page_of(how="pair", kind="spaced", was="coincident", between_deg="90", spacing_m="0")
        self.assertEqual(page.context["screen"].tried.spacing_m, 0.5)
        page = self.page_of(how="pair", kind="spaced", was="spaced", between_deg="0", spacing_m="30", pattern="omni")
        self.assertAlmostEqual(page.context["screen"].tried.spacing_m, 0.3)
        self.assertContains(page, "in mono a sound at the edge combs")
        self.assertContains(self.page_of(how="pair"), "mono is safe")

    def test_a_recorder_that_does_not_face_its_source_is_told(self):
        self.assertEqual(self.reading(self.page_of(how="pair"))["Both sides agree"], "yes")
        off = self.reading(
            self.page_of(how="pair", off_deg="20", kind="coincident", was="coincident", between_deg="90", spacing_m="0")
        )
        self.assertEqual(off["Both sides agree"], "no: face it")

    def test_fragment_and_page_and_what_cannot_be(self):
        live = self.client.get(f"/parts/{self.voice.pk}/place/two/", {"how": "sing", "below_m": "60"}, **HTMX)
        self.assertNotContains(live, "<html")
        self.assertContains(live, 'hx-swap-oob="true"')
        for sent, told in (
            ({"how": "sum", "near_m": "wide"}, "The nearer must be a length, as 20 cm"),
            ({"how": "sum", "near_m": "0"}, "Near must be greater than 0"),
            ({"how": "sing", "ahead_m": "1", "below_m": "1"}, "Instrument must be at least 10 cm from the mouth"),
            ({"how": "sing", "pattern": "star"}, "Pattern must be one of omni"),
            (
                {"how": "pair", "kind": "coincident", "was": "coincident", "between_deg": "400", "spacing_m": "0"},
                "Between must be",
            ),
            ({"how": "pair", "off_deg": "much"}, "Source off the middle must be a number"),
        ):
            with self.subTest(sent=sent):
                self.assertContains(self.page_of(**sent), told, status_code=422)
        self.assertEqual(self.page_of(how="quartet").context["screen"].tried.how, "sum")

    def test_in_inches(self):
        self.client.post("/songs/settings/", {"number_style": "comma-point", "lengths": "feet"})
        main = self.page_of(how="sing").content.decode().split("<main")[1]
        self.assertIn("Instrument ahead, in", main)
        self.assertIsNone(re.search(r"\d cm", main.split("Why")[0]))
