"""The site: whose rows are whose, songs with undo, safety by default, own error pages."""

import re
from datetime import date, timedelta
from unittest import mock

from django.contrib.auth import get_user_model
from django.db.models import F
from django.test import Client, override_settings
from django.urls import get_resolver, reverse

from pneumen.demo.load import load_demo
from pneumen.web.audio.models import Ledger
from pneumen.web.audio.put_away import KEPT_DAYS
from pneumen.web.comp.models import SheetLine
from pneumen.web.gear.models import GearImport
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.song import away, services
from pneumen.web.song.models import Song
from tests.web.base import HTMX, DemoCase, answers


def addresses(patterns, before=""):
    """Yield the name and path of every address, with its converters left open: parts/<int:part_id>/gain/."""
    for pattern in patterns:
        path = before + str(pattern.pattern)
        if hasattr(pattern, "url_patterns"):
            yield from addresses(pattern.url_patterns, path)
        elif pattern.name:
            yield f"{pattern.callback.__module__.split('.')[2]}:{pattern.name}", path


class Ownership(DemoCase):
    """Every address that takes an id, asked for with the id of a row that is another person's."""

    def setUp(self):
        super().setUp()
        stranger = get_user_model().objects.create(username="stranger")
        self.theirs = services.create_song(stranger, "Not yours")
        part = self.theirs.parts.get()
        self.ids = {
            "part_id": part.pk,
            "song_id": self.theirs.pk,
            "room_id": self.theirs.room_id,
            "number": 1,
            "slug": "hang",
            "key": "0" * 32,
            "check_id": 1,
        }
        line = SheetLine.objects.create(owner=stranger, part=part, position=0, words="Not yours")
        self.ids |= {"line_id": line.pk, "layer_id": line.pk, "end": "before"}
        self.ids |= {"heard_at": 0, "import_id": GearImport.objects.create(owner=stranger, document={}).pk}

    def test_another_persons_rows_are_not_there(self):
        walked = 0
        for name, path in addresses(get_resolver().url_patterns):
            wanted = re.findall(r"<\w+:(\w+)>", path)
            if not set(wanted) & set(self.ids):
                continue
            address = "/" + re.sub(r"<\w+:(\w+)>", lambda found: str(self.ids[found[1]]), path)
            codes = [self.client.get(address).status_code, self.client.post(address).status_code]
            self.assertIn(404, codes, name)
            self.assertLessEqual(set(codes), {404, 405}, name)
            walked += 1
        self.assertGreater(walked, 60)
        self.assertNotContains(self.client.get("/songs/"), "Not yours")

    def test_rows_named_inside_a_form_are_ones_own_too(self):
        self.act("room:which", room=str(self.theirs.room_id))
        self.assertNotEqual(Song.objects.get(pk=self.song.pk).room_id, self.theirs.room_id)

    def test_only_the_loopback_address_is_signed_in(self):
        self.assertEqual(self.client.get("/songs/", REMOTE_ADDR="192.0.2.7").status_code, 403)
        self.assertEqual(self.client.get("/songs/", REMOTE_ADDR="::1").status_code, 200)

    def test_another_host_name_is_refused(self):
        self.assertEqual(self.client.get("/songs/", HTTP_HOST="rebound.example").status_code, 400)


