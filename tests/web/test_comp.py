"""The lyric sheet: lines, choices, the track, and what happens to them when takes come and go."""

import numpy as np
from django.urls import reverse

from pneumen.core.take import open_recording
from pneumen.web.comp.choices import sheet_of
from pneumen.web.comp.models import CompTrack, LineTake, SheetLine
from pneumen.web.comp.show import sheet_screen
from pneumen.web.part.models import Part
from pneumen.web.take.models import Take
from tests.signals import RATE, noise, phrases
from tests.web.base import HTMX, DemoCase

WORDS = "[Verse]\nThe lamps go on\nthe ovens breathe\n[Chorus]\nTurn your waltz"


def sung(level_dbfs=-12.0, *, late_s=0.0, clip_in=None, seed=1):
    """Three phrases of a second each; perhaps begun later, perhaps clipped in one of them."""
    samples = phrases(level_dbfs, -70) + noise(7, -70, seed=seed)
    if clip_in is not None:
        start = (1 + 2 * clip_in) * RATE
        samples[start : start + RATE] = np.clip(8 * samples[start : start + RATE], -0.9, 0.9)
    return np.concatenate([np.zeros(round(late_s * RATE)), samples])


class CompCase(DemoCase):
    def take(self, samples=None, part=None):
        return self.measured_take(sung() if samples is None else samples, part)

    def three_takes(self):
        return [self.take(sung(-12, seed=1)), self.take(sung(-12, clip_in=1, seed=2)), self.take(sung(-11, seed=3))]

    def lines(self, part=None, **sent):
        return self.act("comp:lines", part, **({"how": "words", "words": WORDS} | sent))

    def rows(self):
        return list(self.voice.sheet_lines.all())

    def choose(self, number, take):
        return self.act("comp:choices", choose=f"{self.rows()[number].pk}:{take}")

    def path(self):
        return sheet_of(Part.objects.whole().get(pk=self.voice.pk)).path

    def track(self, **sent):
        answer = self.act("comp:track", breaths="1", match_levels="1", **sent)
        self.work()
        return answer, CompTrack.objects.filter(part=self.voice).first()


