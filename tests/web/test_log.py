"""The log in the application: marks and remarks, sessions and their sheet, what was learnt, open formats."""

import csv
import io
import json
from datetime import timedelta

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone

from pneumen.web.job.models import Job
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.take.log import logged_of
from pneumen.web.take.models import Sitting, Take
from tests.signals import phrases
from tests.web.base import HTMX, DemoCase


class LogCase(DemoCase):
    def say(self, take, **said):
        answer = self.act("take:said", None, take.number, **said)
        take.refresh_from_db()
        return answer

    def screen(self):
        return self.page("take:log").context["log"]


class Judging(LogCase):
    def test_marks_kind_section_and_remark_are_kept_one_by_one(self):
        take = self.measured_take(phrases(-10, -80))
        for said in (
            {"rhythm": "good"},
            {"pitch": "weak"},
            {"kind": "punch"},
            {"section": "Chorus"},
            {"remark": "late"},
        ):
            self.assertRedirects(self.say(take, **said), f"{reverse('take:page', args=[self.voice.pk])}?take=1")
        self.assertEqual((take.rhythm, take.feeling, take.pitch), ("good", "", "weak"))
        self.assertEqual((take.kind, take.section, take.remark), ("punch", "Chorus", "late"))
        (row,) = self.screen().rows
        self.assertEqual((row.kind, dict(row.marks)["Pitch"]), ("Punch-in", "weak"))
        self.say(take, rhythm="")
        self.assertEqual(take.rhythm, "")

    def test_what_cannot_be_is_refused_and_nothing_is_changed(self):
        take = self.measured_take(phrases(-10, -80))
        for said, told in (
            ({"rhythm": "superb"}, "rhythm"),
            ({"kind": "solo"}, "kind"),
            ({"section": "Yodel"}, "Yodel"),
            ({"remark": "x" * 1001, "rhythm": "good"}, "1001"),
        ):
            self.assertContains(self.say(take, **said), told, status_code=422)
            self.assertContains(self.client.post(reverse("take:said", args=[self.voice.pk, 1]), said, **HTMX), told)
        self.assertEqual((take.rhythm, take.kind, take.section, take.remark), ("", "", "", ""))

    def test_a_passage_told_later_teaches_anew(self):
        take = self.learnt_take(phrases(-10, -80))
        whole = outcome_of(Part.objects.get(pk=self.voice.pk)).levels.peak_dbfs
        self.say(take, section="Verse 1")
        verse = outcome_of(Part.objects.get(pk=self.voice.pk)).levels.peak_dbfs
        self.assertGreater(verse, whole + 2)  # who is so loud in the verse is louder in the chorus
        self.assertEqual(self.page("take:page").context["screen"].asked.form["section"].value(), "Verse 1")

    def test_a_passage_of_a_take_nobody_was_asked_about_teaches_nothing(self):
        take = self.measured_take(phrases(-10, -80))
        self.say(take, section="Verse 1")
        self.assertFalse(take.lessons.exists())
        self.assertTrue(take.is_asked_about)

    def test_another_passage_has_the_page_loaded_anew(self):
        self.measured_take(phrases(-10, -80))
        address = reverse("take:said", args=[self.voice.pk, 1])
        self.assertContains(self.client.post(address, {"remark": "late"}, **HTMX), 'id="judgement"')
        self.assertIn("HX-Refresh", self.client.post(address, {"section": "Chorus"}, **HTMX))

    def test_the_school_decides_what_is_asked_first(self):
        self.measured_take(phrases(-10, -80))
        asked = [mark.name for mark in self.page("take:page").context["judgement"].marks]
        self.assertEqual(asked, ["rhythm", "feeling", "pitch"])
        self.act("take:schools", judging="feeling", rest="as-many")
        asked = [mark.name for mark in self.page("take:page").context["judgement"].marks]
        self.assertEqual(asked, ["feeling", "rhythm", "pitch"])
        self.assertEqual(self.screen().rest, "as-many")
        self.act("take:schools", judging="loudest")
        self.assertEqual(self.screen().judging, "feeling")

    def test_what_changed_between_two_takes_is_told(self):
        self.measured_take(phrases(-10, -80))
        self.act("place:keep", distance="25", **{"was-distance": "18"})
        self.measured_take(phrases(-11, -80))
        self.assertIn("18 cm → 25 cm", self.page("take:page").context["judgement"].changes)

    def test_another_persons_take_is_not_there(self):
        self.assertEqual(self.act("take:said", None, 7, rhythm="good").status_code, 404)
        self.assertEqual(self.page("take:sheet", None, 7).status_code, 404)


