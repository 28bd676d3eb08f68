"""Money the reader's way."""

from django.test import SimpleTestCase
from django.urls import reverse

from pneumen.web.song.models import Preferences
from pneumen.wording.figures import NUMBER_STYLES, Habits, habits, money
from tests.web.base import DemoCase


class Money(SimpleTestCase):
    """1234.5 in the ways CLDR lists for en-GB, de-DE, fr-FR and de-CH (Unicode CLDR, from memory)."""

    def test_the_local_ways(self):
        for style, sign, after, wanted in (
            ("comma-point", "£", False, "£1,234.50"),
            ("point-comma", "€", True, "1.234,50\N{NO-BREAK SPACE}€"),
            ("space-comma", "€", True, "1\N{NO-BREAK SPACE}234,50\N{NO-BREAK SPACE}€"),
            ("apostrophe-point", "", False, "1’234.50"),
        ):
            token = habits.set(Habits(currency_sign=sign, sign_after=after, number_style=NUMBER_STYLES[style]))
            self.assertEqual(money(1234.5), wanted)
            habits.reset(token)
        self.assertEqual(money(89), "89")


class Settings(DemoCase):
    def send(self, **changes):
        sent = {"currency_sign": "€", "sign_after": "True", "number_style": "point-comma"} | changes
        return self.client.post(reverse("song:settings"), sent)

    def test_prices_are_written_so_on_every_screen_and_stay_numbers_in_files(self):
        self.assertEqual(self.send().status_code, 302)
        nbsp = "\N{NO-BREAK SPACE}"
        self.assertContains(self.client.get(reverse("song:settings")), f"1.234,50{nbsp}€")
        self.assertContains(self.client.get(reverse("kit:page", args=[self.voice.pk])), f"{nbsp}€")
        listed = self.client.get(reverse("kit:list", args=[self.voice.pk])).content.decode()
        self.assertNotIn("€", listed)
        self.send(currency_sign="kr")
        self.assertEqual(Preferences.objects.count(), 1)

    def test_what_is_no_sign_is_refused_and_kept_in_the_field(self):
        answer = self.send(currency_sign="=9")
        self.assertContains(answer, "give a sign or letters", status_code=422)
        self.assertContains(answer, 'value="=9"', status_code=422)
        self.assertContains(self.client.get(reverse("song:settings")), "1,234.50")
