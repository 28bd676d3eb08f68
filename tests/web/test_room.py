"""The Room screen: drawn, stood in, hung, listened to; and what follows from it elsewhere."""

import io
import re

import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.core.rig import simulate_clap
from pneumen.core.room import MATERIALS, WALLS, Box
from pneumen.web.kit.needs import needs_of_song
from pneumen.web.room.models import Room
from pneumen.web.room.sections import LABELS
from pneumen.web.settle import outcome_of
from tests.signals import wav
from tests.web.base import HTMX, DemoCase

SHAPE = {
    "size_x": "4,2",
    "size_y": "3.1",
    "size_z": "2.4",
    **{f"surface_{wall}": "plaster" for wall in WALLS},
    "surface_floor": "carpet",
}

NOISE = {"noise_called": "Fridge", "noise_level_dba": "38", "noise_from_hour": "0", "noise_to_hour": "24"}

STANDING = {"stand_x": "2", "stand_y": "1.5", "facing": "180", "mouth": "1.5", "hour": "20"}


def without_tokens(page):
    """Return a page without what is another one each time it is drawn."""
    return re.sub(r'(name="csrfmiddlewaretoken" value=)"\w+"', r"\1", page)


class RoomCase(DemoCase):
    @property
    def room(self):
        return Room.objects.get(pk=self.song.room_id)

    def screen(self, **data):
        return self.page("room:page", **data).context["screen"]


class Drawing(RoomCase):
    def test_the_demo_attic_is_drawn_and_says_its_slope_is_a_mean(self):
        page = self.page("room:page")
        self.assertContains(page, "Attic over the bakery")
        self.assertContains(page, "taken at its mean height")
        self.assertContains(page, "oven fan")
        self.assertEqual(page.context["screen"].verdict, "clear")

    def test_a_room_of_ones_own(self):
        self.assertEqual(self.act("room:shape", **SHAPE).status_code, 302)
        room, demo = self.room, self.song.room.layout
        self.assertEqual((room.size_m, room.layout.furniture, room.sloping), ((4.2, 3.1, 2.4), demo.furniture, False))
        self.assertAlmostEqual(room.box.volume_m3, 31.248, 3)

    def test_faults_are_told_and_nothing_is_lost_or_stored(self):
        for change, told in (
            ({"size_x": "0"}, "between 0.50 m and 60.00 m"),
            ({"size_x": "300"}, "between 0.50 m and 60.00 m"),
            ({"size_y": "wide"}, "must be a length, as 20 cm"),
            ({"surface_west": "moss"}, "Material must be one of"),
        ):
            answer = self.act("room:shape", **(SHAPE | change))
            self.assertEqual(answer.status_code, 422, change)
            self.assertRegex(answer.content.decode(), told)
            if "size_x" in change:
                self.assertContains(answer, f'value="{change["size_x"]}"', status_code=422)
            self.assertEqual(self.room.size_x_m, 4.1)

    def test_rooms_belong_to_their_person(self):
        other = self.client
        other.force_login(self._stranger())
        self.assertEqual(self.page("room:page").status_code, 404)
        self.assertEqual(self.act("room:shape", **SHAPE).status_code, 404)
        self.assertEqual(self.room.size_x_m, 4.1)

    def _stranger(self):
        return type(self.owner).objects.create_user("stranger")


