"""Gain: page and fragment, trying out, keeping, advice, pins, and the picture's geometry."""

import re
from dataclasses import replace

from pneumen.core.forecast import outcome, window_missed_db
from pneumen.web.gain.knob import setting_told
from pneumen.web.gain.picture import narrow_frame, wide_frame
from pneumen.web.gain.show import gain_screen
from pneumen.web.part.models import Part
from pneumen.web.settle import settle
from tests.web.base import HTMX, DemoCase, answers


class Screen(DemoCase):
    def test_a_sentence_first_with_the_band(self):
        page = self.page("gain:page")
        self.assertContains(page, "The loudest chorus lands at \N{MINUS SIGN}9 ±6 dBFS")
        self.assertContains(page, "the room, not the preamp, sets your noise")

    def test_page_and_fragment_show_the_same_picture(self):
        page = self.page("gain:page").content.decode()
        setup = settle(self.voice)
        query = {"distance": 100 * setup.placement.distance_m, "gain": setup.gain_db, "school": self.voice.school}
        fragment = self.page("gain:tried", **query).content.decode()
        cut = re.compile(r'<div id="picture">.*?</svg>\s*</div>\s*</div>', re.S)
        self.assertEqual(cut.search(page)[0], cut.search(fragment)[0])

    def test_trying_out_stores_nothing(self):
        before = Part.objects.values().get(pk=self.voice.pk)
        response = self.page("gain:tried", distance=40, gain=30, school="wide")
        self.assertNotIn("<html", response.content.decode())
        self.assertEqual(response.context["screen"].distance_m, 0.4)
        self.assertEqual(Part.objects.values().get(pk=self.voice.pk), before)

    def test_keeping_stores_by_htmx_and_by_plain_submit(self):
        values = {"distance": "25", "gain": "22", "school": "ten-under"}
        for options in ({}, HTMX):
            response = self.client.post(f"/parts/{self.voice.pk}/gain/keep/", values, **options)
            self.assertEqual(b'id="thread"' in response.content, bool(options))  # the knots' verdicts follow
            self.voice.refresh_from_db()
            self.assertEqual((self.voice.distance_m, self.voice.gain_db, self.voice.school), (0.25, 22, "ten-under"))

    def test_bad_values_are_told_and_kept_in_their_fields(self):
        cases = (
            ("4000", "20", "between 2 cm and 60 cm"),
            ("18", "99", "between 0 and 62"),
            ("near", "20", "must be a length, as 20 cm"),
            ("nan", "20", "must be a length, as 20 cm"),
        )
        for distance, gain, message in cases:
            response = self.act("gain:keep", distance=distance, gain=gain, school="wide")
            self.assertContains(response, message, status_code=422)
            self.assertContains(response, f'value="{distance}"', status_code=422)
            live = self.page("gain:tried", distance=distance, gain=gain, school="wide")
            self.assertContains(live, message)

    def test_the_first_advice_applied_lands_in_the_window(self):
        self.act("gain:keep", gain="2")
        todo = self.page("gain:page").context["screen"].todos[0]
        self.act("gain:apply", **todo.values)
        self.assertTrue(self.page("gain:page").context["screen"].in_window)

    def test_a_stale_advice_changes_nothing(self):
        before = Part.objects.values().get(pk=self.voice.pk)
        self.assertEqual(self.act("gain:apply", distance="x", gain="1", noise_change="2").status_code, 302)
        self.assertEqual(Part.objects.values().get(pk=self.voice.pk), before)

    def test_what_the_page_showed_and_nobody_changed_stays_planned(self):
        shown = settle(self.voice)
        sent = {"distance": "18", "was-distance": "18", "gain": f"{shown.gain_db:g}", "was-gain": f"{shown.gain_db:g}"}
        self.act("gain:keep", school="ten-under", **sent)
        self.voice.refresh_from_db()
        self.assertEqual((self.voice.distance_m, self.voice.gain_db, self.voice.school), (None, None, "ten-under"))

    def test_a_planned_gain_follows_the_distance_and_one_set_by_hand_stays(self):
        planned = settle(self.voice).gain_db
        self.act("gain:keep", distance="36")
        self.voice.refresh_from_db()
        # Twice as far: 6 dB more, and about 0.6 dB for what closeness no longer lifts; in whole decibels.
        self.assertAlmostEqual(settle(self.voice).gain_db - planned, 6.6, delta=1.01)
        self.act("gain:keep", gain="10")
        self.act("gain:keep", distance="18")
        self.voice.refresh_from_db()
        self.assertEqual((settle(self.voice).gain_db, self.voice.gain_origin), (10, "yours"))
        self.act("gain:planned", what="gain")
        self.voice.refresh_from_db()
        self.assertEqual(settle(self.voice).gain_db, planned)

    def test_a_bare_knob_is_told_in_shares_of_its_turn(self):
        page = self.page("gain:page", self.harp)
        self.assertContains(page, "% of its range")
        self.assertNotContains(page, "Preamp gain")
        self.act("gain:keep", self.harp, distance="30", turn="50", school="wide")
        self.harp.refresh_from_db()
        self.assertEqual(self.harp.gain_db, 26)  # half of the 52 dB assumed by family
        self.assertContains(self.page("gain:page", self.harp), "until the same phrase peaks")

    def test_a_recorders_dial_is_typed_and_told_in_its_own_numbers(self):
        self.act("start:page", **answers(self.voice, microphone="recorder"))
        page = self.page("gain:page")
        self.assertContains(page, '<label for="gain">Dial</label>', html=True)
        self.assertContains(page, "of 10")
        self.assertNotContains(page, "% of")
        self.act("gain:keep", dial="5")
        part = Part.objects.whole().get(pk=self.voice.pk)
        low_db, high_db = part.to_chain().gain_range_db
        self.assertEqual(part.gain_db, (low_db + high_db) / 2)
        self.assertContains(self.page("gain:page"), 'name="dial" value="5"')
        self.assertContains(self.page("start:page"), "about 5.0 of 10")
        refused = self.act("gain:keep", dial="11")
        self.assertContains(refused, "between 0 and 10", status_code=422)
        self.voice.refresh_from_db()
        self.assertEqual(self.voice.gain_db, part.gain_db)

    def test_a_school_out_of_the_controls_reach_agrees_with_nobody(self):
        self.act("start:page", **answers(self.voice, source="horn", microphone="recorder"))
        screen = self.page("gain:page").context["screen"]
        far = [row for row in screen.schools if row.wants == "out of reach"]
        self.assertTrue(far)
        self.assertLessEqual(int(screen.agreement.split()[0]), len(screen.schools) - len(far))

    def test_without_a_gain_control_distance_is_the_answer(self):
        page = self.page("gain:page", self.clarinet)
        self.assertContains(page, "distance is the gain")
        handles = [handle.field for handle in page.context["screen"].gorges[0].handles]
        self.assertEqual(handles, ["distance"])

    def test_pinning_draws_a_ghost_and_lets_it_go(self):
        self.act("gain:pin")
        self.act("gain:keep", distance="40", gain="20", school="wide")
        self.assertContains(self.page("gain:page"), "pinned \N{MINUS SIGN}")
        self.assertContains(self.page("gain:page"), "Against the pinned setup: peak ")
        self.act("gain:pin")
        self.assertNotContains(self.page("gain:page"), "Against the pinned")

    def test_stand_view(self):
        self.assertContains(self.page("gain:page", stand=1), 'class="big"')

    def test_few_queries(self):
        self.page("gain:page")
        with self.assertNumQueries(3):  # whether anything was stored since
            self.client.get(f"/parts/{self.voice.pk}/gain/tried/?distance=20&gain=20&school=wide", **HTMX)