class Safety(DemoCase):
    def test_policy_without_inline_script_or_style(self):
        policy = self.page("gain:page")["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertIn("script-src 'self'", policy)
        self.assertNotIn("unsafe", policy)

    def test_pages_carry_no_inline_script_or_style(self):
        self.act("take:simulated")
        for name in ("start:page", "gain:page", "take:page"):
            page = self.page(name).content.decode()
            self.assertNotRegex(page, r"<script(?![^>]*src=)|<style|\sstyle=|\son[a-z]+=")

    def test_no_other_site_learns_anything_static_files_too(self):
        for address in ("/songs/", "/nowhere/", "/static/css/pneumen.css"):
            self.assertEqual(self.client.get(address)["Cross-Origin-Resource-Policy"], "same-origin", address)
            self.assertEqual(self.client.get(address, HTTP_HOST="rebound.example").status_code, 400, address)

    def test_what_can_be_read_can_be_asked_for_without_its_body(self):
        for name in ("start:page", "gain:page", "room:page", "take:page", "kit:routes", "room:advice"):
            answer = self.client.head(reverse(name, args=[self.voice.pk]))
            self.assertEqual((answer.status_code, answer.content), (200, b""), name)
        self.assertEqual(self.client.head("/gear/").status_code, 200)

    def test_a_range_of_any_length_is_answered(self):
        take = self.measured_take()
        address = reverse("take:audio", args=[self.voice.pk, take.number])
        for asked in (f"bytes={'9' * 5000}-", f"bytes=0-{'9' * 5000}", "bytes=-0", "bytes=²-", "bytes=5-2"):
            self.assertIn(self.client.get(address, HTTP_RANGE=asked).status_code, (200, 206, 416), asked[:20])

    def test_figures_beyond_all_measure_are_told_not_answered_with_an_error(self):
        section = self.voice.sections.first().pk
        for typed in ("nan", "inf", "1e400", "9" * 5000, "900", "-1e11", "²"):
            for name, field in (("part:tried", f"loud-{section}"), ("kit:tried", "budget"), ("gain:tried", "gain")):
                answer = self.client.get(reverse(name, args=[self.voice.pk]), {field: typed}, HTTP_HX_REQUEST="true")
                self.assertEqual(answer.status_code, 200, (name, typed[:9]))
            answer = self.act("part:keep", **{f"loud-{section}": typed})
            self.assertEqual(answer.status_code, 422, typed[:9])

    def test_what_cannot_be_is_told_in_the_answer_to_a_drag_as_in_the_page(self):
        dragged = {"kit": "budget", "room": "stand_x", "place": "distance", "gain": "distance", "delay": "buffer"}
        for step, field in (dragged | {"part": "doubles"}).items():
            answer = self.client.get(reverse(f"{step}:tried", args=[self.voice.pk]), {field: "many"}, **HTMX)
            self.assertEqual(answer.status_code, 200, step)
            self.assertRegex(answer.content.decode(), r'<p class="problem"[^>]*>\s*[^<]*must be', step)

    def test_a_post_needs_its_token(self):
        strict = Client(enforce_csrf_checks=True)
        self.assertEqual(strict.post(f"/parts/{self.voice.pk}/gain/pin/").status_code, 403)

    def test_wrong_methods(self):
        self.assertEqual(self.client.get(f"/parts/{self.voice.pk}/gain/keep/").status_code, 405)

    def test_own_error_pages(self):
        self.assertContains(self.client.get("/nowhere/"), "There is nothing here", status_code=404)
        with override_settings(DEBUG=False):
            broken = Client(raise_request_exception=False)
            Part.objects.filter(pk=self.voice.pk).update(source="theremin")
            with self.assertLogs("django.request"):
                response = broken.get(f"/parts/{self.voice.pk}/gain/")
            self.assertContains(response, "Pneumen has made a mistake", status_code=500)


class Songs(DemoCase):
    def test_make_rename_delete_and_undo(self):
        response = self.client.post("/songs/new/", {"name": "  Night   Train "})
        song = Song.objects.get(name="Night Train")
        self.assertRedirects(response, f"/parts/{song.parts.get().pk}/start/")
        self.client.post(f"/songs/{song.pk}/rename/", {"name": "Day Train"})
        page = self.client.post(f"/songs/{song.pk}/delete/", follow=True)
        self.assertContains(page, "“Day Train” was put away")
        self.assertContains(page, "Undo")
        self.assertEqual(self.client.get(f"/parts/{song.parts.get().pk}/start/").status_code, 404)
        self.client.post(f"/songs/{song.pk}/undo/")
        self.assertContains(self.client.get("/songs/"), "Day Train")

    def test_what_was_put_away_long_ago_is_purged(self):
        services.put_song_away(self.song)
        self.assertEqual(away.purge(), 0)
        Ledger.objects.update(days=F("days") + KEPT_DAYS)
        self.assertEqual((away.purge(), Song.everything.count()), (1, 0))

    def test_a_clock_that_jumps_makes_nothing_old(self):
        services.put_song_away(self.song)
        for days in (400, -400, 5000):
            with mock.patch("django.utils.timezone.localdate", return_value=date(2026, 11, 28) + timedelta(days=days)):
                self.assertEqual(away.purge(), 0)
        self.assertEqual(Song.everything.count(), 1)

    def test_names_are_checked(self):
        for name, message in (("", "must not be empty"), ("x" * 130, "at most 120")):
            page = self.client.post("/songs/new/", {"name": name}, follow=True)
            self.assertContains(page, message)
            page = self.client.post(f"/songs/{self.song.pk}/rename/", {"name": name}, follow=True)
            self.assertContains(page, message)

    def test_parts(self):
        self.client.post(f"/songs/{self.song.pk}/parts/", {"source": "voice-pop"})
        added = self.song.parts.last()
        self.assertEqual(added.name, "Voice 2")
        self.act("song:delete-part", added)
        self.assertFalse(Part.objects.filter(pk=added.pk).exists())

    def test_the_last_part_stays(self):
        song = services.create_song(self.owner, "One")
        page = self.client.post(reverse("song:delete-part", args=[song.parts.get().pk]), follow=True)
        self.assertContains(page, "is the only one of its song")

    def test_a_new_part_starts_without_verdicts(self):
        song = services.create_song(self.owner, "Quiet")
        page = self.page("start:page", song.parts.get())
        self.assertContains(page, "Five answers make a plan")
        # Every page answers all the same: what is not known yet is assumed, and says so.
        for name in ("kit:page", "room:page", "place:page", "gain:page", "take:page"):
            self.assertEqual(self.page(name, song.parts.get()).status_code, 200)

    def test_where_money_is_short_every_page_answers_and_the_remedy_works(self):
        part = services.create_song(self.owner, "Half").parts.get()
        self.client.post(reverse("start:page", args=[part.pk]), answers(part, microphone="dynamic", budget="0"))
        start = self.client.get(reverse("start:page", args=[part.pk]))
        self.assertContains(start, "completes")
        self.assertNotContains(start, "(assumed)")  # an interface that can be bought, not one that is imagined
        for act in ("kit:raise", "gain:pin"):
            self.assertEqual(self.act(act, part).status_code, 302)
        for name in ("start:page", "kit:page", "room:page", "place:page", "gain:page", "gain:tried", "take:page"):
            self.assertEqual(self.page(name, part).status_code, 200)
        self.assertNotContains(self.client.get(reverse("start:page", args=[part.pk])), "Money is short")

    def test_a_song_has_a_room_of_its_own(self):
        mine, other = (services.create_song(self.owner, name) for name in ("One", "Two"))
        self.assertEqual(len({mine.room_id, other.room_id, self.song.room_id}), 3)
        part = mine.parts.get()
        self.client.post(reverse("start:page", args=[part.pk]), answers(part, size="closet", furnishing="soft"))
        for room in (other.room, self.song.room):
            before = room.rt60_s
            self.assertEqual(Room.objects.get(pk=room.pk).rt60_s, before)
        self.assertLess(Room.objects.get(pk=mine.room_id).rt60_s, 0.2)

    def test_a_shared_room_is_chosen_and_told(self):
        part = services.create_song(self.owner, "Guest").parts.get()
        address = reverse("start:page", args=[part.pk])
        self.client.post(address, answers(part, room=str(self.song.room_id)))
        self.assertContains(self.client.get(address), f"is also used by {self.song.name}")
        part.song.refresh_from_db()
        self.assertEqual((part.song.room, part.song.room.size), (self.song.room, self.song.room.size))

    def test_no_song_at_all(self):
        Song.objects.all().delete()
        self.assertContains(self.client.get("/", follow=True), "No song yet")

    def test_the_demo_comes_once_and_fresh_on_demand(self):
        self.assertFalse(load_demo(fresh=False))
        self.act("gain:keep", distance="50", gain="5", school="wide")
        self.assertTrue(load_demo(fresh=True))
        self.assertEqual((Song.objects.count(), Room.objects.count()), (1, 1))
        self.assertNotEqual(Part.objects.first().distance_m, 0.5)
