"""Learning: asked before anything is learnt, outliers twice, and undone one by one."""

from dataclasses import replace

from pneumen.core.part import levels_in, levels_over
from pneumen.core.take import NOISE, Finding, doubts_of
from pneumen.core.verdict import Verdict
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of, settle
from pneumen.web.take.models import Lesson
from tests.signals import phrases
from tests.web.base import DemoCase


class LessonCase(DemoCase):
    def fresh(self):
        return Part.objects.whole().get(pk=self.voice.pk)

    def expected(self, change_db=0.0, noise_change_db=0.0):
        """A recording as this setup is expected to give it, or so much louder."""
        levels = outcome_of(self.fresh()).levels
        return phrases(levels.peak_dbfs + change_db, levels.noise_dbfs + noise_change_db)

    def asked(self):
        return self.page("take:page").context["screen"].asked

    def level(self):
        return self.fresh().learnt

    def teach(self, what="level", **fields):
        return Lesson.objects.filter(part=self.voice, what=what, **fields)


class Asking(LessonCase):
    def test_an_upload_teaches_nothing_before_its_person_tells(self):
        before = settle(self.fresh()).performance
        take = self.measured_take(self.expected(3))
        self.assertEqual((self.asked().about, Lesson.objects.count()), ("how", 0))
        self.assertEqual(settle(self.fresh()).performance, before)
        page = self.page("take:page")
        self.assertContains(page, "Was it recorded as set?")
        self.assertNotContains(page, "The plan starts from this now")
        self.act("take:told", None, take.number)
        self.assertEqual((self.asked().about, self.level().take), ("", take))
        self.assertContains(self.page("take:page"), "The plan starts from this now")

    def test_told_what_differed_the_performer_is_the_same(self):
        """6 dB more gain than was set lifts the file by as much: the singer is no louder for it."""
        self.learnt_take(self.expected())
        as_set = self.level().source_levels
        self.teach().delete()
        gain_db = outcome_of(self.fresh()).gain_db
        self.learnt_take(self.expected(6), gain=f"{gain_db + 6:g}")
        self.assertAlmostEqual(self.level().source_levels.peak_db_spl, as_set.peak_db_spl, delta=0.5)
        part = self.fresh()
        self.assertAlmostEqual(part.gain_db, gain_db + 6, delta=0.01)  # and the part is set as it really was
        self.assertEqual(part.gain_origin, "take")

    def test_twice_as_far_is_six_decibels_louder_at_one_metre(self):
        take = self.learnt_take(self.expected())
        near = self.level().source_levels.peak_db_spl
        distance_m = take.distance_m
        self.act("take:told", None, take.number, distance=f"{200 * distance_m:g} cm")
        far = self.level().source_levels.peak_db_spl
        # 6.02 dB by distance (spherical spreading), and what the proximity effect no longer lifts: up to 3 dB here.
        self.assertTrue(6.0 <= far - near <= 9.1, far - near)
        self.assertEqual(Lesson.objects.filter(what="level").count(), 1)  # told anew, not twice

    def test_a_softer_section_is_not_the_whole_part(self):
        sections = self.fresh().core_sections
        softest = min(sections, key=lambda one: one.loudness_db)
        loudest = max(one.loudness_db for one in sections)
        self.assertLess(softest.loudness_db, loudest)
        self.learnt_take(self.expected(softest.loudness_db - loudest), section=softest.name)
        guess = self.fresh().guessed_source_levels()
        self.assertAlmostEqual(self.level().source_levels.peak_db_spl, guess.peak_db_spl, delta=0.7)

    def test_levels_of_a_section_and_over_all_are_each_others_inverse(self):
        sections = self.fresh().core_sections
        one = settle(self.fresh()).performance.levels
        whole = levels_over(sections, one)
        for section in sections:
            there = levels_in(section, sections, whole)
            self.assertAlmostEqual(there.typical_db_spl, one.typical_db_spl + section.loudness_db, places=9)

    def test_with_other_gear_nothing_is_learnt(self):
        self.learnt_take(self.expected(), other_gear="on")
        self.assertEqual(Lesson.objects.count(), 0)
        self.assertContains(self.page("take:page"), "nothing is learnt from it")

    def test_what_cannot_be_is_refused_at_its_field_and_nothing_is_stored(self):
        take = self.measured_take(self.expected())
        for name, value in (("distance", "40 m"), ("gain", "400"), ("gain", "loud"), ("section", "Yodel")):
            response = self.act("take:told", None, take.number, **{name: value})
            self.assertEqual(response.status_code, 422, name)
            self.assertTrue(response.context["screen"].asked.form.errors[name])
        take.refresh_from_db()
        self.assertEqual((take.recorded, Lesson.objects.count()), (None, 0))

    def test_a_plugged_part_is_not_asked_how_far(self):
        Part.objects.filter(pk=self.voice.pk).update(source="keyboard")
        self.measured_take(phrases(-20, -70))
        self.assertNotIn("distance", self.asked().form.fields)


