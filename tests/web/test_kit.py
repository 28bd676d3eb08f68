"""The Kit screen and the catalogue: page and fragment, options, taking a kit, marks, and import by review."""

import math
import re

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.core.kit import built_in_catalogue, catalogue_from_csv, catalogue_to_csv
from pneumen.web.gear.models import GearImport, GearMark
from pneumen.web.gear.services import catalogue_and_gear_at_hand, whole_catalogue
from pneumen.web.gear.show import ROWS_ON_A_PAGE
from pneumen.web.kit.picture import NARROW, WIDE, draw_frontier
from pneumen.web.kit.services import frontier_of_song, in_use, take_kit
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.song.models import Song
from pneumen.web.song.services import create_song
from tests.gear import random_catalogue
from tests.songs import answer, verdicts_on
from tests.web.base import HTMX, OPTIONS, DemoCase, answers


class KitScreen(DemoCase):
    def test_page_and_fragment_tell_the_same(self):
        page = self.page("kit:page")
        fragment = self.client.get(reverse("kit:tried", args=[self.voice.pk]), {"budget": "60"}, **HTMX)
        self.assertContains(page, "As it is set up now, nothing is to buy, and that is enough; another needs nothing")
        self.assertContains(fragment, "Nothing to buy, and that is enough: ")
        self.assertContains(fragment, page.context["screen"].sentence.partition(": ")[2])
        self.assertContains(fragment, 'aria-valuetext="60, clean range')

    def test_trying_out_stores_nothing_and_keeping_does(self):
        self.client.get(reverse("kit:tried", args=[self.voice.pk]), {"budget": "321"}, **HTMX)
        self.song.refresh_from_db()
        self.assertEqual(self.song.budget, 60)
        self.assertRedirects(self.act("kit:keep", **OPTIONS), reverse("kit:page", args=[self.voice.pk]))
        self.song.refresh_from_db()
        self.assertEqual((self.song.budget, self.song.monitors), (400, False))

    def test_faults_stand_at_the_form_and_keep_what_was_typed(self):
        for change in ({"budget": "lots"}, {"budget": "-1"}, {"tone": "purple"}, {"route": "boat"}):
            answer = self.act("kit:keep", **(OPTIONS | change))
            self.assertEqual(answer.status_code, 422, change)
        self.assertContains(self.act("kit:keep", **(OPTIONS | {"budget": "lots"})), "lots", status_code=422)
        tried = self.client.get(reverse("kit:tried", args=[self.voice.pk]), {"budget": "x"}, **HTMX)
        self.assertContains(tried, "Money must be a number")

    def test_a_kit_sets_every_part_up(self):
        self.act("kit:keep", **OPTIONS | {"route": "recorder", "system": "none"})
        number = self.page("kit:page").context["screen"].number
        self.act("kit:take", kit=number)
        for part in self.song.parts.all():
            self.assertEqual(part.microphone.kind, "recorder")
            self.assertEqual(self.page("gain:page", part).status_code, 200)
            self.assertEqual(self.page("start:page", part).status_code, 200)
        self.assertRedirects(self.act("kit:take", kit="zebra"), reverse("kit:page", args=[self.voice.pk]))

    def test_any_kit_can_be_taken_for_parts_recorded_together(self):
        """Each part looks its microphone up while the one before it was just given another."""
        self.act("kit:keep", **OPTIONS)
        self.act("start:page", **answers(self.voice, microphone="dynamic", interface="numbered"))
        self.song.parts.update(session=1)
        song = Song.objects.whole().get(pk=self.song.pk)
        kits = frontier_of_song(song)
        numbers = range(0, len(kits.points), 2)
        self.assertGreater(len(numbers), 20)
        for number in numbers:
            take_kit(Song.objects.whole().get(pk=song.pk), number)
            for part in Part.objects.whole().filter(song=song):
                self.assertTrue(math.isfinite(outcome_of(part).levels.clean_range_db), (number, part.name))

    def test_nothing_fits_says_what_would_and_one_press_does_it(self):
        self.act("kit:keep", **OPTIONS | {"budget": "20", "monitors": "on"})
        screen = self.page("kit:page").context["screen"]
        self.assertIn("in the order below", screen.sentence)
        self.act("kit:raise")
        self.song.refresh_from_db()
        self.assertEqual(self.song.budget, screen.raise_to)

    def test_locks_are_obeyed_and_can_be_let_go(self):
        self.act("kit:keep", **OPTIONS | {"budget": "900"})
        self.act("kit:mark", item="burdock-d", mark="must")
        names = [line.name for line in self.page("kit:page").context["screen"].packing.lines]
        self.assertIn("Burdock D", names)
        self.act("kit:mark", item="burdock-d", mark="")
        self.song.refresh_from_db()
        self.assertEqual(self.song.musts, ())

    def test_another_kit_stands_beside_the_recommended(self):
        self.act("kit:keep", **OPTIONS)
        self.assertNotContains(self.page("kit:page"), "Side by side")
        page = self.page("kit:page", kit="0")
        self.assertContains(page, "Side by side")
        rows = {name: (ours, theirs) for name, ours, theirs in page.context["screen"].beside}
        self.assertNotEqual(*rows["Total"])
        self.assertIn("more than there is", page.context["screen"].sentence)

    def test_the_three_routes_are_compared_as_page_and_fragment(self):
        self.act("kit:keep", **OPTIONS)
        fragment = self.client.get(reverse("kit:routes", args=[self.voice.pk]), **HTMX)
        for words in ("One cable", "An interface", "A handheld recorder"):
            self.assertContains(fragment, words)
            self.assertContains(self.page("kit:routes"), words)
        self.act("kit:keep", **OPTIONS | {"system": "none"})
        routes = self.page("kit:routes").context["routes"]
        self.assertEqual([route.total == "does not fit" for route in routes], [True, True, False])

    def test_what_is_enough_is_chosen(self):
        self.act("kit:keep", **OPTIONS)
        self.assertIn("that is enough", self.page("kit:page").context["screen"].sentence)
        self.act("kit:keep", **OPTIONS | {"enough_clean_db": "75"})
        self.assertIn("short of a clean range that is enough", self.page("kit:page").context["screen"].sentence)
        self.assertEqual(self.act("kit:keep", **OPTIONS | {"enough_clean_db": "199"}).status_code, 422)

    def test_where_the_money_is_short_an_order_says_what_to_begin_with(self):
        self.client.post("/songs/new/", {"name": "Fifty"})
        part = Part.objects.get(song__name="Fifty")
        self.client.post(reverse("start:page", args=[part.pk]), answers(part, budget="50"))
        page = self.page("kit:page", part)
        order = page.context["screen"].order
        self.assertTrue(order[0].within)
        self.assertFalse(order[-1].within)
        self.assertContains(page, "Buy in this order")
        for name in ("start:page", "place:page", "gain:page", "take:page"):
            self.assertEqual(self.page(name, part).status_code, 200)

    def test_the_kit_in_use_has_the_same_figures_where_it_is_looked_at(self):
        self.client.post("/songs/new/", {"name": "Same"})
        for loudness in ("soft", "unknown", "loud"):
            part = Part.objects.get(song__name="Same")
            self.client.post(reverse("start:page", args=[part.pk]), answers(part, loudness=loudness, budget="300"))
            screen = self.page("kit:page", part).context["screen"]
            shown = {name: value for name, value, _ in screen.reading}
            mine = screen.parts[0]
            self.assertEqual((shown["Clean range"], shown["Headroom"]), (mine.clean, mine.headroom), loudness)

    def test_the_packing_list_as_csv_adds_up(self):
        answer = self.page("kit:list", kit="0")
        rows = answer.content.decode().splitlines()
        self.assertEqual(rows[0], "number,what,kind,where from,price of all,why")
        self.assertTrue(rows[-1].startswith(",total"))

    def test_who_takes_turns_uses_one_stand_again(self):
        """The demo's three parts are recorded one after the other, with one stand and one cable owned."""
        for name in ("kit:page", "start:page"):
            screen = self.page(name).context["screen" if name == "kit:page" else "plan"]
            counts = {line.kind: line.count for line in screen.packing.lines if line.where == "you have it"}
            self.assertEqual((counts["Boom stand"], counts["XLR cable"]), (1, 1), name)

    def test_another_person_sees_nothing_of_it(self):
        self.assertEqual(self.client.get(reverse("kit:page", args=[99_999])).status_code, 404)

    def test_a_drag_is_answered_from_one_frontier(self):
        self.page("kit:page")
        with self.assertNumQueries(4):  # whether anything was stored since, and who asks
            self.client.get(reverse("kit:tried", args=[self.voice.pk]), {"budget": "90"}, **HTMX)


