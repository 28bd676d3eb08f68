"""Hookup: the loop of each part, faults at their joints with one press to cure them, the checklist, the cables."""

import math

from django.urls import reverse
from django.utils.html import escape

from pneumen.core.kit import built_in_catalogue, item_named
from pneumen.core.verdict import Verdict
from pneumen.web.hookup.models import Choice
from pneumen.web.hookup.services import chain_of, connection_of
from pneumen.web.hookup.show import hookup_screen
from pneumen.web.kit.services import in_use, plan_song
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.song.services import add_part
from tests.songs import random_song
from tests.web.base import HTMX, DemoCase, answers
from tests.web.hookup_case import HookupCase


class Page(HookupCase):
    def test_the_demos_parts_have_a_clear_way_each_of_its_own(self):
        ways = set()
        for part in (self.voice, self.harp, self.clarinet):
            page = self.page("hookup:page", part)
            screen = page.context["screen"]
            self.assertEqual(screen.verdict, Verdict.CLEAR, screen.sentence)
            self.assertContains(page, "nothing is wrong on the way out and back")
            ways.add(screen.sentence)
        self.assertEqual(len(ways), 3)

    def test_the_levels_at_the_joints_are_the_level_diagrams(self):
        levels = outcome_of(self.fresh()).levels
        written = [line for joint in self.screen().loops[0].joints for _, line in joint.lines]
        self.assertIn(f"−{abs(levels.peak_dbfs):.0f} dBFS", written)
        steps = {step.name: step.value for step in levels.peak_steps}
        dbu = sum(value for name, value in steps.items() if name not in ("maximum-input", "gain"))
        self.assertIn(f"−{abs(dbu):.0f} dBu, −{abs(dbu - 2.218):.0f} dBV", written)  # 0 dBV is 2.218 dBu (arithmetic)
        self.assertIn(f"load −{abs(steps['load']):.1f} dB", written)

    def test_a_booster_adds_its_gain_once_and_behind_the_microphone(self):
        self.act("start:page", **answers(self.voice, microphone="ribbon", interface="bare-knob", budget="0"))
        bare = [line for joint in self.screen().loops[0].joints for _, line in joint.lines if "dBu," in line]
        part = Part.objects.get(pk=self.voice.pk)
        part.bought_booster = next(one.id for one in built_in_catalogue() if one.kind == "booster")
        part.save(update_fields=["bought_booster"])
        gain_db = item_named(part.bought_booster).gain_db
        boosted = [line for joint in self.screen().loops[0].joints for _, line in joint.lines if "dBu," in line]
        before, after = (float(line.split()[0].replace("−", "-")) for line in boosted)
        self.assertAlmostEqual(after - before, gain_db, delta=1.5)  # its output loads less than a ribbon's own
        self.assertAlmostEqual(before, float(bare[0].split()[0].replace("−", "-")), delta=1.5)

    def test_a_part_may_be_called_as_a_device_is(self):
        self.client.post("/songs/new/", {"name": "Names"})
        part = Part.objects.order_by("-pk").first()
        self.act("start:page", part, **answers(part, source="keyboard", route="interface", budget="500"))
        for name in ("Computer", "Outlet strip", "No. 5", "."):
            Part.objects.filter(pk=part.pk).update(name=name)
            self.assertEqual(self.screen(part).verdict, Verdict.CLEAR, name)
            self.assertEqual(self.page("hookup:page", part).status_code, 200)

    def test_the_loop_lies_on_its_paper(self):
        for loop in self.screen().loops:
            for mark in (*loop.marks, *loop.joints):
                self.assertTrue(0 <= mark.x <= loop.frame.width and 0 <= mark.y <= loop.height)
            self.assertEqual(loop.marks[0].name, "Voice")
            self.assertEqual([one.name for one in loop.marks if one.shape == "file"], ["Computer"])
            self.assertEqual(loop.marks[-1].name, "Ears")

    def test_every_kind_of_source_and_route_has_its_way(self):
        for source, route, told in (
            ("guitar-direct", "interface", "Guitar"),
            ("keyboard", "interface", "Keyboard"),
            ("horn", "recorder", "Recorder"),
            ("voice-soft", "usb", "Voice"),
        ):
            with self.subTest(source):
                part = add_part(self.voice.owner, self.fresh().song, source)
                self.act("part:keep", part, session="2")
                self.act("start:page", part, **answers(part, source=source, route=route, budget="500"))
                page = self.page("hookup:page", part)
                self.assertEqual(page.status_code, 200, told)
                self.assertContains(page, "The order of plugging")
                self.act("part:remove", part)

    def test_what_is_recorded_together_is_one_chain(self):
        self.act("part:keep", self.harp, session="1")
        self.act("part:keep", self.voice, session="1")
        chain = connection_of(self.fresh()).chain
        names = [one for one in chain.by_id if "Computer" in one]
        self.assertEqual(names, ["Computer"])
        self.assertIn("Lever harp", self.screen().together)

    def test_start_keeps_the_phantom_sentence_and_a_link(self):
        page = self.page("start:page")
        self.assertContains(page, "48 V on: this microphone is silent without it")
        self.assertContains(page, reverse("hookup:page", args=[self.voice.pk]))
        self.assertNotContains(page, "Raise the gain slowly")