class Standing(RoomCase):
    def test_page_and_fragment_show_the_same_and_trying_stores_nothing(self):
        before = self.voice.stand_x_m
        answer = self.client.get(
            reverse("room:tried", args=[self.voice.pk]), {"stand_x": "0.9", "stand_y": "0.8", "facing": "90"}, **HTMX
        )
        self.assertContains(answer, "facing east")
        self.voice.refresh_from_db()
        self.assertEqual(self.voice.stand_x_m, before)

    def test_kept_with_and_without_javascript(self):
        place = {"stand_x": "1,2", "stand_y": "1.1", "facing": "-90", "mouth": "1.4", "hour": "5"}
        self.assertEqual(self.act("room:keep", **place).status_code, 302)
        self.voice.refresh_from_db()
        self.assertEqual((self.voice.stand_x_m, self.voice.facing_deg, self.voice.mouth_m), (1.2, 270, 1.4))
        self.assertEqual(self.room.hour, 5)
        live = self.client.post(reverse("room:keep", args=[self.voice.pk]), place | {"facing": "0"}, **HTMX)
        self.assertContains(live, 'id="thread"')
        refused = self.act("room:keep", **(place | {"stand_x": "40"}))
        self.assertContains(refused, "From west must be between", status_code=422)

    def test_a_mouth_or_microphone_in_the_wall_is_brought_back_inside(self):
        here = self.screen().here
        self.act("room:keep", stand_x="0", stand_y="0", facing="225", mouth="1.5", hour="20")
        here = self.screen().here
        for axis, side in zip(here.placement.microphone_m, (4.1, 3.2, 2.2), strict=True):
            self.assertTrue(0.049 < axis < side - 0.049)

    def test_advice_can_be_taken(self):
        self.act("room:keep", stand_x="0.4", stand_y="2.8", facing="0", mouth="1.5", hour="20")
        before = self.screen().reading[0][1]
        page = self.client.get(reverse("room:advice", args=[self.voice.pk]), **HTMX)
        spot = next(advice for advice in page.context["advices"] if advice.action == "planned")
        self.act("gain:planned", **spot.values)
        self.assertGreater(float(self.screen().reading[0][1]), float(before))
        self.assertContains(self.page("room:advice"), "back to the room")


class Hanging(RoomCase):
    def test_the_best_hanging_is_one_press_away(self):
        before = float(self.screen().reading[0][1])
        self.act("room:hang-best")
        self.assertEqual(len(self.room.layout.hung), 3)
        self.assertGreater(float(self.screen().reading[0][1]), before + 1)
        self.assertNotIn("hang-best", [one.action for one in self.page("room:advice").context["advices"]])

    def test_hung_by_hand_taken_down_and_taken_off_the_list(self):
        self.act("room:hang", piece="2", on="east", u="1.5", v="1.1")
        self.assertEqual(self.room.layout.soft[1].on, "east")
        self.assertContains(self.page("room:page"), "on the east")
        self.act("room:hang", piece="2", on="")
        self.assertEqual(self.room.layout.soft[1].on, "")
        self.act("room:coverings", away="2")
        self.assertEqual(self.room.coverings.count(), 2)

    def test_several_alike_are_added_at_once(self):
        sent = {
            "covering_label": "Cushion",
            "covering_material": "foam-50",
            "covering_width_m": "0.5",
            "covering_height_m": "0.5",
        }
        self.act("room:coverings", **sent, covering_count="3")
        self.assertEqual([row.label for row in self.room.layout.soft[3:]], ["Cushion 1", "Cushion 2", "Cushion 3"])
        for count in ("0", "40", "2.5e9"):
            self.assertEqual(self.act("room:coverings", **sent, covering_count=count).status_code, 422)
        self.assertEqual(self.room.coverings.count(), 6)

    def test_what_cannot_hang_is_told(self):
        curtain = {"covering_label": "Stage curtain", "covering_material": "curtain-velvet"}
        self.act("room:coverings", **curtain, covering_width_m="6", covering_height_m="2")
        for sent, told in (
            ({"piece": "2", "on": "north", "u": "1.2", "v": "1.1"}, "would hang over Winter duvet"),
            ({"piece": "2", "on": "roof", "u": "1", "v": "1"}, "Wall must be one of"),
            ({"piece": "9", "on": "east"}, "Piece must be one of"),
            (
                {"piece": "4", "on": "east", "u": "1", "v": "1"},
                "is 6.00 m wide, the east wall only 3.20 m",
            ),
            ({"piece": "x"}, "must be a number"),
            ({"piece": "nan"}, "must be a number"),
            ({"piece": "2", "on": "east", "u": "99", "v": "1"}, "Place along the wall must be between 0 and 3.20 m"),
            ({"piece": "2", "on": "east", "u": "1", "v": "-1"}, "Place up the wall must be between 0 and 2.20 m"),
        ):
            self.assertContains(self.act("room:hang", **sent), told, status_code=422)
        for sent, told in (
            (
                {"covering_material": "duvet", "covering_width_m": "0", "covering_height_m": "2"},
                "Width must be greater",
            ),
            (
                {"covering_material": "moss", "covering_width_m": "1", "covering_height_m": "2"},
                "Material must be one of",
            ),
        ):
            self.assertContains(self.act("room:coverings", **sent), told, status_code=422)