ENOUGH = (50.0, 10.0)


class TwoKits(DemoCase):
    """Where one's own chain stays and the planner would take another, both sums are told as what they are."""

    def test_the_sum_of_start_comes_first_on_kit(self):
        self.harp.delete()
        self.clarinet.delete()
        sent = {"source": "drum-kit", "loudness": "loud", "microphone": "large-condenser", "interface": "bare-knob"}
        self.act("start:page", **answers(self.voice, **sent, budget="400"))
        own, sentence = in_use(self.song).total, self.page("kit:page").context["screen"].sentence
        self.assertIn(f"A complete kit for {own:g}.", self.page("start:page").content.decode())
        self.assertTrue(sentence.startswith(f"As it is set up now, {own:g} completes the kit, and it is "), sentence)
        self.assertIn(" buys another", sentence)

    def test_what_clips_in_a_room_that_is_heard_is_no_kit_to_be_only_watched(self):
        part = create_song(self.owner, "Closet").parts.first()
        answer(part, source="trumpet", loudness="loud", microphone="usb-condenser", size="closet", budget="30")
        page = self.page("kit:page", part)
        own, thread = verdicts_on(page.content.decode())
        self.assertEqual((own, thread["kit"]), ("baked-in", "baked-in"))
        self.assertEqual({one.verdict for one in page.context["screen"].parts}, {"baked-in"})
        self.assertIn("Even then it is", page.context["screen"].sentence)

    def test_start_and_kit_name_one_sum_and_one_order_where_the_money_is_short(self):
        part = create_song(self.owner, "Short").parts.first()
        answer(part, source="lever-harp", microphone="usb-condenser", interface="none", budget="0", route="interface")
        told = [self.page(f"{step}:page", part).content.decode() for step in ("start", "kit")]
        sums = [set(re.findall(r"(\d+) completes it|(\d+) more, in the order below", page)) for page in told]
        self.assertTrue(sums[0])
        self.assertEqual(*sums)

    def test_where_the_kit_in_use_is_short_the_part_that_is_gets_named(self):
        self.act("kit:keep", **OPTIONS | {"enough_clean_db": "75"})
        page = self.page("kit:page")
        own, thread = verdicts_on(page.content.decode())
        self.assertEqual((own, thread["kit"]), ("watch", "watch"))
        self.assertRegex(page.context["screen"].sentence, "dB short of a clean range that is enough")

    def test_one_kit_is_told_once(self):
        self.act("start:page", **answers(self.voice))
        self.assertNotIn("buys another", self.page("kit:page").context["screen"].sentence)