class Choices(HookupCase):
    def choose(self, what, value, *, at=None, **how):
        sent = {"what": what, "at": at or self.at(), ("length" if what == "length" else "value"): value}
        return self.act("hookup:keep", **sent, **how)

    def test_a_switch_left_off_is_a_fault_that_one_press_cures(self):
        self.assertEqual(self.choose("phantom", "off").status_code, 302)
        screen = self.screen()
        self.assertEqual(screen.verdict, Verdict.BAKED_IN)
        self.assertIn("silent without 48 V", screen.sentence)
        self.assertContains(self.page("gain:page"), "Would bake in")  # the thread shows it on every page
        cure = screen.faults[0].cure
        self.act("hookup:keep", what=cure.what, at=cure.at, value=cure.value)
        self.assertEqual(self.screen().verdict, Verdict.CLEAR)
        self.assertFalse(Choice.objects.exists())  # as the gear would be anyway

    def test_the_newest_choice_about_a_joint_holds(self):
        for length in ("8 m", "6"):
            self.choose("length", length)
        self.assertEqual([row.value for row in Choice.objects.all()], ["6"])
        self.choose("balanced", "unbalanced")
        self.assertIn("6 m of unbalanced cable", self.screen().sentence)

    def test_a_mains_plug_elsewhere_changes_nothing_where_nothing_closes_a_loop(self):
        self.choose("outlet", "other", at="Computer")
        self.assertEqual(self.screen().verdict, Verdict.CLEAR)

    def test_monitors_are_told_while_a_microphone_is_open(self):
        song = self.fresh().song
        song.monitors = True
        song.save(update_fields=["monitors"])
        self.assertTrue(
            any("monitors off while a microphone is open" in one.remedy.lower() for one in self.screen().faults)
        )
        self.choose("outlet", "other", at="Left monitor")
        loop = next(one for one in self.screen().faults if "loop that hums" in one.why)
        self.act("hookup:keep", what=loop.cure.what, at=loop.cure.at, value=loop.cure.value)
        self.assertFalse(any("loop that hums" in one.why for one in self.screen().faults))

    def test_without_script_a_refused_choice_comes_back_with_the_reason(self):
        for sent, told in (
            ({"what": "phantom", "at": self.at(), "value": "half"}, "must be one of on, off"),
            ({"what": "colour", "at": self.at(), "value": "red"}, "must be one of length"),
            ({"what": "length", "at": self.at(), "length": "long"}, "Length"),
            ({"what": "length", "at": self.at(), "length": "-2"}, "greater than 0"),
            ({"what": "phantom", "at": "Nothing.in1", "value": "on"}, "is not in this chain"),
        ):
            with self.subTest(told):
                answer = self.act("hookup:keep", **sent)
                self.assertContains(answer, told, status_code=422)
                self.assertFalse(Choice.objects.exists())

    def test_an_amplifier_a_reamp_and_an_insert_are_added_judged_and_taken_out_again(self):
        for addition in ("reamp", "insert", "headset", "other-microphone"):
            self.choose("also", "on", at=addition)
        told = " ".join(fault.why for fault in self.screen().faults)
        self.assertIn("late by a tenth of a second", told)
        self.assertIn("two audio devices with two clocks", told)
        self.choose("speaker", "nothing", at="Valve amplifier")
        screen = self.screen()
        self.assertEqual(screen.verdict, Verdict.STOP)
        self.assertIn("without a speaker or a load", screen.sentence)
        self.assertContains(self.page("hookup:page"), "Changed by you")
        for fault in screen.faults:
            self.assertIsNotNone(fault.cure, fault.why)
            self.act("hookup:keep", what=fault.cure.what, at=fault.cure.at, value=fault.cure.value)
        self.assertEqual(self.screen().verdict, Verdict.CLEAR, self.screen().sentence)
        self.assertTrue(any("reamp" in change.told for change in self.screen().changes))
        for change in self.screen().changes:
            self.act("hookup:forget", what=change.what, at=change.at)
        self.assertEqual(self.screen().changes, ())
        self.assertFalse(Choice.objects.exists())

    def test_a_lead_that_is_out_is_no_way_to_the_file(self):
        at = self.at()
        self.choose("plugged", "out", at=at)
        self.assertIn("nothing leads from Meadowsweet One", self.screen().sentence)
        self.assertEqual(self.page("hookup:page").status_code, 200)
        self.act("hookup:forget", what="plugged", at=at)
        self.assertEqual(self.screen().verdict, Verdict.CLEAR)

    def test_a_fragment_tries_out_and_stores_nothing(self):
        address = reverse("hookup:tried", args=[self.voice.pk])
        answer = self.client.get(address, {"what": "phantom", "at": self.at(), "value": "off"}, **HTMX)
        self.assertContains(answer, "silent without 48 V")
        self.assertEqual(chain_of(self.fresh()), connection_of(self.fresh()).chain)

    def test_a_choice_about_gear_that_is_gone_is_left_aside(self):
        self.choose("phantom", "off")
        self.act("start:page", **answers(self.voice, microphone="dynamic", interface="numbered"))
        self.assertEqual(self.page("hookup:page").status_code, 200)
        self.assertEqual(self.screen().verdict, Verdict.CLEAR)

    def test_an_empty_submit_changes_nothing(self):
        self.assertEqual(self.act("hookup:keep").status_code, 302)
        self.assertFalse(Choice.objects.exists())