class Counting(LogCase):
    def test_simulated_takes_count_only_while_there_are_no_others(self):
        self.act("take:simulated")
        self.work()
        self.assertEqual({one.passes for one in self.screen().counts}, {1})
        self.measured_take(phrases(-10, -80))
        self.measured_take(phrases(-11, -80))
        self.assertEqual({one.passes for one in self.screen().counts}, {2})
        self.assertIn("1 more full pass ", self.screen().sentence)

    def test_ten_takes_ask_for_a_rest_even_where_some_were_put_away(self):
        for number in range(10):
            self.upload(phrases(-10, -80))
            if number < 2:
                self.act("take:delete", None, number + 1)
        self.assertIn("10 takes in this session", self.screen().sentence)

    def test_pages_of_forty(self):
        self.many_takes(range(1, 46))
        first = self.screen()
        self.assertEqual((len(first.rows), first.older, first.newer, first.rows[0].take.number), (40, 2, None, 45))
        second = self.page("take:log", None, page="2").context["log"]
        self.assertEqual((len(second.rows), second.older, second.newer), (5, None, 1))
        for page in ("0", "-1", "x", "99999999999"):
            self.assertEqual(self.page("take:log", None, page=page).status_code, 200)

    def test_the_log_asks_the_database_as_often_with_many_takes(self):
        self.measured_take(phrases(-10, -80))
        few = self.queries()
        self.many_takes(range(9, 39))
        self.assertEqual(self.queries(), few)

    def many_takes(self, numbers):
        how = {"owner": self.owner, "part": self.voice, "original_name": "a", "snapshot": {}}
        for take in Take.objects.bulk_create([Take(number=number, **how) for number in numbers]):
            Job.objects.create(owner=self.owner, target=take, state=Take.DONE)

    def queries(self):
        with CaptureQueriesContext(connection) as seen:
            self.page("take:log")
        return len(seen)

    def test_what_it_counts_is_read_from_an_index_alone(self):
        with CaptureQueriesContext(connection) as asked:
            logged_of(self.voice)
        (query,) = [one["sql"] for one in asked if '"take_take"."judged"' in one["sql"]]
        with connection.cursor() as cursor:
            cursor.execute(f"EXPLAIN QUERY PLAN {query}")
            (plan,) = [row[-1] for row in cursor.fetchall()]
        self.assertIn("COVERING INDEX what_the_log_counts", plan)  # the rows themselves are tens of kilobytes each