class Picture(DemoCase):
    POINTS = ((300.0, 60.0, 12.0), (100.0, 59.8, 11.0), (60.0, 50.0, 8.0))

    def test_money_runs_right_and_better_runs_up(self):
        for frame in (WIDE, NARROW):
            drawn = draw_frontier(self.POINTS, 1, 100, 500, frame, ENOUGH)
            self.assertEqual(drawn.budget.x, drawn.panels[0].chosen[0])
            above, below = (draw_frontier(self.POINTS, n, 100, 500, frame, ENOUGH).panels[0].chosen[1] for n in (0, 2))
            self.assertLess(above, below)
            self.assertTrue(all(0 <= tick.at <= frame.width for tick in drawn.prices))

    def test_the_line_says_what_it_reaches(self):
        drawn = draw_frontier(self.POINTS, 2, 70, 500, WIDE, ENOUGH)
        self.assertEqual(drawn.budget.spoken, "70, clean range up to 50 dB")
        self.assertIn("no complete kit", draw_frontier(self.POINTS, 2, 10, 500, WIDE, ENOUGH).description)

    def test_what_is_all_plugged_in_has_no_room_panel(self):
        points = ((100.0, 60.0, float("inf")),)
        self.assertEqual(len(draw_frontier(points, 0, 100, 500, WIDE, ENOUGH).panels), 1)