class Lines(CompCase):
    def test_words_become_lines_with_their_sections_and_wait_for_takes(self):
        self.lines()
        self.assertEqual(
            [(row.section, row.words) for row in self.rows()],
            [("Verse", "The lamps go on"), ("Verse", "the ovens breathe"), ("Chorus", "Turn your waltz")],
        )
        page = self.page("comp:page").content.decode()
        self.assertIn("Record at least one take", page)
        self.take()
        self.assertEqual([round(row.end_s) for row in self.rows()], [2, 4, 6])

    def test_takes_that_come_later_are_laid_by_themselves(self):
        self.take()
        self.lines()
        self.take()
        held = LineTake.objects.filter(line__part=self.voice, holds=True).values_list("take__number", flat=True)
        self.assertEqual(sorted(held), [1, 1, 1, 2, 2, 2])

    def test_lines_from_parts_sections_from_phrases_and_from_another_part(self):
        self.take()
        self.lines(how="sections")
        self.assertEqual(len(self.rows()), 8)
        self.lines(how="phrases")
        self.assertEqual(len(self.rows()), 3)
        self.lines()
        self.lines(self.harp, how="part", other=str(self.voice.pk))
        self.assertEqual([row.words for row in self.harp.sheet_lines.all()][2], "Turn your waltz")

    def test_lines_that_stay_keep_their_choice(self):
        self.take()
        self.lines()
        self.choose(2, 1)
        self.lines(words=WORDS.replace("the ovens breathe\n", "and the ovens\nbreathe\n"))
        self.assertEqual([row.take_id is not None for row in self.rows()], [False, False, False, True])

    def test_split_join_and_move(self):
        self.take()
        self.lines()
        row = self.rows()[0]
        self.act("comp:line", None, row.pk, split="2")
        self.assertEqual([one.words for one in self.rows()][:2], ["The lamps", "go on"])
        self.act("comp:line", None, self.rows()[0].pk, join="1")
        self.assertEqual(self.rows()[0].words, "The lamps go on")
        second = self.rows()[1]
        self.act("comp:line", None, second.pk, begin="2.5")
        before, moved = self.rows()[:2]
        self.assertEqual((moved.start_s, before.end_s), (2.5, 2.5))

    def test_bad_input_says_what_is_wrong_and_changes_nothing(self):
        self.take()
        self.lines()
        rows = self.rows()
        cases = [
            (self.act("comp:line", None, rows[1].pk, begin="99"), "beginning must be between"),
            (self.act("comp:line", None, rows[1].pk, begin="soon"), "a number of seconds"),
            (self.act("comp:line", None, rows[2].pk, join="1"), "is the last one"),
            (self.act("comp:line", None, rows[0].pk, split="9"), "must be one of the first 3"),
            (self.lines(words="  \n "), "hold no line"),
            (self.lines(words="x" * 501), "at most 500 letters"),
            (self.lines(how="magic"), "must be one of words"),
            (self.choose(0, 7), "must be one of 1"),
            (self.act("comp:line", None, rows[0].pk, mark="1:volume:good"), "must be one of rhythm"),
            (self.act("comp:track", cleanup="loud"), "must be one of room, silence"),
            (self.act("comp:track", crossfade_ms="-3"), "0 to 1000 ms"),
            (self.act("comp:place", None, 1, offset="1e9"), "offset must be between"),
        ]
        for answer, told in cases:
            with self.subTest(told):
                self.assertEqual(answer.status_code, 422)
                self.assertIn(told, answer.content.decode().replace("&#x27;", "'"))
        self.assertEqual([(row.words, row.start_s) for row in self.rows()], [(row.words, row.start_s) for row in rows])

    def test_another_persons_sheet_is_not_there(self):
        self.take()
        self.lines()
        row = self.rows()[0]
        SheetLine.objects.filter(pk=row.pk).update(part=self.harp)
        self.assertEqual(self.act("comp:line", None, row.pk, join="1").status_code, 404)
        self.assertEqual(self.act("comp:choices", choose=f"{row.pk}:1").status_code, 404)


class Choices(CompCase):
    def test_the_clipped_phrase_is_not_proposed_and_the_rest_of_its_take_may_be(self):
        self.three_takes()
        self.lines()
        sheet = sheet_of(Part.objects.whole().get(pk=self.voice.pk))
        self.assertEqual([row[2].faults for row in sheet.held], [0, 1, 0])
        self.assertNotEqual(sheet.choices[1].take, 2)

    def test_marks_decide_and_one_a_pass_is_enough(self):
        self.three_takes()
        self.lines()
        self.act("take:said", None, 3, rhythm="good")
        self.assertEqual(self.path(), (3, 3, 3))
        self.act("comp:line", None, self.rows()[0].pk, mark="1:rhythm:good")
        self.act("comp:line", None, self.rows()[0].pk, mark="3:rhythm:weak")
        self.assertEqual(self.path(), (1, 3, 3))
        page = self.page("comp:page", line=str(self.rows()[0].pk)).content.decode()
        self.assertIn("Take 1: its rhythm is marked better", " ".join(page.split()))

    def test_chosen_line_by_line_or_all_at_once_and_again(self):
        self.three_takes()
        self.lines()
        self.choose(0, 2)
        self.assertEqual(self.path()[0], 2)
        self.act("comp:choices", accept="1")
        self.assertEqual(sum(row.take_id is not None for row in self.rows()), 3)
        self.assertIn("Every line has its take", self.page("comp:page").content.decode())
        self.choose(0, "")
        self.assertIsNone(self.rows()[0].take_id)
        self.act("comp:choices", clear="1")
        self.assertFalse(any(row.take_id for row in self.rows()))

    def test_what_no_take_does_well_is_to_be_sung_again(self):
        self.take(sung(clip_in=2))
        self.lines()
        screen = sheet_screen(part := Part.objects.whole().get(pk=self.voice.pk), sheet_of(part))
        self.assertEqual(
            [(one.label, one.told) for one in screen.punch],
            [("Turn your waltz", "every take of it clips or drops out; one take so far")],
        )
        self.assertIn("Sing these again", self.page("comp:page").content.decode())

    def test_a_take_that_is_put_away_holds_nothing_until_it_is_back(self):
        self.three_takes()
        self.lines()
        self.choose(0, 3)
        self.act("take:delete", None, 3)
        self.assertEqual(self.path()[0], 1)
        self.assertEqual(self.page("comp:page").status_code, 200)
        self.act("take:undo", None, 3)
        self.assertEqual(self.path()[0], 3)