class Sessions(LogCase):
    def test_takes_of_all_parts_share_the_session_that_goes_on(self):
        self.upload(phrases(-10, -80))
        self.upload(phrases(-10, -80), self.harp)
        self.assertEqual(Sitting.objects.get().takes.count(), 2)

    def test_an_ended_one_and_a_long_pause_begin_another(self):
        self.upload(phrases(-10, -80))
        self.act("take:sitting", None, 1, end="done")
        self.upload(phrases(-10, -80))
        self.assertEqual(Take.objects.get(number=2).sitting.number, 2)
        Take.objects.filter(number=2).update(created_at=timezone.now() - timedelta(hours=4))
        self.assertIsNone(self.screen().sitting)
        self.upload(phrases(-10, -80))
        self.assertEqual(Take.objects.get(number=3).sitting.number, 3)

    def test_pain_is_said_until_the_next_session_is_begun(self):
        self.upload(phrases(-10, -80))
        self.act("take:sitting", None, 1, end="hurt")
        self.assertEqual(self.screen().verdict, "stop")
        self.assertIn("Rest the voice", self.screen().sentence)
        self.upload(phrases(-10, -80))
        self.assertNotIn("Rest the voice", self.screen().sentence)

    def test_what_was_set_up_is_kept_and_checked(self):
        self.upload(phrases(-10, -80))
        self.act("take:sitting", None, 1, set_up="stand, screen, two duvets", minutes="25")
        sitting = Sitting.objects.get()
        self.assertEqual((sitting.set_up, sitting.setup_min), ("stand, screen, two duvets", 25))
        for minutes in ("-3", "9999", "soon"):
            answer = self.act("take:sitting", None, 1, set_up="x", minutes=minutes)
            self.assertEqual(answer.status_code, 422, minutes)
        sitting.refresh_from_db()
        self.assertEqual(sitting.setup_min, 25)

    def test_the_sheet_tells_all_to_sit_down_again(self):
        self.measured_take(phrases(-10, -80))
        self.act("take:sitting", None, 1, set_up="two duvets behind", minutes="1")
        page = self.page("take:sheet", None, 1)
        for words in (
            "18 cm",
            "22.0 dB",
            "Meadowsweet",
            "from the west wall",
            "two duvets behind",
            "1 minute.",
            "dBFS",
        ):
            self.assertContains(page, words)

    def test_it_is_had_again_by_one_press(self):
        self.act("place:keep", distance="21", aside="15", **{"was-distance": "18", "was-aside": "0"})
        self.act("gain:keep", gain="19", **{"was-gain": "22"})
        before = outcome_of(Part.objects.get(pk=self.voice.pk)).setup
        self.upload(phrases(-10, -80))
        self.act("place:keep", distance="40", aside="0", **{"was-distance": "21", "was-aside": "15"})
        self.act("gain:keep", gain="30", **{"was-gain": "19"})
        self.act("take:sitting", None, 1, recall="1")
        after = outcome_of(Part.objects.get(pk=self.voice.pk)).setup
        self.assertEqual(after.placement, before.placement)
        self.assertEqual(after.gain_db, before.gain_db)

    def test_nothing_to_have_again_is_said(self):
        self.upload(phrases(-10, -80))
        self.act("take:delete", None, 1)
        answer = self.client.post(reverse("take:sitting", args=[self.voice.pk, 1]), {"recall": "1"}, follow=True)
        self.assertContains(answer, "holds no take any more")


class Learnt(LogCase):
    def test_predicted_stands_beside_measured_take_by_take(self):
        self.learnt_take(phrases(-10, -80))
        self.learnt_take(phrases(-12, -80))
        learnt = self.page("take:learnt").context["learnt"]
        peak = learnt.figures[0]
        self.assertEqual((peak.fit.count, len(peak.pictures[0].bars)), (2, 2))
        shown = self.page("take:page").context["screen"].compared[0]
        self.assertEqual(shown.within, peak.pictures[0].bars[-1].within)

    def test_the_gain_that_was_told_counts_in_the_prediction(self):
        take = self.measured_take(phrases(-10, -80))
        as_set = self.page("take:page").context["screen"].compared[0].predicted
        self.act("take:told", None, take.number, gain="32", **{"was-gain": "22"})
        told = self.page("take:page").context["screen"].compared[0].predicted
        self.assertNotEqual(as_set, told)

    def test_without_a_take_nothing_is_told(self):
        self.assertContains(self.page("take:learnt"), "No take has told anything yet")


class OpenFormats(LogCase):
    def test_csv_holds_each_take_with_units_in_the_names(self):
        take = self.measured_take(phrases(-10, -80))
        self.say(take, remark="=1+1 is not worked out", rhythm="good")
        answer = self.page("take:log-csv")
        (row,) = csv.DictReader(io.StringIO(answer.content.decode()))
        self.assertEqual((row["take"], row["rhythm"], row["session"]), ("1", "good", "1"))
        self.assertEqual(row["sha256"], take.audio.checksum)
        self.assertAlmostEqual(float(row["sample_peak_dbfs"]), take.measurement["level"]["sample_peak_dbfs"])
        self.assertEqual(row["remark"], "'=1+1 is not worked out")
        self.assertIn("attachment", answer["Content-Disposition"])

    def test_json_holds_what_was_measured_and_words_as_they_are(self):
        take = self.measured_take(phrases(-10, -80))
        self.say(take, remark="=1+1, “wörtlich”")
        found = json.loads(self.page("take:log-json").content)
        self.assertEqual((found["format"], found["part"], len(found["takes"])), ("pneumen-log", "Voice", 1))
        self.assertEqual(found["takes"][0]["remark"], "=1+1, “wörtlich”")
        self.assertEqual(found["takes"][0]["measured"], take.measurement)

    def test_an_empty_log_is_a_header_alone(self):
        self.assertEqual(len(self.page("take:log-csv").content.decode().splitlines()), 1)
        self.assertEqual(json.loads(self.page("take:log-json").content)["takes"], [])