class Gear(DemoCase):
    def item(self, item_id, **data):
        return self.client.post(reverse("gear:item", args=[item_id]), data)

    def read(self, document, name="mine.csv"):
        file = SimpleUploadedFile(name, document if isinstance(document, bytes) else document.encode(), "text/csv")
        return self.client.post(reverse("gear:import"), {"file": file})

    def test_search_and_filters(self):
        everything = self.client.get(reverse("gear:list"))
        self.assertEqual(everything.context["screen"].count, len(built_in_catalogue()))
        found = self.client.get(reverse("gear:list"), {"q": "ribbon figure", "kind": "microphone"}, **HTMX)
        self.assertContains(found, "Foxtail R")
        self.assertNotContains(found, "Burdock D")
        self.assertContains(self.client.get(reverse("gear:list"), {"q": "zzz"}), "Nothing fits this search")

    def test_an_items_page_shows_its_sheet_and_its_effect(self):
        page = self.client.get(reverse("gear:item", args=["rowan-2"]))
        self.assertContains(page, "−131 dBu")
        self.assertContains(page, "Lamplighter’s Waltz")
        self.assertEqual(self.client.get(reverse("gear:item", args=["teapot"])).status_code, 404)

    def test_prices_marks_and_hiding(self):
        self.item("rowan-2", price="12,5")
        self.item("rowan-2", have="owned")
        self.item("burdock-d", hidden="yes")
        items = {item.id: item for item in catalogue_and_gear_at_hand(self.owner.gear_marks.all())[0]}
        self.assertEqual(items["rowan-2"].price, 12.5)
        self.assertNotIn("burdock-d", items)
        self.assertContains(self.item("rowan-2", price="-3"), "must be between 0", status_code=422)
        self.assertContains(self.item("rowan-2", price="dear"), "must be a number", status_code=422)
        self.client.post(reverse("gear:forget"))
        self.assertEqual({i.id: i for i in whole_catalogue(self.owner)}["rowan-2"].price, 229)
        self.assertEqual(GearMark.objects.get(item_id="rowan-2").have, "owned")

    def test_an_item_is_added_changed_and_planned_with(self):
        page = self.client.get(reverse("gear:new"), {"kind": "microphone"})
        self.assertContains(page, "Sensitivity at 1 kHz, mV/Pa")
        sheet = {"kind": "microphone", "name": "Mine", "price": "1", "family": "dynamic", "self_noise_dba": "17"}
        answer = self.client.post(reverse("gear:new"), sheet)
        self.assertRedirects(answer, reverse("gear:item", args=["my-mine"]))
        self.client.post(reverse("gear:new"), sheet)
        self.client.post(reverse("gear:sheet", args=["my-mine"]), sheet | {"price": "0.5", "self_noise_dba": "16"})
        items = {item.id: item for item in whole_catalogue(self.owner)}
        self.assertEqual((items["my-mine"].price, items["my-mine"].self_noise_dba), (0.5, 16))
        self.assertIn("my-mine-2", items)
        self.act("kit:keep", **OPTIONS)
        self.act("kit:mark", item="my-mine", mark="must")
        number = self.page("kit:page").context["screen"].number
        self.act("kit:take", kit=number)
        self.voice.refresh_from_db()
        self.assertEqual(self.voice.microphone.name, "Mine")
        self.assertEqual(self.page("gain:page").status_code, 200)

    def test_a_sheets_faults_stand_at_its_fields(self):
        sheet = {"kind": "microphone", "name": "", "price": "dear", "family": "dynamic", "max_spl_db": "9999"}
        answer = self.client.post(reverse("gear:new"), sheet)
        self.assertContains(answer, "Must be a number with a point", status_code=422)
        self.assertContains(answer, "Is empty", status_code=422)
        self.assertContains(answer, "9999", status_code=422)
        self.assertEqual(self.client.get(reverse("gear:sheet", args=["teapot"])).status_code, 404)

    def test_out_and_in_again_changes_nothing(self):
        for form in ("csv", "json"):
            document = self.client.get(reverse("gear:export", args=[form])).content
            answer = self.read(document, f"c.{form}")
            review = self.client.get(answer.url)
            self.assertContains(review, "just what the catalogue holds already")

    def test_an_import_is_reviewed_and_then_taken_whole(self):
        items = [item for item in built_in_catalogue() if item.id != "teasel-u"]
        document = catalogue_to_csv(items).replace("Meadowsweet One,119", "Meadowsweet One,99")
        answer = self.read(document)
        review = self.client.get(answer.url)
        self.assertRegex(review.content.decode(), r"0 added, 1 changed,\s+1 removed")
        self.assertEqual(len(whole_catalogue(self.owner)), len(built_in_catalogue()))  # nothing yet
        self.client.post(answer.url, {"yes": "1"})
        self.assertEqual(whole_catalogue(self.owner), catalogue_from_csv(document.encode()))
        self.assertFalse(GearImport.objects.exists())

    def test_a_large_catalogue_is_taken_in_and_shown_by_pages(self):
        items = random_catalogue(1, 1500)
        self.client.post(self.read(catalogue_to_csv(items)).url, {"yes": "1"})
        self.assertEqual({item.id: item for item in whole_catalogue(self.owner)}, {item.id: item for item in items})
        page = self.client.get(reverse("gear:list"), {"kind": "microphone", "page": 2})
        self.assertContains(page, f"{ROWS_ON_A_PAGE + 1} to {2 * ROWS_ON_A_PAGE} of ")
        self.assertEqual(page.content.decode().count('href="/gear/items/'), ROWS_ON_A_PAGE)
        self.assertContains(page, "?q=&amp;kind=microphone&amp;shown=all&amp;page=3")
        last = self.client.get(reverse("gear:list"), {"page": 99}).context["screen"].rows
        self.assertFalse(last.has_next())  # a page beyond the end is the last one

    def test_a_second_import_keeps_what_was_marked(self):
        self.client.post(self.read(catalogue_to_csv(random_catalogue(1, 60))).url, {"yes": "1"})
        self.item("microphone-3", have="owned")
        self.client.post(self.read(catalogue_to_csv(random_catalogue(2, 40))).url, {"yes": "1"})
        self.assertEqual(whole_catalogue(self.owner), random_catalogue(2, 40))
        self.assertEqual(GearMark.objects.get(item_id="microphone-3").have, "owned")

    def test_every_id_that_is_allowed_has_a_page(self):
        ids = ("new", "import", "forget", "export.csv", "items", "sheet", "0", "a..", "x" * 60)
        self.client.post(
            self.read("id,kind,name,price\n" + "".join(f"{i},headphones,H,9\n" for i in ids)).url, {"yes": 1}
        )
        for item_id in ids:
            for name in ("gear:item", "gear:sheet"):
                page = self.client.get(reverse(name, args=[item_id]))
                self.assertContains(page, 'value="9"', msg_prefix=f"{name} {item_id}")

    def test_leaving_an_import_changes_nothing(self):
        answer = self.read(catalogue_to_csv(built_in_catalogue()[:3]))
        self.client.post(answer.url, {"no": "1"})
        self.assertEqual(whole_catalogue(self.owner), built_in_catalogue())

    def test_faults_are_told_by_line_and_column(self):
        answer = self.read("id,kind,name,price\na,wombat,A,3\n")
        self.assertContains(answer, "line 2, kind", status_code=422)
        self.assertContains(self.client.post(reverse("gear:import")), "choose a CSV or JSON file", status_code=422)

    def test_a_part_survives_the_removal_of_its_gear(self):
        self.act("kit:keep", **OPTIONS | {"route": "recorder", "system": "none"})
        self.act("kit:take", kit=self.page("kit:page").context["screen"].number)
        self.client.post(self.read(catalogue_to_csv(built_in_catalogue()[:40])).url, {"yes": "1"})
        for name in ("start:page", "kit:page"):
            self.assertEqual(self.page(name).status_code, 200)