class Flows(RoomCase):
    def test_room_changes_reach_kit_gain_and_start_at_once(self):
        def seen():
            part = type(self.voice).objects.select_related("song__room").get(pk=self.voice.pk)
            air, needs = outcome_of(part).air, needs_of_song(part.song)
            return air.rt60_s, air.noise_dba, needs.room.rt60_s, needs.room.volume_m3

        before = seen()
        self.act("room:hang-best")
        hung = seen()
        self.assertLess(hung[0], before[0])
        self.assertEqual(hung[0], hung[2])
        self.act("room:keep", stand_x="2", stand_y="1.5", facing="180", mouth="1.5", hour="5")
        self.assertGreater(seen()[1], hung[1] + 5)  # the ovens
        self.act("room:shape", **(SHAPE | {"size_x": "6"}))
        self.assertGreater(seen()[3], before[3] + 5)
        self.assertContains(self.page("start:page"), "Drawn by you")

    def test_several_rooms(self):
        self.act("room:which", name="Kitchen")
        self.song.refresh_from_db()
        self.assertEqual(self.room.name, "Kitchen")
        attic = Room.objects.get(name="Attic over the bakery")
        self.act("room:which", room=str(attic.pk))
        self.song.refresh_from_db()
        self.assertEqual(self.song.room, attic)
        self.assertEqual(self.act("room:which", room="99").status_code, 404)
        for room in ("x", "\N{SUPERSCRIPT TWO}", "9" * 30):
            self.assertEqual(self.act("room:which", room=room).status_code, 404)

    def test_rooms_and_hours_beside_each_other_and_the_schools_settled(self):
        self.assertContains(self.page("room:compare"), "add a closet and a larger one")
        self.act("room:which", name="Wardrobe closet")
        shape = SHAPE | {"size_x": "1.3", "size_y": "1", "size_z": "2.2", "surface_north": "clothes"}
        self.act("room:shape", **(shape | {"surface_east": "clothes"}))
        page = self.page("room:compare")
        rooms = page.context["rooms"]
        self.assertEqual({one.room.name for one in rooms}, {"Attic over the bakery", "Wardrobe closet"})
        self.assertEqual([one.score for one in rooms], sorted((one.score for one in rooms), reverse=True))
        attic = next(one for one in rooms if one.room.name.startswith("Attic"))
        self.assertEqual(attic.hours, "0 to 4 and 19 to 24 h")
        self.assertContains(page, "it is, by these figures")

    def test_noises_keep_hours(self):
        sent = NOISE
        place = {"noise_x_m": "1", "noise_y_m": "1", "noise_z_m": "0.5"}
        self.act("room:noises", **sent, **place)
        self.assertEqual(self.room.noises.count(), 3)
        self.assertContains(self.page("room:page"), "quietest")
        refused = self.act("room:noises", **sent, **(place | {"noise_x_m": "9"}))
        self.assertContains(refused, "Place along x must be between 0.00 m and", status_code=422)
        self.assertContains(refused, 'value="Fridge"', status_code=422)
        self.act("room:noises", away="2")
        self.assertEqual(self.room.noises.count(), 2)