class Figures(HookupCase):
    def test_a_passive_pickups_lead_is_drawn_and_rings_lower_when_it_is_longer(self):
        self.assertIsNone(self.screen().lead)
        part = add_part(self.voice.owner, self.fresh().song, "guitar-direct")
        self.act("part:keep", part, session="2")
        self.act("start:page", part, **answers(part, source="guitar-direct", route="interface", budget="500"))
        short = self.screen(part).lead
        # 1 / (2 pi sqrt(2.5 H x 5 m x 120 pF/m)) = 4.1 kHz; twice the lead is 1/sqrt(2) of it, 2.9 kHz.
        self.assertIn("5 m of lead into 1,000,000 ohm: it rings at 4.1 kHz", short.told)
        self.act("hookup:keep", part, what="length", at=self.at(part), length="10")
        self.assertIn("it rings at 2.9 kHz", self.screen(part).lead.told)
        self.assertContains(self.page("hookup:page", part), "Response of a passive pickup through this lead")

    def test_what_is_left_of_phantom_under_load(self):
        screen = self.screen()
        self.assertIn("34.4 V under 4 mA and 14.0 V under 10 mA", screen.phantom_left)
        self.assertEqual(screen.loudest, "")  # an interface described by hand does not say what its socket gives
        self.assertEqual(self.screen(self.clarinet).phantom_left, "")  # USB

    def test_how_loud_headphones_get_where_the_sheets_say_so(self):
        self.client.post("/songs/new/", {"name": "Alone"})
        part = Part.objects.order_by("-pk").first()
        self.act("start:page", part, **answers(part, source="voice-pop", route="interface", budget="600", owned=[]))
        bought = self.screen(part).loudest
        self.assertRegex(bought, r"reach \d+ dB SPL: safe for \d+ (minutes|seconds) a day")

    def test_a_long_name_stays_on_its_paper(self):
        self.voice.name = "The one who sings the second verse"
        self.voice.save(update_fields=["name"])
        mark = self.screen().loops[0].marks[0]
        self.assertTrue(mark.name.endswith("…") and len(mark.name) <= 24)


