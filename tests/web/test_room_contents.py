"""The Room screen: the microphone moved by hand, furniture, windows and doors, and who hears one."""

from django.urls import reverse

from pneumen.core.forecast import heard_of_room, standing_at
from pneumen.core.room import NOISY_THINGS
from pneumen.web.part.models import Part
from pneumen.web.room.advice import advices_of
from tests.web.base import HTMX, DemoCase
from tests.web.test_room import NOISE, STANDING, RoomCase


class TheMicrophone(DemoCase):
    """Moved on the plan, turned, lifted: distance and angles are those of Place."""

    def kept(self, **more):
        self.assertEqual(self.act("room:keep", **(STANDING | more)).status_code, 302)
        self.voice.refresh_from_db()
        return self.page("room:page").context["screen"].here

    def test_moved_it_gets_its_own_distance_and_side(self):
        here = self.kept(mic_x="2.3", mic_y="1.5")
        self.assertAlmostEqual(self.voice.distance_m, 0.3)
        self.assertEqual(self.voice.aside_deg, -90)  # facing south, east is left
        self.assertAlmostEqual(here.placement.microphone_m[0], 2.3)
        self.assertContains(self.page("place:page"), 'value="30"')

    def test_left_alone_it_goes_along_with_the_performer(self):
        before = self.kept()
        x, y = (f"{one:.2f}" for one in before.placement.microphone_m[:2])
        stays = {"mic_x": x, "was-mic_x": x, "mic_y": y, "was-mic_y": y}
        here = self.kept(stand_x="1.2", facing="90", **stays)
        self.assertAlmostEqual(here.placement.microphone_m[0], 1.2 + here.placement.distance_m)
        self.assertIsNone(self.voice.distance_m)  # still planned

    def test_no_nearer_and_no_farther_than_the_source_is_recorded_from(self):
        facts = self.voice.source_facts
        self.kept(mic_x="2", mic_y="0.2")
        self.assertEqual(self.voice.distance_m, facts.farthest_m)

    def test_over_the_mouth_the_distance_stays(self):
        here = self.kept(above="9")
        self.assertAlmostEqual(here.placement.microphone_m[2], 1.59)
        between = [a - b for a, b in zip(here.placement.microphone_m, here.placement.mouth_m, strict=True)]
        self.assertAlmostEqual(sum(one**2 for one in between) ** 0.5, here.placement.distance_m)
        refused = self.act("room:keep", **(STANDING | {"above": "40"}))
        self.assertContains(refused, "Height over the mouth must be between", status_code=422)

    def test_its_null_turned_to_a_noise_by_one_press(self):
        self.act(
            "room:noises",
            **(NOISE | {"noise_x_m": "2.3", "noise_y_m": "1.2", "noise_z_m": "1.5", "noise_level_dba": "55"}),
        )
        before = self.kept(turned="30")
        advice = next(one for one in advices_of(self.fresh()) if "microphone" in one.title)
        self.act("room:spot", **advice.values)
        after = self.page("room:page").context["screen"].here
        quieter = heard_of_room(before).noise_dba - heard_of_room(after).noise_dba
        self.assertGreater(quieter, 0.5)
        self.assertIn(f"{quieter:.1f} dB of noise", advice.effect)
        self.assertEqual(
            (after.placement.x_m, after.placement.facing_deg), (before.placement.x_m, before.placement.facing_deg)
        )

    def fresh(self):
        return type(self.voice).objects.get(pk=self.voice.pk)

    def test_a_horns_bell_sends_it_to_the_wall_behind(self):
        self.harp.source = "horn"
        self.harp.distance_m, self.harp.place_origin = 1.0, "yours"
        self.harp.save()
        for x_m, facing in ((0.6, 90), (3.4, 90)):  # the wall close behind, then far
            self.act("room:keep", self.harp, stand_x=f"{x_m - (x_m > 2)}", stand_y="1.5", facing=f"{facing}", hour="20")
            here = self.page("room:page", self.harp).context["screen"].here
            self.assertTrue(here.source.radiates_back)
            self.assertAlmostEqual(standing_at(here).source_axis[0, 0], -1.0)