class Outliers(LessonCase):
    def test_thirty_decibels_too_low_is_a_knob_and_no_person(self):
        take = self.measured_take(self.expected(-30, -30))
        self.assertEqual(self.asked().about, "level")
        self.act("take:told", None, take.number)  # pressed on a page gone stale
        self.assertEqual(Lesson.objects.count(), 0)
        self.assertContains(self.page("take:page"), "rather than a person")
        self.act("take:told", None, take.number, trust="level")
        self.assertTrue(self.level())

    def test_told_of_the_knob_it_is_no_outlier(self):
        gain_db = outcome_of(self.fresh()).gain_db
        self.assertGreater(gain_db, 16)
        self.learnt_take(self.expected(-16, -16), gain=f"{gain_db - 16:g}")
        self.assertAlmostEqual(
            self.level().source_levels.peak_db_spl, self.fresh().guessed_source_levels().peak_db_spl, delta=1
        )

    def test_a_floor_far_up_is_no_room(self):
        room = self.voice.song.room
        take = self.learnt_take(self.expected(0, 28))
        self.assertEqual((self.asked().about, self.teach("noise").count()), ("noise", 0))
        self.assertTrue(self.level())
        room.refresh_from_db()
        self.assertEqual(room.noise_change_db, 0)
        self.assertContains(self.page("take:page"), "rather than the room")
        self.act("take:told", None, take.number, trust="noise")
        room.refresh_from_db()
        self.assertGreater(room.noise_change_db, 15)
        self.assertEqual(self.asked().about, "")

    def test_a_floor_with_hum_in_it_is_asked_about_sooner(self):
        take = self.measured_take(self.expected(0, 8))
        told = take.snapshot["prediction"]
        bands = {"signal_band_db": told["signal_band_db"], "noise_band_db": 4.0}
        correction, measured = take.core_correction(), take.to_core()
        hum = Finding(kind="hum", start_s=0, end_s=6, value=50, unit="Hz", verdict=Verdict.MENDABLE)
        for found, expected in (((), ()), ((hum,), (NOISE,))):
            heard = replace(measured, findings=found)
            self.assertEqual(
                doubts_of(correction, heard, expected_noise_dbfs=told["noise_dbfs"], **bands), expected, found
            )


class Undoing(LessonCase):
    def test_each_is_undone_by_itself_and_what_was_before_holds_then(self):
        guess = outcome_of(self.fresh()).levels.peak_dbfs
        self.learnt_take(self.expected(4))
        first = outcome_of(self.fresh()).levels.peak_dbfs
        self.learnt_take(self.expected(-3))
        second = outcome_of(self.fresh()).levels.peak_dbfs
        self.assertAlmostEqual(first - second, 3, delta=0.3)
        page = self.page("take:learnt")
        self.assertContains(page, "Learnt so far")
        self.assertEqual([line.in_force for line in page.context["learnt"].log].count(True), 2)
        newest, oldest = self.teach()
        for lesson, press, expected in (
            (newest, "undo", first),
            (oldest, "undo", guess),
            (newest, "again", second),
        ):
            self.act("take:lesson", None, lesson.pk, **{press: "1"})
            self.assertAlmostEqual(outcome_of(self.fresh()).levels.peak_dbfs, expected, delta=0.01)

    def test_undoing_a_real_one_goes_back_to_the_guess_never_to_a_simulated_one(self):
        guess = settle(self.fresh()).performance
        self.act("take:simulated")
        self.work()
        self.assertTrue(self.level().simulated)
        self.learnt_take(self.expected(2))
        self.act("take:lesson", None, self.level().pk, undo="1")
        self.assertEqual(settle(self.fresh()).performance, guess)

    def test_the_room_forgets_what_a_take_taught_that_was_made_with_other_gear_after_all(self):
        room = self.voice.song.room
        take = self.learnt_take(self.expected(0, 6))
        room.refresh_from_db()
        self.assertGreater(room.noise_change_db, 3)
        self.act("take:told", None, take.number, other_gear="on")
        room.refresh_from_db()
        self.assertEqual((room.noise_change_db, room.noise_band_db, Lesson.objects.count()), (0, None, 0))

    def test_told_twice_the_part_stands_as_told_last(self):
        take = self.learnt_take(self.expected(), distance="25 cm")
        self.assertAlmostEqual(self.fresh().distance_m, 0.25)
        self.act("take:told", None, take.number, distance="20 cm")
        self.assertAlmostEqual(self.fresh().distance_m, 0.20)

    def test_the_rooms_noise_goes_back_too(self):
        room = self.voice.song.room
        self.learnt_take(self.expected(0, 6))
        room.refresh_from_db()
        self.assertGreater(room.noise_change_db, 3)
        self.act("take:lesson", None, self.teach("noise").get().pk, undo="1")
        room.refresh_from_db()
        self.assertEqual((room.noise_change_db, room.noise_band_db), (0, None))

    def test_a_lesson_of_another_part_is_not_there(self):
        self.learnt_take(self.expected())
        response = self.act("take:lesson", self.harp, self.teach().get().pk, undo="1")
        self.assertEqual(response.status_code, 404)

    def test_an_older_lesson_holds_where_the_newest_is_of_another_chain(self):
        self.learnt_take(self.expected(4))
        self.learnt_take(self.expected(-3))
        self.teach(number=2).update(chain="another", absolute=False)
        self.assertEqual(self.level().number, 1)