class Geometry(DemoCase):
    def test_a_decibel_is_as_tall_everywhere(self):
        for frame in (wide_frame(-111), narrow_frame(-140)):
            self.assertAlmostEqual(frame.y(-20) - frame.y(-10), 10 * frame.px_per_db)
            self.assertEqual(frame.y(999), frame.top_y)
            self.assertEqual(frame.y(-999), frame.floor_y)

    def test_marks_lie_on_the_paper_in_every_case(self):
        for part in (self.voice, self.harp, self.clarinet):
            for gain_db in (0, 20, 50):
                for gorge in gain_screen(part, gain_db=gain_db).gorges:
                    width, height = gorge.frame.width, gorge.frame.height
                    for column in gorge.columns:
                        for mass in filter(None, (column.roof, column.ground)):
                            self.assertTrue(mass.x >= 0 and mass.x + mass.width <= width)
                            self.assertTrue(mass.y >= 0 and mass.y + mass.height <= height)
                            self.assertGreater(mass.height, 0)
                    for line in gorge.lines:
                        self.assertTrue(gorge.frame.top_y <= line.y <= gorge.frame.floor_y)

    def test_a_roof_is_alarming_only_when_the_signal_nears_it(self):
        far, near = (gain_screen(self.voice, gain_db=gain).gorges[0] for gain in (0, 22))
        self.assertFalse(any(column.roof and column.roof.emphasised for column in far.columns))
        self.assertEqual([c.label for c in near.columns if c.roof and c.roof.emphasised], ["Converter"])