class Furnishing(RoomCase):
    """Furniture and openings: put in, moved, refused; what follows for echoes and hangings."""

    def test_put_in_it_finds_a_free_place_and_the_ring_time_falls(self):
        before = self.room.rt60_s
        self.assertEqual(self.act("room:furniture", kind="armchair").status_code, 302)
        self.assertEqual(self.room.furniture.count(), 4)
        self.assertLess(self.room.rt60_s, before)
        self.assertContains(self.page("room:page"), 'aria-label="Where it stands: Armchair, upholstered"')
        self.act("room:furniture", away="4")
        self.assertAlmostEqual(self.room.rt60_s, before)

    def test_moved_with_the_form_that_stands_the_performer(self):
        self.act("room:keep", **(STANDING | {"f2_x": "0.17", "f2_y": "1.6"}))
        self.assertEqual(self.room.layout.furniture[1].y_m, 1.6)
        live = self.client.get(reverse("room:tried", args=[self.voice.pk]), {"f3_x": "1.3"}, **HTMX)
        self.assertContains(live, 'aria-valuenow="1.3"')
        self.assertEqual(self.room.layout.furniture[2].x_m, 1.1)

    def test_in_a_wall_or_in_each_other_is_told_and_nothing_moves(self):
        for sent, told in (
            ({"f1_x": "4"}, "Bed with mattress and duvet (2.00 m by 1.40 m) would stand in a wall"),
            ({"f3_x": "3"}, "Desk would stand in Bed with mattress and duvet"),
            ({"f3_turned": "45"}, "Turned must be one of 0, 90"),
        ):
            refused = self.act("room:keep", **(STANDING | sent))
            self.assertContains(refused, told, status_code=422)
        self.assertContains(self.act("room:furniture", kind="throne"), "Furniture must be one of", status_code=422)
        self.assertEqual(self.room.layout, self.song.room.layout)

    def test_a_window_opened_takes_sound_away_and_is_drawn(self):
        before = self.room.rt60_s
        sent = {"opening_kind": "open", "opening_on": "south", "opening_along_m": "3.4", "opening_width_m": "1"}
        self.act("room:openings", **sent, opening_low_m="0.9", opening_height_m="1.1")
        self.assertLess(self.room.rt60_s, before)
        self.assertContains(self.page("room:page"), 'class="opening open"')
        refused = self.act("room:openings", **(sent | {"opening_along_m": "3.9"}), opening_height_m="1")
        self.assertContains(refused, "Opening would reach beyond the south wall", status_code=422)
        refused = self.act("room:openings", **sent, opening_low_m="1", opening_height_m="1")
        self.assertContains(refused, "Opening would lie over another in the south wall", status_code=422)
        self.act("room:openings", away="3")
        self.assertAlmostEqual(self.room.rt60_s, before)

    def test_standing_in_the_bookshelf_is_told(self):
        self.act("room:keep", **(STANDING | {"stand_x": "0.2", "stand_y": "2.3", "facing": "90"}))
        page = self.page("room:page")
        self.assertContains(page, "Voice would stand in the bookshelf: move one of them.")
        self.assertEqual(page.context["screen"].verdict, "watch")

    def test_singing_over_the_desk_its_top_answers(self):
        self.act("room:keep", **(STANDING | {"stand_x": "1.1", "stand_y": "0.5", "mouth": "1.1"}))
        echoes = self.page("room:page").context["screen"].heard.echoes
        self.assertEqual(echoes[0].surface, "desk")
        self.assertIn("first notch", echoes[0].comb)

    def test_nothing_hangs_behind_the_bookshelf(self):
        refused = self.act("room:hang", piece="2", on="west", u="2.3", v="1.1")
        self.assertContains(refused, "would hang behind something tall there", status_code=422)


