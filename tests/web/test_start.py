"""Start: five answers, own gear in the units of its sheet, and the plan."""

from dataclasses import replace

from django.urls import reverse

from pneumen.web.gear.models import Microphone
from pneumen.web.hookup.services import keep_mix, mix_of
from pneumen.web.kit.services import in_use
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.room.services import hang
from pneumen.web.start.forms import StartForm, answers_of
from pneumen.web.start.services import back_to_words
from tests.web.base import HTMX, DemoCase, answers


class Answers(DemoCase):
    def send(self, part=None, **changes):
        part = part or self.voice
        response = self.client.post(reverse("start:page", args=[part.pk]), answers(part, **changes))
        self.fresh = Part.objects.get(pk=part.pk)
        return response

    def test_answers_make_a_plan_from_the_catalogue(self):
        self.assertRedirects(self.send(), reverse("start:page", args=[self.voice.pk]))
        self.assertTrue(self.fresh.bought_microphone)
        page = self.page("start:page").content.decode()
        for words in ("Distance to start from", "Gain to set", "Buffer", "The kit", "Phantom power", "Total"):
            self.assertIn(words, page)

    def test_a_sheet_in_its_own_units(self):
        self.send(
            microphone="large-condenser",
            sensitivity="-34",
            sensitivity_unit="dbv",
            own_noise="80",
            own_noise_unit="snr",
            max_spl="134",
        )
        row = self.fresh.own_microphone
        self.assertAlmostEqual(row.sensitivity_mv_per_pa, 19.95, 2)
        self.assertAlmostEqual(row.self_noise_dba, 14)
        self.assertIsNone(row.impedance_ohm)
        self.assertContains(self.page("start:page"), "impedance, pattern taken from its family")

    def test_gear_by_family_alone_widens_the_band(self):
        self.send(microphone="large-condenser", interface="numbered", sensitivity="19", max_input="9", gain_min="0")
        typed = self.page("gain:page").context["screen"]
        self.voice.refresh_from_db()
        self.send(microphone="large-condenser", interface="numbered")
        self.assertGreater(float(self.page("gain:page").context["screen"].hero_band), float(typed.hero_band) - 0.1)
        self.assertContains(self.page("start:page"), "taken from its family")

    def test_the_rooms_of_a_home_are_chosen_by_their_names(self):
        words = {"size": "closet", "furnishing": "soft", "noise": "quiet"}
        other = Room.objects.create(owner=self.voice.owner, name="Box room", **words)
        page = self.page("start:page")
        self.assertContains(page, f'<option value="{other.pk}">Box room</option>', html=True)
        self.assertNotContains(page, "object (")
        self.send(room=str(other.pk))
        self.assertEqual(self.fresh.song.room, other)

    def alone_in_a_room_of_words(self):
        Part.objects.exclude(pk=self.voice.pk).delete()
        self.voice.song.room.coverings.all().delete()
        back_to_words(self.voice.song.room)
        return self.voice

    def test_soft_things_at_hand_are_asked_counted_and_planned_with_before_any_is_bought(self):
        ringing = {"source": "voice-pop", "furnishing": "bare", "budget": "500", "microphone": "large-condenser"}
        part = self.alone_in_a_room_of_words()
        self.send(part, **ringing)
        self.send(part, **ringing, duvets="2", towels="1")
        room = self.fresh.song.room
        self.assertEqual([(row.label, row.on) for row in room.to_hang][:1], [("Duvet 1", "")])
        self.assertEqual([room.count_of(one) for one in ("duvet", "blanket-folded", "towels")], [2, 0, 1])
        self.assertFalse(room.drawn, "what hangs nowhere draws no room")
        lines = in_use(self.fresh.song).lines
        self.assertFalse([line for line in lines if line.kind == "covering" and line.price])
        self.send(part, **ringing, duvets="1", towels="1")
        self.assertEqual(self.fresh.song.room.count_of("duvet"), 1)

    def test_what_does_not_fit_into_the_room_is_told_on_every_screen(self):
        part = self.alone_in_a_room_of_words()
        for size, fits in (("closet", False), ("small", True)):
            self.send(part, source="drum-kit", size=size, budget="1000")
            for page in ("start:page", "kit:page", "room:page"):
                screen = self.page(page, part)
                with self.subTest(f"{page} {size}"):
                    told = "Drum kit and player take up about 2.0 m by 1.8 m: they do not fit into 1.90 m by 1.50 m."
                    (self.assertNotContains if fits else self.assertContains)(screen, told)
        self.send(part, source="guitar-direct", size="closet")
        self.assertNotContains(self.page("start:page", part), "take up about")

    def test_stereo_that_the_chain_cannot_do_is_told_not_passed_over(self):
        part = self.alone_in_a_room_of_words()
        self.send(part, source="upright-piano", format="stereo", microphone="usb-condenser")
        told = "was to be in stereo, and My USB condenser records one channel"
        for page in ("start:page", "kit:page"):
            self.assertContains(self.page(page, part), told)
        self.send(part, source="upright-piano", format="stereo", microphone="recorder")
        self.assertNotContains(self.page("start:page", part), "was to be in stereo")

    def test_two_of_ones_own_make_a_pair_and_one_alone_does_not(self):
        part = self.alone_in_a_room_of_words()
        small = {"owned": ["headphones", "software", "phones-adapter"], "cables": "2", "stands": "2"}
        cello = {"source": "cello", "format": "stereo", "microphone": "dynamic", "interface": "numbered"} | small
        self.send(part, **cello)
        self.assertContains(self.page("start:page", part), "was to be in stereo, and My dynamic records one channel")
        self.assertContains(self.page("hookup:page", part), "A mono track for a mono source")
        first = Part.objects.get(pk=part.pk).own_microphone
        for other in ("dynamic", f"own:{first.pk}"):  # one more of the family, or the very same once more
            self.send(part, **cello, other_microphone=other)
            page = self.page("start:page", part)
            with self.subTest(other):
                self.assertNotContains(page, "was to be in stereo")
                counts = {line.kind: (line.count, line.where) for line in page.context["plan"].packing.lines}
                self.assertEqual(counts["Microphone"], (2, "you have it"))
        self.assertEqual(Part.objects.get(pk=part.pk).other_microphone.family, "dynamic")

    def test_without_a_lead_a_plug_borrows_one(self):
        part = self.alone_in_a_room_of_words()
        self.send(part, source="bass-direct-passive", interface="bare-knob", budget="0")
        page = self.page("kit:page", part)
        self.assertContains(page, "until then: borrow a lead")
        self.assertNotContains(page, "telephone")

    def test_a_plug_is_not_planned_round_a_microphone_of_ones_own(self):
        part = self.alone_in_a_room_of_words()
        for own in ("dynamic", "recorder", "usb-condenser"):
            self.send(part, source="bass-direct-slap", microphone=own, budget="150")
            page = self.page("kit:page", part)
            with self.subTest(own):
                self.assertNotContains(page, "Nothing complete fits")
                self.assertContains(page, "completes the kit, and that is enough")

    def test_until_the_money_is_there_what_records_by_itself_serves(self):
        part = self.alone_in_a_room_of_words()
        for own, told in (
            ("recorder", "until then: My handheld recorder, which records by itself"),
            ("dynamic", "until then: a telephone"),
        ):
            self.send(part, source="bass-direct-slap", microphone=own, budget="0")
            for page in ("start:page", "kit:page"):
                with self.subTest(f"{own} {page}"):
                    self.assertContains(self.page(page, part), told)

    def test_the_buffer_says_what_delay_says(self):
        part = self.alone_in_a_room_of_words()
        for own in ("direct", "computer"):
            self.send(part, microphone="usb-condenser", computer="old-laptop")
            keep_mix(part, replace(mix_of(part), own=own))
            delay = self.page("delay:page", part).context["screen"]
            buffer = next(one for one in self.page("start:page", part).context["plan"].answers if one.title == "Buffer")
            with self.subTest(own):
                self.assertEqual((buffer.note, buffer.verdict), (delay.sentence, delay.verdict))

    def test_what_is_planned_would_bake_in_and_stereo_is_two_channels(self):
        part = self.alone_in_a_room_of_words()
        self.send(part, source="bass-direct-slap", loudness="loud", budget="55")
        page = self.page("start:page", part)
        self.assertContains(page, "Would bake in")
        self.assertNotContains(page, "Baked in")
        self.assertContains(page, "WAV, mono")
        self.send(part, source="keyboard", format="stereo", interface="numbered")
        self.assertContains(self.page("start:page", part), "WAV, stereo")

    def test_too_many_to_hang_are_refused(self):
        response = self.send(duvets="9", blankets="9")
        self.assertContains(response, "soft things in all", status_code=422)

    def test_what_is_ones_own_outlives_new_words(self):
        part = self.alone_in_a_room_of_words()
        self.send(part, source="voice-pop", duvets="1", furnishing="bare")
        row = self.fresh.song.room.to_hang[0]
        hang(self.fresh.song.room, row.pk, "south", 1.2, 1.2)
        Room.objects.filter(pk=self.fresh.song.room.pk).update(furnishing="soft")
        back_to_words(Room.objects.get(pk=self.fresh.song.room.pk))
        room = Room.objects.get(pk=self.fresh.song.room.pk)
        self.assertEqual([piece.pk for piece in room.to_hang], [row.pk])
        self.assertEqual(room.count_of("duvet"), 1)
        self.assertEqual(room.coverings.filter(laid_out=True, material="duvet").count(), 1, "the words have one too")

    def test_the_microphone_once_typed_can_be_picked_again_unchanged(self):
        mine = Microphone.objects.get(name="Meadowsweet One")
        self.send(self.harp, microphone=f"own:{mine.pk}", sensitivity="5")
        mine.refresh_from_db()
        self.assertEqual((self.fresh.own_microphone, mine.sensitivity_mv_per_pa), (mine, 19))

    def test_the_same_answer_sent_twice_makes_one_device(self):
        for _ in range(2):
            self.send(microphone="dynamic", interface="bare-knob")
        self.assertEqual(Microphone.objects.filter(family="dynamic").count(), 1)
        self.send(microphone="dynamic", microphone_name="The other one")
        self.assertEqual(Microphone.objects.filter(family="dynamic").count(), 2)

    def test_of_two_microphones_owned_the_better_one_is_planned_whichever_is_told_first(self):
        owned = {"ribbon", "small-condenser"}
        planned = []
        for first, second in (("ribbon", "small-condenser"), ("small-condenser", "ribbon")):
            self.send(self.clarinet, microphone=first, other_microphone=second, interface="numbered", budget="0")
            self.assertEqual({row.family for row in self.fresh.own_rows[:2]}, owned)
            self.assertTrue(self.fresh.microphone.owned)
            planned.append(self.fresh.microphone.family)
            screen = self.page("start:page", self.clarinet)
            self.assertContains(screen, self.fresh.microphone.name)
            self.assertEqual(screen.status_code, 200)
        self.assertEqual(len(set(planned)), 1)
        count = Microphone.objects.count()
        kept = answers_of(self.fresh)
        self.send(self.clarinet, microphone=kept["microphone"], other_microphone=kept["other_microphone"])
        self.assertEqual(Microphone.objects.count(), count)
        self.send(self.clarinet, microphone="none", other_microphone="ribbon")
        self.assertIsNone(self.fresh.other_microphone)

    def test_each_bad_figure_is_told_at_its_field_and_nothing_typed_is_lost(self):
        cases = (
            ({"budget": "lots"}, "budget", "must be a number."),
            ({"budget": "-5"}, "budget", "from 0 to 1,000,000"),
            ({"microphone": "dynamic", "sensitivity": "-2"}, "sensitivity", "greater than 0"),
            (
                {"microphone": "dynamic", "sensitivity": "54", "sensitivity_unit": "dbv"},
                "sensitivity",
                "between -90 and -10",
            ),
            (
                {"interface": "numbered", "gain_min": "60", "gain_max": "10"},
                "gain_max",
                "Highest gain must be at least",
            ),
            ({"interface": "numbered", "ein": "12"}, "ein", "between -160 and -40"),
            # What a formula could bear, but no catalogue holds: every page would refuse it.
            ({"microphone": "dynamic", "own_noise": "-0.1"}, "own_noise", "between 0 and 60"),
            ({"microphone": "large-condenser", "max_spl": "80"}, "max_spl", "between 90 and 180"),
            ({"interface": "numbered", "ein": "-60"}, "ein", "between -133 and -90"),
        )
        for changes, field, message in cases:
            response = self.send(**changes)
            self.assertEqual(response.status_code, 422, changes)
            self.assertIn(message, " ".join(response.context["form"].errors[field]))
            for value in changes.values():
                self.assertContains(response, value, status_code=422)

    def test_a_figure_may_be_typed_with_a_comma_or_a_true_minus(self):
        self.send(microphone="dynamic", sensitivity="-54,5", sensitivity_unit="dbv")
        self.send(microphone="dynamic", sensitivity="\N{MINUS SIGN}54,5", sensitivity_unit="dbv")
        rows = Microphone.objects.filter(family="dynamic")
        self.assertEqual({round(row.sensitivity_mv_per_pa, 2) for row in rows if row.sensitivity_mv_per_pa}, {1.88})

    def test_money_that_buys_nothing_names_the_cheapest_working_kit(self):
        self.send(budget="20", owned=[])
        page = self.page("start:page")
        self.assertContains(page, "in the order below")
        cheapest = page.context["plan"].cheapest
        self.act("start:budget")
        self.assertEqual(self.page("start:page").context["plan"].packing.total, f"{cheapest:.0f}")

    def test_nothing_to_spend_is_a_plan_with_what_is_owned(self):
        small = {"owned": ["headphones", "phones-adapter", "software"], "stands": "1", "filters": "1", "cables": "1"}
        self.send(budget="", microphone="dynamic", interface="numbered", **small)
        plan = self.page("start:page").context["plan"]
        self.assertEqual(plan.packing.total, "0", plan.packing.lines)

    def test_what_is_counted_comes_back_as_it_was_typed(self):
        self.send(owned=["headphones"], stands="2", cables="3")
        kinds = ("boom-stand", "boom-stand", "headphones", "xlr-cable", "xlr-cable", "xlr-cable")
        self.assertEqual(self.voice.song.core_owned_kinds, kinds)
        self.assertContains(self.page("start:page"), 'value="3" aria-describedby="problem-cables"')
        self.assertEqual(self.send(cables="99").status_code, 422)

    def test_the_phantom_rule_follows_the_microphone(self):
        self.send(microphone="ribbon", interface="numbered")
        self.assertContains(self.page("start:page"), "may destroy this ribbon")
        self.send(microphone="usb-condenser")
        self.assertContains(self.page("start:page"), "no phantom power to switch")

    def test_the_fragment_is_the_pages_own_plan_with_error_slots(self):
        address = reverse("start:page", args=[self.voice.pk])
        fragment = self.client.post(address, answers(self.voice), **HTMX).content.decode()
        self.assertIn('id="plan"', fragment)
        self.assertIn('id="problem-sensitivity"', fragment)
        self.assertNotIn("<html", fragment)
        refused = self.client.post(address, answers(self.voice, budget="x"), **HTMX).content.decode()
        self.assertIn("must be a number.", refused)

    def test_only_a_device_described_just_now_changes_its_field(self):
        address = reverse("start:page", args=[self.voice.pk])
        described = self.client.post(address, answers(self.voice, microphone="dynamic"), **HTMX)
        self.assertContains(described, 'id="choice-microphone"')
        self.assertNotContains(described, 'id="choice-interface"')
        mine = Part.objects.get(pk=self.voice.pk).own_microphone_id
        again = self.client.post(address, answers(self.voice, microphone=f"own:{mine}", budget="300"), **HTMX)
        self.assertNotContains(again, 'id="choice-microphone"')

    def test_distance_and_gain_stay_while_the_gear_does(self):
        Part.objects.filter(pk=self.voice.pk).update(
            distance_m=0.31, place_origin="yours", gain_db=12, gain_chain=self.voice.chain_name
        )
        mine, box = self.voice.own_microphone_id, self.voice.own_interface_id
        self.send(
            microphone=f"own:{mine}",
            interface=f"own:{box}",
            microphone_name="Meadowsweet One",
            sensitivity="19",
            noise="quiet",
        )
        self.assertEqual((self.fresh.distance_m, self.fresh.gain_db), (0.31, 12))

    def test_two_tabs_lose_nothing_of_each_other(self):
        shown = [(f"was-{name}", value) for name, value in StartForm(Part.objects.whole().get(pk=self.voice.pk)).was]
        page = {}
        for name, value in shown:
            page.setdefault(name, []).append(value)
        fields = {name.removeprefix("was-"): values for name, values in page.items()}
        units = {"sensitivity_unit": "mv", "own_noise_unit": "self", "ein_unit": "a"}
        for change in ({"budget": ["345"]}, {"noise": ["noisy"]}, {"owned": ["software"]}):
            sent = self.client.post(reverse("start:page", args=[self.voice.pk]), page | fields | units | change)
            self.assertEqual(sent.status_code, 302, sent.context and sent.context["form"].errors)
        song = Part.objects.whole().get(pk=self.voice.pk).song
        self.assertEqual((song.budget, song.room.noise), (345, "noisy"))
        self.assertIn("software", song.core_owned_kinds)
        self.assertNotIn("headphones", song.core_owned_kinds)
