"""Lengths as the reader measures, in and out; stored metric. 1 in = 25.4 mm exactly (NIST Handbook 44)."""

import re

from django.test import SimpleTestCase
from django.urls import reverse
from hypothesis import given
from hypothesis import strategies as st

from pneumen.core.errors import Contradiction, OutOfRange
from pneumen.core.room import Box
from pneumen.web.fields import LengthField
from pneumen.web.lengths import NotALength, metres_of
from pneumen.wording import lengths
from pneumen.wording.figures import Habits, habits
from pneumen.wording.refusals import refusal
from tests.web.base import DemoCase


class InFeet(SimpleTestCase):
    def setUp(self):
        token = habits.set(Habits(feet=True))
        self.addCleanup(habits.reset, token)

    def test_written(self):
        written = [lengths.near(one) for one in (0.0508, 0.15, 0.3048, 1.0, 2.4384)]
        self.assertEqual(written, ["2 in", "5.9 in", "12 in", "39 in", "8 ft 0 in"])
        self.assertEqual([lengths.far(one) for one in (4.2, 0.2, 1.5)], ["13 ft 9 in", "8 in", "4 ft 11 in"])
        self.assertEqual(lengths.far_field(1.524), "5' 0\"")
        self.assertEqual([lengths.near_field(0.1524), lengths.near_unit(), lengths.far_unit()], ["6", "in", "ft in"])

    def test_a_bare_number_counts_in_the_fields_own_unit(self):
        self.assertAlmostEqual(LengthField("Distance").clean("6"), 0.1524)
        self.assertAlmostEqual(LengthField("Side", far=True).clean("12"), 3.6576)

    def test_the_cores_refusals_name_lengths_as_the_reader_measures(self):
        with self.assertRaises(OutOfRange) as caught:
            Box(size_m=(70.0, 4.0, 2.5), surfaces={})
        self.assertEqual(str(caught.exception), "size_m must be between 0.5 m and 60 m a side, was 70 m")
        told = "Size must be between 1 ft 8 in and 196 ft 10 in a side, was 229 ft 8 in."
        self.assertEqual(refusal(caught.exception), told)
        self.assertEqual(refusal(Contradiction("rt60_s", "must be told")), "Rt60 must be told.")

    @given(st.floats(0.02, 60))
    def test_what_a_field_shows_is_read_back_as_it_was(self, length_m):
        token = habits.set(Habits(feet=True))  # hypothesis calls this outside setUp's context
        for field in (LengthField("Side", far=True), LengthField("Distance")):
            self.assertAlmostEqual(field.clean(field.written(length_m)), length_m, delta=0.0013)
        habits.reset(token)


class Typed(SimpleTestCase):
    def test_every_way_people_type_a_length(self):
        for text, wanted_m in (
            ("18", 0.18),
            ("18 cm", 0.18),
            ("180mm", 0.18),
            ("0,18 m", 0.18),
            ("7 in", 0.1778),
            ('7"', 0.1778),
            ("5' 6\"", 1.6764),
            ("5’6", 1.6764),
            ("5 ft 6 in", 1.6764),
            ("5'", 1.524),
            ("5' 6 1/2\"", 1.6891),
            ("1/2 in", 0.0127),
            ("−5", -0.05),
        ):
            with self.subTest(text=text):
                self.assertAlmostEqual(metres_of(text, "distance", 0.01), wanted_m)

    def test_what_is_no_length_is_told_with_what_would_be(self):
        for text in ("", "far", "5 parsecs", "1/0 in", "5' 6 1/0", "nan", "inf", "1e5", "--5", "5 6"):
            with self.subTest(text=text), self.assertRaisesRegex(NotALength, "distance must be a length, as"):
                metres_of(text, "distance", 0.01)


class Screens(DemoCase):
    """One setting turns every screen; what is stored does not move."""

    def in_feet(self):
        sent = {"currency_sign": "", "number_style": "comma-point", "lengths": "feet"}
        self.client.post(reverse("song:settings"), sent)

    def test_room_place_gain_start_are_told_in_feet(self):
        self.in_feet()
        for name, told in (
            ("room:page", "From west, ft in"),
            ("place:page", "Distance, in<"),
            ("gain:page", '<span class="input-group-text">in</span>'),
            ("start:page", "calm from "),
        ):
            with self.subTest(name=name):
                page = self.client.get(reverse(name, args=[self.voice.pk])).content.decode()
                self.assertIn(told, page)
                visible = re.sub(
                    r"(at|against) 1 m\b", "", page.split("<main")[1].split("<details")[0]
                )  # as sheets print
                self.assertNotRegex(visible, r">[^<]*\d ?(cm|m)\b(?!/s)[^<²³]*<")

    def test_a_distance_in_inches_is_stored_in_metres_and_refused_in_inches(self):
        self.in_feet()
        self.client.post(reverse("place:keep", args=[self.voice.pk]), {"distance": "6"})
        self.voice.refresh_from_db()
        self.assertAlmostEqual(self.voice.distance_m, 0.1524)
        answer = self.client.post(reverse("place:keep", args=[self.voice.pk]), {"distance": "60"})
        self.assertContains(answer, "between 0.8 in and 24 in", status_code=422)

    def test_a_button_says_the_same_whatever_is_read(self):
        self.in_feet()
        screen = self.client.get(reverse("place:page", args=[self.voice.pk])).context["screen"]
        self.client.post(reverse("place:keep", args=[self.voice.pk]), screen.schools[-1].values)
        self.voice.refresh_from_db()
        self.assertTrue(0.30 <= self.voice.distance_m <= 0.45)

    def test_a_room_in_feet_and_inches(self):
        self.in_feet()
        room = self.voice.song.room
        before = room.size_m
        page = self.client.get(reverse("room:page", args=[self.voice.pk]), {"open": "shape"})
        self.assertContains(page, lengths_in_feet(before[0]))
        sent = {"size_x": "14' 3\"", "size_y": "10", "size_z": "8' 2\""}
        sent |= {f"surface_{wall}": slug for wall, slug in room.surfaces.items()}
        self.client.post(reverse("room:shape", args=[self.voice.pk]), sent)
        room.refresh_from_db()
        for have, want in zip(room.size_m, (4.3434, 3.048, 2.4892), strict=True):
            self.assertAlmostEqual(have, want)


def lengths_in_feet(length_m):
    inches = round(length_m / 0.0254, 1)
    return f"{int(inches // 12)}&#x27; "