class Track(CompCase):
    def test_it_is_made_of_the_chosen_phrases_and_measured_like_a_take(self):
        takes = self.three_takes()
        self.lines()
        self.choose(0, 1)
        self.choose(1, 3)
        self.choose(2, 1)
        before = [take.audio.checksum for take in takes]
        _, track = self.track()
        self.assertEqual([one["take"] for one in track.lineage], [1, 3, 1])
        self.assertEqual(len(track.seams), 2)
        self.assertTrue(all(seam["smooth"] for seam in track.seams), track.seams)
        with open_recording(track.audio.path) as recording:
            self.assertEqual((recording.sample_rate_hz, recording.channels), (44_100, 1))
        self.assertEqual(track.to_core().format.sample_rate_hz, 44_100)
        self.assertEqual([take.audio.checksum for take in Take.objects.order_by("number")], before)
        page = self.page("comp:page").content.decode()
        self.assertIn("takes 1 and 3", page)
        self.assertIn("none of them heard", page)
        self.assertIn("lyric-seam", page)

    def test_it_follows_a_choice_by_itself_and_old_sound_is_let_go(self):
        self.three_takes()
        self.lines()
        self.act("comp:choices", accept="1")
        _, first = self.track()
        old = first.audio.path
        self.choose(0, 3)
        page = self.page("comp:page").content.decode()
        self.assertIn("The track is being made", page)
        self.work()
        track = CompTrack.objects.get()
        self.assertNotEqual(track.made_of, first.made_of)
        self.assertEqual(track.lineage[0]["take"], 3)
        self.assertFalse(old.exists())

    def test_a_change_while_it_is_made_is_not_lost(self):
        self.three_takes()
        self.lines()
        self.act("comp:choices", accept="1")
        self.track()
        self.choose(0, 3)
        self.choose(1, 3)
        self.work()
        self.assertEqual([one["take"] for one in CompTrack.objects.get().lineage][:2], [3, 3])
        self.assertNotIn("before the last change", self.page("comp:page").content.decode())

    def test_silence_between_phrases(self):
        self.three_takes()
        self.lines()
        self.act("comp:choices", accept="1")
        _, track = self.track(cleanup="silence")
        with open_recording(track.audio.path) as recording:
            samples = recording.stretches(0, recording.frames)[0]
        pause = samples[round(2.5 * 44_100) : round(2.8 * 44_100)]
        self.assertEqual(np.count_nonzero(pause), 0)

    def test_without_a_take_there_is_no_track(self):
        self.lines()
        answer = self.act("comp:track")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("have no take yet", answer.content.decode())
        self.assertFalse(CompTrack.objects.exists())

    def test_a_lost_recording_is_said_and_can_be_made_again(self):
        take = self.take()
        self.lines()
        self.act("comp:choices", accept="1")
        take.audio.path.unlink()
        self.track()
        self.assertIn("no such file", self.page("comp:page").content.decode())

    def test_listening_is_kept_until_it_changes(self):
        self.three_takes()
        self.lines()
        self.act("comp:choices", accept="1")
        self.track()
        self.act("comp:listened")
        self.assertIn("Listened through", self.page("comp:page").content.decode())
        self.choose(0, 3)
        self.work()
        self.assertFalse(CompTrack.objects.get().listened)

    def test_sound_and_status_answer(self):
        self.take()
        self.lines()
        self.assertEqual(self.page("comp:audio").status_code, 404)
        self.act("comp:choices", accept="1")
        self.act("comp:track")
        address = reverse("comp:status", args=[self.voice.pk])
        self.assertIn("The track is being made", self.client.get(address, **HTMX).content.decode())
        self.work()
        done = self.client.get(address, **HTMX)
        self.assertEqual(done["HX-Retarget"], "#comp")
        self.assertIn('id="thread"', done.content.decode())
        self.assertEqual(self.page("comp:audio").status_code, 200)


