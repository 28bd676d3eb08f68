"""Takes joined phrase by phrase: laws of crossfades, exact samples, seams and levels, against closed forms."""

import tempfile
import unittest
from contextlib import ExitStack
from pathlib import Path

import numpy as np
import soundfile
import soxr

from pneumen.core.comp import Comp, CompPhrase, CompTake, comp_from_json, join_takes
from pneumen.core.errors import BadDocument, UnreadableFile
from pneumen.core.take import LaidTake, active_level_dbfs, codes_of, lowering_for, open_recording
from pneumen.core.verdict import Verdict
from pneumen.wording.comp import seam_told
from tests.signals import RATE, as_json, noise, phrases, sine

HALF_STEP = 2.0**-24


class CompCase(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.files = 0

    def take(self, samples, rate=RATE, subtype="PCM_24", **more):
        self.files += 1
        soundfile.write(self.folder / f"{self.files}.wav", codes_of(samples, 24) << 8, rate, subtype=subtype)
        return CompTake(file=f"{self.files}.wav", **more)

    def joined(self, takes, *phrases_, length_s=6.0, **more):
        comp = Comp(
            rate_hz=RATE,
            length_s=length_s,
            takes=takes,
            phrases=tuple(CompPhrase(take=name, start_s=a, end_s=b) for name, a, b in phrases_),
            **more,
        )
        with ExitStack() as opened:
            sources = {
                name: LaidTake(
                    opened.enter_context(open_recording(self.folder / take.file)),
                    rate_hz=RATE,
                    offset_s=take.offset_s,
                    drift_ppm=take.drift_ppm or 0.0,
                )
                for name, take in takes.items()
            }
            return join_takes(comp, sources)


class Joining(CompCase):
    def test_outside_seams_and_fades_every_sample_is_the_takes(self):
        one, two = noise(6, -20, seed=1), noise(6, -20, seed=2)
        takes = {"one": self.take(one), "two": self.take(two, offset_s=-0.25)}
        found = self.joined(takes, ("one", 0, 3.2), ("two", 3.2, 5.0)).samples[0]
        seam = round(3.2 * RATE)
        self.assertLess(np.abs(found[240 : seam - 480] - one[240 : seam - 480]).max(), HALF_STEP)
        shifted = two[12_000:]
        stop = 5 * RATE - 240
        self.assertLess(np.abs(found[seam + 480 : stop] - shifted[seam + 480 : stop]).max(), HALF_STEP)
        self.assertEqual(np.abs(found[5 * RATE :]).max(), 0)

    def test_strangers_cross_at_equal_power_and_likes_linearly(self):
        """Two equal unlike takes keep their power (-3.01 dB each in the middle); two alike keep their amplitude."""
        one, two = noise(6, -20, seed=1), noise(6, -20, seed=2)
        takes = {"one": self.take(one), "two": self.take(two), "copy": self.take(one * 0.999)}
        unlike = self.joined(takes, ("one", 0, 3), ("two", 3, 6), crossfade_ms=1000)
        self.assertEqual(unlike.seams[0].law, "equal-power")
        middle = unlike.samples[0, 3 * RATE - 2400 : 3 * RATE + 2400]
        self.assertAlmostEqual(10 * np.log10(np.square(middle).mean()), -20, delta=0.3)
        at = np.array([2.5, 2.75, 3.0, 3.25, 3.5]) * RATE
        share = (np.arange(RATE) + 0.5) / RATE
        expected = np.cos(share * np.pi / 2) * one[round(at[0]) : round(at[-1])]
        expected += np.sin(share * np.pi / 2) * two[round(at[0]) : round(at[-1])]
        self.assertLess(np.abs(unlike.samples[0, round(at[0]) : round(at[-1])] - expected).max(), 2 * HALF_STEP)
        self.assertAlmostEqual(20 * np.log10(np.cos(np.pi / 4)), -3.01, 2)
        alike = self.joined(takes, ("one", 0, 3), ("copy", 3, 6), crossfade_ms=1000)
        self.assertEqual((alike.seams[0].law, alike.seams[0].why), ("linear", "alike"))
        self.assertLess(np.abs(alike.samples[0, 240:-240] - one[240:-240]).max(), 2e-3)

    def test_one_take_at_one_gain_runs_on_untouched(self):
        one = noise(6, -20)
        found = self.joined({"one": self.take(one)}, ("one", 0, 2), ("one", 2, 6))
        self.assertEqual(found.seams, ())
        self.assertLess(np.abs(found.samples[0, 240:-240] - one[240:-240]).max(), HALF_STEP)

    def test_free_ends_fade_inside_the_phrase_and_silence_is_digital(self):
        one = np.full(6 * RATE, 0.25)
        found = self.joined({"one": self.take(one)}, ("one", 1, 2), ("one", 4, 5), fade_ms=10).samples[0]
        self.assertEqual(np.count_nonzero(found[:RATE]) + np.count_nonzero(found[2 * RATE : 4 * RATE]), 0)
        rise = found[RATE : RATE + 480]
        self.assertTrue((np.diff(rise) > 0).all())
        self.assertLess(rise[0], 1e-5)
        self.assertEqual(found[RATE + 480], 0.25)

    def test_a_crossfade_shrinks_to_half_the_shorter_phrase_and_to_what_both_hold(self):
        one, two = noise(6, -20, seed=1), noise(3.02, -20, seed=2)
        takes = {"one": self.take(one), "two": self.take(two, offset_s=2.98)}
        short = self.joined(takes, ("one", 2.9, 3.0), ("two", 3.0, 6.0), crossfade_ms=500)
        self.assertAlmostEqual(short.seams[0].crossfade_ms, 40, delta=0.1)
        shorter = self.joined(takes, ("one", 2.97, 3.0), ("two", 3.0, 6.0), crossfade_ms=500)
        self.assertAlmostEqual(shorter.seams[0].crossfade_ms, 15, delta=0.1)

    def test_without_a_crossfade_takes_are_cut_to_the_sample(self):
        one, two = noise(6, -20, seed=1), noise(6, -20, seed=2)
        takes = {"one": self.take(one), "two": self.take(two)}
        found = self.joined(takes, ("one", 0, 3), ("two", 3, 6), crossfade_ms=0)
        self.assertEqual(found.seams[0].crossfade_ms, 0)
        self.assertLess(
            np.abs(found.samples[0, 3 * RATE - 500 : 3 * RATE] - one[3 * RATE - 500 : 3 * RATE]).max(), HALF_STEP
        )
        self.assertLess(
            np.abs(found.samples[0, 3 * RATE : 3 * RATE + 500] - two[3 * RATE : 3 * RATE + 500]).max(), HALF_STEP
        )

    def test_two_sides_that_differ_make_two_channels(self):
        wide = np.stack([noise(6, -20, seed=1), noise(6, -20, seed=2)], axis=1)
        mono = noise(6, -20, seed=3)
        takes = {"wide": self.take(wide), "mono": self.take(mono), "dual": self.take(np.stack([mono, mono], axis=1))}
        both = self.joined(takes, ("wide", 0, 3), ("dual", 3, 6)).samples
        self.assertEqual(both.shape[0], 2)
        self.assertTrue(np.array_equal(both[0, 4 * RATE :], both[1, 4 * RATE :]))
        self.assertEqual(self.joined(takes, ("mono", 0, 3), ("dual", 3, 6)).samples.shape[0], 1)

    def test_a_phrase_that_asks_for_more_than_its_take_holds_is_told(self):
        takes = {"one": self.take(noise(3, -20), offset_s=1.0)}
        found = self.joined(takes, ("one", 0.5, 5))
        self.assertEqual(np.count_nonzero(found.samples[0, :RATE]), 0)
        self.assertEqual(np.count_nonzero(found.samples[0, 4 * RATE :]), 0)
        short = next(one for one in found.findings if one.kind == "short-take")
        self.assertAlmostEqual(short.value, 1.5, 3)
        self.assertEqual(short.cause, "one")


class Levels(CompCase):
    def test_matching_brings_a_phrase_to_the_median_and_never_by_more_than_3_db(self):
        takes = {name: self.take(phrases(level, -70)) for name, level in (("a", -14), ("b", -12), ("c", -6))}
        found = self.joined(takes, ("a", 1, 2), ("b", 3, 4), ("c", 5, 6), match_levels=True)
        self.assertAlmostEqual(found.gains_db[0], 2, delta=0.05)
        self.assertAlmostEqual(found.gains_db[1], 0, delta=0.05)
        self.assertEqual(found.gains_db[2], -3)

    def test_a_known_change_of_gain_is_undone_before_levels_are_matched(self):
        takes = {"a": self.take(phrases(-12, -70)), "b": self.take(phrases(-6, -70), gain_db=-6.0)}
        found = self.joined(takes, ("a", 1, 2), ("b", 3, 4), match_levels=True)
        self.assertAlmostEqual(found.gains_db[0], 0, delta=0.1)
        self.assertAlmostEqual(found.gains_db[1], -6, delta=0.1)

    def test_a_sum_over_full_scale_is_lowered_and_told(self):
        takes = {"one": self.take(sine(100, 6, -0.1)), "two": self.take(-0.2 * sine(100, 6))}
        comp = [("one", 0, 3), ("two", 3, 6)]
        self.assertEqual(self.joined(takes, *comp).gain_db, 0.0)
        louder = {**takes, "two": CompTake(file=takes["two"].file, gain_db=15.0)}
        found = self.joined(louder, *comp)
        self.assertAlmostEqual(found.gain_db, -(15 - 20 * np.log10(5)), delta=0.02)
        self.assertLessEqual(np.abs(found.samples).max(), 1.0)
        self.assertIn(("clipping", "sum"), [(one.kind, one.cause) for one in found.findings])

    def test_a_take_that_clips_inside_its_phrase_is_told_and_elsewhere_not(self):
        samples = 0.5 * sine(220, 6)
        samples[4 * RATE :] = np.clip(3 * samples[4 * RATE :], -1, 1)
        takes = {"one": self.take(samples)}
        self.assertEqual(self.joined(takes, ("one", 0, 3.5)).findings, ())
        found = self.joined(takes, ("one", 0, 6)).findings
        self.assertEqual({(one.kind, one.verdict) for one in found}, {("clipping", Verdict.BAKED_IN)})
        self.assertGreater(found[0].start_s, 3.99)

    def test_the_least_lowering(self):
        self.assertEqual(lowering_for(1 - 2.0**-23, -1.0, 24), 1.0)
        self.assertAlmostEqual(lowering_for(2.0, -1.0, 24), 0.5, 6)
        self.assertEqual(int(codes_of(np.array([2.0 * lowering_for(2.0, -1.0, 24)]), 24)[0]), 2**23 - 1)

    def test_active_level_leaves_pauses_out(self):
        samples = phrases(-12, -80)
        whole = active_level_dbfs(samples[None], RATE)
        self.assertAlmostEqual(whole, active_level_dbfs(samples[None, RATE : 2 * RATE], RATE), delta=0.5)
        self.assertIsNone(active_level_dbfs(np.zeros((1, RATE)), RATE))


class Seams(CompCase):
    def test_a_step_is_the_difference_of_both_sides_and_rough_over_3_db(self):
        takes = {name: self.take(sine(hertz, 6, level)) for name, hertz, level in (("a", 220, -20), ("b", 220, -15))}
        seam = self.joined(takes, ("a", 0, 3), ("b", 3, 6)).seams[0]
        self.assertAlmostEqual(seam.step_db, 5, delta=0.05)
        self.assertEqual((seam.smooth, seam.why), (False, "level-step"))

    def test_a_note_that_is_cut_is_rough_and_a_pause_or_an_attack_smooth(self):
        takes = {"a": self.take(phrases(-12)), "b": self.take(phrases(-12) * 0.99 + noise(7, -78, seed=5))}
        other = {"a": takes["a"], "c": self.take(np.roll(phrases(-12), 54) + sine(600, 7, -14))}
        cut = self.joined(other, ("a", 1, 1.5), ("c", 1.5, 2.5)).seams[0]
        self.assertEqual((cut.smooth, cut.why), (False, "cuts-a-note"))
        pause = self.joined(takes, ("a", 1, 2.5), ("b", 2.5, 4)).seams[0]
        self.assertEqual((pause.smooth, pause.why), (True, "pause"))
        self.assertAlmostEqual(pause.step_db, 10 * np.log10(10**-7.5 + 10**-7.8) + 75, delta=1)
        loud = {**takes, "b": self.take(phrases(-12) + noise(7, -60, seed=6))}
        floor = self.joined(loud, ("a", 1, 2.5), ("b", 2.5, 4)).seams[0]
        self.assertEqual((floor.smooth, floor.why), (False, "level-step"))
        self.assertAlmostEqual(floor.floor_step_db, 15, delta=1)
        attack = self.joined(takes, ("a", 1, 2.99), ("b", 2.99, 4), crossfade_ms=10).seams[0]
        self.assertEqual((attack.smooth, attack.why, attack.step_db), (True, "before-attack", None))

    def test_better_places_near_by_are_told(self):
        one, two = (phrases(-12, -70) + noise(7, -70, seed=seed) for seed in (3, 4))
        takes = {"a": self.take(one), "b": self.take(np.roll(two, 77))}
        seam = self.joined(takes, ("a", 0, 1.9), ("b", 1.9, 6)).seams[0]
        self.assertTrue(1 <= len(seam.better) <= 3)
        self.assertGreater(seam.better[0].less_db, 40)
        self.assertTrue(2.0 < seam.better[0].at_s < 2.6)
        there = self.joined(takes, ("a", 0, seam.better[0].at_s), ("b", seam.better[0].at_s, 6)).seams[0]
        self.assertTrue(there.smooth)

    def test_the_step_inside_either_take_alone(self):
        swell = np.concatenate([np.full(3 * RATE, 0.1), np.full(3 * RATE, 0.2)]) * sine(220, 6)
        takes = {"a": self.take(swell), "b": self.take(1.01 * swell)}
        seam = self.joined(takes, ("a", 0, 3), ("b", 3, 6)).seams[0]
        for step in (*seam.own_steps_db, seam.step_db):
            self.assertAlmostEqual(step, 6, delta=0.2)

    def test_a_step_that_a_take_has_by_itself_is_not_heard_as_a_seam(self):
        rise = np.concatenate([np.full(3 * RATE, 0.1), np.full(3 * RATE, 0.2)])
        takes = {"a": self.take(rise * sine(220, 6)), "b": self.take(1.01 * rise * sine(220, 6))}
        joined = self.joined(takes, ("a", 0, 3), ("b", 3, 6))
        self.assertEqual((joined.seams[0].smooth, joined.seams[0].heard), (False, False))
        self.assertEqual([(one.kind, one.verdict) for one in joined.findings], [("level-step", Verdict.CLEAR)])
        self.assertIn("as it does inside the takes", seam_told(joined.seams[0]))
        apart = {"a": self.take(sine(220, 6, -20)), "b": self.take(sine(220, 6, -14))}
        joined = self.joined(apart, ("a", 0, 3), ("b", 3, 6))
        self.assertTrue(joined.seams[0].heard)
        self.assertEqual([one.verdict for one in joined.findings], [Verdict.MENDABLE])

    def test_a_seam_moves_to_where_it_is_least_heard_and_no_farther_than_allowed(self):
        one, two = (phrases(-12, -70) + noise(7, -70, seed=seed) for seed in (3, 4))
        two = np.roll(two, 77)
        takes = {"a": self.take(one), "b": self.take(two)}
        moved = self.joined(takes, ("a", 0, 1.9), ("b", 1.9, 6), seam_search_ms=400).seams[0]
        self.assertGreater(moved.moved_ms, 90)
        self.assertLessEqual(moved.moved_ms, 400)
        self.assertAlmostEqual(moved.at_s, 1.9 + moved.moved_ms / 1000, 3)
        self.assertTrue(moved.smooth)
        short = self.joined(takes, ("a", 0, 1.5), ("b", 1.5, 6), seam_search_ms=50).seams[0]
        self.assertLessEqual(abs(short.moved_ms), 50)
        still = self.joined(takes, ("a", 0, 2.5), ("b", 2.5, 6), seam_search_ms=200).seams[0]
        self.assertEqual(still.moved_ms, 0)

    def test_one_take_at_another_gain_crosses_linearly(self):
        take = self.take(sine(220, 6, -20))
        comp = Comp(
            rate_hz=RATE,
            length_s=6,
            takes={"a": take},
            phrases=(CompPhrase(take="a", start_s=0, end_s=3), CompPhrase(take="a", start_s=3, end_s=6, gain_db=-2)),
        )
        with open_recording(self.folder / take.file) as recording:
            seam = join_takes(comp, {"a": LaidTake(recording, rate_hz=RATE)}).seams[0]
        self.assertEqual((seam.law, seam.why, seam.smooth), ("linear", "same-take", True))
        self.assertAlmostEqual(seam.step_db, -2, delta=0.05)


class Clocks(CompCase):
    def test_another_rate_is_resampled_as_soxr_does(self):
        """Against python-soxr and against the known sine itself."""
        slow = sine(1000, 6, -6, rate=44_100)
        found = self.joined({"one": self.take(slow, rate=44_100)}, ("one", 0, 6))
        told = [(one.kind, one.value, one.unit) for one in found.findings]
        self.assertEqual(told, [("resampled", 44_100, "Hz")])
        inner = slice(RATE, 5 * RATE)
        self.assertLess(np.abs(found.samples[0, inner] - sine(1000, 6, -6)[inner]).max(), 1e-5)
        reference = soxr.resample(slow, 44_100, RATE, "VHQ")
        self.assertLess(np.abs(found.samples[0, inner] - reference[inner]).max(), 1e-6)

    def test_a_fast_clock_is_set_right(self):
        """A recorder 100 ppm fast writes 1 kHz as 999.9 Hz: after 5 s half a period off, unless it is set right."""
        fast = sine(1000 / (1 + 100e-6), 6, -6)
        found = self.joined({"one": self.take(fast, drift_ppm=100.0)}, ("one", 0, 5.9))
        inner = slice(RATE, 5 * RATE)
        self.assertLess(np.abs(found.samples[0, inner] - sine(1000, 6, -6)[inner]).max(), 1e-3)
        self.assertEqual([(one.kind, one.unit) for one in found.findings], [("resampled", "ppm")])


class Documents(unittest.TestCase):
    COMP = {  # noqa: RUF012 - never changed
        "rate_hz": 48_000,
        "length_s": 6.0,
        "takes": {"one": {"file": "one.wav"}},
        "phrases": [{"take": "one", "start_s": 0, "end_s": 3}, {"take": "one", "start_s": 3, "end_s": 6}],
    }

    def assert_refused(self, message, **changes):
        with self.assertRaisesRegex(BadDocument, message):
            comp_from_json(as_json(self.COMP | changes))

    def test_what_is_wrong_is_named(self):
        self.assert_refused("names 'two', which is no take here", phrases=[{"take": "two", "start_s": 0, "end_s": 1}])
        self.assert_refused("phrases is empty", phrases=[])
        over = [{"take": "one", "start_s": 0, "end_s": 3}, {"take": "one", "start_s": 2.5, "end_s": 4}]
        self.assert_refused(r"phrases\[1\] begins at 2.5 s, before", phrases=over)
        self.assert_refused("within 0 and 6 s", phrases=[{"take": "one", "start_s": 5, "end_s": 7}])
        self.assert_refused("begin before it ends", phrases=[{"take": "one", "start_s": 3, "end_s": 2}])
        self.assert_refused("length_s must be greater than 0", length_s=0)
        self.assert_refused("rate_hz must be between", rate_hz=100)
        self.assert_refused("crossfade_ms must be between", crossfade_ms=-1)
        self.assert_refused("start_s must be between", phrases=[{"take": "one", "start_s": -1, "end_s": 2}])

    def test_phrases_that_share_their_border_sample_touch(self):
        touching = [{"take": "one", "start_s": 0, "end_s": 3.000004}, {"take": "one", "start_s": 3, "end_s": 4}]
        self.assertEqual(len(comp_from_json(as_json(self.COMP | {"phrases": touching}))[0].phrases), 2)

    def test_slips_of_the_pen_are_named_by_their_place(self):
        document = {**self.COMP, "lenght": 3, "takes": {"one": {"file": "one.wav", "offset": 3}}}
        self.assertEqual(comp_from_json(as_json(document))[1], ("lenght", "takes.one.offset"))

    def test_more_than_two_channels_are_no_take(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "many.wav"
            soundfile.write(path, np.zeros((RATE, 4)), RATE)
            with open_recording(path) as recording, self.assertRaisesRegex(UnreadableFile, "has 4 channels"):
                LaidTake(recording, rate_hz=RATE)


if __name__ == "__main__":
    unittest.main()