class BySection(DemoCase):
    def screen(self):
        return self.page("gain:page").context["screen"]

    def test_the_waltz_has_its_gains_by_section_and_one_press_sets_one(self):
        screen = self.screen()
        self.assertEqual([row.name for row in screen.by_section.rows][:2], ["Verse 1", "Chorus"])
        bridge = next(row for row in screen.by_section.rows if row.name == "Bridge")
        self.act("gain:apply", gain=bridge.gain)
        screen = self.screen()
        self.assertEqual(screen.knob.value, float(bridge.gain))
        self.assertTrue(next(row for row in screen.by_section.rows if row.name == "Bridge").is_set)

    def test_a_part_without_sections_has_no_such_card(self):
        self.assertIsNone(self.page("gain:page", self.harp).context["screen"].by_section)
        self.assertNotContains(self.page("gain:page", self.harp), "Gain by section")

    def test_schools_agree_and_tell_their_risk(self):
        page = self.page("gain:page")
        self.assertContains(page, "schools agree on")
        self.assertContains(page, "Dial down")
        risks = [row.risk for row in page.context["screen"].schools]
        self.assertTrue(all(risks))

    def test_choosing_a_school_sets_what_its_row_asked_for(self):
        for part in (self.voice, self.harp):
            self.act("gain:planned", part, what="gain")
            for row in gain_screen(Part.objects.whole().get(pk=part.pk)).schools:
                self.act("gain:keep", part, school=row.school.slug)
                chosen = settle(Part.objects.whole().get(pk=part.pk))
                with self.subTest(part=part.source, school=row.school.label):
                    self.assertEqual(row.wants, setting_told(chosen.chain, chosen.gain_db))

    def test_what_a_control_misses_is_what_its_stop_leaves(self):
        for part in (self.voice, self.harp):
            setup = settle(part)
            stops_dbfs = [outcome(replace(setup, gain_db=stop)).levels.peak_dbfs for stop in setup.chain.gain_range_db]
            edges = ((stops_dbfs[1] + 7, stops_dbfs[1] + 9), (stops_dbfs[0] - 9, stops_dbfs[0] - 7), (-18, -6))
            for low_dbfs, high_dbfs in edges:
                asked = replace(setup.school, low_dbfs=low_dbfs, high_dbfs=high_dbfs)
                missed = window_missed_db(replace(setup, school=asked), outcome(setup).levels)
                short, over = asked.low_dbfs - stops_dbfs[1], stops_dbfs[0] - asked.high_dbfs
                with self.subTest(part=part.source, window=(low_dbfs, high_dbfs)):
                    self.assertAlmostEqual(missed, max(over, 0) or min(-short, 0), delta=0.06)

    def test_a_gain_clips_as_often_whoever_asks_for_it(self):
        for _ in range(2):  # planned, then at the gain of another section
            screen = self.screen()
            loudest = {row.setting: row.risk for row in screen.by_section.rows if row.name == "Chorus"}
            asked = {row.wants: row.risk for row in screen.schools}
            shared = loudest.keys() & asked.keys()
            self.assertTrue(shared)
            for setting in shared:
                self.assertEqual(loudest[setting], asked[setting])
            self.act("gain:apply", gain=next(row.gain for row in screen.by_section.rows if row.name == "Bridge"))

    def test_a_window_of_ones_own_is_kept_and_told_everywhere(self):
        sent = {"own_low": "-16", "was-own_low": "-12", "own_high": "-10", "was-own_high": "-6"}
        self.act("gain:keep", **sent)
        screen = self.screen()
        self.assertEqual((screen.school.low_dbfs, screen.school.high_dbfs), (-16, -10))
        self.assertContains(self.page("gain:page"), "Your own (−16 to −10)")
        self.assertTrue(next(row for row in screen.schools if row.school.label == "Your own").chosen)
        self.act("gain:keep", gain=f"{settle(Part.objects.get(pk=self.voice.pk)).gain_db - 8:.0f}")
        for page in ("gain:page", "start:page"):
            self.assertContains(self.page(page), "below your own window")
        self.act("gain:keep", **{"school": "wide", "was-school": screen.school.slug})
        self.assertEqual(self.screen().school.slug, "wide")
        refused = self.act("gain:keep", **{"own_low": "-3", "was-own_low": "-18"})
        self.assertEqual(refused.status_code, 422)
        self.assertEqual(self.screen().school.slug, "wide")

    def test_a_bare_knob_is_told_by_what_it_does_to_a_phrase(self):
        self.act("start:page", **answers(self.voice, microphone="dynamic", interface="bare-knob"))
        changes = {row.name: row.change for row in self.screen().by_section.rows}
        self.assertRegex(changes["Bridge"], "^up, until the same phrase peaks [0-9]+ dB higher$")