class Places(CompCase):
    def test_a_longer_take_that_comes_later_moves_nothing(self):
        self.take(sung(seed=1))
        self.lines()
        before = [(row.start_s, row.end_s) for row in self.rows()]
        self.take(np.concatenate([sung(late_s=1.0, seed=2), noise(4, -70)]))
        self.assertEqual([(row.start_s, row.end_s) for row in self.rows()], before)
        offsets = dict(Take.objects.values_list("number", "place__others_lag_s"))
        self.assertIsNone(offsets[1])
        self.assertAlmostEqual(offsets[2], 1.0, delta=0.1)
        held = LineTake.objects.filter(line__part=self.voice, holds=True, take__number=2)
        self.assertEqual(held.count(), 3)

    def test_takes_begun_at_another_moment_are_laid_beside_the_others(self):
        """Not the performance's own timing, but a second of silence before it."""
        self.take(sung(seed=1))
        self.take(sung(late_s=1.0, seed=2))
        self.lines()
        rows = {row.take.number: row for row in LineTake.objects.filter(line=self.rows()[0]).select_related("take")}
        self.assertTrue(rows[1].holds and rows[2].holds)
        places = dict(Take.objects.values_list("number", "place__others_lag_s"))
        known = [lag for lag in places.values() if lag is not None]
        self.assertEqual(len(known), 1)
        self.assertAlmostEqual(abs(known[0]), 1.0, delta=0.1)

    def test_a_take_can_be_laid_by_ear_and_given_back(self):
        self.take()
        self.lines()
        self.act("comp:place", None, 1, offset="0,25")
        self.assertIn("set by ear", self.page("comp:page").content.decode())
        self.act("comp:place", None, 1, offset="")
        self.assertIn("taken to begin with the song", self.page("comp:page").content.decode())


class Fast(CompCase):
    def test_a_page_asks_few_questions_however_many_lines_there_are(self):
        self.three_takes()
        self.lines()

        def asked():
            from django.db import connection
            from django.test.utils import CaptureQueriesContext

            with CaptureQueriesContext(connection) as queries:
                self.page("comp:page")
            return len(queries)

        few = asked()
        self.lines(words="\n".join(f"Line {number} of many" for number in range(12)))
        self.assertLessEqual(asked(), few + 2)


class WithoutScript(CompCase):
    def test_every_act_is_a_form(self):
        self.three_takes()
        self.lines()
        page = self.page("comp:page", line=str(self.rows()[0].pk)).content.decode()
        for name in ("choose", "accept", "clear", "mark", "begin", "split", "join", "cleanup", "words", "offset"):
            self.assertIn(f'name="{name}"', page)
        answer = self.client.get(reverse("comp:line", args=[self.voice.pk, self.rows()[0].pk]))
        self.assertRedirects(
            answer, f"{reverse('comp:page', args=[self.voice.pk])}?line={self.rows()[0].pk}#line-detail"
        )