class Checklist(HookupCase):
    def test_it_keeps_its_ticks(self):
        step = self.screen().steps[0]
        self.act("hookup:tick", step=step.key, done="on")
        self.assertTrue(self.screen().steps[0].done)
        self.assertFalse(any(one.done for one in self.screen().steps[1:]))
        self.act("hookup:tick", step=step.key)
        self.assertFalse(self.screen().steps[0].done)

    def test_the_software_side_names_device_and_input(self):
        told = " ".join(step.told for step in self.screen().software)
        self.assertIn("audio device: Hornbeam 2", told)
        self.assertIn("its input: input 1", told)

    def test_cables_are_as_long_as_the_plan_asks_and_the_packing_list_has_the_same(self):
        part = self.fresh()
        desk = next(row for row in part.song.room.furniture.all() if row.kind == "desk")
        place = outcome_of(part).setup.placement
        run_m = place.height_m + math.hypot(desk.x_m - place.x_m, desk.y_m - place.y_m) + 0.75 + 0.5
        joint = next(one for one in chain_of(part).cables if one.ends_at == self.at())
        self.assertEqual(joint.length_m, next(one for one in (3, 5, 6, 10, 15, 20) if one >= run_m))
        desk.delete()  # without a desk on the plan the usual length is taken
        self.assertEqual(next(one for one in chain_of(self.fresh()).cables if one.ends_at == self.at()).length_m, 3)
        self.client.post("/songs/new/", {"name": "Alone"})
        part = Part.objects.order_by("-pk").first()
        self.act("start:page", part, **answers(part, source="voice-pop", route="interface", budget="600", owned=[]))
        room = self.fresh(part).song.room
        room.furniture.create(owner=part.owner, kind="desk", x_m=0.8, y_m=0.5)
        plan_song(self.fresh(part).song)
        length_m = next(one for one in chain_of(self.fresh(part)).cables if one.connector == "xlr").length_m
        self.assertGreater(length_m, 3)
        bought = [one.item for one in in_use(self.fresh(part).song).lines if one.kind == "xlr-cable" and one.item]
        self.assertTrue(bought and all(one.length_m >= length_m for one in bought))

    def test_the_list_of_cables_has_a_spare(self):
        self.assertIn("1 × XLR, 5 m, a spare", self.screen().cables)


class Planned(DemoCase):
    def test_what_is_planned_is_sound(self):
        """Whatever a song asks for: the gear that is planned or owned makes a chain with nothing wrong in it."""
        for seed in range(300, 308):
            for part in random_song(seed):
                screen = hookup_screen(Part.objects.whole().get(pk=part.pk))
                self.assertEqual(screen.verdict, Verdict.CLEAR, f"song {seed}: {screen.sentence}")


class Sheet(HookupCase):
    def test_the_sheet_holds_every_step_and_cable(self):
        page, screen = self.page("hookup:sheet"), self.screen()
        for told in (*screen.cables, *(step.told for step in (*screen.steps, *screen.software)), *screen.unplugging):
            self.assertContains(page, escape(told))

    def test_what_is_ticked_is_ticked_on_paper(self):
        self.act("hookup:tick", step=self.screen().steps[0].key, done="on")
        self.assertContains(self.page("hookup:sheet"), '<li class="done">', count=1)