class Setting(DemoCase):
    """The page that leads step by step, and what stands beside it."""

    def test_each_control_has_its_own_steps(self):
        self.assertContains(self.page("gain:setting"), "Raise it slowly until the highest peak stands in the window")
        self.act("start:page", **answers(self.voice, microphone="usb-condenser", usb_gain="none"))
        self.assertContains(self.page("gain:setting"), "There is no control: distance is the gain")
        self.act("start:page", **answers(self.voice, microphone="recorder"))
        self.assertContains(self.page("gain:setting"), "Dial to 7 of 10")

    def test_a_compressor_is_worked_out_for_each_section(self):
        usual = self.page("gain:setting").context["screen"]
        self.assertEqual(usual.compressor.ratio, 2)
        self.assertAlmostEqual(max(float(row.taken) for row in usual.squeezed), 2, delta=0.3)  # only the loudest
        harder = self.page("gain:setting", ratio="8", threshold="−40").context["screen"]
        self.assertGreater(float(harder.squeezed[0].taken), float(usual.squeezed[0].taken))
        self.assertContains(self.page("gain:setting"), "Baked in")

    def test_an_impossible_compressor_is_refused_and_stays_as_typed(self):
        for sent, told in (({"ratio": "0"}, "between 1 and 20"), ({"threshold": "loud"}, "must be a number")):
            answer = self.page("gain:setting", **sent)
            self.assertContains(answer, told, status_code=422)
            self.assertContains(answer, f'value="{next(iter(sent.values()))}"', status_code=422)

    def test_history_tells_how_takes_differ(self):
        self.assertContains(self.page("gain:setting"), "No take has told yet")
        for _ in range(3):
            self.act("take:simulated")
            self.work()
        page = self.page("gain:setting").content.decode()
        self.assertIn("Simulated take 2", page)
        self.assertIn("as 3 takes tell", page)

    def test_where_the_next_decibels_pay_names_what_sets_the_noise(self):
        screen = self.page("gain:setting").context["screen"]
        self.assertIn("the room sets the noise and rises with it", screen.gain_told)
        self.assertIn("a quieter room", screen.worths[1])