class Outwards(RoomCase):
    def add(self, **changes):
        sent = {"hears_called": "Night nurse", "hears_through": "thin-wall", "hears_wide_m": "3", "hears_high_m": "2.2"}
        sent |= {"hears_day_dba": "35", "hears_night_dba": "30", "hears_night_from": "22", "hears_night_to": "7"}
        return self.act("room:neighbours", **(sent | changes))

    def test_who_hears_what_and_when_it_may_be(self):
        Part.objects.filter(pk=self.voice.pk).update(loudness="loud")
        page = self.page("room:page")
        self.assertContains(page, "Lodger next door")
        before = page.context["screen"].heard.outwards[0]
        self.assertEqual(before.verdict, "watch")
        self.add()
        rows = self.page("room:page").context["screen"].heard.outwards
        self.assertEqual([row.name for row in rows], ["Night nurse", "Lodger next door"])
        self.assertIn("too loud at any hour", rows[0].told)
        self.act("room:neighbours", away="2")
        self.assertEqual(self.room.neighbours.count(), 1)

    def test_a_soft_voice_may_sing_when_a_belted_one_may_not(self):
        told = {}
        for source in ("voice-soft", "voice-belted"):
            self.voice.source = source
            self.voice.save()
            told[source] = self.page("room:page").context["screen"].heard.outwards[0].told
        self.assertNotIn("too loud", told["voice-soft"])
        self.assertIn("too loud at any hour", told["voice-belted"])

    def test_in_and_out_are_compared_together(self):
        Part.objects.filter(pk=self.voice.pk).update(loudness="loud")
        attic = self.page("room:compare").context["rooms"][0]
        self.voice.source = "voice-soft"
        self.voice.save()
        soft = self.page("room:compare").context["rooms"][0]
        self.assertEqual(attic.hours, soft.hours)
        self.assertNotEqual(attic.both, soft.both)
        self.assertContains(self.page("room:compare"), "In and out")

    def test_what_cannot_be_is_told_and_kept_in_the_fields(self):
        for changes, told in (
            ({"hears_called": ""}, "Name of who hears you must not be empty"),
            ({"hears_through": "paper"}, "Through must be one of concrete-floor"),
            ({"hears_wide_m": "0"}, "Area must be greater than 0"),
            ({"hears_night_dba": "200"}, "Night must be between 10 and 90"),
            ({"hears_day_dba": "loud"}, "must be a number"),
        ):
            answer = self.add(**changes)
            self.assertContains(answer, told, status_code=422)
            self.assertContains(answer, 'name="hears_night_to" value="7"', status_code=422)
        self.assertEqual(self.room.neighbours.count(), 1)

    def test_a_common_thing_needs_neither_name_nor_decibels(self):
        place = {"noise_x_m": "1", "noise_y_m": "1", "noise_z_m": "0.5", "noise_from_hour": "0", "noise_to_hour": "24"}
        self.act("room:noises", noise_thing="fridge", **place)
        row = self.voice.song.room.noises.get(name="Fridge")
        fridge = NOISY_THINGS["fridge"]
        self.assertEqual((row.level_dba, row.spectrum), (fridge.level_dba, fridge.spectrum))
        self.act("room:noises", noise_thing="fridge", noise_level_dba="31", noise_called="Old fridge", **place)
        self.assertEqual(self.voice.song.room.noises.get(name="Old fridge").level_dba, 31)
        self.assertContains(self.act("room:noises", **place), "must not be empty", status_code=422)

    def test_a_noise_has_its_sound(self):
        place = {"noise_x_m": "1", "noise_y_m": "1", "noise_z_m": "0.5"}
        self.act("room:noises", **(NOISE | place | {"noise_spectrum": "hum"}))
        page = self.page("room:page", open="noises")
        self.assertContains(page, "hum, as a fridge, 38 dBA")
        bands = dict(page.context["screen"].heard.noise_bands)
        self.assertGreater(float(bands["250"]), float(bands["2 k"].replace("\N{MINUS SIGN}", "-")))
        answer = self.act("room:noises", **(NOISE | place | {"noise_spectrum": "x"}))
        self.assertContains(answer, "Spectrum must be one of even", status_code=422)