class Sections(RoomCase):
    """What is below the plan: one section open at a time, what is closed is fetched when it is opened."""

    def test_closed_ones_are_not_drawn_and_can_be_opened_without_script(self):
        page = self.page("room:page")
        self.assertNotContains(page, 'name="surface_floor"')
        self.assertContains(page, 'href="?open=shape#shape"')
        self.assertContains(self.page("room:page", open="shape"), 'name="surface_floor"')

    def test_each_is_fetched_by_itself_and_is_the_one_of_the_page(self):
        for slug in LABELS:
            with self.subTest(slug):
                alone = self.client.get(reverse("room:section", args=[self.voice.pk, slug]), HTTP_HX_REQUEST="true")
                inside = without_tokens(alone.content.decode())
                self.assertNotIn("<html", inside)
                self.assertIn(inside.strip(), without_tokens(self.page("room:page", open=slug).content.decode()))

    def test_asked_for_without_script_it_leads_to_the_page_with_it_open(self):
        answer = self.page("room:section", None, "noises")
        self.assertRedirects(answer, reverse("room:page", args=[self.voice.pk]) + "?open=noises#noises")

    def test_there_is_no_other(self):
        self.assertEqual(self.page("room:section", None, "cellar").status_code, 404)

    def test_what_it_holds_stands_beside_its_name(self):
        self.act("room:noises", **NOISE)
        holds = {section.slug: section.holds for section in self.page("room:page").context["sections"]}
        self.assertEqual(holds["noises"], str(self.room.noises.count()))
        self.assertEqual(holds["hang"], str(self.room.coverings.count()))


class Claps(RoomCase):
    def send(self, content, name="clap.wav"):
        file = SimpleUploadedFile(name, content, "audio/wav")
        return self.client.post(reverse("room:clap", args=[self.voice.pk]), {"clap": file}, follow=True)

    def test_a_clap_is_read_and_may_stand_for_the_computed(self):
        soft = dict.fromkeys(WALLS, MATERIALS["curtain-folded"].absorption)
        bare = dict.fromkeys(("west", "east"), MATERIALS["plaster"].absorption)
        made = simulate_clap(Box(size_m=(4.1, 3.2, 2.2), surfaces=soft | bare), (1.5, 1.2, 1.4), (1.7, 1.3, 1.6))
        buffer = io.BytesIO()
        soundfile.write(buffer, made, 48_000, subtype="PCM_24", format="WAV")
        page = self.send(buffer.getvalue())
        self.assertContains(page, "between west and east, ")
        computed = self.room.to_core().rt60_s
        self.act("room:clap", use="yes")
        self.assertAlmostEqual(self.room.to_core().rt60_s, self.room.clap["rt60_s"], 5)
        self.assertNotAlmostEqual(self.room.to_core().rt60_s, computed, 2)
        self.act("room:clap", forget="1")
        self.assertAlmostEqual(self.room.to_core().rt60_s, computed)

    def test_the_stand_in_claps_in_this_very_room(self):
        self.act("room:clap", simulate="1")
        clap = self.room.clap
        self.assertTrue(0.6 < clap["rt60_s"] / self.room.to_core().rt60_s < 1.7)
        self.assertContains(self.page("room:page", open="measured"), "A clap measured")

    def test_files_without_a_clap_are_told_in_plain_words(self):
        self.assertContains(self.send(wav()), "there is no clap in it")
        self.assertContains(self.send(b"hello", "notes.txt"), "notes.txt: this is not a recording")
        self.assertContains(
            self.client.post(reverse("room:clap", args=[self.voice.pk]), follow=True), "Choose a recording"
        )
        self.assertIsNone(self.room.clap)


class Makeshifts(RoomCase):
    def test_they_are_told_with_minutes_and_cautions_where_the_room_is_heard(self):
        bare = dict.fromkeys(self.room.surfaces, "plaster")
        type(self.room).objects.filter(pk=self.room.pk).update(surfaces=bare)
        self.room.coverings.all().delete(), self.room.furniture.all().delete()
        self.act("gain:keep", distance="60")
        page = self.page("room:advice")
        self.assertContains(page, "tent of duvets")
        self.assertContains(page, "minutes to set up")
        self.assertContains(page, "short of air")
        self.assertContains(page, "Build a V on a table")
